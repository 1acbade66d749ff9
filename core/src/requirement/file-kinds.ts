import { formatBytes } from '../units/bytes.js';
import { demandedCanvas } from '../model/canvas.js';
import type { ColourMode, FileType, Requirement, RequirementFields } from '../model/requirement.js';

/** What a kind of file can hold. How it is written and read back is the server's, under the same name. */
export interface FileKind {
  readonly type: FileType;
  readonly words: string;
  readonly extension: string;
  readonly mediaType: string;
  readonly modes: readonly ColourMode[];
  /** Modes in which it holds transparency too. */
  readonly clear: readonly ColourMode[];
  /** `pixels`: one picture; `both`: outlines stay outlines beside pictures; `outlines`: nothing but outlines. */
  readonly holds: 'pixels' | 'both' | 'outlines';
  /** True when its quality can be lowered to stay under a byte limit. */
  readonly lossy: boolean;
  /** Most pixels a side that its format can count. */
  readonly mostPx?: number;
  /** What it is for, in a sentence. */
  readonly advice: string;
}

const kind = (type: FileType, rest: Omit<FileKind, 'type'>): FileKind => ({ type, ...rest });

/** Kinds of print files in the order in which they are preferred where a channel takes several. */
export const FILE_KINDS: readonly FileKind[] = [
  kind('png', {
    words: 'PNG',
    extension: 'png',
    mediaType: 'image/png',
    modes: ['rgb', 'grey'],
    clear: ['rgb', 'grey'],
    holds: 'pixels',
    lossy: false,
    advice: 'Exact pixels with true transparency: what most marketplaces and direct-to-garment printers want.',
  }),
  kind('tiff', {
    words: 'TIFF',
    extension: 'tif',
    mediaType: 'image/tiff',
    modes: ['rgb', 'cmyk', 'grey'],
    clear: ['rgb', 'cmyk', 'grey'],
    holds: 'pixels',
    lossy: false,
    advice: 'Exact pixels in the inks of the press, with transparency: for print shops that want CMYK.',
  }),
  kind('pdf', {
    words: 'PDF',
    extension: 'pdf',
    mediaType: 'application/pdf',
    modes: ['rgb', 'cmyk'],
    clear: ['rgb', 'cmyk'],
    holds: 'both',
    lossy: false,
    advice: 'True size, outlines sharp at any size: for screen film, cutting plotters and paper.',
  }),
  kind('jpeg', {
    words: 'JPEG',
    extension: 'jpg',
    mediaType: 'image/jpeg',
    modes: ['rgb', 'grey'],
    clear: [],
    holds: 'pixels',
    lossy: true,
    advice: 'Small and everywhere, but without transparency: for posters and photo prints.',
  }),
  kind('webp', {
    words: 'WebP',
    extension: 'webp',
    mediaType: 'image/webp',
    modes: ['rgb'],
    clear: ['rgb'],
    holds: 'pixels',
    lossy: true,
    mostPx: 16_383,
    advice: 'Smaller than JPEG, with transparency: for shops that say they take it.',
  }),
  kind('svg', {
    words: 'SVG',
    extension: 'svg',
    mediaType: 'image/svg+xml',
    modes: ['rgb'],
    clear: ['rgb'],
    holds: 'outlines',
    lossy: false,
    advice: 'Outlines alone, sharp at any size: for plotters, embroidery and engraving. It cannot hold a photo.',
  }),
];

export const fileKind = (type: FileType): FileKind => FILE_KINDS.find((one) => one.type === type)!;

/** `PNG`, `PNG or TIFF`. */
export const fileTypeWords = (types: readonly FileType[]): string =>
  types.map((type) => fileKind(type).words).join(' or ');

/** What decides which kinds of file can be made. */
type Demands = Pick<
  Requirement,
  'fileTypes' | 'preferred' | 'mode' | 'transparency' | 'width' | 'height' | 'unit' | 'dpi'
>;

const canHold = ({ modes, clear, mostPx = Infinity }: FileKind, demands: Demands): boolean => {
  const { widthPx, heightPx } = demandedCanvas(demands);
  return (
    modes.includes(demands.mode) &&
    (demands.transparency !== 'required' || clear.includes(demands.mode)) &&
    Math.max(widthPx, heightPx) <= mostPx
  );
};

/**
 * The kind of file that is made for a requirement: the one the seller prefers of those the channel takes, where it can
 * hold what is demanded; otherwise the first that can.
 * @param outlinesOnly true when no layer of the design is a picture
 * @returns null when none of the demanded types can hold it
 */
export function fileTypeFor(demands: Demands, outlinesOnly: boolean): FileType | null {
  const able = FILE_KINDS.filter(
    (kind) =>
      demands.fileTypes.includes(kind.type) && canHold(kind, demands) && (kind.holds !== 'outlines' || outlinesOnly),
  );
  return (able.find(({ type }) => type === demands.preferred) ?? able[0])?.type ?? null;
}

/** Channels of a pixel in a mode, without alpha. */
export const channelsOf = (mode: ColourMode): number => ({ grey: 1, rgb: 3, cmyk: 4 })[mode];

/**
 * Bytes of an uncompressed TIFF: what a compressed one stays below. Tags and profile come on top and are a few hundred
 * kilobytes at most.
 */
export const tiffBytes = (widthPx: number, heightPx: number, mode: ColourMode, alpha: boolean): number =>
  widthPx * heightPx * (channelsOf(mode) + (alpha ? 1 : 0));

/**
 * Demands that no file at all can meet together, with the field they are asked in; null when one can. The fields
 * themselves are taken to be sensible numbers.
 */
export function cannotBeMet(
  demands: Demands & Pick<RequirementFields, 'packing' | 'maxBytes' | 'safeInsetMm'>,
): { readonly field: keyof RequirementFields; readonly sentence: string } | null {
  const { mode, transparency, maxBytes, packing, safeInsetMm, fileTypes } = demands;
  const canvas = demandedCanvas(demands);
  if (fileTypeFor(demands, true) === null) {
    const able = FILE_KINDS.filter((kind) => canHold(kind, demands)).map(({ type }) => type);
    const what = `${mode === 'grey' ? 'grey' : mode.toUpperCase()}${transparency === 'required' ? ' with transparency' : ''} at this size`;
    return {
      field: 'fileTypes',
      sentence: `${fileTypeWords(fileTypes)} cannot hold ${what}. ${fileTypeWords(able)} can.`,
    };
  }
  const bytes = tiffBytes(canvas.widthPx, canvas.heightPx, mode, transparency === 'required');
  if (maxBytes !== null && packing === 'none' && fileTypes.every((type) => type === 'tiff') && bytes > maxBytes)
    return {
      field: 'maxBytes',
      sentence: `A TIFF of this size that is not packed has ${formatBytes(bytes)}: more than the byte limit.`,
    };
  if (2 * safeInsetMm >= Math.min(canvas.widthMm, canvas.heightMm))
    return { field: 'safeInsetMm', sentence: 'The safe inset leaves nothing of the canvas.' };
  return null;
}
