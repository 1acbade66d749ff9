/**
 * What a test TIFF holds: whole numbers as they are, 8 or 16 bits (or 32-bit floats), one strip, uncompressed (TIFF
 * 6.0).
 */
export interface TestTiff {
  readonly width: number;
  readonly height: number;
  readonly samples: number;
  readonly data: Uint8Array | Uint16Array | Float32Array;
  /** 1 grey, 2 RGB, 5 CMYK, 8 CIELAB. */
  readonly photometric: number;
  readonly icc?: Buffer;
  /** 2 puts each channel into a plane of its own. */
  readonly planar?: 1 | 2;
  /** Alpha as the last sample: 2 is unassociated. */
  readonly extra?: number;
  readonly compression?: number;
  /** Side of tiles instead of strips; the picture is one tile. */
  readonly tile?: number;
}

/** Writes a little-endian TIFF. The data of a planar picture are given plane by plane. */
export function testTiff({
  width,
  height,
  samples,
  data,
  photometric,
  icc,
  planar = 1,
  extra,
  compression = 1,
  tile,
}: TestTiff): Buffer {
  const bits = data.BYTES_PER_ELEMENT * 8;
  const pixels = Buffer.from(data.buffer, data.byteOffset, data.byteLength);
  const pieces: Buffer[] = [Buffer.alloc(8)];
  let at = 8;
  const put = (bytes: Buffer): number => {
    const here = at;
    const padded = Buffer.concat([bytes, Buffer.alloc(bytes.length % 2)]);
    pieces.push(padded);
    at += padded.length;
    return here;
  };
  const shorts = (values: number[]) => Buffer.from(Uint16Array.from(values).buffer);
  const longs = (values: number[]) => Buffer.from(Uint32Array.from(values).buffer);
  const planes = planar === 2 ? samples : 1;
  const begins = put(pixels);
  const offsets = Array.from({ length: planes }, (_, i) => begins + (i * pixels.length) / planes);
  const counts = offsets.map(() => pixels.length / planes);
  const SHORT = 3;
  const LONG = 4;
  const entries: [tag: number, type: number, values: number[]][] = [
    [256, LONG, [tile ?? width]],
    [257, LONG, [tile ?? height]],
    [258, SHORT, Array.from({ length: samples }, () => bits)],
    [259, SHORT, [compression]],
    [262, SHORT, [photometric]],
    ...(tile ? [] : [[273, LONG, offsets] as [number, number, number[]]]),
    [277, SHORT, [samples]],
    ...(tile
      ? []
      : ([
          [278, LONG, [height]],
          [279, LONG, counts],
        ] as [number, number, number[]][])),
    [284, SHORT, [planar]],
    ...(tile
      ? ([
          [322, LONG, [tile]],
          [323, LONG, [tile]],
          [324, LONG, offsets],
          [325, LONG, counts],
        ] as [number, number, number[]][])
      : []),
    ...(extra === undefined ? [] : [[338, SHORT, [extra]] as [number, number, number[]]]),
    [339, SHORT, Array.from({ length: samples }, () => (data instanceof Float32Array ? 3 : 1))],
  ];
  const rows = entries.map(([tag, type, values]) => {
    const row = Buffer.alloc(12);
    row.writeUInt16LE(tag, 0);
    row.writeUInt16LE(type, 2);
    row.writeUInt32LE(values.length, 4);
    const bytes = type === SHORT ? shorts(values) : longs(values);
    if (bytes.length <= 4) bytes.copy(row, 8);
    else row.writeUInt32LE(put(bytes), 8);
    return row;
  });
  if (icc) {
    const row = Buffer.alloc(12);
    row.writeUInt16LE(34675, 0);
    row.writeUInt16LE(7, 2);
    row.writeUInt32LE(icc.length, 4);
    row.writeUInt32LE(put(icc), 8);
    rows.push(row);
  }
  const directory = Buffer.concat([shorts([rows.length]), ...rows, Buffer.alloc(4)]);
  const head = pieces[0];
  head.write('II', 0, 'latin1');
  head.writeUInt16LE(42, 2);
  head.writeUInt32LE(at, 4);
  return Buffer.concat([...pieces, directory]);
}
