import type { Blank, PrintArea } from '../model/blank.js';
import type { Plane, ReadArea } from './maps.js';

/** A print area of a moving blank: its coverage is a picture of its own. */
export interface MovingArea extends PrintArea {
  readonly cover: string;
}

/** A blank that is a still once per frame. Its files are folders of numbered pictures. */
export interface MovingBlank extends Blank {
  readonly kind: 'moving';
  readonly areas: readonly MovingArea[];
  /** Frames a second. */
  readonly fps: number;
  /** Frames that differ, numbered from 0. */
  readonly frames: number;
  /** To the last frame and back to the first, or from the last straight to the first. */
  readonly play: 'back-and-forth' | 'loop';
  /** The frame that shows the print best. */
  readonly poster: number;
  /** Size of the smaller maps, a share of the picture. */
  readonly scales: { readonly shade: number; readonly shadow: number; readonly uv: number };
  /** `still` when one shadow serves all frames. */
  readonly shadow?: 'still';
}

/** Frames that a moving blank may have. */
export const MOST_FRAMES = 240;

export const isMovingBlank = (blank: Blank): blank is MovingBlank => blank.kind === 'moving';

/** Name of a frame's picture in a folder. */
const inFolder = (folder: string, frame: number): string => `${folder}/${String(frame).padStart(3, '0')}.webp`;

/** One frame of a moving blank as a blank that stands still. */
export function frameOfBlank(blank: MovingBlank, frame: number): Blank {
  const { photo, mask, shade, shadow } = blank.files;
  return {
    ...blank,
    kind: 'still',
    files: {
      photo: inFolder(photo, frame),
      mask: inFolder(mask, frame),
      shade: inFolder(shade, frame),
      shadow: inFolder(shadow, blank.shadow === 'still' ? 0 : frame),
    },
    areas: blank.areas.map((area) => ({
      ...area,
      uv: inFolder(area.uv, frame),
      cover: inFolder(area.cover, frame),
    })),
  };
}

/** A blank as it is shown where nothing moves. */
export const asStill = (blank: Blank): Blank => (isMovingBlank(blank) ? frameOfBlank(blank, blank.poster) : blank);

const filesOfStill = ({ files, areas }: Blank): string[] => [
  ...Object.values(files),
  ...areas.flatMap(({ uv, cover }) => (cover ? [uv, cover] : [uv])),
];

/** Pictures that a manifest names, each once. */
export const filesOfBlank = (blank: Blank): string[] => [
  ...new Set(
    isMovingBlank(blank)
      ? Array.from({ length: blank.frames }, (_, frame) => filesOfStill(frameOfBlank(blank, frame))).flat()
      : filesOfStill(blank),
  ),
];

/** Frames after which a moving blank is as it was. */
export const periodOf = ({ frames, play }: Pick<MovingBlank, 'frames' | 'play'>): number =>
  play === 'loop' ? frames : Math.max(1, 2 * frames - 2);

/** Which frame is shown when a moving blank has played for so many of them, from the first on. */
export function frameAfter(motion: Pick<MovingBlank, 'frames' | 'play'>, played: number): number {
  const period = periodOf(motion);
  const at = ((played % period) + period) % period;
  return at < motion.frames ? at : period - at;
}

/** Where columns, or rows, of a picture lie between the texels of a smaller map; both ends are held. */
function betweenTexels(texels: number, pixels: number) {
  const [first, second, share] = [new Int32Array(pixels), new Int32Array(pixels), new Float32Array(pixels)];
  for (let i = 0; i < pixels; i++) {
    const at = Math.min(texels - 1, Math.max(0, ((i + 0.5) * texels) / pixels - 0.5));
    first[i] = Math.floor(at);
    second[i] = Math.min(texels - 1, first[i] + 1);
    share[i] = at - first[i];
  }
  return { first, second, share };
}

/**
 * Reads the position map of a moving blank's frame: u and v of the small map between its texels' centres, their bytes put
 * together before, and coverage of the other picture.
 * @param uv double height, high bytes above, low bytes below, in the first two channels
 * @param cover linear coverage of the print area in the first channel, as large as the picture
 */
export function readMovingArea(uv: Plane, cover: Plane): ReadArea {
  const { width, height, channels: step, data: covers } = cover;
  const [texels, rows] = [uv.width, uv.height / 2];
  // The small map's numbers put together: u, v one after the other.
  const { data: bytes, channels } = uv;
  const low = rows * texels * channels;
  const joined = new Float32Array(texels * rows * 2);
  for (let i = 0, s = 0; i < joined.length; i += 2, s += channels) {
    joined[i] = bytes[s] * 256 + bytes[low + s];
    joined[i + 1] = bytes[s + 1] * 256 + bytes[low + s + 1];
  }
  const [across, down] = [betweenTexels(texels, width), betweenTexels(rows, height)];
  const room = width * height;
  const [index, us, vs] = [new Uint32Array(room), new Float32Array(room), new Float32Array(room)];
  const found = new Uint8Array(room);
  let count = 0;
  for (let y = 0; y < height; y++) {
    const [upper, under] = [down.first[y] * texels, down.second[y] * texels];
    const shareY = down.share[y];
    for (let x = 0, c = y * width * step; x < width; x++, c += step) {
      const coverage = covers[c];
      if (coverage === 0) continue;
      const [left, right, shareX] = [across.first[x], across.second[x], across.share[x]];
      const [one, two, three, four] = [
        2 * (upper + left),
        2 * (upper + right),
        2 * (under + left),
        2 * (under + right),
      ];
      const topU = joined[one] + (joined[two] - joined[one]) * shareX;
      const topV = joined[one + 1] + (joined[two + 1] - joined[one + 1]) * shareX;
      const lowU = joined[three] + (joined[four] - joined[three]) * shareX;
      const lowV = joined[three + 1] + (joined[four + 1] - joined[three + 1]) * shareX;
      index[count] = y * width + x;
      us[count] = topU + (lowU - topU) * shareY;
      vs[count] = topV + (lowV - topV) * shareY;
      found[count] = coverage;
      count++;
    }
  }
  return { index, us, vs, cover: found, count };
}

/** The same in the form of a still's position map, for who looks at a part of it. */
export function joinedUv(uv: Plane, cover: Plane): Plane {
  const { width, height } = cover;
  const { index, us, vs, cover: covered, count } = readMovingArea(uv, cover);
  const data = new Uint8Array(width * height * 2 * 3);
  const lower = width * height * 3;
  for (let i = 0; i < count; i++) {
    const at = index[i] * 3;
    const [u, v] = [Math.round(us[i]), Math.round(vs[i])];
    data[at] = u >> 8;
    data[at + 1] = v >> 8;
    data[at + 2] = covered[i];
    data[lower + at] = u & 255;
    data[lower + at + 1] = v & 255;
  }
  return { width, height: height * 2, channels: 3, data };
}
