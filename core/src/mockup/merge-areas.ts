import type { AreaMaps } from './maps.js';

/** The pixels of several print areas in row order; a pixel that several share comes once for each, the lowest first. */
export interface MergedAreas extends Pick<AreaMaps, 'count' | 'index' | 'u' | 'v' | 'coverage' | 'detail' | 'along'> {
  /** Number of the print at each entry. */
  readonly print: Uint8Array;
}

/** @param areas maps with the number of their print, from the lowest to the topmost */
export function mergeAreas(areas: readonly { readonly maps: AreaMaps; readonly print: number }[]): MergedAreas {
  if (areas.length === 1) {
    const [{ maps, print }] = areas;
    return { ...maps, print: new Uint8Array(maps.count).fill(print) };
  }
  const count = areas.reduce((sum, { maps }) => sum + maps.count, 0);
  const merged = {
    count,
    index: new Uint32Array(count),
    u: new Uint16Array(count),
    v: new Uint16Array(count),
    coverage: new Uint8Array(count),
    detail: new Uint8Array(count),
    along: new Int8Array(count * 2),
    print: new Uint8Array(count),
  };
  const next = areas.map(() => 0);
  for (let at = 0; at < count; at++) {
    let first = -1;
    for (let k = 0; k < areas.length; k++) {
      const { maps } = areas[k];
      if (next[k] < maps.count && (first < 0 || maps.index[next[k]] < areas[first].maps.index[next[first]])) first = k;
    }
    const { maps, print } = areas[first];
    const from = next[first]++;
    merged.index[at] = maps.index[from];
    merged.u[at] = maps.u[from];
    merged.v[at] = maps.v[from];
    merged.coverage[at] = maps.coverage[from];
    merged.detail[at] = maps.detail[from];
    merged.along[at * 2] = maps.along[from * 2];
    merged.along[at * 2 + 1] = maps.along[from * 2 + 1];
    merged.print[at] = print;
  }
  return merged;
}
