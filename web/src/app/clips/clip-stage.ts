import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  afterNextRender,
  computed,
  effect,
  inject,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { MatIconModule } from '@angular/material/icon';
import type { Box } from '@kettle/core/geometry';
import { aspectOf, CLIP_FPS, clipSize, OWN_FRAMING, type Clip, type Framing } from '@kettle/core/model';
import { paintClip, sceneAt, startsOf, viewAt } from '@kettle/core/clip';
import { Notices } from '../data/notices';
import { ClipEditor } from './clip-editor';
import { mixMusic, SOUND_RATE } from './clip-music';
import { ClipLogos } from './clip-logos';
import { ClipPictures } from './clip-pictures';
import { drawWords } from './draw-words';
import type { ReadyClip, ReadyWords } from './bitmaps';

/** Shorter side that the stage draws at most, px. */
const MOST_SIDE = 720;
/** How far the picture may be from the sound, ms: less is not noticed (ITU-R BT.1359). */
const MOST_APART_MS = 60;
/** How often the pace is looked at, s, and the share of frames from which on it is told, as less is seen. */
const [LOOK_S, SMOOTH] = [1, 0.8];

type Over = Pick<Clip, 'words' | 'logo' | 'shape'>;

/** The clip as it will be: played with its sound, looked at frame by frame. */
@Component({
  selector: 'ks-clip-stage',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatIconModule],
  template: `
    <div class="room" #room>
      <canvas
        #canvas
        role="img"
        [attr.aria-label]="'The clip at ' + time()"
        [style.width.px]="size().width"
        [style.height.px]="size().height"
        [attr.data-frame]="shown()"
        [attr.data-ready]="isReady()"
        [class.movable]="!playing()"
        (pointerdown)="take($event, canvas)"
        (pointermove)="drag($event)"
        (pointerup)="letGo()"
        (pointercancel)="letGo()"
      ></canvas>
      @if (!isReady() && editor.frames()) {
        <p class="waits" role="status">Drawing its scenes …</p>
      }
    </div>
    <div class="play">
      <button
        type="button"
        class="round"
        [attr.aria-label]="playing() ? 'Stop' : 'Play'"
        title="Space"
        [disabled]="!editor.frames()"
        (click)="toggle()"
      >
        <mat-icon [svgIcon]="playing() ? 'player-pause' : 'player-play'" />
      </button>
      <input
        #scrub
        type="range"
        min="0"
        [max]="editor.frames() - 1"
        [value]="shown()"
        aria-label="Frame"
        (input)="look(+scrub.value)"
      />
      <output>{{ time() }}</output>
      @if (slow(); as rate) {
        <small role="status" title="The file that is made has every frame."
          >Shown at {{ rate }} of {{ fps }} frames a second</small
        >
      }
      <button type="button" class="chip" [attr.aria-pressed]="loops()" (click)="loops.set(!loops())">
        Again and again
      </button>
    </div>
  `,
  styleUrl: './clip-stage.scss',
  host: { '(document:keydown)': 'keys($event)' },
})
export class ClipStage {
  protected readonly editor = inject(ClipEditor);
  private readonly pictures = inject(ClipPictures);
  private readonly logos = inject(ClipLogos);
  private readonly notices = inject(Notices);
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  private readonly room = viewChild.required<ElementRef<HTMLElement>>('room');
  private readonly space = signal({ width: 0, height: 0 });
  protected readonly playing = this.editor.playing;
  protected readonly loops = signal(true);
  protected readonly fps = CLIP_FPS;
  /** Frames a second that are shown where this machine leaves some out; 0 where it shows them all. */
  protected readonly slow = signal(0);
  /** Frames painted since the pace was looked at last. */
  private painted = 0;
  private readonly playingFrame = signal(0);
  private readonly words = signal<ReadyWords | null>(null);
  private readonly logo = signal<ReadyWords | null>(null);
  private context: CanvasRenderingContext2D | null = null;
  private sound: { readonly context: AudioContext; readonly source: AudioBufferSourceNode } | null = null;
  /** The sound of the clip as it is, made once. */
  private mixed: { readonly key: string; readonly sound: readonly Float32Array<ArrayBuffer>[] } | null = null;
  /** Grows with every change of words or logo, and with every press of play or stop: what an earlier one began ends then. */
  private turn = { over: 0, play: 0 };

  protected readonly size = computed(() => {
    const [{ width, height }, clip] = [this.space(), this.editor.clip()];
    if (!clip || !width) return { width: 0, height: 0 };
    const aspect = aspectOf(clip.shape);
    const fitted = Math.min(width, height * aspect);
    return { width: fitted, height: fitted / aspect };
  });
  /** Pixels that are drawn: what is seen, no more than is needed. */
  private readonly pixels = computed(() => {
    const [{ width, height }, clip] = [this.size(), this.editor.clip()];
    const side = Math.min(MOST_SIDE, Math.ceil(Math.min(width, height) * devicePixelRatio));
    return clip && side > 0 ? clipSize(clip.shape, side) : { width: 0, height: 0 };
  });
  protected readonly shown = computed(() =>
    Math.min(this.playing() ? this.playingFrame() : this.editor.frame(), Math.max(0, this.editor.frames() - 1)),
  );
  protected readonly time = computed(
    () => `${(this.shown() / CLIP_FPS).toFixed(2)} of ${(this.editor.frames() / CLIP_FPS).toFixed(2)} s`,
  );
  /** What stands over the picture; the same while nothing of it changes. */
  private readonly over = computed<Over | null>(
    () => {
      const clip = this.editor.clip();
      return clip && { words: clip.words, logo: clip.logo, shape: clip.shape };
    },
    { equal: (a, b) => a?.words === b?.words && a?.logo === b?.logo && a?.shape === b?.shape },
  );
  private readonly clipId = computed(() => this.editor.clip()?.id);
  private readonly ready = computed<ReadyClip | null>(() => {
    const clip = this.editor.clip();
    return clip && this.editor.frames()
      ? {
          clip,
          scenes: this.pictures.ready(clip),
          words: this.words(),
          logo: this.logo(),
          beats: this.editor.beats(),
          frames: this.editor.frames(),
        }
      : null;
  });
  protected readonly isReady = computed(() => this.ready() !== null && this.pictures.isReady());

  constructor() {
    const destroyed = inject(DestroyRef);
    afterNextRender(() => {
      const element = this.room().nativeElement;
      const observer = new ResizeObserver(() =>
        this.space.set({ width: element.clientWidth, height: element.clientHeight }),
      );
      observer.observe(element);
      this.context = this.canvas().nativeElement.getContext('2d', { alpha: false });
      destroyed.onDestroy(() => observer.disconnect());
    });
    destroyed.onDestroy(() => this.stop());
    effect(() => {
      const [clip, beats] = [this.editor.clip(), this.editor.beats()];
      if (clip) untracked(() => this.pictures.want(clip, beats));
    });
    effect(() => {
      const [over, pixels] = [this.over(), this.pixels()];
      void this.setOver(over, pixels);
    });
    effect(() => {
      const [ready, { width, height }, frame] = [this.ready(), this.pixels(), this.shown()];
      if (!this.context || !width) return;
      const { canvas } = this.context;
      if (canvas.width !== width || canvas.height !== height) Object.assign(canvas, { width, height });
      if (ready) paintClip(this.context, ready, frame);
      this.painted++;
    });
    // Another clip is looked at from its beginning.
    effect(() => {
      this.clipId();
      untracked(() => this.stop());
    });
  }

  private async setOver(over: Over | null, pixels: { readonly width: number; readonly height: number }): Promise<void> {
    const turn = ++this.turn.over;
    await document.fonts.ready;
    const [words, logo] =
      over && pixels.width
        ? await Promise.all([drawWords(over.words, over.shape, pixels), this.logos.draw(over.logo, over.shape, pixels)])
        : [null, null];
    if (turn !== this.turn.over) return;
    this.words.set(words);
    this.logo.set(logo);
  }

  /** What of the picture the scene that is seen shows, and where the pointer took hold of it. */
  private hold: { readonly x: number; readonly y: number; readonly from: Framing; readonly view: Box } | null = null;

  /** Takes hold of the scene that is seen, to frame it otherwise. */
  protected take(event: PointerEvent, canvas: HTMLCanvasElement): void {
    const [clip, ready] = [this.editor.clip(), this.ready()];
    if (!clip || !ready || this.playing() || event.button !== 0) return;
    const index = sceneAt(clip, this.shown());
    const scene = clip.scenes[index];
    if (!scene) return;
    this.editor.select(scene.id);
    const from = scene.framings?.[clip.shape] ?? OWN_FRAMING;
    const t = (this.shown() - startsOf(clip)[index]) / Math.max(1, scene.frames - 1);
    const view = viewAt(scene.movement, t, ready.scenes[index].focus, aspectOf(clip.shape), 1, from);
    this.hold = { x: event.clientX, y: event.clientY, from, view };
    canvas.setPointerCapture(event.pointerId);
  }

  protected drag(event: PointerEvent): void {
    if (!this.hold) return;
    const { x, y, from, view } = this.hold;
    const { width, height } = this.size();
    const to = (start: number, by: number): number => Math.max(-1, Math.min(1, start - by));
    const [across, down] = [
      to(from.x, ((event.clientX - x) / width) * view.width),
      to(from.y, ((event.clientY - y) / height) * view.height),
    ];
    // A press that does not move chooses the scene, and corrects nothing.
    if (across !== from.x || down !== from.y) this.editor.frameScene({ ...from, x: across, y: down });
  }

  protected letGo(): void {
    if (this.hold) this.editor.settle();
    this.hold = null;
  }

  protected look(frame: number): void {
    this.stop();
    this.editor.frame.set(frame);
    const clip = this.editor.clip();
    if (clip) this.editor.select(clip.scenes[sceneAt(clip, frame)]?.id ?? null);
  }

  protected keys(event: KeyboardEvent): void {
    const at = event.target as HTMLElement;
    if (at.closest('input:not([type=range]), textarea, select, button, [role=menu]') || event.ctrlKey || event.metaKey)
      return;
    if (event.key === ' ') {
      event.preventDefault();
      this.toggle();
    } else if (event.key === ',' || event.key === '.') {
      this.look(Math.max(0, Math.min(this.editor.frames() - 1, this.shown() + (event.key === '.' ? 1 : -1))));
    }
  }

  protected toggle(): void {
    if (this.playing()) {
      this.editor.frame.set(this.shown());
      this.stop();
    } else void this.play();
  }

  private async play(): Promise<void> {
    const frames = this.editor.frames();
    if (!frames) return;
    const from = this.editor.frame() >= frames - 1 ? 0 : this.editor.frame();
    const turn = ++this.turn.play;
    this.playing.set(true);
    this.playingFrame.set(from);
    const sound = await this.sounding().catch((error: unknown) => {
      this.notices.complain(error instanceof Error ? error.message : 'The music could not be played.');
      return null;
    });
    if (turn !== this.turn.play) return;
    if (sound) this.startSound(sound, from / CLIP_FPS);
    let begun = performance.now() - (from / CLIP_FPS) * 1000;
    let looked = performance.now();
    this.painted = 0;
    const step = (): void => {
      if (turn !== this.turn.play) return;
      const total = this.editor.frames();
      // What is seen keeps to what is heard; frames there is no time for are left out.
      const heard = this.sound?.context.state === 'running' ? this.sound.context.currentTime : null;
      if (heard !== null) {
        const since = performance.now() - (from / CLIP_FPS + heard) * 1000;
        if (Math.abs(since - begun) > MOST_APART_MS) begun = since;
      }
      const passed = (performance.now() - looked) / 1000;
      if (passed >= LOOK_S) {
        const rate = Math.round(this.painted / passed);
        this.slow.set(rate < SMOOTH * CLIP_FPS ? rate : 0);
        looked = performance.now();
        this.painted = 0;
      }
      const at = Math.floor(((performance.now() - begun) / 1000) * CLIP_FPS);
      if (at >= total && !this.loops()) {
        this.editor.frame.set(total - 1);
        this.stop();
        return;
      }
      this.playingFrame.set(at % Math.max(1, total));
      requestAnimationFrame(step);
    };
    requestAnimationFrame(step);
  }

  private startSound(sound: readonly Float32Array<ArrayBuffer>[], from: number): void {
    const context = new AudioContext({ sampleRate: SOUND_RATE });
    const buffer = context.createBuffer(sound.length, sound[0].length, SOUND_RATE);
    sound.forEach((channel, i) => buffer.copyToChannel(channel, i));
    const source = context.createBufferSource();
    source.buffer = buffer;
    source.loop = this.loops();
    source.connect(context.destination);
    source.start(0, from);
    this.sound = { context, source };
  }

  private async sounding(): Promise<readonly Float32Array<ArrayBuffer>[] | null> {
    const [clip, track, frames] = [this.editor.clip(), this.editor.track(), this.editor.frames()];
    if (!clip?.music || !track) return null;
    const key = JSON.stringify([clip.music, frames]);
    if (this.mixed?.key !== key) this.mixed = { key, sound: await mixMusic(track, clip.music, frames / CLIP_FPS) };
    return this.mixed.sound;
  }

  private stop(): void {
    this.turn.play++;
    this.slow.set(0);
    this.playing.set(false);
    this.sound?.source.stop();
    void this.sound?.context.close();
    this.sound = null;
  }
}
