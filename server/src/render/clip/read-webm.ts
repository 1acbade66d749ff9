/** Elements that hold others (RFC 9559): segment, cluster, block group, tracks, track. */
const HOLDERS = new Set([0x18538067, 0x1f43b675, 0xa0, 0x1654ae6b, 0xae]);
const TRACK = 0xae;
const TRACK_NUMBER = 0xd7;
const TRACK_TYPE = 0x83;
const CLUSTER_TIME = 0xe7;
const BLOCKS = new Set([0xa3, 0xa1]);
const [VIDEO, SOUND] = [1, 2];
/** Opus comes in packets of this length, s. */
const PACKET = 0.02;

/** What is in a WebM file whose times are in milliseconds, as they are by custom. */
export interface WebmContent {
  /** Pictures, counted. */
  readonly pictures: number;
  /** When the last packet of sound ends, s; 0 without sound. */
  readonly soundSeconds: number;
}

/** A number of variable length (RFC 8794): its first byte's leading zeros tell how many bytes it has. */
function numberAt(bytes: Buffer, at: number, withMark: boolean): { readonly value: number; readonly next: number } {
  const length = Math.clz32(bytes[at]) - 23;
  if (!(length >= 1 && length <= 8) || at + length > bytes.length) throw new RangeError('The file ends in its midst.');
  let value = withMark ? bytes[at] : bytes[at] & (0xff >> length);
  let isUnknown = value === 0xff >> length;
  for (let i = 1; i < length; i++) {
    value = value * 256 + bytes[at + i];
    isUnknown &&= bytes[at + i] === 0xff;
  }
  return { value: !withMark && isUnknown ? Infinity : value, next: at + length };
}

/** Reads what is in a WebM file. @throws RangeError when an element does not end within the file */
export function readWebm(bytes: Buffer): WebmContent {
  const blocks = new Map<number, { count: number; last: number }>();
  const types = new Map<number, number>();
  let [track, clusterTime] = [0, 0];
  const walk = (from: number, to: number): void => {
    let at = from;
    while (at < to) {
      const { value: id, next } = numberAt(bytes, at, true);
      const { value: size, next: content } = numberAt(bytes, next, false);
      const end = size === Infinity ? to : content + size;
      if (end > to) throw new RangeError('The file ends in its midst.');
      if (id === TRACK_NUMBER) track = bytes[end - 1];
      else if (id === TRACK_TYPE) types.set(track, bytes[end - 1]);
      else if (id === CLUSTER_TIME) clusterTime = bytes.readUIntBE(content, Math.min(6, size));
      else if (BLOCKS.has(id)) {
        const { value: number, next: timeAt } = numberAt(bytes, content, false);
        const last = (clusterTime + bytes.readInt16BE(timeAt)) / 1000;
        blocks.set(number, { count: (blocks.get(number)?.count ?? 0) + 1, last });
      } else if (HOLDERS.has(id)) {
        if (id === TRACK) track = 0;
        walk(content, end);
      }
      at = end;
    }
  };
  walk(0, bytes.length);
  const of = (type: number) => [...types].filter(([, one]) => one === type).map(([number]) => blocks.get(number));
  return {
    pictures: of(VIDEO).reduce((sum, one) => sum + (one?.count ?? 0), 0),
    soundSeconds: Math.max(0, ...of(SOUND).map((one) => (one ? one.last + PACKET : 0))),
  };
}
