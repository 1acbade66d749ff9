import { ChangeDetectionStrategy, Component, ElementRef, computed, inject } from '@angular/core';
import type { Point } from '@kettle/core/geometry';
import { placeOnPhoto, type PlaceOf } from '@kettle/core/own-blank';
import { OwnBlankDraft } from './own-blank-draft';

const LINES = 8;
const STEPS = 24;

type Mover = (at: number, to: Point, key: string) => void;

/** The print area over the photo: its lines as the print will run, and the points that a hand or the keyboard moves. */
@Component({
  selector: 'ks-area-overlay',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg viewBox="0 0 1000 1000" preserveAspectRatio="none" aria-hidden="true">
      <path class="lines" [attr.d]="lines()" />
      <path class="rim" [attr.d]="rim()" [class.wrong]="draft.wrongArea()" />
      <path class="top" [attr.d]="top()" />
      @if (draft.known(); as known) {
        <path class="known" [attr.d]="lineOf(known.line)" />
      }
    </svg>
    @for (handle of draft.handles(); track $index) {
      <button
        type="button"
        class="point"
        [style.left.%]="handle.x * 100"
        [style.top.%]="handle.y * 100"
        [attr.aria-label]="'Point ' + ($index + 1) + ' of the print area. Arrow keys move it, with Shift further.'"
        (pointerdown)="grab($event, movers.area, $index)"
        (pointermove)="drag($event)"
        (pointerup)="release()"
        (pointercancel)="release()"
        (keydown)="keys($event, movers.area, $index, handle)"
        (keyup)="draft.settle()"
      ></button>
    }
    @for (end of draft.known()?.line ?? []; track $index) {
      <button
        type="button"
        class="point known"
        [style.left.%]="end.x * 100"
        [style.top.%]="end.y * 100"
        [attr.aria-label]="'End ' + ($index + 1) + ' of what you know. Arrow keys move it, with Shift further.'"
        (pointerdown)="grab($event, movers.known, $index)"
        (pointermove)="drag($event)"
        (pointerup)="release()"
        (pointercancel)="release()"
        (keydown)="keys($event, movers.known, $index, end)"
        (keyup)="draft.settle()"
      ></button>
    }
  `,
  styleUrl: './area-overlay.scss',
})
export class AreaOverlay {
  protected readonly draft = inject(OwnBlankDraft);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  private held: { readonly move: Mover; readonly at: number; readonly key: string } | null = null;
  /** What its points stand for. */
  protected readonly movers = {
    area: (at: number, to: Point, key: string) => this.draft.movePoint(at, to, key),
    known: (at: number, to: Point) => this.draft.moveKnown(at, to),
  } satisfies Record<string, Mover>;
  private gestures = 0;

  private readonly place = computed<PlaceOf | null>(() => {
    try {
      return placeOnPhoto(this.draft.source().shape);
    } catch {
      return null;
    }
  });
  private readonly seen = computed(() => {
    const { shape } = this.draft.source();
    return shape.kind === 'cylinder' ? shape.shows : ([0, 1] as const);
  });
  protected readonly lines = computed(() => {
    const place = this.place();
    if (!place) return '';
    let path = '';
    const [from, to] = this.seen();
    for (let n = 1; n < LINES; n++) {
      path += run(place, from + ((to - from) * n) / LINES, 0, from + ((to - from) * n) / LINES, 1);
      path += run(place, from, n / LINES, to, n / LINES);
    }
    return path;
  });
  protected readonly rim = computed(() => {
    const place = this.place();
    const [from, to] = this.seen();
    if (place)
      return (
        run(place, from, 0, to, 0) +
        run(place, to, 0, to, 1) +
        run(place, to, 1, from, 1) +
        run(place, from, 1, from, 0)
      );
    // Points that are no area are still joined, so that it is seen what is crossed.
    return this.draft
      .handles()
      .map(({ x, y }, i) => `${i ? 'L' : 'M'}${x * 1000} ${y * 1000}`)
      .join('');
  });
  /** The upper edge stands out: it is where the print begins. */
  protected readonly top = computed(() => {
    const place = this.place();
    const [from, to] = this.seen();
    return place ? run(place, from, 0, to, 0) : '';
  });

  protected lineOf([a, b]: readonly [Point, Point]): string {
    return `M${a.x * 1000} ${a.y * 1000}L${b.x * 1000} ${b.y * 1000}`;
  }

  protected grab(event: PointerEvent, move: Mover, at: number): void {
    event.preventDefault();
    (event.target as Element).setPointerCapture(event.pointerId);
    (event.target as HTMLElement).focus();
    this.held = { move, at, key: `point ${++this.gestures}` };
  }

  protected drag(event: PointerEvent): void {
    if (!this.held) return;
    const box = this.host.nativeElement.getBoundingClientRect();
    const to = { x: (event.clientX - box.left) / box.width, y: (event.clientY - box.top) / box.height };
    this.held.move(this.held.at, to, this.held.key);
  }

  protected release(): void {
    if (this.held) this.draft.settle();
    this.held = null;
  }

  protected keys(event: KeyboardEvent, move: Mover, at: number, { x, y }: Point): void {
    const way = ({ ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] } as const)[event.key];
    if (!way) return;
    event.preventDefault();
    const step = event.shiftKey ? 0.02 : 0.002;
    move(at, { x: x + way[0] * step, y: y + way[1] * step }, `keys ${at}`);
  }
}

/** A line over the area as a path on a picture of 1000 × 1000. */
function run(place: PlaceOf, u0: number, v0: number, u1: number, v1: number): string {
  let path = '';
  for (let n = 0; n <= STEPS; n++) {
    const { x, y } = place(u0 + ((u1 - u0) * n) / STEPS, v0 + ((v1 - v0) * n) / STEPS);
    path += `${n ? 'L' : 'M'}${(x * 1000).toFixed(1)} ${(y * 1000).toFixed(1)}`;
  }
  return path;
}
