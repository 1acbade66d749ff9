import { ChangeDetectionStrategy, Component, ElementRef, effect, inject, input, viewChild } from '@angular/core';
import type { ClipScene } from '@kettle/core/model';
import { ClipPictures } from './clip-pictures';

/** A scene of a clip, small. */
@Component({
  selector: 'ks-clip-thumb',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<canvas #canvas width="120" height="120" aria-hidden="true"></canvas>`,
  styles: `
    canvas {
      display: block;
      width: 56px;
      height: 56px;
      border-radius: 8px;
      background: var(--well);
    }
  `,
})
export class ClipThumb {
  readonly scene = input.required<ClipScene>();
  private readonly pictures = inject(ClipPictures);
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');

  constructor() {
    effect(() => {
      const picture = this.pictures.of(this.scene());
      const { nativeElement: canvas } = this.canvas();
      const context = canvas.getContext('2d')!;
      context.imageSmoothingQuality = 'high';
      if (picture) context.drawImage(picture, 0, 0, canvas.width, canvas.height);
    });
  }
}
