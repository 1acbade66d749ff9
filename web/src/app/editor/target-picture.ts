import {
  ChangeDetectionStrategy,
  Component,
  ElementRef,
  computed,
  effect,
  inject,
  input,
  signal,
  viewChild,
} from '@angular/core';
import { MM_PER_INCH } from '@kettle/core/units';
import type { Affine } from '@kettle/core/geometry';
import { makeCanvas, type Canvas } from '@kettle/core/model';
import { drawLayers, type Keylined } from '../paint/paint-layers';
import { AssetShelf } from '../data/asset-shelf';

/** A live, true-shaped miniature of layers on a canvas. */
@Component({
  selector: 'ks-target-picture',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: ` <canvas
      #surface
      [style.width.px]="shape().width"
      [style.height.px]="shape().height"
      [style.background]="garment()"
      aria-hidden="true"
    ></canvas>
    @if (waits()) {
      <span class="waits" title="Its pictures are on their way">…</span>
    }`,
  styles: `
    :host {
      display: inline-block;
      position: relative;
      line-height: 0;
    }
    canvas {
      border: 1px solid rgb(0 0 0 / 14%);
      border-radius: 3px;
      box-shadow: 0 1px 3px rgb(0 0 0 / 16%);
      box-sizing: content-box;
    }
  `,
})
export class TargetPicture {
  private readonly assets = inject(AssetShelf);
  private readonly surface = viewChild.required<ElementRef<HTMLCanvasElement>>('surface');
  readonly design = input.required<Keylined>();
  readonly toCanvas = input.required<Affine>();
  readonly canvas = input.required<Pick<Canvas, 'widthMm' | 'heightMm'>>();
  readonly garment = input('transparent');
  readonly most = input<readonly [number, number]>([110, 74]);

  /** True while a picture of it is on its way. */
  protected readonly waits = signal(false);
  protected readonly shape = computed(() => {
    const { widthMm, heightMm } = this.canvas();
    const factor = Math.min(this.most()[0] / widthMm, this.most()[1] / heightMm);
    return { width: Math.round(widthMm * factor), height: Math.round(heightMm * factor), factor };
  });

  constructor() {
    effect((onCleanup) => {
      this.assets.imagesReady();
      const [shape, design, toCanvas] = [this.shape(), this.design(), this.toCanvas()];
      // Many changes between two frames of the screen are drawn once.
      const frame = requestAnimationFrame(() => this.draw(shape, design, toCanvas));
      onCleanup(() => cancelAnimationFrame(frame));
    });
  }

  private draw(
    { width, height, factor }: { width: number; height: number; factor: number },
    design: Keylined,
    toCanvas: Affine,
  ): void {
    const density = Math.min(2, Math.max(1, devicePixelRatio));
    const surface = this.surface().nativeElement;
    surface.width = width * density;
    surface.height = height * density;
    const pixels = Math.max(width, height) * density > 256 ? 512 : 256;
    let waits = false;
    drawLayers(surface.getContext('2d')!, design, toCanvas, factor * density, (layer) => {
      const image = this.assets.image(layer.assetId, layer.treatments, pixels);
      waits ||= !image;
      return image;
    });
    this.waits.set(waits);
  }
}

/** The print field as a canvas of its own, for pictures that belong to no target. */
export const fieldCanvas = (field: { width: number; height: number }): Canvas =>
  makeCanvas((field.width / MM_PER_INCH) * 300, (field.height / MM_PER_INCH) * 300, 300);
