import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { ScrollingModule } from '@angular/cdk/scrolling';
import { MatButtonModule } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { Router } from '@angular/router';
import type { SavedDesign, Sheet, SheetCell, SheetRow } from '@kettle/contract';
import { demandedCanvas, type Requirement, type TargetState } from '@kettle/core';
import { EMPTY, catchError, merge, startWith, Subject, switchMap, throttleTime } from 'rxjs';
import { Api } from '../data/api';
import { Intake } from '../data/intake';
import { LastSaves } from '../data/last-saves';
import { Notices } from '../data/notices';
import { byChannel, RequirementShelf } from '../data/requirement-shelf';
import { JobFeed } from '../jobs/job-feed';
import { DropZone } from '../shell/drop-zone';
import { SheetCellView } from './sheet-cell';
import { TemplateDialog } from './template-dialog';

/** Home: designs against targets, every cell a true picture with its state. */
@Component({
  selector: 'ks-sheet-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ScrollingModule, MatButtonModule, MatIconModule, MatMenuModule, DropZone, SheetCellView],
  templateUrl: './sheet-page.html',
  styleUrl: './sheet-page.scss',
})
export class SheetPage {
  private readonly api = inject(Api);
  private readonly intake = inject(Intake);
  private readonly notices = inject(Notices);
  private readonly router = inject(Router);
  private readonly dialog = inject(MatDialog);
  private readonly requirements = inject(RequirementShelf);
  private readonly lastSaves = inject(LastSaves);
  private readonly refresh = new Subject<void>();
  private readonly feed = inject(JobFeed);

  protected readonly sheet = signal<Sheet | null>(null);
  private readonly today = new Date().toDateString();
  protected readonly taking = signal(0);
  protected readonly failed = signal(false);
  /** Selected cells as `design requirement`. */
  protected readonly selected = signal<ReadonlySet<string>>(new Set());

  /** Columns: every requirement that at least one design is made for. */
  protected readonly columns = computed(() => {
    const sheet = this.sheet();
    if (!sheet) return [];
    const used = new Set(sheet.rows.flatMap((row) => row.cells.map((cell) => cell.requirementId)));
    return byChannel(sheet.requirements.filter((one) => used.has(one.id))).flatMap(({ channel, requirements }) => requirements.map((requirement, i) => ({ channel, requirement, first: i === 0, span: requirements.length })));
  });
  protected readonly templates = computed(() => this.sheet()?.rows.filter((row) => row.template) ?? []);
  protected readonly template = computed(() => `236px repeat(${this.columns().length}, minmax(112px, 1fr)) 96px`);
  protected readonly counts = computed(() => {
    const cells = this.sheet()?.rows.flatMap((row) => row.cells) ?? [];
    const count = (state: TargetState) => cells.filter((cell) => cell.state === state).length;
    return { ready: count('ready'), needsWork: count('needs-work'), outOfDate: count('out-of-date'), notMade: count('not-made') };
  });
  /** What the main button would make: selected cells, or all that are missing or out of date. */
  protected readonly toMake = computed(() => {
    const rows = this.sheet()?.rows ?? [];
    const chosen = this.selected();
    const wanted = (row: SheetRow, cell: SheetCell) => (chosen.size ? chosen.has(key(row, cell)) : cell.state === 'not-made' || cell.state === 'out-of-date');
    return rows.map((row) => ({ row, ids: row.cells.filter((cell) => wanted(row, cell)).map((cell) => cell.requirementId) })).filter(({ ids }) => ids.length);
  });
  protected readonly toMakeCount = computed(() => this.toMake().reduce((sum, { ids }) => sum + ids.length, 0));

  constructor() {
    merge(this.refresh, this.feed.changes.pipe(throttleTime(400, undefined, { leading: true, trailing: true }))).pipe(
      startWith(null), switchMap(() => this.lastSaves.settled().pipe(switchMap(() => this.api.sheet()),catchError((error: unknown) => { this.failed.set(true); this.notices.complain(error); return EMPTY; }))), takeUntilDestroyed(),
    ).subscribe((sheet) => {
      this.failed.set(false);
      // What is seen stays until its successor is whole.
      if (sheet.rows.length >= sheet.total || sheet.rows.length >= (this.sheet()?.rows.length ?? 0)) this.sheet.set(sheet);
    });
    if (!this.requirements.loaded()) this.requirements.refresh().pipe(takeUntilDestroyed()).subscribe({ error: (error: unknown) => this.notices.complain(error) });
  }

  protected sizeOf(requirement: Requirement): string {
    const { widthPx, heightPx } = demandedCanvas(requirement);
    return `${widthPx} × ${heightPx}`;
  }

  protected cellOf(row: SheetRow, requirement: Requirement): SheetCell | undefined {
    return row.cells.find((cell) => cell.requirementId === requirement.id);
  }

  protected readonly rowId = (_index: number, row: SheetRow): string => row.designId;
  protected readonly isSelected = (row: SheetRow, cell: SheetCell): boolean => this.selected().has(key(row, cell));

  protected toggle(row: SheetRow, cell: SheetCell): void {
    this.selected.update((before) => {
      const after = new Set(before);
      if (!after.delete(key(row, cell))) after.add(key(row, cell));
      return after;
    });
  }

  protected open(row: SheetRow, cell?: SheetCell): void {
    void this.router.navigate(['/designs', row.designId, cell?.state === 'needs-work' ? 'checks' : 'artwork'], { queryParams: cell ? { target: cell.requirementId } : {} });
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
    this.intake.makeEmptyDesign().subscribe({ next: (design) => void this.router.navigate(['/designs', design.id, 'artwork']), error: (error: unknown) => this.notices.complain(error) });
  }

  protected startFromTemplate(): void {
    this.dialog.open<TemplateDialog, readonly SheetRow[], SavedDesign>(TemplateDialog, { width: '560px', maxWidth: '94vw', data: this.templates() }).afterClosed().subscribe((design) => {
      if (design) void this.router.navigate(['/designs', design.id, 'artwork']);
    });
  }

  protected make(): void {
    for (const { row, ids } of this.toMake()) {
      this.api.makePrintFiles(row.designId, row.revision, ids).subscribe({ error: (error: unknown) => { this.refresh.next(); this.notices.complain(error); } });
    }
    this.selected.set(new Set());
  }

  protected remove(row: SheetRow): void {
    this.api.removeDesign(row.designId).subscribe({
      next: () => {
        this.refresh.next();
        this.notices.say(`“${row.name}” is off the sheet.`, { label: 'Put it back', run: () => this.api.restoreDesign(row.designId).subscribe(() => this.refresh.next()) });
      },
      error: (error: unknown) => this.notices.complain(error),
    });
  }

  /** Arrow keys walk the grid, as in any table of cells. */
  protected walk(event: KeyboardEvent): void {
    const step = { ArrowLeft: [0, -1], ArrowRight: [0, 1], ArrowUp: [-1, 0], ArrowDown: [1, 0] }[event.key];
    const at = (event.target as HTMLElement).closest<HTMLElement>('[data-at]')?.dataset['at']?.split(' ').map(Number);
    if (!step || !at) return;
    const next = (event.currentTarget as HTMLElement).querySelector<HTMLElement>(`[data-at="${at[0] + step[0]} ${at[1] + step[1]}"] [data-cell]`);
    if (next) { event.preventDefault(); next.focus(); }
  }

  protected when(savedAt: string): string {
    const date = new Date(savedAt);
    return date.toDateString() === this.today ? `today ${TIME.format(date)}` : DAY.format(date);
  }
}

/** Kept, because making a formatter costs more than a row of the sheet. */
const TIME = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' });
const DAY = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short' });

const key = (row: SheetRow, cell: SheetCell): string => `${row.designId} ${cell.requirementId}`;
