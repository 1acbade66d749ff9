import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  afterNextRender,
  computed,
  effect,
  inject,
  input,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { compose, translate, type Box, type Viewport } from '@kettle/core/geometry';
import { drawLayers } from '../paint/paint-layers';
import type { EditorTarget } from '../editor/editor';
import { AssetShelf } from '../data/asset-shelf';
import { PressProof } from './press-proof';

/** What lies under the pointer of a print. */
export interface Probe {
  /** As designed. */
  readonly hex: string;
  readonly inks: readonly [number, number, number, number] | null;
}

/** A target as it is seen through a window: on the screen, or as it will print. Places of a finding are marked. */
@Component({
  selector: 'ks-print-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<canvas #surface (pointermove)="look($event)" (pointerleave)="probed.emit(null)"></canvas>`,
  styles: `
    :host {
      display: block;
      position: relative;
      overflow: hidden;
    }
    canvas {
      position: absolute;
      inset: 0;
      width: 100%;
      height: 100%;
    }
  `,
})
export class PrintView {
  private readonly assets = inject(AssetShelf);
  private readonly proof = inject(PressProof);
  private readonly surface = viewChild.required<ElementRef<HTMLCanvasElement>>('surface');
  readonly target = input.required<EditorTarget>();
  readonly view = input.required<Viewport>();
  /** True for the print, false for the screen. */
  readonly printed = input(false);
  readonly places = input<readonly Box[]>([]);
  /** False leaves the paper to whatever lies under it. */
  readonly ground = input(true);
  readonly probed = output<Probe | null>();
  private readonly size = signal({ width: 0, height: 0 });
  /** The art alone, for what is read under the pointer. */
  private art: OffscreenCanvas | null = null;
  private readonly density = computed(() => Math.min(2, Math.max(1, devicePixelRatio)));

  constructor() {
    const destroyed = inject(DestroyRef);
    afterNextRender(() => {
      const element = this.surface().nativeElement;
      const observer = new ResizeObserver(() =>
        this.size.set({ width: element.clientWidth, height: element.clientHeight }),
      );
      observer.observe(element);
      destroyed.onDestroy(() => observer.disconnect());
    });
    effect((onCleanup) => {
      this.assets.imagesReady();
      const { width, height } = this.size();
      const [target, view, printed, places, ground] = [
        this.target(),
        this.view(),
        this.printed(),
        this.places(),
        this.ground(),
      ];
      if (printed) {
        this.proof.ready();
        this.proof.warning();
      }
      if (!width || !height) return;
      // Many changes between two frames of the screen are drawn once.
      const frame = requestAnimationFrame(() => this.draw(target, view, printed, places, ground, width, height));
      onCleanup(() => cancelAnimationFrame(frame));
    });
  }

  private draw(
    { design, layout, garment }: EditorTarget,
    { scale, left, top }: Viewport,
    printed: boolean,
    places: readonly Box[],
    ground: boolean,
    width: number,
    height: number,
  ): void {
    const density = this.density();
    const surface = this.surface().nativeElement;
    surface.width = Math.round(width * density);
    surface.height = Math.round(height * density);
    const context = surface.getContext('2d')!;
    const px = scale * density;
    const paper = {
      x: left * density,
      y: top * density,
      width: layout.canvas.widthMm * px,
      height: layout.canvas.heightMm * px,
    };
    const art = new OffscreenCanvas(surface.width, surface.height);
    const own = art.getContext('2d', { willReadFrequently: true })!;
    const toWindow = compose(translate(left / scale, top / scale), layout.toCanvas);
    const imageSize = px * layout.factor > 6 ? 2048 : 1024;
    own.beginPath();
    own.rect(paper.x, paper.y, paper.width, paper.height);
    own.clip();
    drawLayers(
      own,
      design,
      toWindow,
      px,
      (layer) =>
        this.assets.image(layer.assetId, layer.treatments, imageSize) ??
        this.assets.image(layer.assetId, layer.treatments, 1024),
    );
    this.art = art;
    if (ground) {
      context.fillStyle = (printed && this.proof.paperColour()) || garment;
      context.fillRect(paper.x, paper.y, paper.width, paper.height);
    }
    if (printed && this.proof.ready()) {
      const image = own.getImageData(0, 0, art.width, art.height);
      this.proof.apply(image);
      const print = new OffscreenCanvas(art.width, art.height);
      print.getContext('2d')!.putImageData(image, 0, 0);
      context.drawImage(print, 0, 0);
    } else context.drawImage(art, 0, 0);
    this.mark(context, places, px, left * density, top * density, density);
  }

  private mark(
    context: CanvasRenderingContext2D,
    places: readonly Box[],
    px: number,
    left: number,
    top: number,
    density: number,
  ): void {
    for (const { x, y, width, height } of places) {
      // A place is ringed with room around it, so that small ones are seen.
      const room = Math.max(5 * density, (16 * density - Math.min(width, height) * px) / 2);
      const box = [left + x * px - room, top + y * px - room, width * px + 2 * room, height * px + 2 * room] as const;
      for (const [colour, line] of [
        ['#ffffff', 4],
        ['#b4532a', 2],
      ] as const) {
        context.strokeStyle = colour;
        context.lineWidth = line * density;
        context.beginPath();
        context.roundRect(...box, Math.min(10 * density, box[2] / 2, box[3] / 2));
        context.stroke();
      }
    }
  }

  protected look(event: PointerEvent): void {
    const own = this.art?.getContext('2d');
    if (!own) return;
    const density = this.density();
    const { left, top } = this.surface().nativeElement.getBoundingClientRect();
    const [x, y] = [(event.clientX - left) * density, (event.clientY - top) * density];
    const [r, g, b, a] = own.getImageData(Math.floor(x), Math.floor(y), 1, 1).data;
    if (a < 8) {
      this.probed.emit(null);
      return;
    }
    const hex = `#${[r, g, b].map((value) => value.toString(16).padStart(2, '0')).join('')}`;
    this.probed.emit({ hex, inks: this.proof.inksOf([r, g, b]) });
  }
}
