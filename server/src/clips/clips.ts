import type { Readable } from 'node:stream';
import type { ClipFile, ClipMakers, ClipRun, ClipStep, Job } from '@kettle/contract';
import { CLIP_SECONDS, type Clip, type ClipShape } from '@kettle/core/model';
import { CLIP_FILES, clipsOf, secondsOf, type ClipFileKind } from '@kettle/core/clip';
import { fileNameOf, safeName, uniqueNames } from '@kettle/core/naming';
import { isOutOfDate } from '../documents/out-of-date.js';
import type { Caller } from '../floor/basics/caller.js';
import {
  CLIP,
  CLIP_COVER,
  clipHash,
  coverOfClip,
  coverRecipe,
  noSuchClip,
  notTheClip,
  type ClipRecord,
} from './clip.js';
import type { FiledClip } from '../render/clip/clip-recipe.js';
import type { PictureRecipes } from '../mockups/picture.js';
import { writableFiles } from '../render/clip/encoder.js';
import type { RenderPools } from '../render/render-pools.js';
import { ProblemError } from '../floor/basics/problem-error.js';
import type { BlobStore } from '../floor/files/blob-store.js';
import type { NewStep } from '../floor/queue/job-store.js';
import type { OutputStore, StoredOutput } from '../making/output-store.js';
import type { StoredDesign } from '../documents/stored-design.js';
import type { DesignService } from '../designs/designs.js';
import { withIncoming } from '../floor/files/incoming.js';
import type { OutputService } from '../making/outputs.js';

/** Largest clip that is kept. */
const MOST_BYTES = 200 * 1024 * 1024;
const MOST_COVER_BYTES = 20 * 1024 * 1024;

/** A clip that is to be kept. */
export interface AskedClip {
  readonly clipId: string;
  readonly revision: number;
  readonly side: number;
  /** As the clip itself has it when null. */
  readonly shape: ClipShape | null;
  readonly file: ClipFileKind;
}

/** What it works with. */
export interface ClipDeps {
  readonly designs: DesignService;
  readonly pictureRecipes: PictureRecipes;
  readonly outputs: OutputService;
  readonly outputStore: OutputStore;
  readonly blobs: BlobStore;
  readonly pools: RenderPools;
  readonly cache: string;
}

/** Clips that were made of designs. */
export class ClipService {
  constructor(private readonly deps: ClipDeps) {}

  /** Kinds of files that this server can make by itself, and why not all of them. */
  async makers(): Promise<ClipMakers> {
    const files = await writableFiles();
    return {
      files,
      sentence: files.some((kind) => CLIP_FILES[kind].hasSound)
        ? ''
        : 'The server has no encoder for videos. With Debian’s package ffmpeg it makes them too.',
    };
  }

  /**
   * Has clips made on the server, while nobody watches.
   * @throws ProblemError 409 when it cannot write the kind of file, or a clip is too long or too short
   */
  async run(who: Caller, { clips, side, file }: ClipRun): Promise<Job> {
    const { files, sentence } = await this.makers();
    if (!files.includes(file))
      throw new ProblemError(409, 'no-encoder', sentence || `The server cannot write ${CLIP_FILES[file].name}.`);
    const steps: NewStep[] = [];
    const taken: string[] = [];
    for (const { designId, clipId, shapes } of clips) {
      const design = await this.deps.designs.get(who, designId);
      const found = clipsOf(design.outline).find((one) => one.id === clipId);
      if (!found) throw noSuchClip();
      for (const shape of shapes ?? [found.shape]) {
        const filed = { clip: { ...found, shape }, side, file };
        const filename = uniqueNames([...taken, clipFilename(design, filed)]).at(-1)!;
        taken.push(filename);
        const payload: ClipStep = { designId, revision: design.revision, clipId, shape, side, file, filename };
        const wrong = lengthWrong(found);
        steps.push({ kind: CLIP.kind, engine: CLIP.engine, payload, ...(wrong ? { failed: wrong } : {}) });
      }
    }
    return this.deps.outputs.queue(
      who,
      { kind: 'clips', designIds: [...new Set(clips.map((one) => one.designId))] },
      steps,
    );
  }

  /**
   * Keeps a clip that was made of a revision of a design. What it is is read from its bytes; a file that is not the clip
   * is refused.
   */
  async keep(
    who: Caller,
    designId: string,
    { clipId, revision, side, shape, file }: AskedClip,
    stream: Readable,
  ): Promise<ClipFile> {
    const design = await this.deps.pictureRecipes.reader.revision(who, designId, revision);
    const found = clipsOf(design.outline).find((one) => one.id === clipId);
    if (!found) throw noSuchClip();
    const clip = shape ? { ...found, shape } : found;
    const filed: FiledClip = { clip, side, file };
    const recipe = await clipHash(this.deps.pictureRecipes, who, design, filed);
    return withIncoming(this.deps.cache, stream, MOST_BYTES, async (path) => {
      const read = await this.deps.pools.intake.run('readClip', { path });
      const wrong = notTheClip(read, filed);
      if (wrong)
        throw new ProblemError(
          422,
          'not-the-clip',
          `The file is not the clip: ${wrong}. Make it again. Nothing is lost.`,
        );
      const blob = await this.deps.blobs.put(path);
      const record: ClipRecord = {
        clipId,
        shape: clip.shape,
        file,
        side,
        certificate: { ...read, sha256: blob.sha256 },
      };
      const kept = await this.deps.outputStore.add({
        owner: who.owner,
        kind: CLIP.kind,
        designId,
        revision,
        about: clipId,
        recipe,
        sha256: blob.sha256,
        filename: clipFilename(design, filed),
        mediaType: CLIP_FILES[file].mediaType,
        bytes: blob.bytes,
        accepted: true,
        record,
      });
      return clipFileOf(kept, true, false);
    });
  }

  /**
   * Keeps the picture that stands for a clip, once.
   * @throws ProblemError 422 when it is no JPEG of the clip's size
   */
  async keepCover(who: Caller, id: string, stream: Readable): Promise<void> {
    const clip = await this.get(who, id);
    const { certificate } = clip.record as ClipRecord;
    await withIncoming(this.deps.cache, stream, MOST_COVER_BYTES, async (path) => {
      const { width, height, format } = await this.deps.pools.intake.run('readPicture', { path });
      if (format !== 'jpeg' || width !== certificate.width || height !== certificate.height)
        throw new ProblemError(422, 'no-cover', 'A cover is a JPEG as large as its clip.');
      const { sha256, bytes } = await this.deps.blobs.put(path);
      const { path: _path, ...cover } = coverOfClip(id, clip.filename, path);
      const { designId, revision } = clip;
      await this.deps.outputStore.add({
        owner: who.owner,
        designId,
        revision,
        accepted: true,
        ...cover,
        sha256,
        bytes,
      });
    });
  }

  async cover(who: Caller, id: string): Promise<{ clip: StoredOutput; path: string }> {
    const { designId } = await this.get(who, id);
    const cover = await this.deps.outputStore.byRecipe(CLIP_COVER, designId, coverRecipe(id));
    if (!cover) throw new ProblemError(404, 'no-cover', 'This clip has no cover. Make it again.');
    return { clip: cover, path: await this.deps.blobs.localPath(cover.sha256) };
  }

  /** Newest first. A clip is out of date when making it now would follow another recipe. */
  async of(who: Caller, designId: string): Promise<ClipFile[]> {
    const design = await this.deps.designs.get(who, designId);
    const covered = new Set((await this.deps.outputStore.ofDesign(CLIP_COVER, designId)).map(({ about }) => about));
    const now = new Map<string, Promise<string>>();
    return Promise.all(
      (await this.deps.outputStore.ofDesign(CLIP.kind, designId)).map(async (made) => {
        const { clipId, side, shape, file = 'webm' } = made.record as ClipRecord;
        const clip = clipsOf(design.outline).find((one) => one.id === clipId);
        if (!clip) return clipFileOf(made, false, covered.has(made.id));
        const key = `${clipId} ${side} ${shape} ${file}`;
        // A scene whose blank is gone cannot be made any more: its clips stay, and are out of date.
        const recipe =
          now.get(key) ??
          clipHash(this.deps.pictureRecipes, who, design, { clip: { ...clip, shape }, side, file }).catch(() => '');
        now.set(key, recipe);
        return clipFileOf(made, !isOutOfDate(made, await recipe), covered.has(made.id));
      }),
    );
  }

  private async get(who: Caller, id: string): Promise<StoredOutput> {
    const clip = await this.deps.outputStore.get(who.owner, CLIP.kind, id);
    if (!clip) throw new ProblemError(404, 'no-such-clip', 'There is no clip with this id.');
    return clip;
  }

  async content(who: Caller, id: string): Promise<{ clip: StoredOutput; path: string }> {
    const clip = await this.get(who, id);
    return { clip, path: await this.deps.blobs.localPath(clip.sha256) };
  }
}

const clipFileOf = (made: StoredOutput, current: boolean, cover: boolean): ClipFile => ({
  id: made.id,
  designId: made.designId!,
  filename: made.filename,
  bytes: made.bytes,
  mediaType: made.mediaType,
  outOfDate: !current,
  madeAt: made.madeAt,
  cover,
  file: 'webm',
  ...(made.record as ClipRecord),
});

const clipFilename = (design: StoredDesign, { clip, file }: FiledClip): string =>
  safeName(fileNameOf(`${design.outline.name} ${clip.name} ${clip.shape.replace(':', 'x')}`), file);

/** Why a clip cannot be made as long as it is; empty when it can. */
function lengthWrong(clip: Clip): string {
  const seconds = secondsOf(clip);
  const { least, most } = CLIP_SECONDS;
  return seconds > most || seconds < least
    ? `“${clip.name}” lasts ${seconds.toFixed(1)} s; a clip lasts ${least} to ${most} s.`
    : '';
}
