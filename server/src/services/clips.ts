import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import type { ClipCertificate, ClipFile } from '@kettle/contract';
import {
  canonicalJson,
  CLIP_ENGINE,
  clipSize,
  clipsOf,
  clipColours,
  fileNameOf,
  framesOf,
  PICTURE_ENGINE,
  safeName,
  secondsOf,
  type Clip,
  type ClipShape,
  type MusicTrack,
} from '@kettle/core';
import type { Caller } from '../caller.js';
import { recipeOfPicture } from '../making/picture.js';
import type { Workshop } from '../making/workshop.js';
import { readClip } from '../render/clip/read-clip.js';
import { ProblemError } from '../safety/problem-error.js';
import type { BlobStore } from '../stores/blobs.js';
import type { OutputStore, StoredOutput } from '../stores/outputs.js';
import type { StoredDesign } from '../stores/stored-design.js';
import type { DesignService } from './designs.js';
import { withIncoming } from './incoming.js';

const CLIP = 'clip';
/** Largest clip that is kept. */
const MOST_BYTES = 200 * 1024 * 1024;
/** A file may be this much shorter or longer than the clip, s: one frame and what a container rounds. */
const SLACK_SECONDS = 1 / 24 + 0.03;
/** Sound comes in whole packets of up to 20 ms. */
const SLACK_SOUND = 0.06;

/** What is kept with a clip. */
interface ClipRecord {
  readonly clipId: string;
  readonly shape: ClipShape;
  readonly side: number;
  readonly certificate: ClipCertificate;
}

/** Music that ships, and clips that were made of designs. */
export class ClipService {
  private constructor(
    private readonly folder: string,
    private readonly shipped: readonly (MusicTrack & { readonly file: string })[],
    private readonly designs: DesignService,
    private readonly workshop: Workshop,
    private readonly outputs: OutputStore,
    private readonly blobs: BlobStore,
    private readonly cache: string,
  ) {}

  static async open(
    folder: string,
    designs: DesignService,
    workshop: Workshop,
    outputs: OutputStore,
    blobs: BlobStore,
    cache: string,
  ): Promise<ClipService> {
    const tracks = JSON.parse(await readFile(join(folder, 'tracks.json'), 'utf8')) as (MusicTrack & { file: string })[];
    return new ClipService(folder, tracks, designs, workshop, outputs, blobs, cache);
  }

  tracks(): readonly MusicTrack[] {
    return this.shipped.map(({ file: _file, ...track }) => track);
  }

  trackPath(id: string): string {
    const track = this.shipped.find((one) => one.id === id);
    if (!track) throw new ProblemError(404, 'no-such-track', 'There is no track with this id.');
    return join(this.folder, track.file);
  }

  /**
   * Keeps a clip that was made of a revision of a design. What it is is read from its bytes; a file that is not the clip
   * is refused.
   */
  async keep(
    who: Caller,
    designId: string,
    { clipId, revision, side, shape }: { clipId: string; revision: number; side: number; shape: ClipShape | null },
    stream: Readable,
  ): Promise<ClipFile> {
    const design = await this.workshop.revision(who, designId, revision);
    const found = clipsOf(design.outline).find((one) => one.id === clipId);
    if (!found)
      throw new ProblemError(404, 'no-such-clip', 'That revision of the design has no clip with this id any more.');
    const clip = shape ? { ...found, shape } : found;
    const recipe = await this.recipeOf(who, design, clip, side);
    return withIncoming(this.cache, stream, MOST_BYTES, async (path) => {
      const read = await readClip(path);
      const { width, height } = clipSize(clip.shape, side);
      const demanded = secondsOf(clip);
      const frames = framesOf(clip);
      const wrong =
        read.width !== width || read.height !== height
          ? `it is ${read.width} × ${read.height} px instead of ${width} × ${height}`
          : read.frames !== frames
            ? `it has ${read.frames} pictures instead of ${frames}`
            : Math.abs(read.seconds - demanded) > (read.sound ? SLACK_SOUND : SLACK_SECONDS)
              ? `it lasts ${read.seconds.toFixed(2)} s instead of ${demanded.toFixed(2)} s`
              : Boolean(clip.music) !== Boolean(read.sound)
                ? clip.music
                  ? 'it has no sound'
                  : 'it has sound'
                : null;
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
        mediaType: `video/${read.container}`,
        bytes: blob.bytes,
        accepted: true,
        record,
      });
      return clipFileOf(kept, true);
    });
  }

  /** Newest first. A clip is out of date when making it now would follow another recipe. */
  async of(who: Caller, designId: string): Promise<ClipFile[]> {
    const design = await this.designs.get(who, designId);
    const now = new Map<string, Promise<string>>();
    return Promise.all(
      (await this.outputs.ofDesign(CLIP, designId)).map(async (made) => {
        const { clipId, side, shape } = made.record as ClipRecord;
        const clip = clipsOf(design.outline).find((one) => one.id === clipId);
        if (!clip) return clipFileOf(made, false);
        const key = `${clipId} ${side} ${shape}`;
        // A scene whose blank is gone cannot be made any more: its clips stay, and are out of date.
        const recipe = now.get(key) ?? this.recipeOf(who, design, { ...clip, shape }, side).catch(() => '');
        now.set(key, recipe);
        return clipFileOf(made, (await recipe) === made.recipe);
      }),
    );
  }

  async content(who: Caller, id: string): Promise<{ clip: StoredOutput; path: string }> {
    const clip = await this.outputs.get(who.owner, CLIP, id);
    if (!clip) throw new ProblemError(404, 'no-such-clip', 'There is no clip with this id.');
    return { clip, path: await this.blobs.localPath(clip.sha256) };
  }

  /** SHA-256 of all that decides what a clip shows: its own settings, and each picture in it. */
  private async recipeOf(who: Caller, design: StoredDesign, clip: Clip, side: number): Promise<string> {
    const [requirements, assets] = await Promise.all([
      this.workshop.requirementsOf(who),
      this.workshop.allAssetsOf(design),
    ]);
    const pictures: string[] = [];
    for (const scene of clip.scenes) {
      const pack = await this.workshop.blanks.pack(who, scene.scene.blankId);
      const { blankId, areaId, requirementId, backdrop, inkOpacity, shadow, look, also } = scene.scene;
      for (const hex of clipColours(scene)) {
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
          (await recipeOfPicture(this.workshop, who, { design, pack, request, requirements, assets })).hash,
        );
      }
    }
    const { name: _name, ...shown } = clip;
    return createHash('sha256')
      .update(canonicalJson({ engine: CLIP_ENGINE, picture: PICTURE_ENGINE, clip: shown, side, pictures }))
      .digest('hex');
  }
}

const clipFileOf = (made: StoredOutput, current: boolean): ClipFile => ({
  id: made.id,
  designId: made.designId!,
  filename: made.filename,
  bytes: made.bytes,
  mediaType: made.mediaType,
  outOfDate: !current,
  madeAt: made.madeAt,
  ...(made.record as ClipRecord),
});
