import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { Title } from '@angular/platform-browser';
import { Router, RouterLink } from '@angular/router';
import { findingsOfOrder } from '@kettle/contract';
import { MAX_LETTERS } from '@kettle/core/text';
import type { Finding } from '@kettle/core/checks';
import { EMPTY, catchError, filter, forkJoin, merge, switchMap } from 'rxjs';
import { LayerDetails } from './layer-details';
import { ChecksStation } from '../checks/checks-station';
import { Api } from '../data/api';
import { savesOf } from '../data/saving';
import { Loaded } from '../data/loaded';
import { Intake } from '../data/intake';
import { SaveNotice } from '../parts/save-notice';
import { Savings } from '../data/savings';
import { Notices } from '../data/notices';
import { RequirementShelf } from '../data/requirement-shelf';
import { FilesStation } from '../files/files-station';
import { FitDetails } from '../fit/fit-details';
import { JobFeed } from '../jobs/job-feed';
import { HandoverStation } from '../handover/handover-station';
import { ClipsStation } from '../clips/clips-station';
import { ColourWall } from '../colours/colour-wall';
import { CutOut } from '../cutout/cut-out';
import { MockupsStation } from '../mockups/mockups-station';
import { DropZone } from '../shell/drop-zone';
import { isTyping } from '../shell/finder';
import { Stage } from '../stage/stage';
import { Arranging } from '../editor/arranging';
import { Editor } from '../editor/editor';
import { EDITOR_PROVIDERS } from './editor-providers';
import { DesignDesk } from '../editor/design-desk';
import { DesignMenu } from './design-menu';
import { HistoryMenu } from './history-menu';
import { Maker } from '../editor/maker';
import { Measuring } from '../editor/measuring';
import { Strip } from './strip';
import { TargetCards } from './target-cards';
import { FilePicker } from '../units/file-picker';
import { exactTime } from '../units/clock';
import { UndoPair } from '../parts/undo-pair';

const STATIONS = [
  { id: 'artwork', label: 'Artwork' },
  { id: 'fit', label: 'Fit' },
  { id: 'checks', label: 'Checks' },
  { id: 'files', label: 'Files' },
  { id: 'mockups', label: 'Mockups' },
  { id: 'clips', label: 'Clips' },
  { id: 'hand-over', label: 'Hand-over' },
] as const;
type Station = (typeof STATIONS)[number]['id'];

/** One design on the bench: its stations in the order of the work. */
@Component({
  selector: 'ks-design-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    FilePicker,
    UndoPair,
    RouterLink,
    MatButtonModule,
    MatIconModule,
    DropZone,
    DesignMenu,
    HistoryMenu,
    SaveNotice,
    TargetCards,
    Stage,
    Strip,
    LayerDetails,
    FitDetails,
    ChecksStation,
    FilesStation,
    MockupsStation,
    ClipsStation,
    HandoverStation,
    ColourWall,
    CutOut,
  ],
  providers: EDITOR_PROVIDERS,
  templateUrl: './design-page.html',
  styleUrl: './design-page.scss',
  host: {
    '(document:keydown)': 'keys($event)',
    '(document:copy)': 'copy($event)',
    '(document:cut)': 'copy($event)',
    '(document:paste)': 'paste($event)',
  },
})
export class DesignPage {
  readonly designId = input.required<string>();
  readonly station = input.required<string>();
  readonly target = input<string>();
  private readonly api = inject(Api);
  private readonly intake = inject(Intake);
  private readonly savings = inject(Savings);
  private readonly notices = inject(Notices);
  private readonly requirements = inject(RequirementShelf);
  private readonly router = inject(Router);
  private readonly title = inject(Title);
  private readonly feed = inject(JobFeed);
  protected readonly editor = inject(Editor);
  protected readonly desk = inject(DesignDesk);
  private readonly arranging = inject(Arranging);
  private readonly maker = inject(Maker);
  /** Measures prints as long as the bench is open. */
  protected readonly measuring = inject(Measuring);
  protected readonly stations = STATIONS;
  protected readonly missing = signal(false);
  protected readonly taking = signal(0);
  protected readonly at = computed<Station>(() => STATIONS.find((one) => one.id === this.station())?.id ?? 'artwork');
  protected readonly toMake = computed(
    () => this.editor.targets().filter((one) => ['not-made', 'out-of-date'].includes(this.editor.stateOf(one))).length,
  );
  protected readonly counts = computed<Partial<Record<Station, number>>>(() => ({
    fit: this.editor
      .targets()
      .filter((one) =>
        one.findings.some((finding) =>
          ['off-canvas', 'outside-safe', 'canvas-size', 'canvas-dpi', 'nothing-visible'].includes(finding.code),
        ),
      ).length,
    checks: this.editor.toMend() + [...this.editor.outside().values()].flat().length,
    files: this.toMake(),
  }));
  protected readonly saved = computed(() => {
    const at = this.desk.savedAt();
    switch (this.desk.state()) {
      case 'saved':
        return at ? `saved ${exactTime(at)}` : '';
      case 'unsaved':
        return 'saving …';
      case 'away':
        return 'not saved yet';
      default:
        return 'not saved';
    }
  });

  private readonly files = new Loaded(
    () => {
      const id = this.desk.id();
      return id ? this.api.ask('get /api/designs/{id}/print-files', { id }) : null;
    },
    {
      of: 'The print files of this design',
      on: merge(
        savesOf(this.desk),
        this.feed.changes.pipe(
          filter((job) => job.kind === 'print-files' && job.designIds.includes(this.desk.id() ?? '')),
        ),
      ),
    },
  );
  private readonly orders = new Loaded(
    () => {
      const id = this.desk.id();
      return id ? this.api.ask('get /api/designs/{id}/shop-orders', { id }) : null;
    },
    {
      of: 'What print shops said',
      on: this.feed.changes.pipe(filter(({ kind, state }) => kind === 'shop-order' && state === 'done')),
    },
  );

  constructor() {
    toObservable(this.designId)
      .pipe(
        // What another bench of this design is still saving comes first.
        switchMap((id) =>
          this.savings
            .settled(id)
            .pipe(
              switchMap(() => forkJoin([this.api.ask('get /api/designs/{id}', { id }), this.requirements.refresh()])),
            )
            .pipe(
              catchError((error: unknown) => {
                this.missing.set(true);
                this.notices.complain(error);
                return EMPTY;
              }),
            ),
        ),
        takeUntilDestroyed(),
      )
      .subscribe(([design]) => {
        this.missing.set(false);
        this.desk.open(design);
        const asked = this.target();
        if (asked) this.editor.choose(asked);
      });
    effect(() => {
      const files = this.files.value();
      if (files) untracked(() => this.editor.printFiles.set(files));
    });
    effect(() => {
      const found = new Map<string, Finding[]>();
      for (const order of this.orders.value() ?? []) {
        const before = found.get(order.requirementId) ?? [];
        found.set(order.requirementId, [...before, ...findingsOfOrder(order)]);
      }
      untracked(() => this.editor.outside.set(found));
    });
    effect(() => {
      const name = this.desk.document()?.name;
      if (name) this.title.setTitle(`${name} · Kettle Sheet`);
    });
    effect(() => {
      const fit = this.at() === 'fit';
      untracked(() => this.editor.onlyHere.set(fit));
    });
  }

  protected go(station: Station): void {
    this.editor.place.set(null);
    void this.router.navigate(['/designs', this.designId(), station], { queryParamsHandling: 'preserve' });
  }

  protected take(files: readonly File[]): void {
    if (!files.length) return;
    this.taking.update((n) => n + files.length);
    this.intake.takeIn(files).subscribe({
      next: (asset) => this.maker.picture(asset),
      complete: () => {
        this.taking.update((n) => n - files.length);
        if (this.at() !== 'fit') this.go('artwork');
      },
    });
  }

  protected keys(event: KeyboardEvent): void {
    if (isTyping(event.target) || this.editor.place()?.kind === 'picture') return;
    if (event.ctrlKey || event.metaKey) {
      const act = this.commands()[`${event.shiftKey ? 'shift ' : ''}${event.key.toLowerCase()}`];
      if (act) {
        event.preventDefault();
        act();
      }
      return;
    }
    if (event.altKey) return;
    const station = STATIONS[Number(event.key) - 1];
    if (station) {
      event.preventDefault();
      this.go(station.id);
    }
  }

  /** What Ctrl with a key does. */
  private commands(): Readonly<Record<string, () => void>> {
    const steps = { z: () => this.desk.undo(), 'shift z': () => this.desk.redo(), y: () => this.desk.redo() };
    if (this.at() !== 'artwork' || this.editor.place()) return steps;
    return {
      ...steps,
      a: () => this.arranging.selectAll(),
      d: () => this.arranging.duplicate(),
      g: () => this.arranging.group(),
      'shift g': () => this.arranging.ungroup(),
    };
  }

  protected copy(event: ClipboardEvent): void {
    if (
      this.editor.place() ||
      isTyping(event.target) ||
      this.at() !== 'artwork' ||
      !event.clipboardData ||
      window.getSelection()?.toString()
    )
      return;
    if (!this.arranging.copy(event.clipboardData)) return;
    event.preventDefault();
    if (event.type === 'cut') this.arranging.remove();
  }

  /** Copied layers, or words from anywhere. Pictures are taken in like dropped ones. */
  protected paste(event: ClipboardEvent): void {
    const clipboard = event.clipboardData;
    if (this.editor.place() || isTyping(event.target) || !clipboard || clipboard.files.length || !this.desk.document())
      return;
    const text = clipboard.getData('text/plain').trim().slice(0, MAX_LETTERS);
    if (!this.arranging.paste(clipboard)) {
      if (!text) return;
      this.maker.text(text, false);
    }
    event.preventDefault();
  }
}
