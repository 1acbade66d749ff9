import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { AsyncPipe } from '@angular/common';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { ScrollingModule } from '@angular/cdk/scrolling';
import { MatButtonModule } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { Router } from '@angular/router';
import type { SavedDesign, Sheet, SheetCell, SheetRow, SheetSet } from '@kettle/contract';
import { demandedCanvas, type Requirement } from '@kettle/core/model';
import type { TargetState } from '@kettle/core/checks';
import {
  EMPTY,
  auditTime,
  buffer,
  catchError,
  concatMap,
  filter,
  map,
  share,
  startWith,
  Subject,
  switchMap,
  type Observable,
} from 'rxjs';
import { ClipsDialog, type ClipsDialogData, type ClipsDialogResult } from '../clips/clips-dialog';
import { Api } from '../data/api';
import { Missing } from '../data/missing';
import { sheetRows, wholeSheet } from '../data/sheet-calls';
import { BlankShelf } from '../data/blank-shelf';
import { Intake } from '../data/intake';
import { Savings } from '../data/savings';
import { Notices } from '../data/notices';
import { byChannel, RequirementShelf } from '../data/requirement-shelf';
import type { HandoverDialogData, HandoverDialogResult } from '../handover/handover-dialog';
import { JobFeed } from '../jobs/job-feed';
import { DropZone } from '../shell/drop-zone';
import { SheetCellView } from './sheet-cell';
import { RunPanel } from '../jobs/run-panel';
import { PictureSetDialog, type PictureSetDialogData } from '../pictures/picture-set-dialog';
import { PackageDialog, type PackageDialogData } from '../packages/package-dialog';
import {
  filtered,
  inStates,
  NO_FILTER,
  ordered,
  SHEET_ORDERS,
  SINCE,
  type SheetFilter,
  type SheetOrder,
} from './sheet-order';
import { SheetSelection, type SheetView } from './sheet-selection';
import { TemplateDialog } from './template-dialog';
import { ChipRow, chip } from '../units/chips';
import { PickField } from '../units/pick-field';
import { SearchField } from '../units/search-field';
import { FilePicker } from '../units/file-picker';
import { latelyText } from '../units/clock';
import { CanvasDialog, type CanvasDialogData } from '../requirements/canvas-dialog';

/** Home: designs against targets, every cell a true picture with its state. */
@Component({
  selector: 'ks-sheet-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    ChipRow,
    PickField,
    SearchField,
    FilePicker,
    AsyncPipe,
    ScrollingModule,
    MatButtonModule,
    MatIconModule,
    MatMenuModule,
    DropZone,
    RunPanel,
    SheetCellView,
  ],
  templateUrl: './sheet-page.html',
  styleUrl: './sheet-page.scss',
})
export class SheetPage {
  private readonly api = inject(Api);
  private readonly missing = inject(Missing);
  private readonly intake = inject(Intake);
  private readonly notices = inject(Notices);
  private readonly router = inject(Router);
  private readonly dialog = inject(MatDialog);
  protected readonly requirements = inject(RequirementShelf);
  protected readonly blanks = inject(BlankShelf);
  private readonly savings = inject(Savings);
  private readonly refresh = new Subject<void>();
  private readonly feed = inject(JobFeed);
  private readonly strips = new WeakMap<SheetRow, string>();
  /** Rows that events brought while the sheet was still coming in. */
  private readonly fresher = new Map<string, SheetRow>();

  protected readonly sheet = signal<Sheet | null>(null);
  protected readonly taking = signal(0);
  protected readonly failed = signal(false);
  /** True from a press until the run is in the queue. */
  protected readonly asking = signal(false);
  protected readonly selection = new SheetSelection();
  protected readonly orders = SHEET_ORDERS.map(({ id, label }) => ({ id, words: label }));
  protected readonly order = signal<SheetOrder>('added');
  /** States whose rows alone are shown; all when empty. */
  protected readonly states = signal<ReadonlySet<TargetState>>(new Set());
  /** Rows as they are shown. */
  protected readonly rows = computed(() => {
    const shown = filtered(
      inStates(this.sheet()?.rows ?? [], this.states()),
      this.filter(),
      (id) => this.channelById().get(id),
      Date.now(),
    );
    return ordered(shown, this.order());
  });
  protected readonly filter = signal<SheetFilter>(NO_FILTER);
  protected readonly since = SINCE.map(({ days, label }) => ({ id: `${days}`, words: label }));
  protected readonly daysOf = (id: string): number | null => SINCE.find(({ days }) => `${days}` === id)?.days ?? null;
  protected readonly allAct = [chip('Show all', () => this.showAll())];
  protected readonly isFiltered = computed(() => this.filter() !== NO_FILTER || this.states().size > 0);
  private readonly channelById = computed(
    () => new Map((this.sheet()?.requirements ?? []).map((one) => [one.id, one.channel])),
  );
  protected readonly channelChoices = computed(() => [
    { id: '', words: 'All channels' },
    ...[...new Set(this.allColumns().map(({ channel }) => channel))].map((id) => ({ id, words: id })),
  ]);

  /** Columns: every requirement that at least one design is made for. */
  private readonly allColumns = computed(() => {
    const sheet = this.sheet();
    if (!sheet) return [];
    const used = new Set<string>();
    for (const row of sheet.rows) for (const cell of row.cells) used.add(cell.requirementId);
    return byChannel(sheet.requirements.filter((one) => used.has(one.id))).flatMap(({ channel, requirements }) =>
      requirements.map((requirement, i) => ({ channel, requirement, first: i === 0, span: requirements.length })),
    );
  });
  /** Columns as they are shown: those of one channel where one is chosen. */
  protected readonly columns = computed(() => {
    const { channel } = this.filter();
    return channel ? this.allColumns().filter((column) => column.channel === channel) : this.allColumns();
  });
  protected readonly templates = computed(() => this.sheet()?.rows.filter((row) => row.template) ?? []);
  protected readonly template = computed(() => `236px repeat(${this.columns().length}, minmax(112px, 1fr)) 96px`);
  protected readonly counts = computed(() => {
    const found = new Map<TargetState, number>();
    for (const row of this.sheet()?.rows ?? [])
      for (const { state } of row.cells) found.set(state, (found.get(state) ?? 0) + 1);
    return STATES.map((one) => ({ ...one, count: found.get(one.id) ?? 0 })).filter(
      (one) => one.count > 0 || this.states().has(one.id),
    );
  });
  /** What the main button would make: selected cells, or all that are missing or out of date. */
  protected readonly toMake = computed(() => {
    // Without a selection it is what is shown.
    const chosen = !this.selection.isEmpty();
    const rows = chosen ? (this.sheet()?.rows ?? []) : this.rows();
    const shown = new Set(this.columns().map((column) => column.requirement.id));
    // A selected cell that has no art yet cannot be made; one that is ready is made again, since that is what was
    // asked.
    const wanted = (row: SheetRow, cell: SheetCell) =>
      chosen
        ? this.selection.hasCell(row.designId, cell.requirementId) && cell.state !== 'not-begun'
        : shown.has(cell.requirementId) && (cell.state === 'not-made' || cell.state === 'out-of-date');
    return rows
      .map((row) => ({ row, ids: row.cells.filter((cell) => wanted(row, cell)).map((cell) => cell.requirementId) }))
      .filter(({ ids }) => ids.length);
  });
  protected readonly toMakeCount = computed(() => this.toMake().reduce((sum, { ids }) => sum + ids.length, 0));

  constructor() {
    this.refresh
      .pipe(
        startWith(null),
        switchMap(() => this.load()),
        takeUntilDestroyed(),
      )
      .subscribe((sheet) => {
        this.failed.set(false);
        // What is seen stays until its successor is whole.
        if (sheet.rows.length >= sheet.total || sheet.rows.length >= (this.sheet()?.rows.length ?? 0))
          this.sheet.set(withRows(sheet, this.fresher));
      });
    // An event refreshes the rows it is about, and nothing else.
    const about = this.feed.changes.pipe(share());
    about
      .pipe(
        buffer(about.pipe(auditTime(400))),
        map((jobs) => [...new Set(jobs.flatMap((job) => job.designIds))]),
        filter((ids) => ids.length > 0),
        concatMap((ids) => sheetRows(this.api, ids).pipe(this.missing.until('What was made just now'))),
        takeUntilDestroyed(),
      )
      .subscribe((rows) => {
        for (const row of rows) this.fresher.set(row.designId, row);
        this.sheet.update((sheet) => sheet && withRows(sheet, new Map(rows.map((row) => [row.designId, row]))));
      });
    if (!this.requirements.loaded())
      this.requirements
        .refresh()
        .pipe(takeUntilDestroyed())
        .subscribe({ error: (error: unknown) => this.notices.complain(error) });
  }

  /** The whole sheet, once what a bench left behind is saved. */
  private load(): Observable<Sheet> {
    return this.savings.settled().pipe(
      switchMap(() => {
        this.fresher.clear();
        return wholeSheet(this.api);
      }),
      catchError((error: unknown) => {
        this.failed.set(true);
        this.notices.complain(error);
        return EMPTY;
      }),
    );
  }

  protected sizeOf(requirement: Requirement): string {
    const { widthPx, heightPx } = demandedCanvas(requirement);
    return `${widthPx} × ${heightPx}`;
  }

  protected cellOf(row: SheetRow, requirement: Requirement): SheetCell | undefined {
    return row.cells.find((cell) => cell.requirementId === requirement.id);
  }

  /** One picture for all cells of a row; another one when what any of them shows has changed. */
  protected stripOf(row: SheetRow): string {
    let strip = this.strips.get(row);
    if (!strip)
      this.strips.set(
        row,
        (strip = `url("/api/designs/${row.designId}/strip?r=${row.revision}-${row.cells.map((cell) => cell.miniature.slice(0, 3)).join('')}")`),
      );
    return strip;
  }

  protected readonly rowId = (_index: number, row: SheetRow): string => row.designId;
  protected readonly isSelected = (row: SheetRow, cell: SheetCell): boolean =>
    this.selection.hasCell(row.designId, cell.requirementId);

  private view(): SheetView {
    return { rows: this.rows(), columns: this.columns().map((column) => column.requirement.id) };
  }

  /** Selects what stands at a place, or all from the last such place to it. */
  protected pick(row: number, column: number, extend: boolean): void {
    if (extend) this.selection.extend(this.view(), { row, column });
    else this.selection.toggle(this.view(), { row, column });
  }

  protected toggleState(state: TargetState): void {
    this.states.update((before) => {
      const after = new Set(before);
      if (!after.delete(state)) after.add(state);
      return after;
    });
    this.selection.clear();
  }

  protected setFilter(change: Partial<SheetFilter>): void {
    const next = { ...this.filter(), ...change };
    this.filter.set(next.words || next.channel || next.days !== null ? next : NO_FILTER);
    this.selection.clear();
  }

  private showAll(): void {
    this.filter.set(NO_FILTER);
    this.states.set(new Set());
  }

  protected pickColumn(requirementId: string): void {
    this.selection.column(this.view(), requirementId);
  }

  /** Packs what is selected, or all that is shown. */
  protected pack(): void {
    const shown = new Set(this.columns().map((column) => column.requirement.id));
    const chosen = !this.selection.isEmpty();
    const targets = (chosen ? (this.sheet()?.rows ?? []) : this.rows())
      .map((row) => ({
        designId: row.designId,
        requirementIds: row.cells
          .filter((cell) =>
            chosen ? this.selection.hasCell(row.designId, cell.requirementId) : shown.has(cell.requirementId),
          )
          .map((cell) => cell.requirementId),
      }))
      .filter(({ requirementIds }) => requirementIds.length);
    if (!targets.length) return;
    this.dialog.open<PackageDialog, PackageDialogData>(PackageDialog, {
      width: '760px',
      maxWidth: '95vw',
      data: { targets, example: this.example(targets[0].designId, targets[0].requirementIds[0]) },
    });
  }

  /** Designs that something is selected of, or all that are shown. */
  protected chosenRows(): readonly SheetRow[] {
    return this.selection.isEmpty()
      ? this.rows()
      : this.rows().filter(
          (row) =>
            this.selection.hasRow(row.designId) ||
            row.cells.some((cell) => this.selection.hasCell(row.designId, cell.requirementId)),
        );
  }

  /** Opens the picture sets for some designs. */
  protected choosePictures(rows: readonly SheetRow[]): void {
    if (!rows.length) return;
    const sets = new Set(rows.map((row) => row.set?.id ?? null));
    this.dialog
      .open<PictureSetDialog, PictureSetDialogData, boolean>(PictureSetDialog, {
        width: '860px',
        maxWidth: '95vw',
        data: {
          designs: rows.map(({ designId, name, revision }) => ({ designId, name, revision })),
          setId: sets.size === 1 ? [...sets][0] : null,
        },
      })
      .afterClosed()
      .subscribe((used) => {
        if (used) this.refresh.next();
      });
  }

  /** Begins clips of some designs; a single one is opened. */
  protected chooseClips(rows: readonly SheetRow[]): void {
    if (!rows.length) return;
    this.dialog
      .open<ClipsDialog, ClipsDialogData, ClipsDialogResult>(ClipsDialog, {
        width: '760px',
        maxWidth: '95vw',
        data: { designs: rows.map(({ designId, name }) => ({ designId, name })) },
      })
      .afterClosed()
      .subscribe((result) => {
        this.refresh.next();
        if (result?.open) void this.router.navigate(['/designs', result.open, 'clips']);
      });
  }

  /** How the listings of some designs stand, and a way to send them all. Loaded when it is asked for: home stays light. */
  protected async handOver(rows: readonly SheetRow[]): Promise<void> {
    if (!rows.length) return;
    const { HandoverDialog } = await import('../handover/handover-dialog');
    const data: HandoverDialogData = {
      designs: rows.map(({ designId, name, cells }) => ({
        designId,
        name,
        targets: cells.map(({ requirementId }) => requirementId),
      })),
    };
    this.dialog
      .open<unknown, HandoverDialogData, HandoverDialogResult | null>(HandoverDialog, {
        width: '820px',
        maxWidth: '95vw',
        data,
      })
      .afterClosed()
      .subscribe((open) => {
        if (!open) return;
        const { designId, beside } = open;
        void this.router.navigate(['/designs', designId, 'hand-over'], {
          queryParams: beside ? { desk: 'client', beside: beside.join(',') } : {},
        });
      });
  }

  protected pictureWords({ set, pictures }: SheetRow): string {
    if (set) return `${set.made} of ${set.wanted}`;
    return pictures === 0 ? 'no pictures' : pictures === 1 ? '1 picture' : `${pictures} pictures`;
  }

  /** Empty places beside the pictures that are shown. */
  protected gaps({ shown, wanted }: SheetSet): readonly null[] {
    return new Array<null>(Math.max(0, Math.min(3, wanted) - shown.length)).fill(null);
  }

  private example(designId: string, requirementId: string): PackageDialogData['example'] {
    const row = this.sheet()?.rows.find((one) => one.designId === designId);
    const requirement = this.sheet()?.requirements.find((one) => one.id === requirementId);
    return row && requirement ? { design: row.name, requirement } : null;
  }

  protected setOrder(order: string): void {
    this.order.set(order as SheetOrder);
  }

  /** A press on a design: opened, or selected with Ctrl or Shift as in any list. */
  protected press(event: MouseEvent, row: SheetRow, at: number): void {
    if (event.ctrlKey || event.metaKey || event.shiftKey) this.pick(at, 0, event.shiftKey);
    else this.open(row);
  }

  protected open(row: SheetRow, cell?: SheetCell): void {
    void this.router.navigate(['/designs', row.designId, cell?.state === 'needs-work' ? 'checks' : 'artwork'], {
      queryParams: cell ? { target: cell.requirementId } : {},
    });
  }

  protected addTo(row: SheetRow, requirement: Requirement): void {
    void this.router.navigate(['/designs', row.designId, 'artwork'], { queryParams: { target: requirement.id } });
  }

  protected take(files: readonly File[]): void {
    if (!files.length) return;
    this.taking.update((n) => n + files.length);
    this.intake.makeDesigns(files).subscribe((designs) => {
      this.taking.update((n) => n - files.length);
      this.refresh.next();
      if (designs.length === 1) void this.router.navigate(['/designs', designs[0].id, 'artwork']);
      else if (designs.length > 1) this.notices.say(`${designs.length} designs were added.`);
    });
  }

  protected startEmpty(): void {
    this.askCanvas({ title: 'An empty canvas for …' })
      .pipe(switchMap((requirement) => this.intake.makeEmptyDesign(requirement)))
      .subscribe({
        next: (design) => void this.router.navigate(['/designs', design.id, 'artwork']),
        error: (error: unknown) => this.notices.complain(error),
      });
  }

  /** A design for cloth that is printed before it is sewn: its pieces are laid out where they are seen together. */
  protected startAllOver(blank: string): void {
    const usual = this.requirements.usual();
    if (!usual) return;
    this.intake.makeEmptyDesign(usual).subscribe({
      next: ({ id }) => void this.router.navigate(['/designs', id, 'mockups'], { queryParams: { blank } }),
      error: (error: unknown) => this.notices.complain(error),
    });
  }

  /** What new designs begin with, changed where it stands. */
  protected changeUsual(): void {
    this.askCanvas({ title: 'New designs are for …', usual: true }).subscribe();
  }

  private askCanvas(data: CanvasDialogData): Observable<Requirement> {
    return this.dialog
      .open<CanvasDialog, CanvasDialogData, Requirement>(CanvasDialog, { width: '520px', maxWidth: '94vw', data })
      .afterClosed()
      .pipe(filter((requirement) => requirement !== undefined));
  }

  protected startFromTemplate(): void {
    this.dialog
      .open<TemplateDialog, readonly SheetRow[], SavedDesign>(TemplateDialog, {
        width: '560px',
        maxWidth: '94vw',
        data: this.templates(),
      })
      .afterClosed()
      .subscribe((design) => {
        if (design) void this.router.navigate(['/designs', design.id, 'artwork']);
      });
  }

  protected make(): void {
    const targets = this.toMake().map(({ row, ids }) => ({
      designId: row.designId,
      revision: row.revision,
      requirementIds: ids,
    }));
    this.asking.set(true);
    this.api.ask('post /api/runs', { body: { targets } }).subscribe({
      next: () => this.asking.set(false),
      error: (error: unknown) => {
        this.asking.set(false);
        this.refresh.next();
        this.notices.complain(error);
      },
    });
    this.selection.clear();
  }

  /** Takes designs off the sheet; one press puts them back. */
  protected remove(rows: readonly SheetRow[]): void {
    this.selection.clear();
    const designIds = rows.map((row) => row.designId);
    this.api.ask('post /api/designs/remove', { body: { designIds } }).subscribe({
      next: (gone) => {
        this.refresh.next();
        const one = gone.designIds.length === 1 && rows.find((row) => row.designId === gone.designIds[0]);
        this.notices.say(
          one ? `“${one.name}” is off the sheet.` : `${gone.designIds.length} designs are off the sheet.`,
          {
            label: one ? 'Put it back' : 'Put them back',
            run: () =>
              this.api.ask('post /api/designs/restore', { body: gone }).subscribe({
                next: () => this.refresh.next(),
                error: (error: unknown) => this.notices.complain(error),
              }),
          },
        );
      },
      error: (error: unknown) => {
        this.refresh.next();
        this.notices.complain(error);
      },
    });
  }

  protected removeSelected(): void {
    this.remove(this.rows().filter((row) => this.selection.hasRow(row.designId)));
  }

  /**
   * Arrow keys walk the grid, as in any table of cells; with Shift they select on the way, Space selects, Ctrl A
   * selects all, Escape lets go.
   */
  protected walk(event: KeyboardEvent): void {
    if (event.key === 'Escape' && !this.selection.isEmpty()) {
      this.selection.clear();
      event.preventDefault();
      return;
    }
    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'a') {
      this.selection.all(this.view());
      event.preventDefault();
      return;
    }
    const at = (event.target as HTMLElement).closest<HTMLElement>('[data-at]')?.dataset['at']?.split(' ').map(Number);
    if (!at) return;
    if (event.key === ' ' && at[1] === 0) {
      event.preventDefault();
      this.pick(at[0], 0, event.shiftKey);
      return;
    }
    const step = { ArrowLeft: [0, -1], ArrowRight: [0, 1], ArrowUp: [-1, 0], ArrowDown: [1, 0] }[event.key];
    if (!step) return;
    const to = { row: at[0] + step[0], column: at[1] + step[1] };
    const next = (event.currentTarget as HTMLElement).querySelector<HTMLElement>(
      `[data-at="${to.row} ${to.column}"] [data-cell]`,
    );
    if (!next) return;
    event.preventDefault();
    if (event.shiftKey) {
      if (this.selection.isEmpty()) this.pick(at[0], at[1], false);
      this.pick(to.row, to.column, true);
    }
    next.focus();
  }

  protected readonly when = (savedAt: string): string => latelyText(savedAt);
}

/** A sheet with some of its rows as they are now. */
const withRows = (sheet: Sheet, rows: ReadonlyMap<string, SheetRow>): Sheet =>
  rows.size ? { ...sheet, rows: sheet.rows.map((row) => rows.get(row.designId) ?? row) } : sheet;

/** States in the order they are counted in the header. */
const STATES: readonly { readonly id: TargetState; readonly one: string; readonly many: string }[] = [
  { id: 'ready', one: 'ready', many: 'ready' },
  { id: 'needs-work', one: 'needs work', many: 'need work' },
  { id: 'out-of-date', one: 'out of date', many: 'out of date' },
  { id: 'not-made', one: 'not made', many: 'not made' },
  { id: 'not-begun', one: 'not begun', many: 'not begun' },
];
