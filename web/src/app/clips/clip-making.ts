import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { takeUntilDestroyed, toObservable, toSignal } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import type { Job } from '@kettle/contract';
import { formatBytes } from '@kettle/core/units';
import { CLIP_FPS, CLIP_SECONDS, CLIP_SHAPES, CLIP_SHAPE_WORDS, clipSize, type ClipShape } from '@kettle/core/model';
import { CLIP_FILES, sideOfFile, type ClipFileKind } from '@kettle/core/clip';
import { EMPTY, firstValueFrom, from, switchMap, tap, timer, merge, skip } from 'rxjs';
import { Editor } from '../editor/editor';
import { Api } from '../data/api';
import { savesOf } from '../data/saving';
import { Loaded } from '../data/loaded';
import { Notices } from '../data/notices';
import { FailureList } from '../jobs/failure-list';
import { JobFeed } from '../jobs/job-feed';
import { ClipEditor } from './clip-editor';
import { ClipMaker } from './clip-maker';
import { ClipPictures } from './clip-pictures';
import { ClipScenes } from './clip-scenes';
import { ClipPlaces } from './clip-places';
import { NO_MAKERS, offeredFiles } from './encoders';
import { ScenePictures } from './scene-pictures';
import { ChipRow, chip } from '../units/chips';
import { Settings, pick, row } from '../units/settings';

/** Shorter sides that clips are made at, px. */
const SIDES = [1080, 720] as const;
/** How long nothing has gone on before pictures are drawn ahead, ms. */
const QUIET = 1500;

/** Makes files of the clip, shows how far they are, and what was made. */
@Component({
  selector: 'ks-clip-making',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChipRow, Settings, ClipPlaces, FailureList, MatButtonModule],
  templateUrl: './clip-making.html',
  styleUrl: './clip-making.scss',
})
export class ClipMaking {
  protected readonly desk = inject(Editor).desk;
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly feed = inject(JobFeed);
  protected readonly editor = inject(ClipEditor);
  protected readonly maker = inject(ClipMaker);
  private readonly shown = inject(ClipPictures);
  private readonly scenes = inject(ClipScenes);
  private readonly pictures = inject(ScenePictures);
  protected readonly shapeWords = CLIP_SHAPE_WORDS;
  protected readonly kinds = CLIP_FILES;
  protected readonly size = formatBytes;
  protected readonly side = signal<number>(SIDES[0]);
  private readonly wished = signal<ClipFileKind>('webm');
  /** Kinds of files that this browser can write; null until it has said. */
  protected readonly offered = toSignal(from(offeredFiles(1080, 1080)), { initialValue: null });
  protected readonly file = computed<ClipFileKind>(() => {
    const offered = this.offered();
    return !offered || offered.includes(this.wished()) ? this.wished() : (offered[0] ?? 'webp');
  });
  /** True where no video can be written here at all. */
  protected readonly noVideo = computed(() => this.offered()?.every((kind) => !CLIP_FILES[kind].hasSound) ?? false);
  /** What the server makes by itself; nothing until it has said. */
  private readonly asked = new Loaded(() => this.api.ask('get /api/clip-makers'), {
    of: 'What the server makes by itself',
  });
  private readonly makers = computed(() => this.asked.value() ?? NO_MAKERS);
  protected readonly canOnServer = computed(() => this.makers().files.includes(this.file()));
  protected readonly whyNotOnServer = computed(() => (this.canOnServer() ? '' : this.makers().sentence));
  /** Runs of this design's clips on the server. */
  protected readonly runs = computed(() => this.feed.runningFor(this.desk.id(), 'clips'));
  private readonly clipSize = computed(() => {
    const clip = this.editor.clip();
    return clip && clipSize(clip.shape, sideOfFile(this.file(), this.side()));
  });
  protected readonly pixels = computed(() => {
    const size = this.clipSize();
    return size ? `${size.width} × ${size.height} px` : '';
  });
  /** Why the clip cannot be made as long as it is; empty when it can. */
  protected readonly long = computed(() => {
    const seconds = this.editor.frames() / CLIP_FPS;
    return seconds > CLIP_SECONDS.most
      ? `A clip lasts at most ${CLIP_SECONDS.most} s; this one ${seconds.toFixed(1)} s.`
      : seconds < CLIP_SECONDS.least
        ? `A clip lasts at least ${CLIP_SECONDS.least} s. Give it a scene, or a longer one.`
        : '';
  });
  /** What was made here, and how many runs are under way: one that only goes on asks for nothing. */
  private readonly making$ = toObservable(computed(() => `${this.maker.kept()} ${this.runs().length}`)).pipe(skip(1));
  private readonly all = new Loaded(
    () => {
      const id = this.desk.id();
      return id ? this.api.ask('get /api/designs/{id}/clips', { id }) : null;
    },
    { of: 'The clips of this design', on: merge(savesOf(this.desk), this.making$) },
  );
  private readonly made = computed(() => this.all.value() ?? []);
  protected readonly files = computed(() => {
    // What was kept just now is there at once; the list that follows says the same.
    const newest = this.maker.newest();
    const all = newest && !this.made().some(({ id }) => id === newest.id) ? [newest, ...this.made()] : this.made();
    return all.filter(({ clipId }) => clipId === this.editor.clip()?.id);
  });

  /** What is got ready while the seller only looks: the file that would be made now. */
  private readonly next = computed(() => {
    const [clip, size] = [this.editor.clip(), this.clipSize()];
    const isBusy = this.editor.playing() || !!this.maker.making() || !this.shown.isReady();
    // The frames of a product that moves take the memory that this would need.
    const moves = clip?.scenes.some(({ scene }) => this.scenes.movingBlank(scene));
    this.pictures.edition();
    return clip && size && !moves && !isBusy && !this.long() ? { scenes: clip.scenes, size, file: this.file() } : null;
  });

  constructor() {
    toObservable(this.next)
      .pipe(
        tap((next) => {
          if (next) this.maker.prepare(next.file, next.size);
        }),
        switchMap((next) =>
          next ? timer(QUIET).pipe(switchMap(() => this.pictures.ahead(next.scenes, next.size))) : EMPTY,
        ),
        takeUntilDestroyed(),
      )
      .subscribe();
  }

  protected readonly percent = (share: number): number => Math.round(share * 100);

  /** As what it is made, and how large. */
  protected readonly fields = computed(() => [
    row(
      pick('File', this.file(), {
        of: (this.offered() ?? []).map((id) => ({ id, words: CLIP_FILES[id].name })),
        set: (file) => this.choose(file),
      }),
      pick('Shorter side', `${this.side()}`, {
        of: SIDES.map((px) => ({ id: `${px}`, words: `${px} px` })),
        set: (px) => this.side.set(Number(px)),
      }),
    ),
  ]);
  protected readonly alsoActs = computed(() => {
    const [clip, disabled] = [this.editor.clip(), !!this.long()];
    return [
      chip('Make it in every shape', () => void this.make(CLIP_SHAPES), { disabled: disabled || !this.offered() }),
      this.canOnServer() &&
        !!clip &&
        chip('Have the server make it', () => this.makeOnServer([clip.shape]), { disabled }),
    ];
  });

  private choose(file: string): void {
    this.wished.set(file as ClipFileKind);
  }

  protected make(shapes: readonly ClipShape[]): void {
    const clip = this.editor.clip();
    if (clip) void this.maker.make({ clip, track: this.editor.track(), side: this.side(), file: this.file() }, shapes);
  }

  /** Has the server make it, while the seller goes on. What is made is what is saved. */
  protected async makeOnServer(shapes: readonly ClipShape[]): Promise<void> {
    const [designId, clip] = [this.desk.id(), this.editor.clip()];
    if (!designId || !clip) return;
    const [side, file] = [this.side(), this.file()];
    try {
      await firstValueFrom(this.desk.whenSaved());
      await firstValueFrom(
        this.api.ask('post /api/clip-runs', { body: { clips: [{ designId, clipId: clip.id, shapes }], side, file } }),
      );
    } catch (error) {
      this.notices.complain(error);
    }
  }

  protected cancelRun(job: Job): void {
    this.feed.cancel([job]);
  }
}
