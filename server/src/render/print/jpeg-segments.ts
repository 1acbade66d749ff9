/** Segments of a JPEG before its picture begins (ITU-T T.81, annex B). `from` is where the marker stands. */
interface Segment {
  readonly marker: number;
  readonly from: number;
  readonly to: number;
}

export function jpegSegments(bytes: Uint8Array): Segment[] {
  const found: Segment[] = [];
  for (let at = 2; at + 4 <= bytes.length && bytes[at] === 0xff;) {
    const marker = bytes[at + 1];
    if (marker === 0xda || marker === 0xd9) break;
    const to = at + 2 + ((bytes[at + 2] << 8) | bytes[at + 3]);
    found.push({ marker, from: at, to });
    at = to;
  }
  return found;
}

const APP0 = 0xe0;
const APP2 = 0xe2;
const COMMENT = 0xfe;
const PROFILE = 'ICC_PROFILE\0';
/** Most bytes of a profile in one segment: its length is 16 bits and counts itself, a name and two numbers. */
const MOST_PROFILE = 65535 - 2 - PROFILE.length - 2;

/** A JPEG with the resolution and the profile that are given, and none of what an encoder says besides. */
export function withPrintSegments(jpeg: Buffer, dpi: number, profile: Buffer): Buffer {
  const kept = jpegSegments(jpeg).filter(({ marker }) => (marker < APP0 || marker > 0xef) && marker !== COMMENT);
  const density = Math.round(dpi);
  const jfif = Buffer.from([0xff, APP0, 0, 16, 0x4a, 0x46, 0x49, 0x46, 0, 1, 2, 1, 0, 0, 0, 0, 0, 0]);
  jfif.writeUInt16BE(density, 12);
  jfif.writeUInt16BE(density, 14);
  const count = Math.ceil(profile.length / MOST_PROFILE);
  const icc = Array.from({ length: count }, (_, i) => {
    const part = profile.subarray(i * MOST_PROFILE, (i + 1) * MOST_PROFILE);
    const head = Buffer.alloc(4);
    head.writeUInt16BE(0xff00 | APP2, 0);
    head.writeUInt16BE(part.length + 2 + PROFILE.length + 2, 2);
    return Buffer.concat([head, Buffer.from(PROFILE, 'latin1'), Buffer.from([i + 1, count]), part]);
  });
  const rest = jpegSegments(jpeg).at(-1)?.to ?? 2;
  return Buffer.concat([
    jpeg.subarray(0, 2),
    jfif,
    ...icc,
    ...kept.map(({ from, to }) => jpeg.subarray(from, to)),
    jpeg.subarray(rest),
  ]);
}

/** What a JPEG says beside its picture: resolution, profile, and whatever else is in it. */
export function jpegSays(jpeg: Buffer): {
  x: number | null;
  y: number | null;
  profile: Buffer | null;
  other: string[];
} {
  const profile: Buffer[] = [];
  const other: string[] = [];
  let [x, y]: [number | null, number | null] = [null, null];
  for (const { marker, from, to } of jpegSegments(jpeg)) {
    const name = jpeg.toString('latin1', from + 4, Math.min(to, from + 18));
    if (marker === APP0 && name.startsWith('JFIF\0')) {
      const unit = jpeg[from + 11];
      const metre = unit === 1 ? 1 / 0.0254 : unit === 2 ? 100 : null;
      if (metre)
        [x, y] = [jpeg.readUInt16BE(from + 12), jpeg.readUInt16BE(from + 14)].map((n) => Math.round(n * metre));
    } else if (marker === APP2 && name.startsWith(PROFILE)) profile.push(jpeg.subarray(from + 18, to));
    else if (marker === COMMENT) other.push('a comment');
    else if (marker >= APP0 && marker <= 0xef) other.push(`segment APP${marker - APP0}`);
  }
  return { x, y, profile: profile.length ? Buffer.concat(profile) : null, other };
}
