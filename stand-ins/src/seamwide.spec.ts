import { SEAMWIDE } from './seamwide.js';

interface Sheet {
  readonly width?: number;
  readonly height?: number;
  readonly dpi?: number | null;
  readonly samples?: 4 | 5;
  readonly photometric?: number;
  readonly profile?: string | null;
  /** Four inks and alpha, 0 to 255. */
  readonly at?: (x: number, y: number) => readonly number[];
}
const disc = (x: number, y: number): readonly number[] =>
  (x - 200) ** 2 + (y - 200) ** 2 < 120 ** 2 ? [10, 200, 180, 20, 255] : [0, 0, 0, 0, 0];

/** A sheet of inks as a little-endian TIFF of one strip (TIFF 6.0). */
function sheet({
  width = 400,
  height = 400,
  dpi = 300,
  samples = 5,
  photometric = 5,
  profile = 'prtrCMYK',
  at = disc,
}: Sheet = {}): Uint8Array {
  const pixels = Buffer.alloc(width * height * samples);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) pixels.set(at(x, y).slice(0, samples), (y * width + x) * samples);
  const icc = Buffer.alloc(132);
  icc.write(profile ?? '', 12, 'latin1');
  icc.write('acsp', 36, 'latin1');
  const pieces: Buffer[] = [];
  let end = 8;
  const put = (bytes: Buffer): number => {
    pieces.push(bytes);
    end += bytes.length;
    return end - bytes.length;
  };
  const shorts = (...values: number[]): Buffer => Buffer.from(Uint16Array.from(values).buffer);
  const ratio = Buffer.from(Uint32Array.of(dpi ?? 0, 1).buffer);
  const [strip, bits, density, colours] = [
    put(pixels),
    put(shorts(...Array.from({ length: samples }, () => 8), ...(samples % 2 ? [0] : []))),
    put(ratio),
    put(icc),
  ];
  const [SHORT, LONG, RATIONAL, UNDEFINED] = [3, 4, 5, 7];
  const entries = [
    [256, LONG, 1, width],
    [257, LONG, 1, height],
    [258, SHORT, samples, bits],
    [259, SHORT, 1, 1],
    [262, SHORT, 1, photometric],
    [273, LONG, 1, strip],
    [277, SHORT, 1, samples],
    [278, LONG, 1, height],
    [279, LONG, 1, pixels.length],
    ...(dpi === null
      ? []
      : [
          [282, RATIONAL, 1, density],
          [283, RATIONAL, 1, density],
          [296, SHORT, 1, 2],
        ]),
    ...(samples === 5 ? [[338, SHORT, 1, 2]] : []),
    ...(profile === null ? [] : [[34675, UNDEFINED, icc.length, colours]]),
  ];
  const head = Buffer.alloc(8);
  head.write('II', 0, 'latin1');
  head.writeUInt16LE(42, 2);
  head.writeUInt32LE(end, 4);
  const directory = Buffer.alloc(2 + entries.length * 12 + 4);
  directory.writeUInt16LE(entries.length, 0);
  for (const [i, [tag, type, count, value]] of entries.entries()) {
    directory.writeUInt16LE(tag, 2 + i * 12);
    directory.writeUInt16LE(type, 4 + i * 12);
    directory.writeUInt32LE(count, 6 + i * 12);
    directory.writeUInt32LE(value, 10 + i * 12);
  }
  return Buffer.concat([head, ...pieces, directory]);
}
const said = (of: Sheet = {}): string[] => SEAMWIDE.inspect(sheet(of)).remarks.map(({ text }) => text);

describe('the transfer printer’s own reader', () => {
  it('has nothing to say of a plain disc in four inks', () => {
    expect(said()).toEqual([]);
  });

  it('names what it cannot print, each for its own reason', () => {
    const open = (bytes: Uint8Array): string => SEAMWIDE.inspect(bytes).remarks[0].text;
    expect(open(Buffer.from('no picture'))).toContain('cannot open');
    expect(open(sheet().slice(0, 3000))).toContain('cannot open');
    expect(said({ photometric: 2, samples: 4 }).join()).toContain('four inks');
    expect(said({ dpi: null })).toEqual(['The file does not say how large it is: no resolution.']);
    expect(said({ dpi: 150 }).join()).toContain('150 DPI is too coarse');
    expect(said({ width: 400, height: 5200 }).join()).toContain('does not fit our film');
    expect(said({ profile: null }).join()).toContain('no colour profile');
    expect(said({ profile: 'mntrRGB ' }).join()).toContain('not that of a press');
    expect(said({ samples: 4 }).join()).toContain('nothing clear');
    expect(said({ at: () => [0, 90, 0, 0, 255] }).join()).toContain('box on the shirt');
    expect(said({ at: () => [0, 0, 0, 0, 0] })).toEqual(['The file is empty.']);
    expect(said({ at: (x, y) => [0, 90, 0, 0, Math.min(120, disc(x, y)[4])] }).join()).toContain('half clear');
    const crumbs = (x: number, y: number) => (x % 97 < 3 && y % 97 < 3 ? [0, 90, 0, 0, 255] : disc(x, y));
    expect(said({ at: crumbs }).join()).toMatch(/\d+ pieces smaller than 0\.7 mm/);
  });

  it('adds the inks up, and shows where they are too many', () => {
    const heavy = (most: number) => (x: number, y: number) =>
      y < 150 && disc(x, y)[4] ? [most, most, most, most, 255] : disc(x, y);
    expect(said({ at: heavy(200) })).toEqual([]);
    const { remarks, shown } = SEAMWIDE.inspect(sheet({ at: heavy(220) }));
    expect(remarks.map(({ text }) => text).join()).toContain('Up to 345 % of ink on one spot; our film holds 320 %');
    const { where } = remarks[0];
    expect(where!.y).toBeLessThan(85);
    expect(where!.y + where!.height).toBeGreaterThan(149);
    expect(where!.y + where!.height).toBeLessThan(170);
    expect([shown!.width, shown!.channels]).toEqual([400, 4]);
  });
});
