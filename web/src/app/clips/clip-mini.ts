import {
  ChangeDetectionStrategy,
  Component,
  ElementRef,
  OnDestroy,
  computed,
  effect,
  inject,
  input,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { aspectOf, CLIP_FPS, clipSize, coverOf, type Clip } from '@kettle/core/model';
import { beatFrames, framesOf, paintClip } from '@kettle/core/clip';
import { ClipEditor } from './clip-editor';
import { CLIP_SIZES, ClipPictures } from './clip-pictures';

/** Shorter side, px, and the sizes its pictures are drawn at. */
const SIDE = 132;
const SIZES = { still: 200, moving: [200] };

/** A clip that plays small, without sound or words; it stands still for who wants no movement. */
@Component({
  selector: 'ks-clip-mini',
  changeDetection: ChangeDetectionStrategy.OnPush,
  providers: [ClipPictures, { provide: CLIP_SIZES, useValue: SIZES }],
  template: `<canvas
    #canvas
    [width]="size().width"
    [height]="size().height"
    role="img"
    [attr.aria-label]="clip().name + ', with this design'"
    [attr.data-frame]="frame()"
  ></canvas>`,
  styles: `
    canvas {
      display: block;
      margin: 4px 10px 8px;
      border-radius: 10px;
      background: var(--well);
      box-shadow: var(--lift, 0 2px 8px rgb(0 0 0 / 18%));
    }
  `,
})
export class ClipMini implements OnDestroy {
  readonly clip = input.required<Clip>();
  private readonly editor = inject(ClipEditor);
  private readonly pictures = inject(ClipPictures);
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  protected readonly frame = signal(0);
  protected readonly size = computed(() => {
    const { shape } = this.clip();
    // Upright shapes are as wide as square ones, so that they fit the column.
    return clipSize(shape, aspectOf(shape) > 1 ? SIDE * 0.75 : SIDE);
  });
  private readonly beats = computed(() => {
    const { music } = this.clip();
    const track = this.editor.tracks().find(({ id }) => id === music?.trackId);
    return music && track ? beatFrames(track, music.start, framesOf(this.clip())) : [];
  });
  private timer = 0;

  constructor() {
    effect(() => {
      const [clip, beats] = [this.clip(), this.beats()];
      untracked(() => this.pictures.want(clip, beats));
    });
    effect(() => {
      const [clip, beats, frame] = [this.clip(), this.beats(), this.frame()];
      this.size();
      const scenes = this.pictures.ready(clip);
      const context = this.canvas().nativeElement.getContext('2d', { alpha: false })!;
      paintClip(context, { clip, scenes, words: null, logo: null, beats, frames: framesOf(clip) }, frame);
    });
    effect(() => {
      const clip = this.clip();
      cancelAnimationFrame(this.timer);
      if (matchMedia('(prefers-reduced-motion: reduce)').matches) this.frame.set(coverOf(clip));
      else this.play(framesOf(clip));
    });
  }

  ngOnDestroy(): void {
    cancelAnimationFrame(this.timer);
  }

  private play(frames: number): void {
    const begun = performance.now();
    const step = (): void => {
      this.frame.set(Math.floor(((performance.now() - begun) / 1000) * CLIP_FPS) % frames);
      this.timer = requestAnimationFrame(step);
    };
    this.timer = requestAnimationFrame(step);
  }
}
