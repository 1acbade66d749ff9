import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { crc32 } from '@kettle/core/raster';
import sharp from 'sharp';
import { ProblemError } from '../../floor/basics/problem-error.js';
import { testTiff } from '../../testing/tiff-writer.js';
import { inspect, type Inspection } from './inspect.js';
import { decodeRaster, drawWholeSvg } from './source.js';
import { plainDrawing } from './svg-styles.js';

describe('a file that comes in', () => {
  let folder = '';
  beforeAll(async () => {
    folder = await mkdtemp(join(tmpdir(), 'kettle-inspect-'));
  });
  afterAll(() => rm(folder, { recursive: true, force: true }));

  async function look(bytes: Buffer, name = 'file'): Promise<Inspection> {
    const path = join(folder, name);
    await writeFile(path, bytes);
    return inspect(path);
  }
  const refusal = async (bytes: Buffer): Promise<{ code: string; sentence: string }> =>
    look(bytes).then(
      () => ({ code: 'accepted', sentence: '' }),
      (error: unknown) =>
        error instanceof ProblemError
          ? { code: error.code, sentence: error.message }
          : { code: String(error), sentence: '' },
    );
  const art = (channels: 3 | 4 = 4) =>
    sharp({ create: { width: 40, height: 30, channels, background: { r: 250, g: 40, b: 30, alpha: 1 } } });
  const onClear = () =>
    sharp({ create: { width: 80, height: 60, channels: 4, background: { r: 0, g: 0, b: 0, alpha: 0 } } });

  it('is measured: size, DPI, transparency, ink', async () => {
    const png = await onClear()
      .composite([{ input: await art().png().toBuffer(), left: 20, top: 15 }])
      .withMetadata({ density: 300 })
      .png()
      .toBuffer();
    const { facts, mode } = await look(png);
    expect(mode).toBe('RGB');
    expect(facts).toEqual(
      jasmine.objectContaining({
        width: 80,
        height: 60,
        dpi: 300,
        hasAlpha: true,
        opaque: false,
        flatBorder: null,
        vector: false,
        format: 'PNG',
        conversions: [],
      }),
    );
    expect(facts.inkBox).toEqual({ x: 0.25, y: 0.25, width: 0.5, height: 0.5 });
    expect(facts.inks[0].hex).toBe('#fa281e');
  });

  it('shows its white box', async () => {
    const jpeg = await art(3)
      .extend({ top: 20, bottom: 20, left: 20, right: 20, background: '#fff' })
      .jpeg({ quality: 80 })
      .toBuffer();
    expect((await look(jpeg)).facts).toEqual(jasmine.objectContaining({ opaque: true, flatBorder: '#ffffff' }));
  });

  it('may be 16-bit, palette, grey, interlaced, WebP or TIFF, and what is converted is said', async () => {
    const sixteen = await look(await art().toColourspace('rgb16').png().toBuffer());
    expect(sixteen.facts.conversions.join()).toContain('from 16 to 8 bits');
    const palette = await look(await art().png({ palette: true }).toBuffer());
    expect(palette.mode).toBe('palette');
    const grey = await look(await art(3).toColourspace('b-w').png().toBuffer());
    expect(grey.mode).toBe('grey');
    expect((await look(await art().png({ progressive: true }).toBuffer())).facts.width).toBe(40);
    expect((await look(await art().webp({ lossless: true }).toBuffer())).facts.format).toBe('WEBP');
    expect((await look(await art().tiff({ compression: 'lzw' }).toBuffer())).facts.format).toBe('TIFF');
  });

  it('in CMYK or a wide profile is converted to sRGB, with its colours kept', async () => {
    const cmyk = await look(
      await art(3).toColourspace('cmyk').withIccProfile('cmyk').jpeg({ quality: 100 }).toBuffer(),
    );
    expect(cmyk.mode).toBe('CMYK');
    expect(cmyk.facts.conversions.join()).toMatch(/Converted from CMYK/);
    const wide = await look(
      await sharp({ create: { width: 9, height: 9, channels: 3, background: '#30b040' } })
        .withIccProfile('p3')
        .png()
        .toBuffer(),
    );
    expect(wide.facts.conversions.join()).toMatch(/Converted from .*P3.* to sRGB/);
    // The same green, there and back, within rounding.
    const [r, g, b] = [1, 3, 5].map((i) => parseInt(wide.facts.inks[0].hex.slice(i, i + 2), 16));
    expect(Math.abs(r - 0x30) + Math.abs(g - 0xb0) + Math.abs(b - 0x40)).toBeLessThan(9);
  });

  it('that moves is taken by its first picture, and that is said', async () => {
    const frames = await sharp([await art().png().toBuffer(), await art().negate({ alpha: false }).png().toBuffer()], {
      join: { animated: true },
    })
      .webp({ loop: 0 })
      .toBuffer();
    const { facts } = await look(frames);
    expect([facts.width, facts.height]).toEqual([40, 30]);
    expect(facts.conversions.join()).toContain('Animated');
  });

  it('is judged by its bytes, whatever its name says', async () => {
    expect((await look(await art().png().toBuffer(), 'holiday.jpg')).facts.format).toBe('PNG');
    expect((await refusal(Buffer.from('%PDF-1.7 not a picture at all'))).code).toBe('not-a-picture');
    expect((await look(await art(3).gif().toBuffer(), 'still.png')).facts.format).toBe('GIF');
    expect((await refusal(await art(3).avif().toBuffer())).code).toBe('not-taken');
  });

  it('may be a packed SVG, and a packed anything else is called what it is', async () => {
    const svg = Buffer.from(
      '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 30 20"><text y="9" font-family="Drizzle">Fog</text></svg>',
    );
    const { facts } = await look(gzipSync(svg), 'art.svgz');
    expect(facts).toEqual(
      jasmine.objectContaining({ vector: true, width: 30, height: 20, format: 'SVG', liveText: ['Drizzle'] }),
    );
    expect((await refusal(gzipSync(Buffer.from('letters')))).sentence).toContain('without an SVG in it');
    expect((await refusal(gzipSync(Buffer.alloc(80_000_000)))).code).toBe('too-many-bytes');
    expect((await refusal(gzipSync(svg).subarray(0, 40))).code).toBe('damaged');
  });

  it('as TIFF is read rightly or refused for what it is, never shown wrongly', async () => {
    const size = { width: 16, height: 16 };
    const planes = (...values: number[]) =>
      Uint8Array.from({ length: 256 * values.length }, (_, i) => values[Math.floor(i / 256)]);
    const pixels = async (bytes: Buffer) => [...(await decodeRaster(bytes)).data.subarray(0, 4)];
    expect(
      await pixels(testTiff({ ...size, samples: 3, photometric: 2, planar: 2, data: planes(200, 30, 90) })),
    ).toEqual([200, 30, 90, 255]);
    const kinds: [Parameters<typeof testTiff>[0], RegExp][] = [
      [
        { ...size, samples: 2, photometric: 1, planar: 2, extra: 2, data: planes(200, 128) },
        /grey with transparency, its channels apart/,
      ],
      [{ ...size, samples: 3, photometric: 6, compression: 6, data: planes(1, 2, 3) }, /JPEG in its old form/],
      [{ ...size, samples: 3, photometric: 2, data: new Float32Array(768).fill(0.5) }, /floating-point/],
      [{ ...size, samples: 3, photometric: 8, data: planes(100, 20, 20) }, /Lab colours/],
      [
        { ...size, samples: 3, photometric: 2, planar: 2, tile: 16, data: planes(200, 30, 90) },
        /channels apart, in tiles/,
      ],
    ];
    for (const [kind, words] of kinds) {
      const told = await refusal(testTiff(kind));
      expect(told.code).withContext(words.source).toBe('tiff-kind');
      expect(told.sentence).toMatch(words);
      expect(told.sentence).not.toMatch(/damaged/);
    }
    const whole = testTiff({ ...size, samples: 3, photometric: 2, data: planes(1, 2, 3) });
    const half = await refusal(whole.subarray(0, whole.length / 2));
    expect(half.code).toBe('truncated');
    expect(half.sentence).toContain('TIFF');
  });

  it('is refused with a clear sentence when empty, cut off or damaged', async () => {
    const noise = await sharp({
      create: {
        width: 300,
        height: 300,
        channels: 3,
        background: '#000',
        noise: { type: 'gaussian', mean: 128, sigma: 40 },
      },
    })
      .png()
      .toBuffer();
    expect((await refusal(Buffer.alloc(0))).sentence).toContain('0 bytes');
    expect(['truncated', 'damaged']).toContain((await refusal(noise.subarray(0, noise.length / 2))).code);
    const jpeg = await sharp(noise).jpeg().toBuffer();
    expect(['truncated', 'damaged']).toContain((await refusal(jpeg.subarray(0, jpeg.length / 3))).code);
    const spoilt = Buffer.from(noise);
    spoilt.fill(0x55, 3000, 9000);
    expect(['truncated', 'damaged']).toContain((await refusal(spoilt)).code);
  });

  it('that claims 60,000 × 60,000 pixels is never opened', async () => {
    const header = Buffer.alloc(25);
    header.writeUInt32BE(13, 0);
    header.write('IHDR', 4, 'latin1');
    header.writeUInt32BE(60_000, 8);
    header.writeUInt32BE(60_000, 12);
    header.set([8, 6, 0, 0, 0], 16);
    header.writeUInt32BE(crc32(header.subarray(4, 21)), 21);
    const bomb = Buffer.concat([
      Buffer.from([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10]),
      header,
      Buffer.from([
        0, 0, 0, 0, 0x49, 0x44, 0x41, 0x54, 0x35, 0xaf, 0x06, 0x1e, 0, 0, 0, 0, 0x49, 0x45, 0x4e, 0x44, 0xae, 0x42,
        0x60, 0x82,
      ]),
    ]);
    const { code, sentence } = await refusal(bomb);
    expect(code).toBe('too-many-pixels');
    expect(sentence).toContain('300 million');
  });
});

describe('a drawing whose styles are those of web pages', () => {
  const drawing = (body: string, css = ''): Buffer =>
    Buffer.from(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100"><style>${css}</style>${body}</svg>`);
  const rect = (style: string): string => `<rect width="100" height="100" style="${style}"/>`;

  it('is drawn from a file of its own only where renderers differ', async () => {
    expect(await plainDrawing(drawing('<rect class="a" width="9" height="9"/>', '.a{fill:#136}'))).toEqual({
      text: null,
      told: [],
    });
    const { text } = await plainDrawing(drawing(rect('fill:var(--c)'), ':root{--c:#123456}'));
    expect(text).toContain('fill:#123456');
    expect(text).not.toContain('var(');
  });

  it('says what could not be followed', async () => {
    const told = async (body: string) => (await plainDrawing(drawing(body))).told.join(' ');
    expect(await told(rect('fill:oklch(0.6 0.2 30)'))).toContain('save them as hex');
    expect(await told(rect('stroke-width:calc(1px + 2px)'))).toContain('calculations');
    expect(await told(rect('filter:grayscale(1)'))).toContain('filters');
    expect(await told(rect('transform:perspective(20px) rotateX(3deg)'))).toContain('transform');
    expect(await told('<use href="#a" style="clip-path:circle(3px)"/>')).toContain('clips');
    expect(
      await told('<text style="transform:rotate(9deg);transform-origin:center;transform-box:fill-box">a</text>'),
    ).toContain('middle');
  });

  it('leads nowhere outside, and grows no further than it may, whatever its variables say', async () => {
    const outside = await plainDrawing(drawing(rect('fill:var(--a)(x.svg#y)'), ':root{--a:url}'));
    expect(outside.text ?? '').not.toContain('x.svg');
    // Each variable is the one before it, twice: with something in it, and with nothing.
    for (const first of ['red', '']) {
      const chain = Array.from({ length: 60 }, (_, n) => `--v${n + 1}:var(--v${n})var(--v${n});`).join('');
      const { text } = await plainDrawing(drawing(rect('fill:var(--v60)'), `:root{--v0:${first};${chain}}`));
      expect((text ?? '').length).toBeLessThan(20_000);
    }
    const round = await plainDrawing(drawing(rect('fill:var(--a, #00ff00)'), ':root{--a:var(--b);--b:var(--a)}'));
    expect(round.text).toContain('fill:#00ff00');
  });

  it('shows pictures of a wide gamut within it in their own colours', async () => {
    const wide = await sharp({ create: { width: 8, height: 8, channels: 3, background: '#20c040' } })
      .withIccProfile('p3')
      .png()
      .toBuffer();
    const svg = drawing(`<image width="100" height="100" href="data:image/png;base64,${wide.toString('base64')}"/>`);
    const { text } = await plainDrawing(svg);
    const wanted = await sharp(wide).toColourspace('srgb').raw().toBuffer();
    const { data } = await drawWholeSvg(Buffer.from(text!), 20, 20);
    const at = (10 * 20 + 10) * 4;
    for (let k = 0; k < 3; k++) expect(Math.abs(data[at + k] - wanted[k])).toBeLessThan(3);
    // One that is cut short keeps nobody from the rest of the drawing.
    const short = drawing(
      `<image width="100" height="100" href="data:image/png;base64,${wide.subarray(0, 60).toString('base64')}"/>${rect('fill:var(--c, red)')}`,
    );
    expect((await plainDrawing(short)).text).toContain('fill:red');
    // As its numbers alone are read it would be another colour.
    const plain = await drawWholeSvg(svg, 20, 20);
    expect(Math.max(...[0, 1, 2].map((k) => Math.abs(plain.data[at + k] - wanted[k])))).toBeGreaterThan(3);
  });
});
