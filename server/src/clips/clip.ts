import { createHash } from 'node:crypto';
import { clipStepSchema, type ClipCertificate, type ClipStep } from '@kettle/contract';
import type { Box } from '@kettle/core/geometry';
import { canonicalJson, clipSize, type Blank, type ClipScene, type ClipShape } from '@kettle/core/model';
import { filesOf } from '@kettle/core/recipes';
import {
  areaOf,
  defaultScene,
  onPicture,
  PICTURE_ENGINE,
  requirementForBlank,
  type PictureRecipe,
} from '@kettle/core/mockup';
import {
  CLIP_ENGINE,
  CLIP_FILES,
  clipsOf,
  framesOf,
  guisesOf,
  picturesInFile,
  pictureSizeFor,
  secondsOf,
  sideOfFile,
  type ClipFileKind,
} from '@kettle/core/clip';
import type { Caller } from '../floor/basics/caller.js';
import {
  MUSIC_FILE,
  packFile,
  type ClipFacts,
  type ClipMore,
  type ClipRecipe,
  type DrawnScene,
  type FiledClip,
} from '../render/clip/clip-recipe.js';
import type { ReadClip } from '../render/clip/read-clip.js';
import { ProblemError } from '../floor/basics/problem-error.js';
import type { StoredDesign } from '../documents/stored-design.js';
import type { OutputKind } from '../making/output-kind.js';
import type { PictureRecipes } from '../mockups/picture.js';
import type { MusicService } from './music.js';

/** What is kept with a clip. */
export interface ClipRecord {
  readonly clipId: string;
  readonly shape: ClipShape;
  /** Absent in the oldest, which are WebM. */
  readonly file?: ClipFileKind;
  readonly side: number;
  readonly certificate: ClipCertificate;
}

/** Name and version of clips in the queue and among outputs. */
export const CLIP = { kind: 'clip', engine: CLIP_ENGINE } as const;

/** A clip of a design, made where nobody watches. */
export const clipKind = (
  recipes: PictureRecipes,
  music: MusicService,
): OutputKind<ClipStep, ClipRecipe, ClipFacts> => ({
  ...CLIP,
  lane: 'export',
  shown: null,
  step: clipStepSchema,

  async order({ designId, revision, clipId, shape, side, file, filename }, who) {
    const { reader, blanks: known } = recipes;
    const design = await reader.revision(who, designId, revision);
    const found = clipsOf(design.outline).find((one) => one.id === clipId);
    if (!found) throw noSuchClip();
    const filed: FiledClip = { clip: { ...found, shape: shape as ClipShape }, side, file: file as ClipFileKind };
    const { clip } = filed;
    const scenes = await drawnScenes(recipes, who, design, filed);
    const blanks: Record<string, Blank> = {};
    const files: Record<string, string> = {};
    for (const { blankId } of scenes) {
      if (blanks[blankId]) continue;
      const pack = await known.wholePack(who, blankId);
      blanks[blankId] = pack.blank;
      for (const [name, path] of Object.entries(pack.files)) files[packFile(blankId, name)] = path;
    }
    const logo = clip.logo ? await reader.fileOf(who, clip.logo.assetId) : null;
    const track = clip.music ? await music.get(who, clip.music.trackId) : null;
    if (track) files[MUSIC_FILE] = (await music.content(who, track.id)).path;
    return {
      recipe: { kind: 'clip', engine: CLIP_ENGINE, ...filed, scenes },
      hash: await clipHash(recipes, who, design, filed),
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
});

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
  recipes: PictureRecipes,
  who: Caller,
  design: StoredDesign,
  { designId }: ClipScene,
): Promise<StoredDesign> => (designId && designId !== design.id ? recipes.reader.design(who, designId) : design);

/** A scene's picture in a colour, as it would be made by itself. */
async function pictureOf(
  recipes: PictureRecipes,
  who: Caller,
  design: StoredDesign,
  { scene }: ClipScene,
  hex: string,
  size: number,
): Promise<{ hash: string; recipe: PictureRecipe }> {
  const [requirements, assets, pack] = await Promise.all([
    recipes.reader.requirementsOf(who),
    recipes.reader.allAssetsOf(design),
    recipes.blanks.pack(who, scene.blankId),
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
  return recipes.of(who, { design, pack, request, requirements, assets });
}

/** SHA-256 of all that decides what a clip shows: its own settings, and each picture in it. */
export async function clipHash(
  recipes: PictureRecipes,
  who: Caller,
  design: StoredDesign,
  { clip, side, file }: FiledClip,
): Promise<string> {
  const pictures: string[] = [];
  for (const scene of clip.scenes) {
    const shown = await shownBy(recipes, who, design, scene);
    for (const hex of new Set(guisesOf(scene, 1).map(({ garment }) => garment)))
      pictures.push((await pictureOf(recipes, who, shown, scene, hex, side)).hash);
  }
  const { name: _name, ...settings } = clip;
  return createHash('sha256')
    .update(canonicalJson({ engine: CLIP_ENGINE, picture: PICTURE_ENGINE, clip: settings, side, file, pictures }))
    .digest('hex');
}

async function drawnScenes(
  recipes: PictureRecipes,
  who: Caller,
  design: StoredDesign,
  { clip, side, file }: FiledClip,
): Promise<DrawnScene[]> {
  const { width, height } = clipSize(clip.shape, sideOfFile(file, side));
  const drawn: DrawnScene[] = [];
  for (const scene of clip.scenes) {
    const shown = await shownBy(recipes, who, design, scene);
    const { blank } = await recipes.blanks.pack(who, scene.scene.blankId);
    const size = Math.min(blank.width, pictureSizeFor(scene, Math.max(width, height)));
    const guises: PictureRecipe[] = [];
    for (const { garment, layers } of guisesOf(scene, shown.outline.layers.filter(({ hidden }) => !hidden).length)) {
      const { recipe } = await pictureOf(recipes, who, shown, scene, garment, size);
      guises.push(layers === undefined ? recipe : withLayers(recipe, layers));
    }
    drawn.push({ blankId: blank.id, guises, focus: await focusOf(recipes, who, shown, scene, blank) });
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
  recipes: PictureRecipes,
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
    await recipes.reader.requirementsOf(who),
    scene.requirementId,
  );
  const art = await recipes.reader.processor.of(design, 'artOnArea', { scene, blank, area, requirement });
  const on = onPicture(await recipes.blanks.grid(who, blank.id, area.id), area, art);
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
