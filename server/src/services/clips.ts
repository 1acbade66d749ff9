import { createHash } from 'node:crypto';
import type { Readable } from 'node:stream';
import type { ClipCertificate, ClipFile } from '@kettle/contract';
import {
  canonicalJson,
  CLIP_ENGINE,
  CLIP_FILES,
  clipSize,
  clipsOf,
  fileNameOf,
  framesOf,
  guisesOf,
  picturesInFile,
  PICTURE_ENGINE,
  safeName,
  secondsOf,
  sideOfFile,
  type Clip,
  type ClipFileKind,
  type ClipShape,
} from '@kettle/core';
import type { Caller } from '../caller.js';
import { recipeOfPicture } from '../making/picture.js';
import type { Workshop } from '../making/workshop.js';
import type { ReadClip } from '../render/clip/read-clip.js';
import type { RenderPool } from '../render/render-pool.js';
import { ProblemError } from '../safety/problem-error.js';
import type { BlobStore } from '../stores/blobs.js';
import type { OutputStore, StoredOutput } from '../stores/outputs.js';
import type { StoredDesign } from '../stores/stored-design.js';
import type { DesignService } from './designs.js';
import { withIncoming } from './incoming.js';

const CLIP = 'clip';
const COVER = 'clip-cover';
/** Largest clip that is kept. */
const MOST_BYTES = 200 * 1024 * 1024;
const MOST_COVER_BYTES = 20 * 1024 * 1024;
/** A file may be this much shorter or longer than the clip, s: one frame and what a container rounds. */
const SLACK_SECONDS = 1 / 24 + 0.03;
/** Sound comes in whole packets of up to 20 ms. */
const SLACK_SOUND = 0.06;

/** A clip that is to be kept. */
export interface AskedClip {
  readonly clipId: string;
  readonly revision: number;
  readonly side: number;
  /** As the clip itself has it when null. */
  readonly shape: ClipShape | null;
  readonly file: ClipFileKind;
}

/** What is kept with a clip. */
interface ClipRecord {
  readonly clipId: string;
  readonly shape: ClipShape;
  /** Absent in the oldest, which are WebM. */
  readonly file?: ClipFileKind;
  readonly side: number;
  readonly certificate: ClipCertificate;
}

/** Clips that were made of designs. */
export class ClipService {
  constructor(
    private readonly designs: DesignService,
    private readonly workshop: Workshop,
    private readonly outputs: OutputStore,
    private readonly blobs: BlobStore,
    private readonly intake: RenderPool,
    private readonly cache: string,
  ) {}

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
    if (!found)
      throw new ProblemError(404, 'no-such-clip', 'That revision of the design has no clip with this id any more.');
    const clip = shape ? { ...found, shape } : found;
    const recipe = await this.recipeOf(who, design, clip, side, file);
    return withIncoming(this.cache, stream, MOST_BYTES, async (path) => {
      const read = await this.intake.run('readClip', { path });
      const wrong = notTheClip(read, clip, side, file);
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
        kind: CLIP,
        designId,
        revision,
        about: clipId,
        recipe,
        sha256: blob.sha256,
        filename: safeName(
          fileNameOf(`${design.outline.name} ${clip.name} ${clip.shape.replace(':', 'x')}`),
          read.container,
        ),
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
      await this.outputs.add({
        owner: who.owner,
        kind: COVER,
        designId: clip.designId,
        revision: clip.revision,
        about: id,
        recipe: coverRecipe(id),
        sha256,
        filename: `${clip.filename.replace(/\.[a-z0-9]+$/, '')}.jpg`,
        mediaType: 'image/jpeg',
        bytes,
        accepted: true,
        record: { clip: id },
      });
    });
  }

  async cover(who: Caller, id: string): Promise<{ clip: StoredOutput; path: string }> {
    const { designId } = await this.get(who, id);
    const cover = await this.outputs.byRecipe(COVER, designId, coverRecipe(id));
    if (!cover) throw new ProblemError(404, 'no-cover', 'This clip has no cover. Make it again.');
    return { clip: cover, path: await this.blobs.localPath(cover.sha256) };
  }

  /** Newest first. A clip is out of date when making it now would follow another recipe. */
  async of(who: Caller, designId: string): Promise<ClipFile[]> {
    const design = await this.designs.get(who, designId);
    const covered = new Set((await this.outputs.ofDesign(COVER, designId)).map(({ about }) => about));
    const now = new Map<string, Promise<string>>();
    return Promise.all(
      (await this.outputs.ofDesign(CLIP, designId)).map(async (made) => {
        const { clipId, side, shape, file = 'webm' } = made.record as ClipRecord;
        const clip = clipsOf(design.outline).find((one) => one.id === clipId);
        if (!clip) return clipFileOf(made, false, covered.has(made.id));
        const key = `${clipId} ${side} ${shape} ${file}`;
        // A scene whose blank is gone cannot be made any more: its clips stay, and are out of date.
        const recipe = now.get(key) ?? this.recipeOf(who, design, { ...clip, shape }, side, file).catch(() => '');
        now.set(key, recipe);
        return clipFileOf(made, (await recipe) === made.recipe, covered.has(made.id));
      }),
    );
  }

  private async get(who: Caller, id: string): Promise<StoredOutput> {
    const clip = await this.outputs.get(who.owner, CLIP, id);
    if (!clip) throw new ProblemError(404, 'no-such-clip', 'There is no clip with this id.');
    return clip;
  }

  async content(who: Caller, id: string): Promise<{ clip: StoredOutput; path: string }> {
    const clip = await this.get(who, id);
    return { clip, path: await this.blobs.localPath(clip.sha256) };
  }

  /** SHA-256 of all that decides what a clip shows: its own settings, and each picture in it. */
  private async recipeOf(
    who: Caller,
    design: StoredDesign,
    clip: Clip,
    side: number,
    file: ClipFileKind,
  ): Promise<string> {
    const requirements = await this.workshop.requirementsOf(who);
    const pictures: string[] = [];
    for (const scene of clip.scenes) {
      // Another design counts as it is by now.
      const shown = scene.designId ? await this.designs.get(who, scene.designId) : design;
      const assets = await this.workshop.allAssetsOf(shown);
      const pack = await this.workshop.blanks.pack(who, scene.scene.blankId);
      const { blankId, areaId, requirementId, backdrop, inkOpacity, shadow, look, also } = scene.scene;
      for (const hex of new Set(guisesOf(scene, 1).map(({ garment }) => garment))) {
        const request = {
          blankId,
          areaId,
          requirementId,
          colourway: { name: hex, hex },
          size: side,
          format: 'png' as const,
          backdrop,
          inkOpacity,
          shadow,
          look,
          also,
        };
        pictures.push(
          (await recipeOfPicture(this.workshop, who, { design: shown, pack, request, requirements, assets })).hash,
        );
      }
    }
    const { name: _name, ...settings } = clip;
    return createHash('sha256')
      .update(canonicalJson({ engine: CLIP_ENGINE, picture: PICTURE_ENGINE, clip: settings, side, file, pictures }))
      .digest('hex');
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

const coverRecipe = (clipId: string): string => createHash('sha256').update(`cover of ${clipId}`).digest('hex');

/** Why a file is not the clip, in words; null when it is. */
function notTheClip(read: ReadClip, clip: Clip, side: number, file: ClipFileKind): string | null {
  const { width, height } = clipSize(clip.shape, sideOfFile(file, side));
  const [demanded, pictures] = [secondsOf(clip), picturesInFile(file, framesOf(clip))];
  const hasSound = Boolean(clip.music) && CLIP_FILES[file].hasSound;
  if (read.container !== file)
    return `it is of the kind ${CLIP_FILES[read.container].name} instead of ${CLIP_FILES[file].name}`;
  if (read.width !== width || read.height !== height)
    return `it is ${read.width} × ${read.height} px instead of ${width} × ${height}`;
  if (read.frames !== pictures) return `it has ${read.frames} pictures instead of ${pictures}`;
  if (Math.abs(read.seconds - demanded) > (read.sound ? SLACK_SOUND : SLACK_SECONDS))
    return `it lasts ${read.seconds.toFixed(2)} s instead of ${demanded.toFixed(2)} s`;
  if (hasSound !== Boolean(read.sound)) return hasSound ? 'it has no sound' : 'it has sound';
  if (read.soundSeconds !== null && Math.abs(read.soundSeconds - demanded) > SLACK_SECONDS)
    return `its sound ends after ${read.soundSeconds.toFixed(2)} s instead of ${demanded.toFixed(2)} s`;
  return null;
}
