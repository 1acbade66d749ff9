import { createHash } from 'node:crypto';
import type { Asset } from '@kettle/contract';
import { digestOf, type Digest } from './digest.js';
import { designSchema, refuse } from '@kettle/contract';
import { ownValue } from '@kettle/core/units';
import type { Affine, Box } from '@kettle/core/geometry';
import {
  canonicalJson,
  type Blank,
  type DesignDocument,
  type PictureFit,
  type PictureFormat,
  type PrintArea,
  type Requirement,
  type Scene,
  type Target,
} from '@kettle/core/model';
import { seenBy } from '@kettle/core/document';
import { printRecipe, recipeLayers, type PrintRecipe, type RecipeLayer } from '@kettle/core/recipes';
import { findTarget, isPrintable, type Finding, type Measured } from '@kettle/core/checks';
import {
  artOnArea,
  pictureRecipe,
  placeScene,
  withGapOn,
  sizingOf,
  type PictureRecipe,
  type ScenePrint,
} from '@kettle/core/mockup';

/** What became of checking a design: sentences by field, or how it is stored. */
export type CheckedDesign = { readonly fields: Record<string, string> } | { readonly digest: Digest };

/**
 * What is known of a target at a revision: the name of its recipe, whether a file may be made, and the gravest
 * finding.
 */
export interface Judgement {
  readonly recipe: string;
  readonly printable: boolean;
  readonly gravest: string | null;
}

export type AssetsById = Readonly<Record<string, Asset>>;

/** The name of a recipe: the same result is never made twice. */
export const recipeHash = (recipe: object): string => createHash('sha256').update(canonicalJson(recipe)).digest('hex');

/** What is drawn of an artwork file: the file, or the same drawing with its letters as outlines. */
export const drawnFile = ({ sha256, outlined }: Pick<Asset, 'sha256' | 'outlined'>): string => outlined ?? sha256;

/** Content hashes for recipes; a picture that is not there is named, so that a recipe can still be compared. */
export const shaOrMissing =
  (assets: AssetsById) =>
  (assetId: string): string => {
    const asset = ownValue(assets, assetId);
    return asset ? drawnFile(asset) : `missing ${assetId}`;
  };

/**
 * What can be worked out of a design without anything else: pure functions of its document, which run wherever there
 * is time for them.
 */
export const DERIVATIONS = {
  judge(
    document: DesignDocument,
    {
      of,
      assets,
    }: {
      of: readonly { readonly target: Target; readonly requirement: Requirement; readonly measured?: Measured }[];
      assets: AssetsById;
    },
  ): Judgement[] {
    return of.map(({ target, requirement, measured }) => {
      const findings = findTarget(document, target, requirement, assets, measured);
      return {
        recipe: recipeHash(printRecipe(document, target, requirement, shaOrMissing(assets), assets)),
        printable: isPrintable(findings),
        gravest:
          findings.find((finding) => finding.severity !== 'tells' && finding.accepted === undefined)?.title ?? null,
      };
    });
  },

  findings(
    document: DesignDocument,
    {
      target,
      requirement,
      assets,
      measured = null,
    }: { target: Target; requirement: Requirement; assets: AssetsById; measured?: Measured | null },
  ): Finding[] {
    return findTarget(document, target, requirement, assets, measured);
  },

  print(
    document: DesignDocument,
    { target, requirement, assets }: { target: Target; requirement: Requirement; assets: AssetsById },
  ): { hash: string; recipe: PrintRecipe } {
    const recipe = printRecipe(document, target, requirement, shaOrMissing(assets), assets);
    return { hash: recipeHash(recipe), recipe };
  },

  picture(
    document: DesignDocument,
    {
      scene,
      blank,
      pack,
      prints,
      output,
      assets,
    }: {
      scene: Scene;
      blank: Blank;
      pack: string;
      prints: readonly ScenePrint[];
      output: { size: number; crop?: Box; format: PictureFormat; fit?: PictureFit };
      assets: AssetsById;
    },
  ): { hash: string; recipe: PictureRecipe } {
    const recipe = pictureRecipe(document, scene, { blank, pack }, prints, output, shaOrMissing(assets), assets);
    return { hash: recipeHash(recipe), recipe };
  },

  artOnArea(
    document: DesignDocument,
    {
      scene,
      blank,
      area,
      requirement,
    }: { scene: Scene; blank: Blank; area: PrintArea; requirement: Requirement | null },
  ): Box | null {
    const placement = placeScene(document, blank, area, requirement, sizingOf(scene, 0));
    return artOnArea(document, placement, requirement, scene.garment);
  },

  layers(
    document: DesignDocument,
    {
      target,
      toCanvas,
      dpi,
      frame,
      toGrid,
      assets,
    }: { target: Target | null; toCanvas: Affine; dpi: number; frame: Box; toGrid: Affine; assets: AssetsById },
  ): { hash: string; layers: RecipeLayer[] } {
    const layers = recipeLayers(
      withGapOn(seenBy(document, target ?? undefined), toGrid),
      toCanvas,
      dpi,
      shaOrMissing(assets),
      {
        frame,
      },
    ).filter((layer) => !layer.sha256?.startsWith('missing'));
    return { hash: recipeHash({ layers }), layers };
  },
} as const;

export type Derivation = keyof typeof DERIVATIONS;
export type DerivationInput<D extends Derivation> = Parameters<(typeof DERIVATIONS)[D]>[1];
export type DerivationOutput<D extends Derivation> = ReturnType<(typeof DERIVATIONS)[D]>;

/** The sentences by field when a text is no design; otherwise how it is to be stored. */
export function checkDesignText(text: string): CheckedDesign {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    return { fields: { body: 'The body could not be read as JSON.' } };
  }
  const fields = refuse(designSchema, value);
  return fields ? { fields } : { digest: digestOf(value as DesignDocument) };
}

/** The document last looked into: several things are usually asked of it one after the other. */
let last: { text: string; document: DesignDocument } | null = null;

/** Works something out of a document that is given as text. */
export function deriveFromText(text: string, name: Derivation, input: unknown): unknown {
  if (last?.text !== text) last = { text, document: JSON.parse(text) as DesignDocument };
  return (DERIVATIONS[name] as (document: DesignDocument, input: unknown) => unknown)(last.document, input);
}
