import { Injectable, OnDestroy, computed, inject, signal } from '@angular/core';
import { CLIP_FPS, clipSize, coverOf, type Clip, type ClipScene, type ClipShape } from '@kettle/core/model';
import {
  beatFrames,
  CLIP_FILES,
  framesOf,
  pictureSizeFor,
  sideOfFile,
  type ClipFileKind,
  type MusicTrack,
} from '@kettle/core/clip';
import type { ClipFile } from '@kettle/contract';
import { firstValueFrom, retry, tap, timer, type Observable } from 'rxjs';
import { Editor } from '../editor/editor';
import { Api } from '../data/api';
import { isAway } from '../data/problems';
import { Notices } from '../data/notices';
import { ClipLogos } from './clip-logos';
import type { ClipReply, ClipRequest, MadeScene, MakeClip } from './clip-messages';
import { joinMusic, SOUND_RATE } from './clip-music';
import { ClipScenes } from './clip-scenes';
import { drawWords } from './draw-words';
import { frameReader, texturesOf } from './moving-painter';
import { ScenePictures, type ClipPixels } from './scene-pictures';

/** A clip that is to be made. */
export interface ClipWish {
  readonly clip: Clip;
  readonly track: MusicTrack | null;
  /** Shorter side, px. */
  readonly side: number;
  readonly file: ClipFileKind;
}

/** What is being made. */
interface Making {
  readonly shape: ClipShape;
  /** Share that is done, 0 to 1; null while its pictures are drawn. */
  readonly share: number | null;
  /** How many files come after this one. */
  readonly more: number;
  readonly begun: number;
  /** True when it is done, and the server cannot be reached to keep it. */
  readonly isWaiting?: boolean;
}

/** How long after an answer did not come it is asked for again, ms. */
const AGAIN = 2000;

const clipWorker = (): Worker => new Worker(new URL('./clip.worker', import.meta.url), { type: 'module' });

/** Makes files of clips in this browser, one after the other, and keeps them. */
@Injectable()
export class ClipMaker implements OnDestroy {
  private readonly editor = inject(Editor);
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly scenes = inject(ClipScenes);
  private readonly pictures = inject(ScenePictures);
  private readonly logos = inject(ClipLogos);
  readonly making = signal<Making | null>(null);
  /** Files that were kept since the page was opened; grows. */
  readonly kept = signal(0);
  /** The file that was kept last. */
  readonly newest = signal<ClipFile | null>(null);
  private workers: readonly Worker[] = [];
  /** A worker that waits for the next file. */
  private spare: Worker | null = null;
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
    if (this.making())
      this.notices.say('The clip that was being made is not finished: it is made while its station is open.');
    this.cancel();
    this.spare?.terminate();
  }

  /** Has a worker ready for a file that may be made next: to start one and to find its encoder takes a while. */
  prepare(file: ClipFileKind, { width, height }: ClipPixels): void {
    if (!this.spare) {
      const worker = (this.spare = clipWorker());
      // One that does not start is not waited for: the file begins with another, and says what is wrong.
      worker.onerror = () => {
        if (this.spare === worker) this.spare = null;
      };
    }
    this.spare.postMessage({ kind: 'ready', file, width, height } satisfies ClipRequest);
  }

  /** @param shapes one file each; what is kept stays, though a later one fails */
  async make(wish: ClipWish, shapes: readonly ClipShape[]): Promise<void> {
    if (this.making()) return;
    const run = ++this.run;
    try {
      for (const [i, shape] of shapes.entries()) {
        await this.one(run, wish, shape, shapes.length - i - 1);
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
    for (const worker of this.workers) worker.terminate();
    this.workers = [];
    this.failed?.(new Error('cancelled'));
    this.failed = null;
  }

  private async one(run: number, wish: ClipWish, shape: ClipShape, more: number): Promise<void> {
    const clip = { ...wish.clip, shape };
    const { track, file } = wish;
    const designId = this.editor.desk.id()!;
    this.making.set({ shape, share: null, more, begun: performance.now() });
    // What is made is what is saved.
    const revision = await firstValueFrom(this.editor.desk.whenSaved());
    const side = sideOfFile(file, wish.side);
    const { width, height } = clipSize(shape, side);
    const frames = framesOf(clip);
    // The first scene is drawn while the rest is made ready.
    const [first] = clip.scenes;
    // That it fails is said when it is handed over.
    if (first && !this.scenes.movingBlank(first.scene))
      this.scene(first, { width, height }, () => undefined).catch(() => undefined);
    await document.fonts.ready;
    const { music } = clip;
    const [sound, words, logo] = await Promise.all([
      music && track && CLIP_FILES[file].hasSound
        ? joinMusic(track, music, frames / CLIP_FPS).then((channels) => ({ channels, track, music }))
        : null,
      drawWords(clip.words, shape, { width, height }),
      this.logos.draw(clip.logo, shape, { width, height }),
    ]);
    if (run !== this.run) return;
    const job: Omit<MakeClip, 'framePort'> = {
      kind: 'make',
      clip,
      words,
      logo,
      frames,
      beats: music && track ? beatFrames(track, music.start, frames) : [],
      file,
      width,
      height,
      sound,
      rate: SOUND_RATE,
      cover: Math.min(frames - 1, coverOf(clip)),
    };
    const { bytes, cover } = await this.coded(run, job, more);
    if (run !== this.run) return;
    const waits = (error: unknown): Observable<unknown> => {
      // What was cancelled while it was on its way says nothing of what is made since.
      if (!isAway(error) || run !== this.run) throw error;
      this.making.update((making) => making && { ...making, isWaiting: true });
      return timer(AGAIN).pipe(
        tap(() => {
          if (run !== this.run) throw error;
        }),
      );
    };
    const kept = await firstValueFrom(
      this.api
        .ask('post /api/designs/{id}/clips', {
          id: designId,
          query: { clip: clip.id, revision, side: wish.side, shape, file },
          body: bytes,
        })
        .pipe(retry({ delay: waits })),
    );
    if (run !== this.run) return;
    this.newest.set(kept);
    this.notices.say(`${kept.filename} is made and kept.`);
    // A clip without its cover is a clip all the same.
    await firstValueFrom(this.api.ask('put /api/clips/{id}/cover', { id: kept.id, body: cover })).catch(
      () => undefined,
    );
    this.kept.update((n) => n + 1);
  }

  private coded(
    run: number,
    job: Omit<MakeClip, 'framePort'>,
    more: number,
  ): Promise<Extract<ClipReply, { kind: 'made' }>> {
    const worker = this.spare ?? clipWorker();
    this.spare = null;
    const reader = job.clip.scenes.some(({ scene }) => this.scenes.movingBlank(scene)) ? frameReader() : null;
    this.workers = reader ? [worker, reader.frames] : [worker];
    const begun = performance.now();
    return new Promise((resolve, reject) => {
      this.failed = reject;
      worker.onmessage = ({ data }: MessageEvent<ClipReply>) => {
        if (data.kind === 'progress')
          this.making.set({ shape: job.clip.shape, share: data.done / data.total, more, begun });
        else if (data.kind === 'made') resolve(data);
        else reject(new Error(data.message));
        if (data.kind !== 'progress') for (const one of this.workers) one.terminate();
      };
      worker.onerror = () =>
        reject(new Error('The clip could not be made in this browser. What was made before is kept. Try again.'));
      const given: Transferable[] = [job.words?.picture, job.logo?.picture].filter((one) => one !== undefined);
      if (job.sound) given.push(...job.sound.channels.map(({ buffer }) => buffer));
      if (reader) given.push(reader.port);
      worker.postMessage({ ...job, framePort: reader?.port ?? null } satisfies ClipRequest, given);
      this.hand(run, job, worker).catch(reject);
    });
  }

  /** Hands the scenes over one after the other, each drawn while those before are coded. */
  private async hand(
    run: number,
    { clip, width, height }: Pick<MakeClip, 'clip' | 'width' | 'height'>,
    worker: Worker,
  ): Promise<void> {
    for (const [index, one] of clip.scenes.entries()) {
      await this.scene(one, { width, height }, (scene) => {
        if (run !== this.run) return;
        // Pictures are copied, for the next file; what moving ones are printed from is made for each.
        const given = 'guises' in scene ? [] : texturesOf(scene.pressed.guises);
        worker.postMessage({ kind: 'scene', index, scene } satisfies ClipRequest, given);
      });
      if (run !== this.run) return;
    }
  }

  private async scene(one: ClipScene, size: ClipPixels, hand: (scene: MadeScene) => void): Promise<void> {
    const { scenes } = this;
    const motion = scenes.movingBlank(one.scene);
    if (!motion) return this.pictures.use(one, size, hand);
    const focus = await scenes.focus(one);
    const { pressed } = await scenes.whole(
      () => scenes.pressed(one, scenes.guises(one), pictureSizeFor(one, Math.max(size.width, size.height))),
      () => undefined,
    );
    hand({ focus, pressed, motion });
  }
}
