import { createHash } from 'node:crypto';
import { clipStepSchema, type ClipCertificate, type ClipStep } from '@kettle/contract';
import {
  areaOf,
  canonicalJson,
  CLIP_ENGINE,
  CLIP_FILES,
  clipSize,
  clipsOf,
  defaultScene,
  filesOf,
  framesOf,
  guisesOf,
  onPicture,
  PICTURE_ENGINE,
  picturesInFile,
  pictureSizeFor,
  requirementForBlank,
  secondsOf,
  sideOfFile,
  type Blank,
  type Box,
  type Clip,
  type ClipFileKind,
  type ClipScene,
  type ClipShape,
  type MusicTrack,
  type PictureRecipe,
} from '@kettle/core';
import type { Caller } from '../caller.js';
import type { ReadClip } from '../render/clip/read-clip.js';
import { ProblemError } from '../safety/problem-error.js';
import type { StoredDesign } from '../stores/stored-design.js';
import type { OutputKind } from './output-kind.js';
import { recipeOfPicture } from './picture.js';
import type { Workshop } from './workshop.js';

/** A clip as a file shows it. */
export interface FiledClip {
  readonly clip: Clip;
  /** Shorter side that was asked for, px. */
  readonly side: number;
  readonly file: ClipFileKind;
}

/** What is kept with a clip. */
export interface ClipRecord {
  readonly clipId: string;
  readonly shape: ClipShape;
  /** Absent in the oldest, which are WebM. */
  readonly file?: ClipFileKind;
  readonly side: number;
  readonly certificate: ClipCertificate;
}

/** A scene as the server draws it: one picture for each guise, on a blank that moves one for each of its frames. */
export interface DrawnScene {
  readonly blankId: string;
  readonly guises: readonly PictureRecipe[];
  /** Where the print is, shares of the picture. */
  readonly focus: Box;
}

/** Everything that decides the bytes of a clip, beside the files it names. */
export interface ClipRecipe extends FiledClip {
  readonly kind: 'clip';
  readonly engine: number;
  readonly scenes: readonly DrawnScene[];
}

/** What the maker of clips needs besides. */
export interface ClipMore {
  readonly blanks: Readonly<Record<string, Blank>>;
  readonly track: MusicTrack | null;
  /** SHA-256 of the logo's file, hex. */
  readonly logo: string | null;
}

/** What was read back of a clip, and where its cover lies. */
export interface ClipFacts {
  readonly read: ReadClip;
  readonly sha256: string;
  readonly cover: string;
}

/** Name of the music among a clip's files. */
export const MUSIC_FILE = 'music';
/** Name of a blank's picture among a clip's files. */
export const packFile = (blankId: string, name: string): string => `${blankId}/${name}`;

/** A clip of a design, made where nobody watches. */
export const CLIP: OutputKind<ClipStep, ClipRecipe, ClipFacts> = {
  kind: 'clip',
  engine: CLIP_ENGINE,
  lane: 'export',
  shown: null,
  step: clipStepSchema,

  async order({ designId, revision, clipId, shape, side, file, filename }, who, workshop) {
    const design = await workshop.revision(who, designId, revision);
    const found = clipsOf(design.outline).find((one) => one.id === clipId);
    if (!found) throw noSuchClip();
    const filed: FiledClip = { clip: { ...found, shape: shape as ClipShape }, side, file: file as ClipFileKind };
    const { clip } = filed;
    const scenes = await drawnScenes(workshop, who, design, filed);
    const blanks: Record<string, Blank> = {};
    const files: Record<string, string> = {};
    for (const { blankId } of scenes) {
      if (blanks[blankId]) continue;
      const pack = await workshop.blanks.wholePack(who, blankId);
      blanks[blankId] = pack.blank;
      for (const [name, path] of Object.entries(pack.files)) files[packFile(blankId, name)] = path;
    }
    const logo = clip.logo ? await workshop.fileOf(who, clip.logo.assetId) : null;
    const track = clip.music ? await workshop.music.get(who, clip.music.trackId) : null;
    if (track) files[MUSIC_FILE] = (await workshop.music.content(who, track.id)).path;
    return {
      recipe: { kind: 'clip', engine: CLIP_ENGINE, ...filed, scenes },
      hash: await clipHash(workshop, who, design, filed),
      designId,
      revision,
      about: clipId,
      filename,
      mediaType: CLIP_FILES[filed.file].mediaType,
      files,
      more: { blanks, track, logo } satisfies ClipMore,
      sources: [
        ...new Set([
          ...scenes.flatMap(({ guises }) =>
            guises.flatMap(({ prints }) => prints.flatMap((one) => filesOf(one.layers))),
          ),
          ...(logo ? [logo] : []),
        ]),
      ],
    };
  },

  async make({ recipe, sources, files, more, out, progress }) {
    const { makeClip } = await import('../render/clip/make-clip.js');
    return makeClip(recipe, more as ClipMore, files, sources, out, progress);
  },

  certify({ recipe, about }, { read, sha256 }) {
    const wrong = notTheClip(read, recipe);
    if (wrong)
      throw new ProblemError(
        500,
        'not-as-ordered',
        `The clip that was made is not the one that was ordered (${wrong}), and was not kept. Press the button again.`,
      );
    const record: ClipRecord = {
      clipId: about,
      shape: recipe.clip.shape,
      file: recipe.file,
      side: recipe.side,
      certificate: { ...read, sha256 },
    };
    return { accepted: true, record };
  },

  beside: ({ filename }, id, { cover }) => [coverOfClip(id, filename, cover)],
};

export const noSuchClip = (): ProblemError =>
  new ProblemError(404, 'no-such-clip', 'That revision of the design has no clip with this id any more.');

/** Kind of the pictures that stand for clips. */
export const CLIP_COVER = 'clip-cover';

export const coverRecipe = (clipId: string): string => createHash('sha256').update(`cover of ${clipId}`).digest('hex');

/** The picture that stands for a clip, as it is kept. */
export const coverOfClip = (clip: string, filename: string, path: string) => ({
  kind: CLIP_COVER,
  about: clip,
  recipe: coverRecipe(clip),
  filename: `${filename.replace(/\.[a-z0-9]+$/, '')}.jpg`,
  mediaType: 'image/jpeg',
  record: { clip },
  path,
});

/** The design that a scene shows; another one counts as it is by now. */
const shownBy = async (
  workshop: Workshop,
  who: Caller,
  design: StoredDesign,
  { designId }: ClipScene,
): Promise<StoredDesign> => (designId && designId !== design.id ? workshop.design(who, designId) : design);

/** A scene's picture in a colour, as it would be made by itself. */
async function pictureOf(
  workshop: Workshop,
  who: Caller,
  design: StoredDesign,
  { scene }: ClipScene,
  hex: string,
  size: number,
): Promise<{ hash: string; recipe: PictureRecipe }> {
  const [requirements, assets, pack] = await Promise.all([
    workshop.requirementsOf(who),
    workshop.allAssetsOf(design),
    workshop.blanks.pack(who, scene.blankId),
  ]);
  const { blankId, areaId, requirementId, backdrop, inkOpacity, shadow, look, also } = scene;
  const request = {
    blankId,
    areaId,
    requirementId,
    colourway: { name: hex, hex },
    size,
    format: 'png' as const,
    backdrop,
    inkOpacity,
    shadow,
    look,
    also,
  };
  return recipeOfPicture(workshop, who, { design, pack, request, requirements, assets });
}

/** SHA-256 of all that decides what a clip shows: its own settings, and each picture in it. */
export async function clipHash(
  workshop: Workshop,
  who: Caller,
  design: StoredDesign,
  { clip, side, file }: FiledClip,
): Promise<string> {
  const pictures: string[] = [];
  for (const scene of clip.scenes) {
    const shown = await shownBy(workshop, who, design, scene);
    for (const hex of new Set(guisesOf(scene, 1).map(({ garment }) => garment)))
      pictures.push((await pictureOf(workshop, who, shown, scene, hex, side)).hash);
  }
  const { name: _name, ...settings } = clip;
  return createHash('sha256')
    .update(canonicalJson({ engine: CLIP_ENGINE, picture: PICTURE_ENGINE, clip: settings, side, file, pictures }))
    .digest('hex');
}

async function drawnScenes(
  workshop: Workshop,
  who: Caller,
  design: StoredDesign,
  { clip, side, file }: FiledClip,
): Promise<DrawnScene[]> {
  const { width, height } = clipSize(clip.shape, sideOfFile(file, side));
  const drawn: DrawnScene[] = [];
  for (const scene of clip.scenes) {
    const shown = await shownBy(workshop, who, design, scene);
    const { blank } = await workshop.blanks.pack(who, scene.scene.blankId);
    const size = Math.min(blank.width, pictureSizeFor(scene, Math.max(width, height)));
    const guises: PictureRecipe[] = [];
    for (const { garment, layers } of guisesOf(scene, shown.outline.layers.filter(({ hidden }) => !hidden).length)) {
      const { recipe } = await pictureOf(workshop, who, shown, scene, garment, size);
      guises.push(layers === undefined ? recipe : withLayers(recipe, layers));
    }
    drawn.push({ blankId: blank.id, guises, focus: await focusOf(workshop, who, shown, scene, blank) });
  }
  return drawn;
}

/** A picture that prints the lowest layers alone, each with the lines around it; they lie where all of them do. */
function withLayers(recipe: PictureRecipe, count: number): PictureRecipe {
  return {
    ...recipe,
    prints: recipe.prints.map((print) => {
      let seen = 0;
      const over = print.layers.findIndex(({ keyline }) => !keyline && ++seen > count);
      const end = over < 0 ? print.layers.length : over;
      // Lines that belong to the next layer lie right below it.
      const first = print.layers.slice(0, end).findLastIndex(({ keyline }) => !keyline);
      return { ...print, layers: over < 0 ? print.layers : print.layers.slice(0, first + 1) };
    }),
  };
}

async function focusOf(
  workshop: Workshop,
  who: Caller,
  design: StoredDesign,
  { scene: shown }: ClipScene,
  blank: Blank,
): Promise<Box> {
  const scene = { ...defaultScene(blank, shown.requirementId), ...shown };
  const area = areaOf(blank, scene.areaId);
  const requirement = requirementForBlank(
    design.outline,
    blank,
    await workshop.requirementsOf(who),
    scene.requirementId,
  );
  const art = await workshop.deriver.of(design, 'artOnArea', { scene, blank, area, requirement });
  const on = onPicture(await workshop.blanks.grid(who, blank.id, area.id), area, art);
  return on.print ?? on.area;
}

/** A file may be this much shorter or longer than the clip, s: one frame and what a container rounds. */
const SLACK_SECONDS = 1 / 24 + 0.03;
/** Sound comes in whole packets of up to 20 ms. */
const SLACK_SOUND = 0.06;

/** Why a file is not the clip, in words; null when it is. */
export function notTheClip(read: ReadClip, { clip, side, file }: FiledClip): string | null {
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
