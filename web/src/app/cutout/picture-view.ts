import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  computed,
  effect,
  inject,
  input,
  output,
  signal,
  viewChild,
} from '@angular/core';
import type { Box, Point } from '@kettle/core/geometry';
import { hexOf } from '@kettle/core/colour';
import type { SeedStroke, TouchStroke } from '@kettle/core/model';
import { cropBy, edgesAt } from './crop-hand';
import type { Hand } from './cutting';
import { checker, cross, DROP, frame, KEEP, line, maskOf } from './picture-paint';

/** What the picture is laid on: a colour, a checker, or nothing but its alpha as light and dark. */
export type Ground = { readonly kind: 'colour'; readonly hex: string } | { readonly kind: 'checker' | 'mask' };

/** Points of a stroke that are nearer than this are one, screen px. */
const POINT_PX = 3;
const [LEAST_ZOOM, MOST_ZOOM] = [1, 12];
const MARGIN = 18;

/** One picture shown large, to press, rub and crop on. Points are shares of its width and height. */
@Component({
  selector: 'ks-picture-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<canvas
    #surface
    tabindex="0"
    role="application"
    [attr.aria-label]="label()"
    [style.cursor]="hand() ? 'crosshair' : 'grab'"
    (pointerdown)="down($event)"
    (pointermove)="move($event)"
    (pointerup)="up($event)"
    (pointercancel)="cancel()"
    (wheel)="wheel($event)"
    (keydown)="keys($event)"
    (blur)="cross.set(null)"
  ></canvas>`,
  styles: `
    :host {
      display: block;
      position: relative;
      min-width: 0;
      min-height: 0;
      overflow: hidden;
    }
    canvas {
      position: absolute;
      inset: 0;
      width: 100%;
      height: 100%;
      touch-action: none;
    }
  `,
})
export class PictureView {
  private readonly surface = viewChild.required<ElementRef<HTMLCanvasElement>>('surface');
  readonly width = input.required<number>();
  readonly height = input.required<number>();
  /** Straight RGBA in the proportions of `width` and `height`, this many pixels wide. */
  readonly pixels = input.required<Uint8ClampedArray<ArrayBuffer>>();
  readonly pixelWidth = input.required<number>();
  /** The picture as it came: a press takes its colour. */
  readonly source = input.required<Uint8ClampedArray>();
  readonly ground = input.required<Ground>();
  readonly hand = input<Hand>(null);
  readonly strokes = input<readonly (SeedStroke | TouchStroke)[]>([]);
  /** Colour of the stroke that is being drawn. */
  readonly keeping = input(true);
  /** Width of the brush, share of the longer side. */
  readonly brush = input(0.02);
  readonly crop = input<Box | null>(null);
  readonly label = input('Picture');
  readonly pressed = output<{ at: Point; hex: string }>();
  readonly drawn = output<readonly number[]>();
  readonly cropped = output<Box>();
  /** Told when another picture stands on the screen. */
  readonly painted = output<void>();

  private readonly size = signal({ width: 0, height: 0 });
  private readonly look = signal({ zoom: 1, x: 0, y: 0 });
  /** The hand of the keyboard: a cross that arrows move, share of the picture. */
  protected readonly cross = signal<Point | null>(null);
  private readonly rubbing = signal<readonly number[]>([]);
  private held: { kind: 'pan' | 'rub' | 'crop'; from: Point; at: Point; edges: string } | null = null;
  private readonly picture = document.createElement('canvas');

  private readonly place = computed(() => {
    const [{ width, height }, { zoom, x, y }] = [this.size(), this.look()];
    const fit = Math.min((width - 2 * MARGIN) / this.width(), (height - 2 * MARGIN) / this.height());
    const scale = Math.max(0.01, fit) * zoom;
    return {
      scale,
      left: (width - this.width() * scale) / 2 + x,
      top: (height - this.height() * scale) / 2 + y,
    };
  });

  constructor() {
    const observer = new ResizeObserver(([entry]) => {
      const { width, height } = entry.contentRect;
      this.size.set({ width, height });
    });
    effect((onCleanup) => {
      const element = this.surface().nativeElement;
      observer.observe(element);
      onCleanup(() => observer.unobserve(element));
    });
    inject(DestroyRef).onDestroy(() => observer.disconnect());
    effect(() => {
      const [pixels, ground, width] = [this.pixels(), this.ground(), this.pixelWidth()];
      this.picture.width = width;
      this.picture.height = pixels.length / 4 / width;
      const shown = ground.kind === 'mask' ? maskOf(pixels) : pixels;
      this.picture.getContext('2d')!.putImageData(new ImageData(shown, width), 0, 0);
    });
    effect((onCleanup) => {
      this.pixels();
      const [size, place, ground] = [this.size(), this.place(), this.ground()];
      const parts = {
        strokes: this.strokes(),
        rubbing: this.rubbing(),
        crop: this.crop(),
        cross: this.cross(),
        brush: this.brush(),
        keeping: this.keeping(),
      };
      const frame = requestAnimationFrame(() => {
        this.draw(size, place, ground, parts);
        this.painted.emit();
      });
      onCleanup(() => cancelAnimationFrame(frame));
    });
  }

  private draw(
    size: { width: number; height: number },
    { scale, left, top }: { scale: number; left: number; top: number },
    ground: Ground,
    parts: {
      strokes: readonly (SeedStroke | TouchStroke)[];
      rubbing: readonly number[];
      crop: Box | null;
      cross: Point | null;
      brush: number;
      keeping: boolean;
    },
  ): void {
    const density = Math.max(1, devicePixelRatio);
    const surface = this.surface().nativeElement;
    surface.width = Math.round(size.width * density);
    surface.height = Math.round(size.height * density);
    const context = surface.getContext('2d')!;
    context.scale(density, density);
    const [w, h] = [this.width() * scale, this.height() * scale];
    context.save();
    context.beginPath();
    context.rect(left, top, w, h);
    context.clip();
    context.fillStyle = ground.kind === 'colour' ? ground.hex : ground.kind === 'mask' ? '#000' : checker(context);
    context.fillRect(left, top, w, h);
    context.imageSmoothingEnabled = scale < 3;
    // Enlarged there is nothing to be lost, and a slider wants every millisecond.
    context.imageSmoothingQuality = scale * this.width() > this.picture.width ? 'low' : 'high';
    context.drawImage(this.picture, left, top, w, h);
    context.restore();
    context.translate(left, top);
    const longer = Math.max(w, h);
    for (const stroke of parts.strokes)
      line(
        context,
        stroke.points,
        w,
        h,
        stroke.size * longer,
        ('keep' in stroke ? stroke.keep : stroke.back) ? KEEP : DROP,
      );
    if (parts.rubbing.length) line(context, parts.rubbing, w, h, parts.brush * longer, parts.keeping ? KEEP : DROP);
    if (parts.crop) frame(context, parts.crop, w, h);
    if (parts.cross) cross(context, parts.cross.x * w, parts.cross.y * h);
  }

  private at(event: { offsetX: number; offsetY: number }): Point {
    const { scale, left, top } = this.place();
    return { x: (event.offsetX - left) / (this.width() * scale), y: (event.offsetY - top) / (this.height() * scale) };
  }

  protected down(event: PointerEvent): void {
    this.surface().nativeElement.setPointerCapture(event.pointerId);
    const at = this.at(event);
    const hand = this.hand();
    const pans = event.button !== 0 || hand === null;
    this.held = {
      kind: pans ? 'pan' : hand === 'strokes' || hand === 'touch' ? 'rub' : hand === 'crop' ? 'crop' : 'pan',
      from: { x: event.offsetX, y: event.offsetY },
      at,
      edges:
        hand === 'crop'
          ? edgesAt(this.crop(), at, this.width() * this.place().scale, this.height() * this.place().scale)
          : '',
    };
    if (this.held.kind === 'rub') this.rubbing.set([at.x, at.y]);
    if (!pans && (hand === 'colour' || hand === 'dissolve')) {
      this.held = null;
      this.press(at);
    }
  }

  protected move(event: PointerEvent): void {
    const { held } = this;
    if (!held) return;
    const at = this.at(event);
    if (held.kind === 'pan') {
      const { from } = held;
      this.look.update((look) => ({ ...look, x: look.x + event.offsetX - from.x, y: look.y + event.offsetY - from.y }));
      held.from = { x: event.offsetX, y: event.offsetY };
    } else if (held.kind === 'rub') {
      const points = this.rubbing();
      const { scale } = this.place();
      const far = Math.hypot(
        (at.x - points[points.length - 2]) * this.width() * scale,
        (at.y - points[points.length - 1]) * this.height() * scale,
      );
      if (far >= POINT_PX) this.rubbing.set([...points, at.x, at.y]);
    } else this.cropped.emit(cropBy(this.crop(), held.edges, held.at, at));
  }

  protected up(_event: PointerEvent): void {
    const { held } = this;
    this.held = null;
    if (held?.kind !== 'rub') return;
    this.drawn.emit(thinned(this.rubbing()));
    this.rubbing.set([]);
  }

  protected cancel(): void {
    this.held = null;
    this.rubbing.set([]);
  }

  protected wheel(event: WheelEvent): void {
    event.preventDefault();
    this.zoom(Math.exp(-event.deltaY / 400), { x: event.offsetX, y: event.offsetY });
  }

  /** Brings the picture nearer about a point of the screen. */
  zoom(by: number, about = { x: this.size().width / 2, y: this.size().height / 2 }): void {
    const { width, height } = this.size();
    this.look.update(({ zoom, x, y }) => {
      const next = Math.min(MOST_ZOOM, Math.max(LEAST_ZOOM, zoom * by));
      const [fromX, fromY] = [about.x - width / 2, about.y - height / 2];
      const factor = next / zoom;
      return next === 1
        ? { zoom: 1, x: 0, y: 0 }
        : { zoom: next, x: fromX - (fromX - x) * factor, y: fromY - (fromY - y) * factor };
    });
  }

  /** Arrows move a cross, Enter presses where it stands: everything a hand can press, and strokes point by point. */
  protected keys(event: KeyboardEvent): void {
    const way = ({ ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] } as const)[event.key];
    if (event.key === '+' || event.key === '-') {
      event.preventDefault();
      this.zoom(event.key === '+' ? 1.25 : 0.8);
    } else if (way) {
      event.preventDefault();
      event.stopPropagation();
      const step = (event.shiftKey ? 1 : 12) / Math.max(this.width(), this.height());
      const now = this.cross() ?? { x: 0.5, y: 0.5 };
      this.cross.set({
        x: Math.min(1, Math.max(0, now.x + way[0] * step)),
        y: Math.min(1, Math.max(0, now.y + way[1] * step)),
      });
    } else if (event.key === 'Enter') {
      const at = this.cross();
      if (!at) return;
      event.preventDefault();
      const hand = this.hand();
      if (hand === 'strokes' || hand === 'touch') this.drawn.emit([at.x, at.y]);
      else if (hand) this.press(at);
    }
  }

  private press(at: Point): void {
    if (at.x < 0 || at.y < 0 || at.x >= 1 || at.y >= 1) return;
    const i = (Math.floor(at.y * this.height()) * this.width() + Math.floor(at.x * this.width())) * 4;
    const data = this.source();
    this.pressed.emit({ at, hex: hexOf({ r: data[i], g: data[i + 1], b: data[i + 2] }) });
  }
}

/** Most points that a stroke keeps: evenly left out where it has more. */
const MOST_POINTS = 400;

function thinned(points: readonly number[]): readonly number[] {
  const count = points.length / 2;
  const round = (value: number): number => Math.round(value * 1e5) / 1e5;
  const step = Math.max(1, count / MOST_POINTS);
  const out: number[] = [];
  for (let n = 0; n < count; n += step)
    out.push(round(points[Math.floor(n) * 2]), round(points[Math.floor(n) * 2 + 1]));
  return out;
}
