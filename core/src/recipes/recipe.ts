import type { Canvas } from '../model/canvas.js';
import { type ColourConversion, type TiffPacking } from '../model/conversion.js';
import { conversionOf } from '../model/requirement.js';
import { fileKind, fileTypeFor } from '../requirement/file-kinds.js';
import type { ColourMode, FileType, Requirement } from '../model/requirement.js';
import type { FactsById } from '../model/asset-facts.js';
import { compose, mapBox, scale, type Affine, type Box } from '../geometry/affine.js';
import { MM_PER_INCH } from '../units/length.js';
import type { BlendMode } from '../raster/blend.js';
import type { InkScreen } from '../raster/screen.js';
import type { DesignDocument, Layer, Target } from '../model/design.js';
import { seenBy } from '../document/exception.js';
import {
  keylinesUnder,
  silhouettesOf,
  type KeylineAround,
  type PlacedKeyline,
  type Silhouette,
} from '../layers/keyline.js';
import { drawingSteps, type DrawingStep } from '../drawing/marks.js';
import { factsOfLayer, inkPlace, kindOf, marksOf, rubbedStep } from '../layers/layer-kinds.js';
import { treatedBy, type Treated } from '../treatments/treated.js';
import { layerToPixels, layoutTarget, repeatOnCanvas } from '../document/target.js';
import { tilesOf, type PlacedRepeat } from '../document/repeat.js';

/** Version of the drawing code. It grows whenever the same input would give other pixels. */
export const ENGINE_VERSION = 3;

/** A line around some layers: around outlines themselves, or around what is seen of a picture. */
export interface RecipeKeyline extends PlacedKeyline {
  readonly around: readonly {
    readonly sha256?: string | null;
    readonly treated?: Treated;
    readonly drawing?: readonly DrawingStep[];
    readonly rubbed?: DrawingStep;
    readonly shapes?: readonly Silhouette[];
    /** Units of the shapes, or the unit square of what is drawn, to px. */
    readonly map: Affine;
  }[];
}

/** One layer of a print file: what is drawn, and where its unit square lies in pixels. */
export interface RecipeLayer {
  /** Content hash of an artwork file; null for a drawing. */
  readonly sha256: string | null;
  /** What is done to the file before it is drawn; absent when it is drawn as it is. */
  readonly treated?: Treated;
  /** What is drawn in place of a file, step by step. */
  readonly drawing?: readonly DrawingStep[];
  /** What is rubbed out of the file's picture, in units of its own box. A drawing has it among its steps. */
  readonly rubbed?: DrawingStep;
  /** A line around other layers, in place of anything else. */
  readonly keyline?: RecipeKeyline;
  readonly map: Affine;
  readonly opacity: number;
  /** How its semi-transparent ink is made solid, on the grid it is drawn on; absent where it stays. */
  readonly screen?: InkScreen & { readonly dpi: number };
  /** Absent for normal. */
  readonly blend?: BlendMode;
  /** How it is repeated over the grid, in its px; absent where it is there once. */
  readonly repeat?: PlacedRepeat;
}

/** Everything that decides the bytes of a print file, and nothing else. Its hash names the file. */
export interface PrintRecipe {
  readonly kind: 'print-file';
  readonly engine: number;
  readonly widthPx: number;
  readonly heightPx: number;
  readonly dpi: number;
  /** Kind of file; absent for PNG. */
  readonly type?: Exclude<FileType, 'png'>;
  readonly mode: ColourMode;
  readonly alpha: boolean;
  /** What a file without transparency is laid on; absent for white. */
  readonly ground?: string;
  /** How a TIFF is packed. */
  readonly packing?: TiffPacking;
  /** How colours become those of a CMYK print; `profile` is the SHA-256 of an ICC file, or null for the shipped one. */
  readonly conversion?: ColourConversion;
  /** Bytes that a file whose quality can be lowered stays below. */
  readonly maxBytes?: number;
  /** Edge of a PDF page that is cut away, mm. */
  readonly bleedMm?: number;
  /** Back to front. */
  readonly layers: readonly RecipeLayer[];
  /** The requirement as it stood, so that a change of its demands makes the file out of date. */
  readonly requirement: { readonly id: string; readonly revision: number };
}

/** Six decimals of a pixel are far below what is drawn, and keep float noise out of the hash. */
const rounded = (map: Affine): Affine => map.map((value) => Math.round(value * 1e6) / 1e6 + 0) as unknown as Affine;

/**
 * Recipe of a target's print file.
 * @param shaOf content hash of each asset id
 * @param facts what is known of the artwork, from which it follows whether all of it is outlines
 */
export function printRecipe(
  design: DesignDocument,
  target: Target,
  requirement: Requirement,
  shaOf: (assetId: string) => string,
  facts: FactsById = {},
): PrintRecipe {
  const { canvas, toCanvas } = layoutTarget(design, target, requirement);
  const seen = seenBy(design, target);
  // A target whose file cannot be made has a recipe all the same, so that it can be compared.
  const type = fileTypeFor(requirement, isAllOutlines(seen.layers, facts)) ?? 'png';
  const { clear, lossy } = fileKind(type);
  const { mode, ground, bleedMm, maxBytes } = requirement;
  const alpha = requirement.transparency !== 'forbidden' && clear.includes(mode);
  const map: Affine = requirement.mirrored ? compose([-1, 0, 0, 1, canvas.widthMm, 0], toCanvas) : toCanvas;
  return {
    kind: 'print-file',
    engine: ENGINE_VERSION,
    widthPx: canvas.widthPx,
    heightPx: canvas.heightPx,
    dpi: canvas.dpi,
    ...(type === 'png' ? {} : { type }),
    mode,
    alpha,
    ...(alpha || !ground || /^#fff(fff)?$/i.test(ground) ? {} : { ground }),
    ...(type === 'tiff' ? { packing: requirement.packing ?? 'lzw' } : {}),
    ...(mode === 'cmyk' ? { conversion: conversionOf(requirement) } : {}),
    ...(lossy && maxBytes !== null ? { maxBytes } : {}),
    ...(type === 'pdf' && bleedMm ? { bleedMm } : {}),
    layers: recipeLayers(seen, map, canvas.dpi, shaOf, {
      print: true,
      frame: { x: 0, y: 0, width: canvas.widthMm, height: canvas.heightMm },
    }),
    requirement: { id: requirement.id, revision: requirement.revision },
  };
}

/** True when every visible layer is drawn from outlines, and from nothing that only pixels can hold. */
export const isAllOutlines = (layers: readonly Layer[], facts: FactsById): boolean =>
  layers
    .filter((layer) => !layer.hidden && layer.opacity > 0)
    .every((layer) => {
      if (layer.screen) return false;
      const drawing = marksOf(layer);
      if (drawing) return drawingSteps(drawing).every((step) => !step.erase);
      return !layer.rubbed && !kindOf(layer).treatmentsOf(layer)?.length && factsOfLayer(layer, facts)?.vector === true;
    });

/**
 * Visible layers of a design on a pixel grid.
 * @param on.print true for the grid that is printed from: only there semi-transparent ink is turned into dots
 * @param on.frame what repeated art covers, in mm of the canvas; it is there once without it
 */
export function recipeLayers(
  design: DesignDocument,
  toCanvas: Affine,
  dpi: number,
  shaOf: (assetId: string) => string,
  { print = false, frame }: { print?: boolean; frame?: Box } = {},
): RecipeLayer[] {
  const keylines = keylinesUnder(design);
  const repeat = frame && repeatOnCanvas(design, toCanvas, frame);
  const repeated = repeat ? { repeat: placedRepeat(repeat, scale(dpi / MM_PER_INCH)) } : {};
  return design.layers
    .filter((layer) => !layer.hidden && layer.opacity > 0)
    .flatMap((layer) => [
      ...(keylines.get(layer.id) ?? []).map((one) => ({ ...keylineLayer(one, toCanvas, dpi, shaOf), ...repeated })),
      {
        ...sourceOf(layer, shaOf),
        map: rounded(layerToPixels({ place: inkPlace(layer) }, toCanvas, dpi)),
        opacity: layer.opacity,
        ...(layer.blend && layer.blend !== 'normal' ? { blend: layer.blend } : {}),
        ...screenOf(layer, print ? dpi : null),
        ...repeated,
      },
    ]);
}

/** A repeat on another grid; six decimals, as maps have. */
function placedRepeat({ kind, tile, gap, frame }: PlacedRepeat, map: Affine): PlacedRepeat {
  const round = (value: number): number => Math.round(value * 1e6) / 1e6;
  const box = (of: Box): Box => {
    const { x, y, width, height } = mapBox(map, of);
    return { x: round(x), y: round(y), width: round(width), height: round(height) };
  };
  return { kind, tile: box(tile), gap: round(gap * Math.hypot(map[0], map[1])), frame: box(frame) };
}

/** Every copy of every layer, in the order in which they are drawn: all of the design, one copy after the other. */
export function repeatedLayers(layers: readonly RecipeLayer[]): RecipeLayer[] {
  const repeat = layers.find((layer) => layer.repeat)?.repeat;
  if (!repeat) return [...layers];
  const once = layers.map(({ repeat: _repeat, ...layer }): RecipeLayer => layer);
  return tilesOf(repeat).flatMap((tile) => once.map((layer) => reducedLayer(layer, tile)));
}

/** A layer as it lies on a smaller grid, a line around others with what it goes around. */
export function reducedLayer(layer: RecipeLayer, toFine: Affine): RecipeLayer {
  const { keyline, map, repeat } = layer;
  return {
    ...layer,
    ...(repeat ? { repeat: placedRepeat(repeat, toFine) } : {}),
    map: compose(toFine, map),
    ...(keyline
      ? {
          keyline: {
            ...keyline,
            width: keyline.width * Math.abs(toFine[0]),
            gap: keyline.gap * Math.abs(toFine[0]),
            around: keyline.around.map((one) => ({ ...one, map: compose(toFine, one.map) })),
          },
        }
      : {}),
  };
}

/** Content hashes of the artwork files that layers are drawn from, each once. */
export const filesOf = (layers: readonly RecipeLayer[]): string[] => [
  ...new Set(
    layers
      .flatMap(({ sha256, keyline }) => [sha256, ...(keyline?.around.map((one) => one.sha256) ?? [])])
      .filter((sha256) => typeof sha256 === 'string'),
  ),
];

/** Dots belong to the printed grid; what is made solid is so on every grid. */
function screenOf({ screen }: Layer, printDpi: number | null): Pick<RecipeLayer, 'screen'> {
  if (!screen || (screen.kind === 'dots' && printDpi === null)) return {};
  return { screen: { ...screen, dpi: Math.round((printDpi ?? 300) * 1000) / 1000 } };
}

const UNIT: Affine = [1, 0, 0, 1, 0, 0];

/** A keyline on a pixel grid, with what it goes around. */
function keylineLayer(
  { keyline, around }: KeylineAround,
  toCanvas: Affine,
  dpi: number,
  shaOf: (assetId: string) => string,
): RecipeLayer {
  const pixels = (dpi / MM_PER_INCH) * Math.sqrt(Math.abs(toCanvas[0] * toCanvas[3] - toCanvas[1] * toCanvas[2]));
  const round = (value: number): number => Math.round(value * 1e4) / 1e4;
  return {
    sha256: null,
    map: UNIT,
    opacity: 1,
    keyline: {
      ...keyline,
      width: round(keyline.width * pixels),
      gap: round(keyline.gap * pixels),
      around: around.map((layer) => {
        const place = layerToPixels(layer, toCanvas, dpi);
        const outlines = silhouettesOf(layer);
        return outlines
          ? { shapes: outlines.shapes, map: rounded(compose(place, outlines.toUnit)) }
          : {
              ...sourceOf(layer, shaOf),
              map: rounded(layerToPixels({ place: inkPlace(layer) }, toCanvas, dpi)),
            };
      }),
    },
  };
}

/** What a layer is drawn from: its own marks, or an artwork file. */
function sourceOf(
  layer: Layer,
  shaOf: (assetId: string) => string,
): Pick<RecipeLayer, 'sha256' | 'treated' | 'drawing' | 'rubbed'> {
  const drawing = marksOf(layer);
  if (drawing) return { sha256: null, drawing: drawingSteps(drawing) };
  const treated = treatedBy(kindOf(layer).treatmentsOf(layer));
  const rubbed = rubbedStep(layer);
  return {
    sha256: shaOf(kindOf(layer).assetOf(layer)!),
    ...(treated ? { treated } : {}),
    ...(rubbed ? { rubbed } : {}),
  };
}

/** A small grid of the same shape for a miniature, no side longer than `most` pixels. */
export function miniatureCanvas(
  canvas: Pick<Canvas, 'widthPx' | 'heightPx' | 'widthMm'>,
  most: number,
): { widthPx: number; heightPx: number; dpi: number } {
  const factor = Math.min(1, most / Math.max(canvas.widthPx, canvas.heightPx));
  const widthPx = Math.max(1, Math.round(canvas.widthPx * factor));
  return {
    widthPx,
    heightPx: Math.max(1, Math.round(canvas.heightPx * factor)),
    dpi: (widthPx / canvas.widthMm) * 25.4,
  };
}
