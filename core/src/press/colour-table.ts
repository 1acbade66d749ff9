/** Points of a table along each of red, green and blue. */
export const TABLE_GRID = 33;
const POINTS = TABLE_GRID ** 3;

/**
 * A table from colours to four values: the inks of a press, or how a print looks. `values` are 16 bits each, four a
 * point, red slowest and blue fastest.
 */
export interface ColourTable {
  readonly values: Uint16Array;
}

/** The colours at a table's points, 16 bits a channel, three a point. */
export function tablePoints(): Uint16Array {
  const points = new Uint16Array(POINTS * 3);
  const level = (i: number): number => Math.round((i / (TABLE_GRID - 1)) * 65535);
  let at = 0;
  for (let r = 0; r < TABLE_GRID; r++)
    for (let g = 0; g < TABLE_GRID; g++)
      for (let b = 0; b < TABLE_GRID; b++) {
        points[at++] = level(r);
        points[at++] = level(g);
        points[at++] = level(b);
      }
  return points;
}

/** How a design looks in print, and what it is printed with. */
export interface ProofTables {
  /** Inks, 65535 for all of one: cyan, magenta, yellow, black. */
  readonly inks: ColourTable;
  /** The print as sRGB, and how far it is from the screen: CIEDE2000 × 2570, 65535 at most. */
  readonly seen: ColourTable;
}

/** Levels of the fourth value of {@link ProofTables.seen} per unit of CIEDE2000, once it is 8 bits. */
export const DELTA_LEVELS = 10;

/** A difference that is seen at once, side by side: what is farther than this counts as out of gamut. */
export const OUT_OF_GAMUT = 3;

/** Bytes of two tables one after the other, as they travel. */
export function packProof({ inks, seen }: ProofTables): Uint8Array {
  const bytes = new Uint8Array(POINTS * 16);
  bytes.set(new Uint8Array(inks.values.buffer, inks.values.byteOffset, POINTS * 8), 0);
  bytes.set(new Uint8Array(seen.values.buffer, seen.values.byteOffset, POINTS * 8), POINTS * 8);
  return bytes;
}

/** @throws RangeError when it is not two tables */
export function unpackProof(bytes: Uint8Array): ProofTables {
  if (bytes.byteLength !== POINTS * 16) throw new RangeError('These are not two colour tables.');
  const copy = bytes.slice();
  return {
    inks: { values: new Uint16Array(copy.buffer, 0, POINTS * 4) },
    seen: { values: new Uint16Array(copy.buffer, POINTS * 8, POINTS * 4) },
  };
}
