import { Injectable, OnDestroy, computed, inject, signal } from '@angular/core';
import { CLIP_FPS, beatFrames, clipSize, framesOf, type Clip, type ClipShape, type MusicTrack } from '@kettle/core';
import { firstValueFrom } from 'rxjs';
import { Bench } from '../bench/bench';
import { Api } from '../data/api';
import { Notices } from '../data/notices';
import type { ClipReply, MakeClip } from './clip-messages';
import { closeLevels } from './levels';
import type { ReadyScene } from './paint-clip';
import { mixMusic, SOUND_RATE } from './clip-music';
import { ClipPictures } from './clip-pictures';
import { drawWords } from './draw-words';

/** How much larger than a clip its pictures are where they move, so that a push stays sharp. */
const SPARE = 1.25;

/** What is being made. */
interface Making {
  readonly shape: ClipShape;
  /** Share that is done, 0 to 1; null while its pictures are drawn. */
  readonly share: number | null;
  /** How many files come after this one. */
  readonly more: number;
  readonly begun: number;
}

/** Makes files of clips in this browser, one after the other, and keeps them. */
@Injectable()
export class ClipMaker implements OnDestroy {
  private readonly bench = inject(Bench);
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly pictures = inject(ClipPictures);
  readonly making = signal<Making | null>(null);
  /** Files that were kept since the page was opened; grows. */
  readonly kept = signal(0);
  private worker: Worker | null = null;
  /** Grows with every press: what an earlier one began ends when it sees another. */
  private run = 0;
  private failed: ((error: Error) => void) | null = null;
  readonly left = computed(() => {
    const making = this.making();
    if (!making?.share || making.share < 0.03) return null;
    return Math.ceil((((performance.now() - making.begun) / making.share) * (1 - making.share)) / 1000);
  });
  private readonly asking = (event: BeforeUnloadEvent): void => {
    if (this.making()) event.preventDefault();
  };

  constructor() {
    window.addEventListener('beforeunload', this.asking);
  }

  ngOnDestroy(): void {
    window.removeEventListener('beforeunload', this.asking);
    this.cancel();
  }

  /** @param shapes one file each; what is kept stays, though a later one fails */
  async make(clip: Clip, track: MusicTrack | null, shapes: readonly ClipShape[], side: number): Promise<void> {
    if (this.making()) return;
    const run = ++this.run;
    try {
      for (const [i, shape] of shapes.entries()) {
        await this.one(run, { ...clip, shape }, clip.id, track, side, shapes.length - i - 1);
        if (run !== this.run) return;
      }
    } catch (error) {
      if (run === this.run) this.notices.complain(error);
    } finally {
      if (run === this.run) this.cancel();
    }
  }

  cancel(): void {
    this.run++;
    this.making.set(null);
    this.worker?.terminate();
    this.worker = null;
    this.failed?.(new Error('cancelled'));
    this.failed = null;
  }

  private async one(
    run: number,
    clip: Clip,
    clipId: string,
    track: MusicTrack | null,
    side: number,
    more: number,
  ): Promise<void> {
    const designId = this.bench.desk.id()!;
    this.making.set({ shape: clip.shape, share: null, more, begun: performance.now() });
    // What is made is what is saved.
    const revision = await firstValueFrom(this.bench.desk.whenSaved());
    const { width, height } = clipSize(clip.shape, side);
    const frames = framesOf(clip);
    await document.fonts.ready;
    const scenes = await this.pictures.make(clip, Math.max(width, height), SPARE);
    if (run !== this.run) {
      closeScenes(scenes);
      return;
    }
    const sound = clip.music && track ? await mixMusic(track, clip.music, frames / CLIP_FPS) : null;
    const words = await drawWords(clip.words, clip.shape, { width, height });
    if (run !== this.run) return;
    const job: MakeClip = {
      ready: {
        clip,
        scenes,
        words,
        frames,
        beats: clip.music && track ? beatFrames(track, clip.music.start, frames) : [],
      },
      width,
      height,
      sound: sound && Array.from({ length: sound.numberOfChannels }, (_, i) => sound.getChannelData(i)),
      rate: SOUND_RATE,
    };
    const { bytes, type } = await this.coded(job, more);
    if (run !== this.run) return;
    const file = await firstValueFrom(
      this.api.keepClip(designId, { clip: clipId, revision, side, shape: clip.shape }, new Blob([bytes], { type })),
    );
    this.kept.update((n) => n + 1);
    this.notices.say(`${file.filename} is made and kept.`);
  }

  private coded(job: MakeClip, more: number): Promise<Extract<ClipReply, { kind: 'made' }>> {
    const worker = new Worker(new URL('./clip.worker', import.meta.url), { type: 'module' });
    this.worker = worker;
    const begun = performance.now();
    return new Promise((resolve, reject) => {
      this.failed = reject;
      worker.onmessage = ({ data }: MessageEvent<ClipReply>) => {
        if (data.kind === 'progress')
          this.making.set({ shape: job.ready.clip.shape, share: data.done / data.total, more, begun });
        else if (data.kind === 'made') resolve(data);
        else reject(new Error(data.message));
        if (data.kind !== 'progress') worker.terminate();
      };
      worker.onerror = () =>
        reject(new Error('The clip could not be made in this browser. What was made before is kept. Try again.'));
      const bitmaps = job.ready.scenes.flatMap(({ pictures }) => pictures.flatMap((levels) => levels ?? []));
      worker.postMessage(job, [...new Set([...bitmaps, ...(job.ready.words ? [job.ready.words.picture] : [])])]);
    });
  }
}

function closeScenes(scenes: readonly ReadyScene[]): void {
  for (const { pictures } of scenes) for (const levels of pictures) closeLevels(levels ?? []);
}
