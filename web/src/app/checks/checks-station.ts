import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  Injector,
  afterNextRender,
  computed,
  effect,
  inject,
  output,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { unite, viewOfBox, type Box, type Viewport } from '@kettle/core/geometry';
import { versionWord } from '@kettle/core/document';
import { acceptFinding, CANNOT_MAKE, refuseFinding, type Finding, type Severity } from '@kettle/core/checks';
import { Measuring } from '../editor/measuring';
import { Editor, type EditorTarget } from '../editor/editor';
import { Mending } from './mending';
import { PrintView, type Probe } from '../proof/print-view';
import { ProofBar } from '../proof/proof-bar';
import { StateMark } from '../parts/state-mark';
import { findingIcon } from './finding-card';
import { ChipRow, chip, choices } from '../units/chips';

/** A finding with the target it is of. */
interface Entry {
  readonly key: string;
  readonly target: EditorTarget;
  readonly finding: Finding;
}

type Seen = 'screen' | 'print' | 'both';
const WAYS: readonly { readonly id: Seen; readonly label: string }[] = [
  { id: 'screen', label: 'On screen' },
  { id: 'print', label: 'As printed' },
  { id: 'both', label: 'Side by side' },
];
const ORDER: readonly Severity[] = ['blocks', 'warns', 'tells'];
/** A place is shown with this much of what is around it, mm. */
const AROUND_MM = 22;

/** The print large, with the places of the chosen finding; all findings of all targets, the worst first. */
@Component({
  selector: 'ks-checks-station',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChipRow, MatButtonModule, MatIconModule, PrintView, ProofBar, StateMark],
  templateUrl: './checks-station.html',
  styleUrl: './checks-station.scss',
})
export class ChecksStation {
  protected readonly editor = inject(Editor);
  protected readonly mending = inject(Mending);
  protected readonly measuring = inject(Measuring);
  private readonly injector = inject(Injector);
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private readonly views = viewChild<ElementRef<HTMLDivElement>>('views');
  protected readonly versionWord = versionWord;
  protected readonly iconOf = findingIcon;
  /** Asked to look at the chosen target on the canvas. */
  readonly look = output<void>();
  protected readonly seen = signal<Seen>('screen');
  protected readonly whole = signal(false);
  protected readonly ways = computed(() => choices(WAYS, this.seen(), (way) => this.see(way)));
  protected readonly wholeAct = computed(() => [
    chip('Whole', () => this.whole.update((whole) => !whole), { on: this.whole(), title: 'The whole print (Home)' }),
  ]);
  protected readonly probe = signal<Probe | null>(null);
  protected readonly accepting = signal(false);
  private readonly size = signal({ width: 0, height: 0 });
  /** Names the chosen finding, so that it stays chosen while the list changes around it. */
  private readonly chosenKey = signal<string | null>(null);

  protected readonly entries = computed<readonly Entry[]>(() =>
    this.editor
      .targets()
      .flatMap((target) => {
        // What a print shop said stands once, though a target has two versions.
        const said = target.cloth === 'dark' ? [] : (this.editor.outside().get(target.requirement.id) ?? []);
        const findings = [...target.findings, ...said];
        return findings.map((finding, i) => ({
          target,
          finding,
          key: `${target.key} ${finding.code} ${finding.layerId ?? ''} ${findings.slice(0, i).filter((one) => one.code === finding.code && one.layerId === finding.layerId).length}`,
        }));
      })
      .sort(
        (a, b) =>
          Number(a.finding.accepted !== undefined) - Number(b.finding.accepted !== undefined) ||
          ORDER.indexOf(a.finding.severity) - ORDER.indexOf(b.finding.severity),
      ),
  );
  protected readonly at = computed(() => {
    const found = this.entries().findIndex((one) => one.key === this.chosenKey());
    return found < 0 ? 0 : found;
  });
  protected readonly chosen = computed<Entry | null>(() => this.entries()[this.at()] ?? null);
  /** Places of the chosen finding, while its own target is looked at. */
  protected readonly marked = computed<readonly Box[]>(() => {
    const one = this.chosen();
    if (!one || one.target.key !== this.editor.current()?.key) return [];
    return one.finding.places ?? (one.finding.where ? [one.finding.where] : []);
  });
  protected readonly view = computed<Viewport>(() => {
    const [current, { width, height }, marked] = [this.editor.current(), this.size(), this.marked()];
    if (!current || !width) return { scale: 1, left: 0, top: 0 };
    const { widthMm, heightMm } = current.layout.canvas;
    const page = { x: 0, y: 0, width: widthMm, height: heightMm };
    const room = { width: this.seen() === 'both' ? width / 2 : width, height, margin: 22, foot: 0 };
    const place = unite(marked);
    if (this.whole() || !place) return viewOfBox(page, room);
    // Near enough to see the place, with what is around it; never nearer than the whole of it.
    const around = Math.min(AROUND_MM, widthMm / 6);
    return viewOfBox(
      {
        x: place.x - around,
        y: place.y - around,
        width: place.width + 2 * around,
        height: place.height + 2 * around,
      },
      room,
    );
  });
  protected readonly mendable = computed(() => this.mending.withoutChoice());
  protected readonly unmeasured = computed(() =>
    this.editor.targets().filter((one) => this.editor.measureStateOf(one) === 'failed'),
  );
  /** What is not known yet of the prints, in a sentence; empty when all of it is. */
  protected readonly unknown = computed(() => {
    const all = this.editor.targets();
    const waiting = all.filter((one) => this.editor.measureStateOf(one) === 'measuring').length;
    const of = (count: number): string => (count === all.length ? 'The prints' : `${count} of ${all.length} prints`);
    if (this.unmeasured().length) return `${of(this.unmeasured().length)} could not be measured.`;
    return waiting ? `${of(waiting)} ${waiting === 1 && all.length > 1 ? 'is' : 'are'} not measured yet.` : '';
  });
  protected readonly summary = computed(() => {
    const blocked = this.editor
      .targets()
      .filter((one) =>
        one.findings.some((finding) => finding.severity === 'blocks' && finding.accepted === undefined),
      ).length;
    const count = this.editor.toMend();
    const unknown = this.unknown();
    if (count === 0 && unknown) return unknown;
    return count === 0
      ? 'Nothing to mend on any target.'
      : `${unknown}${unknown && ' '}${count} ${count === 1 ? 'thing' : 'things'} to look at; ${blocked === 0 ? 'every target can be printed' : `${blocked} of ${this.editor.targets().length} targets should not be printed yet`}.`;
  });

  constructor() {
    const destroyed = inject(DestroyRef);
    const observer = new ResizeObserver(([entry]) =>
      this.size.set({ width: entry.contentRect.width, height: entry.contentRect.height }),
    );
    destroyed.onDestroy(() => observer.disconnect());
    effect(() => {
      const views = this.views();
      observer.disconnect();
      if (views) observer.observe(views.nativeElement);
    });
    // The station opens on the worst finding of the target that is looked at.
    untracked(() => {
      const current = this.editor.current();
      const own = this.entries().find((one) => one.target.key === current?.key);
      if (own) this.chosenKey.set(own.key);
    });
  }

  private see(way: Seen): void {
    this.seen.set(way);
  }

  protected choose(index: number): void {
    const one = this.entries()[index];
    if (!one) return;
    this.accepting.set(false);
    this.whole.set(false);
    this.chosenKey.set(one.key);
    this.editor.choose(one.target.requirement.id, one.target.cloth);
  }

  protected walk(event: KeyboardEvent): void {
    if (event.target !== event.currentTarget) return;
    const last = this.entries().length - 1;
    const to = { ArrowDown: this.at() + 1, ArrowUp: this.at() - 1, End: last }[event.key];
    if (to !== undefined) this.choose(Math.min(last, Math.max(0, to)));
    else if (event.key === 'Home') this.whole.set(!this.whole());
    else if (event.key === 'Enter' && this.chosen()?.finding.fix) this.mend(this.chosen()!);
    else return;
    event.preventDefault();
    this.element.querySelector(`#finding-${this.at()}`)?.scrollIntoView({ block: 'nearest' });
  }

  protected mend({ finding, target }: Entry): void {
    if (finding.fix?.kind === 'proof') this.see('both');
    else this.mending.mend(finding, target);
  }

  protected mendOtherwise({ finding, target }: Entry): void {
    if (finding.also) this.mending.mend({ ...finding, fix: finding.also }, target);
  }

  protected mendAll(): void {
    this.mending.mendAll();
  }

  /** What makes a file impossible cannot be taken as it is. */
  protected canAccept({ finding }: Entry): boolean {
    return finding.severity !== 'tells' && finding.code !== 'from-outside' && !CANNOT_MAKE.includes(finding.code);
  }

  protected startAccepting(): void {
    this.accepting.set(true);
    afterNextRender(() => this.element.querySelector<HTMLInputElement>('.why')?.focus(), { injector: this.injector });
  }

  protected accept({ finding, target }: Entry, reason: string): void {
    this.editor.edit(acceptFinding(finding, reason.trim(), target));
    this.editor.desk.settle();
    this.accepting.set(false);
  }

  protected refuse({ finding, target }: Entry): void {
    this.editor.edit(refuseFinding(finding, target.requirement.id, target.cloth));
    this.editor.desk.settle();
  }
}
