import { ProblemError } from '../../floor/basics/problem-error.js';

/** What decides whether a TIFF is read rightly, from its first directory (TIFF 6.0, part 1). */
interface TiffKind {
  readonly bits: number;
  readonly compression: number;
  readonly photometric: number;
  readonly samples: number;
  readonly planar: number;
  readonly format: number;
  readonly tiled: boolean;
  readonly extras: number;
}

const TAGS = {
  bits: 258,
  compression: 259,
  photometric: 262,
  samples: 277,
  planar: 284,
  tiled: 322,
  extras: 338,
  format: 339,
} as const;

/** Null for what is no TIFF, or one whose directory lies beyond its end. */
function kindOf(bytes: Buffer): TiffKind | null {
  const order = bytes.toString('latin1', 0, 4);
  const little = order === 'II*\0';
  if (!little && order !== 'MM\0*') return null;
  const u16 = (at: number): number => (little ? bytes.readUInt16LE(at) : bytes.readUInt16BE(at));
  const u32 = (at: number): number => (little ? bytes.readUInt32LE(at) : bytes.readUInt32BE(at));
  try {
    const found = new Map<number, { first: number; count: number }>();
    const start = u32(4);
    for (let i = 0; i < Math.min(u16(start), 200); i++) {
      const entry = start + 2 + i * 12;
      const [type, count] = [u16(entry + 2), u32(entry + 4)];
      const at = count * (type === 3 ? 2 : 4) <= 4 ? entry + 8 : u32(entry + 8);
      found.set(u16(entry), { first: type === 3 ? u16(at) : u32(at), count });
    }
    const first = (tag: number, otherwise: number): number => found.get(tag)?.first ?? otherwise;
    return {
      bits: first(TAGS.bits, 1),
      compression: first(TAGS.compression, 1),
      photometric: first(TAGS.photometric, 1),
      samples: first(TAGS.samples, 1),
      planar: first(TAGS.planar, 1),
      format: first(TAGS.format, 1),
      tiled: found.has(TAGS.tiled),
      extras: found.get(TAGS.extras)?.count ?? 0,
    };
  } catch {
    return null;
  }
}

/**
 * Kinds of TIFF that the decoder would show wrongly, or not at all: refused with what they are, and what to save
 * instead.
 */
export function refuseTiff(bytes: Buffer): ProblemError | null {
  const kind = kindOf(bytes);
  if (!kind) return null;
  const refuse = (what: string, instead: string): ProblemError =>
    new ProblemError(415, 'tiff-kind', `This is a TIFF ${what}, which is not read here. Save it again ${instead}.`);
  if (kind.compression === 6) return refuse('with JPEG in its old form', 'with LZW compression, or as JPEG');
  if (kind.format === 3 || kind.bits === 32) return refuse('of floating-point numbers', 'with 8 or 16 bits a channel');
  if (kind.photometric === 8 || kind.photometric === 9) return refuse('in Lab colours', 'in RGB or CMYK');
  if (kind.planar === 2 && kind.samples > 1 && kind.tiled)
    return refuse('with its channels apart, in tiles', 'with its channels interleaved');
  if (kind.planar === 2 && kind.samples === 2 && kind.photometric < 2)
    return refuse('of grey with transparency, its channels apart', 'with its channels interleaved');
  return null;
}
