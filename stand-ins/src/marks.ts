import { encode } from 'fast-png';

/** A place of a file, px. */
export interface Place {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** What this print shop would have mended, in its own words. */
export interface Remark {
  readonly text: string;
  readonly where: Place | null;
}

/** A patch of connected marks. */
export interface Patch extends Place {
  readonly area: number;
}

/** A picture that places are shown of. */
export interface Shown {
  readonly data: ArrayLike<number>;
  /** 1 or 3 colours, with alpha as the last where it has any. */
  readonly channels: number;
  readonly width: number;
  readonly height: number;
}

/** Pixels that hold ink, and those of them that are half clear on all sides: the soft edge of an outline is no haze. */
export function hazeOf(alpha: Uint8Array, width: number): { readonly ink: number; readonly haze: number } {
  const isHaze = (at: number): boolean => alpha[at] > 24 && alpha[at] < 230;
  let [ink, haze] = [0, 0];
  for (let at = 0; at < alpha.length; at++) {
    if (alpha[at] > 24) ink++;
    if (isHaze(at) && isHaze(at - 1) && isHaze(at + 1) && isHaze(at - width) && isHaze(at + width)) haze++;
  }
  return { ink, haze };
}

/** Patches of marks that touch, with their boxes. */
export function patchesOf(marks: Uint8Array, width: number, height: number): Patch[] {
  const seen = new Uint8Array(marks.length);
  const patches: Patch[] = [];
  const stack: number[] = [];
  for (let start = 0; start < marks.length; start++) {
    if (!marks[start] || seen[start]) continue;
    let [left, right, top, bottom, area] = [width, 0, height, 0, 0];
    stack.push(start);
    seen[start] = 1;
    while (stack.length) {
      const at = stack.pop()!;
      const [x, y] = [at % width, Math.floor(at / width)];
      area++;
      left = Math.min(left, x);
      right = Math.max(right, x);
      top = Math.min(top, y);
      bottom = Math.max(bottom, y);
      for (let dy = -1; dy <= 1; dy++)
        for (let dx = -1; dx <= 1; dx++) {
          const [nx, ny] = [x + dx, y + dy];
          if (nx < 0 || ny < 0 || nx >= width || ny >= height) continue;
          const next = ny * width + nx;
          if (!marks[next] || seen[next]) continue;
          seen[next] = 1;
          stack.push(next);
        }
    }
    patches.push({ x: left, y: top, width: right - left + 1, height: bottom - top + 1, area });
  }
  return patches;
}

/** A place with a little room around it. */
export function around({ x, y, width, height }: Place, perMm: number, most: number, tall: number): Place {
  const room = Math.round(perMm);
  const [left, top] = [Math.max(0, x - room), Math.max(0, y - room)];
  return {
    x: left,
    y: top,
    width: Math.min(most, x + width + room) - left,
    height: Math.min(tall, y + height + room) - top,
  };
}

/** Longest side of the picture of a place, px. */
const SHOWN = 480;

/** A place of the file on grey card with a red frame, as a PNG. */
export function pictureOfPlace({ data, channels, width, height }: Shown, where: Place): Uint8Array {
  const margin = Math.round(Math.max(where.width, where.height) * 0.15) + 4;
  const [x, y] = [Math.max(0, where.x - margin), Math.max(0, where.y - margin)];
  const wide = Math.min(width, where.x + where.width + margin) - x;
  const tall = Math.min(height, where.y + where.height + margin) - y;
  const scale = Math.min(1, SHOWN / Math.max(wide, tall));
  const [w, h] = [Math.max(1, Math.round(wide * scale)), Math.max(1, Math.round(tall * scale))];
  const out = new Uint8Array(w * h * 3);
  const colours = Math.min(3, channels);
  for (let j = 0; j < h; j++)
    for (let i = 0; i < w; i++) {
      const [px, py] = [x + Math.min(wide - 1, Math.floor(i / scale)), y + Math.min(tall - 1, Math.floor(j / scale))];
      const at = (py * width + px) * channels;
      const alpha = channels === 4 || channels === 2 ? data[at + channels - 1] / 255 : 1;
      const edge =
        Math.abs(px - where.x) <= 1 / scale ||
        Math.abs(px - where.x - where.width) <= 1 / scale ||
        Math.abs(py - where.y) <= 1 / scale ||
        Math.abs(py - where.y - where.height) <= 1 / scale;
      const framed =
        edge &&
        px >= where.x - 2 &&
        px <= where.x + where.width + 2 &&
        py >= where.y - 2 &&
        py <= where.y + where.height + 2;
      for (let c = 0; c < 3; c++)
        out[(j * w + i) * 3 + c] = framed
          ? [200, 40, 30][c]
          : Math.round(data[at + (colours === 3 ? c : 0)] * alpha + 140 * (1 - alpha));
    }
  return encode({ width: w, height: h, data: out, channels: 3, depth: 8 });
}
