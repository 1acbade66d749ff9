import type { Readable } from 'node:stream';
import type { ClipFile, ClipMakers, ClipRun, ClipStep, Job } from '@kettle/contract';
import {
  CLIP_FILES,
  CLIP_SECONDS,
  clipsOf,
  fileNameOf,
  safeName,
  secondsOf,
  uniqueNames,
  type Clip,
  type ClipFileKind,
  type ClipShape,
} from '@kettle/core';
import type { Caller } from '../caller.js';
import {
  CLIP,
  CLIP_COVER,
  clipHash,
  coverOfClip,
  coverRecipe,
  noSuchClip,
  notTheClip,
  type ClipRecord,
  type FiledClip,
} from '../making/clip.js';
import type { Workshop } from '../making/workshop.js';
import { writableFiles } from '../render/clip/encoder.js';
import type { RenderPool } from '../render/render-pool.js';
import { ProblemError } from '../safety/problem-error.js';
import type { BlobStore } from '../stores/blobs.js';
import type { NewStep } from '../stores/jobs.js';
import type { OutputStore, StoredOutput } from '../stores/outputs.js';
import type { StoredDesign } from '../stores/stored-design.js';
import type { DesignService } from './designs.js';
import { withIncoming } from './incoming.js';
import type { OutputService } from './outputs.js';

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

/** Clips that were made of designs. */
export class ClipService {
  constructor(
    private readonly designs: DesignService,
    private readonly workshop: Workshop,
    private readonly runs: OutputService,
    private readonly outputs: OutputStore,
    private readonly blobs: BlobStore,
    private readonly intake: RenderPool,
    private readonly cache: string,
  ) {}

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
      const design = await this.designs.get(who, designId);
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
    return this.runs.queue(who, { kind: 'clips', designIds: [...new Set(clips.map((one) => one.designId))] }, steps);
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
    const design = await this.workshop.revision(who, designId, revision);
    const found = clipsOf(design.outline).find((one) => one.id === clipId);
    if (!found) throw noSuchClip();
    const clip = shape ? { ...found, shape } : found;
    const filed: FiledClip = { clip, side, file };
    const recipe = await clipHash(this.workshop, who, design, filed);
    return withIncoming(this.cache, stream, MOST_BYTES, async (path) => {
      const read = await this.intake.run('readClip', { path });
      const wrong = notTheClip(read, filed);
      if (wrong)
        throw new ProblemError(
          422,
          'not-the-clip',
          `The file is not the clip: ${wrong}. Make it again. Nothing is lost.`,
        );
      const blob = await this.blobs.put(path);
      const record: ClipRecord = {
        clipId,
        shape: clip.shape,
        file,
        side,
        certificate: { ...read, sha256: blob.sha256 },
      };
      const kept = await this.outputs.add({
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
    await withIncoming(this.cache, stream, MOST_COVER_BYTES, async (path) => {
      const { width, height, format } = await this.intake.run('readPicture', { path });
      if (format !== 'jpeg' || width !== certificate.width || height !== certificate.height)
        throw new ProblemError(422, 'no-cover', 'A cover is a JPEG as large as its clip.');
      const { sha256, bytes } = await this.blobs.put(path);
      const { path: _path, ...cover } = coverOfClip(id, clip.filename, path);
      const { designId, revision } = clip;
      await this.outputs.add({ owner: who.owner, designId, revision, accepted: true, ...cover, sha256, bytes });
    });
  }

  async cover(who: Caller, id: string): Promise<{ clip: StoredOutput; path: string }> {
    const { designId } = await this.get(who, id);
    const cover = await this.outputs.byRecipe(CLIP_COVER, designId, coverRecipe(id));
    if (!cover) throw new ProblemError(404, 'no-cover', 'This clip has no cover. Make it again.');
    return { clip: cover, path: await this.blobs.localPath(cover.sha256) };
  }

  /** Newest first. A clip is out of date when making it now would follow another recipe. */
  async of(who: Caller, designId: string): Promise<ClipFile[]> {
    const design = await this.designs.get(who, designId);
    const covered = new Set((await this.outputs.ofDesign(CLIP_COVER, designId)).map(({ about }) => about));
    const now = new Map<string, Promise<string>>();
    return Promise.all(
      (await this.outputs.ofDesign(CLIP.kind, designId)).map(async (made) => {
        const { clipId, side, shape, file = 'webm' } = made.record as ClipRecord;
        const clip = clipsOf(design.outline).find((one) => one.id === clipId);
        if (!clip) return clipFileOf(made, false, covered.has(made.id));
        const key = `${clipId} ${side} ${shape} ${file}`;
        // A scene whose blank is gone cannot be made any more: its clips stay, and are out of date.
        const recipe =
          now.get(key) ??
          clipHash(this.workshop, who, design, { clip: { ...clip, shape }, side, file }).catch(() => '');
        now.set(key, recipe);
        return clipFileOf(made, (await recipe) === made.recipe, covered.has(made.id));
      }),
    );
  }

  private async get(who: Caller, id: string): Promise<StoredOutput> {
    const clip = await this.outputs.get(who.owner, CLIP.kind, id);
    if (!clip) throw new ProblemError(404, 'no-such-clip', 'There is no clip with this id.');
    return clip;
  }

  async content(who: Caller, id: string): Promise<{ clip: StoredOutput; path: string }> {
    const clip = await this.get(who, id);
    return { clip, path: await this.blobs.localPath(clip.sha256) };
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
