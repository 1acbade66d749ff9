import { execFile } from 'node:child_process';
import { access, mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { decode } from 'fast-png';
import sharp from 'sharp';
import type { Affine } from '@kettle/core/geometry';
import type { FileType, Requirement } from '@kettle/core/model';
import { certify, fileKind, FILE_KINDS } from '@kettle/core/requirement';
import type { PrintRecipe, RecipeLayer } from '@kettle/core/recipes';
import { shippedProfile } from '../../colour/profiles.js';
import { plainProfile } from '../../colour/icc.js';
import { encodePrintFile, makePrintFile } from '../print-file.js';
import { jpegSays } from '../jpeg-segments.js';
import { underLimit } from './under-limit.js';

const run = promisify(execFile);
/** What an outside tool prints, or null where it is not installed. */
async function tool(name: string, ...args: string[]): Promise<string | null> {
  const there = await access(`/usr/bin/${name}`).then(
    () => true,
    () => false,
  );
  return there ? (await run(name, args)).stdout : null;
}

describe('kinds of print files', () => {
  let folder = '';
  const files: Record<string, string> = {};
  beforeAll(async () => {
    folder = await mkdtemp(join(tmpdir(), 'kettle-formats-'));
    const save = async (name: string, bytes: Buffer): Promise<void> => {
      files[name] = join(folder, name);
      await writeFile(files[name], bytes);
    };
    // Waves of colour under a soft round edge.
    const photo = Buffer.alloc(240 * 200 * 4);
    for (let y = 0; y < 200; y++)
      for (let x = 0; x < 240; x++) {
        const edge = Math.min(1, Math.max(0, (96 - Math.hypot(x - 120, y - 100)) / 8));
        photo.set(
          [128 + 90 * Math.sin(x / 17), 128 + 90 * Math.sin(y / 13), 120 + 60 * Math.cos((x + y) / 21), edge * 255],
          (y * 240 + x) * 4,
        );
      }
    await save(
      'formats photo',
      await sharp(photo, { raw: { width: 240, height: 200, channels: 4 } })
        .png()
        .toBuffer(),
    );
    await save(
      'formats badge',
      Buffer.from(
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100"><defs><linearGradient id="g"><stop offset="0" stop-color="#1f7f7a"/><stop offset="1" stop-color="#d9642f"/></linearGradient></defs><circle cx="50" cy="50" r="48" fill="url(#g)"/><path d="M20 60h60v12h-60z" fill="#203040" fill-opacity=".7" stroke="#fff" stroke-width="3"/></svg>',
      ),
    );
  });
  afterAll(() => rm(folder, { recursive: true, force: true }));

  const PHOTO: RecipeLayer = { sha256: 'formats photo', map: [240, 0, 0, 200, 40, 30] as Affine, opacity: 1 };
  const BADGE: RecipeLayer = { sha256: 'formats badge', map: [120, 0, 0, 120, 150, 180] as Affine, opacity: 1 };
  const recipe = (type: FileType, change: Partial<PrintRecipe> = {}): PrintRecipe => ({
    kind: 'print-file',
    engine: 1,
    widthPx: 300,
    heightPx: 360,
    dpi: 300,
    ...(type === 'png' ? {} : { type }),
    mode: 'rgb',
    alpha: fileKind(type).clear.includes(change.mode ?? 'rgb'),
    layers: type === 'svg' ? [BADGE] : [PHOTO, BADGE],
    requirement: { id: 'r', revision: 1 },
    ...change,
  });
  const CMYK = { mode: 'cmyk', conversion: { profile: null, intent: 'relative', blackPoint: true } } as const;
  const made = async (name: string, one: PrintRecipe) => {
    const out = join(folder, `${name}.${fileKind(one.type ?? 'png').extension}`);
    return { out, ...(await makePrintFile(one, files, out)) };
  };
  const demands = (one: PrintRecipe): Requirement => ({
    id: 'r',
    revision: 1,
    channel: 'Quillmere',
    name: 'Any',
    product: '',
    width: 300,
    height: 360,
    unit: 'px',
    dpi: 300,
    mode: one.mode,
    transparency: one.alpha ? 'required' : 'forbidden',
    fileTypes: [one.type ?? 'png'],
    maxBytes: null,
    sizeRule: 'exact',
    safeInsetMm: 0,
    bleedMm: one.bleedMm,
    placement: { rule: 'same-size', anchor: 'top', scale: 1, offsetX: 0, offsetY: 0 },
    colourways: [],
    note: '',
  });

  it('are all written, opened by another library, alike the design, and as demanded', async () => {
    for (const { type, modes, clear } of FILE_KINDS)
      for (const mode of modes)
        for (const alpha of clear.includes(mode) ? [true, false] : [false]) {
          const one = recipe(type, { ...(mode === 'cmyk' ? CMYK : { mode }), alpha });
          const { facts } = await made(`${type}-${mode}-${alpha}`, one);
          const missed = certify(facts, demands(one)).filter((row) => !row.ok);
          expect(missed)
            .withContext(`${type} ${mode} ${alpha ? 'with' : 'without'} transparency`)
            .toEqual([]);
          expect(facts.readBy!.reader).not.toBe(facts.readBy!.writer);
        }
  });

  it('have the same bytes each time', async () => {
    for (const { type, modes } of FILE_KINDS) {
      const one = recipe(type, modes.includes('cmyk') ? { ...CMYK, alpha: true } : {});
      const [first, second] = [await encodePrintFile(one, files), await encodePrintFile(one, files)];
      expect(Buffer.compare(Buffer.concat(first), Buffer.concat(second)))
        .withContext(type)
        .toBe(0);
    }
  });

  it('are what outside tools say they are: size, resolution in both axes, profile, alpha, and nothing besides', async () => {
    const tiff = await made('outside', recipe('tiff', { ...CMYK, alpha: true }));
    const said = await tool('tiffinfo', tiff.out);
    if (said !== null) {
      for (const words of [
        'Image Width: 300 Image Length: 360',
        'Resolution: 300, 300 pixels/inch',
        'Photometric Interpretation: separated',
        'unassoc-alpha',
        'Samples/Pixel: 5',
        'Compression Scheme: LZW',
        'Predictor: horizontal differencing',
      ])
        expect(said).toContain(words);
      expect(said).not.toMatch(/Software|Date|Artist|Copyright|Description/);
    }
    for (const type of ['png', 'jpeg', 'webp', 'tiff'] as const) {
      const { out } = await made('seen', recipe(type));
      const everything = await tool('exiftool', '-G', '-s', out);
      if (everything !== null) {
        const exif = everything.replace(/^\[(?:ICC_Profile|ExifTool)\].*$|^\[File\]\s+File.*$/gm, '');
        expect(exif)
          .withContext(type)
          .toMatch(/ImageWidth\s*: 300/);
        expect(exif)
          .withContext(type)
          .toMatch(/ImageHeight\s*: 360/);
        expect(exif)
          .withContext(type)
          .not.toMatch(/Software|Date|Comment|Artist|Creator|GPS/);
        if (type === 'jpeg' || type === 'webp' || type === 'tiff') {
          expect(exif)
            .withContext(type)
            .toMatch(/XResolution\s*: 300/);
          expect(exif)
            .withContext(type)
            .toMatch(/YResolution\s*: 300/);
        } else
          expect(exif)
            .withContext(type)
            .toMatch(/PixelsPerUnitX\s*: 11811/);
      }
      const identified = type === 'webp' ? null : await tool('identify', out);
      if (identified !== null) expect(identified).withContext(type).toContain('300x360');
    }
    const pdf = await made('outside', recipe('pdf', { bleedMm: 3 }));
    const boxes = await tool('pdfinfo', '-box', pdf.out);
    if (boxes !== null) {
      // 300 px at 300 DPI are an inch, 72 points; 3 mm are 8.5 points.
      expect(boxes).toMatch(/MediaBox:\s+0\.00\s+0\.00\s+72\.00\s+86\.40/);
      expect(boxes).toMatch(/TrimBox:\s+8\.50\s+8\.50\s+63\.50\s+77\.90/);
      expect(boxes).not.toMatch(/Producer|Creator|Title|CreationDate/);
    }
    const fonts = await tool('pdffonts', pdf.out);
    if (fonts !== null) expect(fonts.trim().split('\n').length).toBe(2);
    const images = await tool('pdfimages', '-list', pdf.out);
    // The photo at its own pixels and its mask; the badge stays outlines.
    if (images !== null) expect(images).toMatch(/240\s+200/);
  });

  it('embed the very profile that was chosen', async () => {
    const press = await shippedProfile();
    const { out } = await made('profile', recipe('tiff', { ...CMYK, alpha: false }));
    expect(Buffer.compare((await sharp(out).metadata()).icc!, press)).toBe(0);
    const jpeg = await made('profile', recipe('jpeg'));
    const srgb = await plainProfile('rgb');
    expect(Buffer.compare(jpegSays(await readFile(jpeg.out)).profile!, srgb)).toBe(0);
    const webp = await made('profile', recipe('webp'));
    expect(Buffer.compare((await sharp(webp.out).metadata()).icc!, srgb)).toBe(0);
    expect((await readFile((await made('profile', recipe('pdf'))).out)).length).toBeGreaterThan(1000);
  });

  it('are laid on the chosen ground where they have no transparency, and keep under a byte limit', async () => {
    const jpeg = await made('ground', recipe('jpeg', { ground: '#ffcc00' }));
    const { data, info } = await sharp(jpeg.out).raw().toBuffer({ resolveWithObject: true });
    expect(Math.hypot(data[0] - 255, data[1] - 204, data[2])).toBeLessThan(6);
    expect(info.channels).toBe(3);
    const full = jpeg.facts.bytes;
    const small = await made('limit', recipe('jpeg', { maxBytes: Math.round(full * 0.6) }));
    expect(small.facts.bytes).toBeLessThanOrEqual(Math.round(full * 0.6));
    expect(small.facts.bytes).toBeGreaterThan(full * 0.3);
    // What cannot be kept is told by the certificate, and not by a file that nobody can look at.
    const none = await made('none', recipe('jpeg', { maxBytes: 900 }));
    const missed = certify(none.facts, { ...demands(recipe('jpeg')), maxBytes: 900 }).filter((row) => !row.ok);
    expect(missed.map((row) => row.demand)).toEqual(['File size']);
  });

  it('find the best quality under a limit, in few tries', async () => {
    let tries = 0;
    const encode = async (quality: number): Promise<Buffer> => {
      tries++;
      return Buffer.alloc(quality * 10);
    };
    expect((await underLimit(encode, undefined)).quality).toBe(95);
    expect((await underLimit(encode, 714)).quality).toBe(71);
    expect((await underLimit(encode, 100)).quality).toBe(40);
    expect(tries).toBeLessThan(14);
  });

  it('are made mirrored where a transfer needs it, and outlines stay outlines', async () => {
    const mirrored = recipe('png', {
      layers: [{ sha256: 'formats badge', map: [-120, 0, 0, 120, 150, 180] as Affine, opacity: 1 }],
    });
    const { out } = await made('mirrored', mirrored);
    const png = decode(await readFile(out));
    const alpha = (x: number, y: number): number => png.data[(y * png.width + x) * 4 + 3];
    expect([alpha(90, 240) > 0, alpha(210, 240) > 0]).toEqual([true, false]);

    const svg = (await readFile((await made('outlines', recipe('svg'))).out)).toString('utf8');
    expect(svg).toContain('<circle');
    expect(svg).toContain('width="25.4mm" height="30.48mm"');
    expect(svg).not.toContain('<image');
    // Two drawings with the same names for their gradients keep them apart.
    const twice = (
      await readFile((await made('twice', recipe('svg', { layers: [BADGE, { ...BADGE, opacity: 0.5 }] }))).out)
    ).toString('utf8');
    expect(new Set([...twice.matchAll(/ id="([^"]+)"/g)].map(([, id]) => id)).size).toBe(2);
    await expectAsync(
      makePrintFile(recipe('svg', { layers: [PHOTO] }), files, join(folder, 'no.svg')),
    ).toBeRejectedWithError(/outlines alone/);
  });

  it('compare what they show with the design: a file of another design is not alike', async () => {
    const { likeness } = await import('../likeness.js');
    const { printFormat } = await import('./formats.js');
    for (const type of ['tiff', 'jpeg', 'webp', 'pdf'] as const) {
      const { out } = await made('other', recipe(type, { layers: [BADGE] }));
      const { pixels } = await (await printFormat(type)).open(out, recipe(type), files);
      expect((await likeness(recipe(type), files, pixels)).ok)
        .withContext(type)
        .toBeFalse();
    }
  });
});
