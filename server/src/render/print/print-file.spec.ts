import { createHash } from 'node:crypto';
import { mkdtemp, rename, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { readPrintFile } from '@kettle/stand-ins';
import { decode } from 'fast-png';
import { compose, rotate, scale, translate, type Affine } from '@kettle/core/geometry';
import { emptyDesign, type FreehandLayer, type Layer, type Stroke } from '@kettle/core/model';
import { freehandLayer, rubOut, shapeLayer } from '@kettle/core/drawing';
import { recipeLayers, type PrintRecipe } from '@kettle/core/recipes';
import sharp from 'sharp';
import { drawLayers } from './draw-layers.js';
import { likeness } from './likeness.js';
import { printFormat } from './formats/formats.js';
import { streamed } from './formats/png.js';
import { encodePrintFile, makePrintFile } from './print-file.js';

describe('a print file', () => {
  let folder = '';
  const files: Record<string, string> = {};
  beforeAll(async () => {
    folder = await mkdtemp(join(tmpdir(), 'kettle-print-'));
    // A red square whose clear surroundings hide white: a careless filter drags a pale rim in.
    const square = Buffer.alloc(200 * 200 * 4, 0);
    for (let y = 0; y < 200; y++)
      for (let x = 0; x < 200; x++)
        square.set(
          x >= 50 && x < 150 && y >= 50 && y < 150 ? [220, 20, 20, 255] : [255, 255, 255, 0],
          (y * 200 + x) * 4,
        );
    const save = async (name: string, bytes: Buffer) => {
      files[name] = join(folder, name);
      await writeFile(files[name], bytes);
    };
    await save(
      'square',
      await sharp(square, { raw: { width: 200, height: 200, channels: 4 } })
        .png()
        .toBuffer(),
    );
    await save(
      'disc',
      Buffer.from(
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100"><circle cx="50" cy="50" r="50" fill="#1f7f7a"/></svg>',
      ),
    );
    await save(
      'corner',
      Buffer.from(
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 60"><rect x="80" y="40" width="20" height="20" fill="#000"/></svg>',
      ),
    );
    const dot = Buffer.alloc(101 * 61 * 4, 0);
    for (let y = 10; y < 17; y++) for (let x = 70; x < 77; x++) dot.set([0, 0, 0, 255], (y * 101 + x) * 4);
    await save(
      'dot',
      await sharp(dot, { raw: { width: 101, height: 61, channels: 4 } })
        .png()
        .toBuffer(),
    );
  });
  afterAll(() => rm(folder, { recursive: true, force: true }));

  const recipe = (
    layers: { sha256: string; map: Affine; opacity?: number }[],
    change: Partial<PrintRecipe> = {},
  ): PrintRecipe => ({
    kind: 'print-file',
    engine: 1,
    widthPx: 300,
    heightPx: 360,
    dpi: 300,
    mode: 'rgb',
    alpha: true,
    requirement: { id: 'tee', revision: 1 },
    layers: layers.map((layer) => ({ opacity: 1, ...layer })),
    ...change,
  });
  const bytesOf = async (one: PrintRecipe): Promise<Buffer> => Buffer.concat(await encodePrintFile(one, files));
  const box = (x: number, y: number, width: number, height: number): Affine => [width, 0, 0, height, x, y];
  const pixel = ({ width, data }: { width: number; data: ArrayLike<number> }, x: number, y: number): number[] =>
    Array.from({ length: 4 }, (_, i) => data[(y * width + x) * 4 + i]);

  it('has the exact pixels, 300 DPI in both axes, a profile and true transparency, for a reader that did not write it', async () => {
    const found = readPrintFile(await bytesOf(recipe([{ sha256: 'disc', map: box(100, 30, 100, 100) }])));
    expect(found).toEqual(
      jasmine.objectContaining({
        width: 300,
        height: 360,
        channels: 4,
        depth: 8,
        palette: false,
        hasProfile: true,
        opaqueCorners: false,
      }),
    );
    expect(found.dpiX).toBeCloseTo(300, 1);
    expect(found.dpiY).toBeCloseTo(300, 1);
    // A disc of 100 px across covers π/4 of 100 × 100 out of 300 × 360.
    expect(found.clear).toBeCloseTo(1 - ((Math.PI / 4) * 10_000) / 108_000, 2);
  });

  it('puts a picture at its own pixels where it belongs, untouched', async () => {
    const png = decode(await bytesOf(recipe([{ sha256: 'square', map: box(20, 40, 200, 200) }])));
    expect(pixel(png, 70, 90)).toEqual([220, 20, 20, 255]);
    expect(pixel(png, 169, 189)).toEqual([220, 20, 20, 255]);
    expect(pixel(png, 69, 90)[3]).toBe(0);
    expect(pixel(png, 170, 190)[3]).toBe(0);
  });

  it('brings no pale rim in when a picture is reduced, and leaves no specks', async () => {
    const { data } = decode(await bytesOf(recipe([{ sha256: 'square', map: box(10, 10, 137, 137) }])));
    for (let i = 0; i < data.length; i += 4) {
      const alpha = data[i + 3];
      if (alpha === 0) continue;
      expect(alpha).toBeGreaterThan(3);
      // The filter overshoots at corners by some levels, and one level of the premultiplied colour is 255 / alpha
      // levels of the colour itself: rounding alone may be off by half of that.
      if (Math.abs(data[i + 1] - 20) > 16 + 128 / alpha)
        fail(`rim of ${data[i]}, ${data[i + 1]}, ${data[i + 2]} at alpha ${alpha}`);
    }
  });

  it('turns a picture about its middle, to within a third of a pixel', async () => {
    for (const [turn, flip, shiftX, shiftY] of [
      [30, 1, 0, 0],
      [-117.3, 1, 0.4, 0.7],
      [90, 1, 0, 0],
      [180, 1, 0.25, 0],
      [12, -1, 0.5, 0.5],
      [0, -1, 0, 0],
    ]) {
      const map = compose(
        translate(150 + shiftX, 170 + shiftY),
        rotate(turn),
        scale(101 * flip, 61),
        translate(-0.5, -0.5),
      );
      const { data, width } = await drawLayers(
        { width: 300, height: 360 },
        [{ sha256: 'dot', map, opacity: 1 }],
        files,
      );
      let [sx, sy, sum] = [0, 0, 0];
      for (let i = 0; i < data.length; i += 4) {
        const a = data[i + 3];
        sum += a;
        sx += a * (((i / 4) % width) + 0.5);
        sy += a * (Math.floor(i / 4 / width) + 0.5);
      }
      const middle = [73.5 / 101, 13.5 / 61];
      const expected = [
        map[0] * middle[0] + map[2] * middle[1] + map[4],
        map[1] * middle[0] + map[3] * middle[1] + map[5],
      ];
      // A picture that is upright or on its side has its edges on whole pixels, so it may be off by half of one each
      // way.
      const allowed = turn % 90 === 0 ? 0.71 : 0.34;
      expect(Math.hypot(sx / sum - expected[0], sy / sum - expected[1]))
        .withContext(`turned ${turn}, mirrored ${flip}`)
        .toBeLessThan(allowed);
    }
  });

  it('lies between pixels when it is asked to', async () => {
    const { data, width } = await drawLayers(
      { width: 60, height: 60 },
      [{ sha256: 'dot', map: [50.5, 0, 0, 30.5, 3.3, 8.45], opacity: 1 }],
      files,
      { subpixel: true },
    );
    let [sx, sy, sum] = [0, 0, 0];
    for (let i = 0; i < data.length; i += 4) {
      const a = data[i + 3];
      sum += a;
      sx += a * (((i / 4) % width) + 0.5);
      sy += a * (Math.floor(i / 4 / width) + 0.5);
    }
    expect(Math.abs(sx / sum - (3.3 + (73.5 / 101) * 50.5))).toBeLessThan(0.1);
    expect(Math.abs(sy / sum - (8.45 + (13.5 / 61) * 30.5))).toBeLessThan(0.1);
  });

  it('draws only what lies on the canvas, in the right place, when art is much larger than it', async () => {
    // 200 px of picture over 3000 px: the red square begins at a quarter.
    const { data, width } = await drawLayers(
      { width: 300, height: 360 },
      [{ sha256: 'square', map: box(-650, -650, 3000, 3000), opacity: 1 }],
      files,
    );
    const alpha = (x: number, y: number) => data[(y * width + x) * 4 + 3];
    expect(alpha(150, 150)).toBe(255);
    expect(alpha(60, 150)).toBe(0);
    // Seen through a soft enlargement, the edge lies at 100 px.
    const edge = Array.from({ length: 300 }, (_, x) => alpha(x, 200)).findIndex((value) => value > 127);
    expect(Math.abs(edge - 100)).toBeLessThan(3);
  });

  it('lays layers on each other with their opacity', async () => {
    const { data, width } = await drawLayers(
      { width: 300, height: 360 },
      [
        { sha256: 'disc', map: box(0, 0, 300, 300), opacity: 1 },
        { sha256: 'square', map: box(50, 50, 200, 200), opacity: 0.5 },
      ],
      files,
    );
    expect([...data.subarray((150 * width + 150) * 4, (150 * width + 150) * 4 + 4)]).toEqual([126, 73, 71, 255]);
  });

  it('is as faint as it is meant to be where nothing lies beneath it', async () => {
    const faint = { sha256: 'disc', map: box(0, 0, 300, 300), opacity: 0.5 };
    const { data, width } = await drawLayers({ width: 300, height: 360 }, [faint], files);
    expect([...data.subarray((150 * width + 150) * 4, (150 * width + 150) * 4 + 4)]).toEqual([31, 127, 122, 128]);
  });

  it('has what an eraser took away taken away, and nothing of what lies beneath', async () => {
    const line = (y: number, size: number, erase: boolean) => ({
      points: Array.from({ length: 40 }, (_, i) => [i * 2.5, y, 0.5]).flat(),
      size,
      hardness: 1,
      opacity: 1,
      hex: '#c2552b',
      erase,
    });
    const drawn: FreehandLayer = {
      kind: 'freehand',
      id: 'f',
      name: 'f',
      opacity: 1,
      hidden: false,
      frame: { x: 0, y: 0, width: 100, height: 100 },
      place: { x: 50, y: 50, width: 100, height: 100, turn: 0, flipX: false, flipY: false },
      strokes: [line(50, 60, false), line(50, 12, true)],
    };
    const design = { ...emptyDesign('Erased', { width: 100, height: 100 }), layers: [drawn] };
    const [layer] = recipeLayers(design, [1, 0, 0, 1, 0, 0], 25.4 * 3, () => '');
    const under = { sha256: 'disc', map: box(0, 0, 300, 300), opacity: 1 };
    const at = (pixels: { width: number; data: ArrayLike<number> }, y: number) => pixel(pixels, 150, y);
    const alone = await drawLayers({ width: 300, height: 300 }, [layer], files);
    expect([at(alone, 110), at(alone, 150)[3]]).toEqual([[194, 85, 43, 255], 0]);
    const both = await drawLayers({ width: 300, height: 300 }, [under, layer], files);
    expect([at(both, 110), at(both, 150)]).toEqual([
      [194, 85, 43, 255],
      [31, 127, 122, 255],
    ]);
  });

  describe('out of which something was rubbed', () => {
    const field = { width: 100, height: 100 };
    const place = { x: 50, y: 50, width: 80, height: 80, turn: 0, flipX: false, flipY: false };
    const line: Stroke = {
      points: Array.from({ length: 40 }, (_, i) => [i * 2.5, 50, 0.5]).flat(),
      size: 12,
      hardness: 1,
      opacity: 1,
      hex: '#000000',
      erase: true,
    };
    const square: Layer = { ...shapeLayer('s', 'rectangle', field, '#c2552b'), place };
    const picture = (assetId: string): Layer => ({
      kind: 'picture',
      id: assetId,
      name: assetId,
      assetId,
      opacity: 1,
      hidden: false,
      place,
    });
    const layersOf = (layers: readonly Layer[]) =>
      recipeLayers({ ...emptyDesign('Rubbed', field), layers }, [1, 0, 0, 1, 0, 0], 25.4 * 3, (id) => id);
    const grid = { width: 300, height: 300 };

    for (const [name, layer, inked] of [
      ['a shape', square, 100],
      ['a picture', picture('square'), 100],
      [
        'a picture at its own pixels',
        { ...picture('square'), place: { ...place, width: 200 / 3, height: 200 / 3 } },
        120,
      ],
      ['a drawing', picture('disc'), 100],
      ['a turned picture', { ...picture('square'), place: { ...place, turn: 30 } }, 120],
      ['freehand lines', freehandLayer('f', { ...line, size: 60, erase: false, hex: '#c2552b' }), 100],
    ] as const)
      it(`shows what lies beneath: ${name}`, async () => {
        const under = { sha256: 'corner', map: box(-1200, -600, 1500, 900), opacity: 1 };
        const [whole] = layersOf([layer]);
        const [rubbed] = layersOf([rubOut(layer, line)]);
        const before = await drawLayers(grid, [whole], files);
        const after = await drawLayers(grid, [rubbed], files);
        // 12 mm around the middle are gone, 18 px to each side; beyond that nothing has changed.
        expect(pixel(before, 150, 150)[3]).toBe(255);
        expect([134, 150, 166].map((y) => pixel(after, 150, y)[3])).toEqual([0, 0, 0]);
        for (const y of [inked, 300 - inked]) expect(pixel(after, 150, y)).toEqual(pixel(before, 150, y));
        const both = await drawLayers(grid, [under, rubbed], files);
        expect(pixel(both, 150, 150)).toEqual([0, 0, 0, 255]);
        // The picture itself, which others are drawn from, is as it was.
        expect(pixel(await drawLayers(grid, [whole], files), 150, 150)[3]).toBe(255);
      });

    it('has a line around what is seen of it alone', async () => {
      const keyline = { hex: '#1f7f7a', width: 3, gap: 0, join: 'round', holes: 'filled' } as const;
      const lined = (one: Layer) => drawLayers(grid, layersOf([{ ...one, keyline }]), files);
      const [whole, rubbed] = [await lined(square), await lined(rubOut(square, line))];
      // Over the gap nothing is filled, and the line runs along its edges: 3 mm are 9 px.
      expect(pixel(whole, 150, 150)).toEqual([194, 85, 43, 255]);
      expect(pixel(rubbed, 150, 150)[3]).toBe(0);
      expect(pixel(rubbed, 150, 136)).toEqual([31, 127, 122, 255]);
      expect(pixel(rubbed, 150, 100)).toEqual([194, 85, 43, 255]);
    });

    for (const type of ['png', 'pdf', 'tiff'] as const)
      it(`is certified as ${type}, and a file in which it is whole is refused`, async () => {
        const layers = (layer: Layer) =>
          layersOf([square, picture('disc')].map((one) => rubOut(one, line)).concat(layer));
        const made = recipe([], {
          layers: layers(rubOut(picture('square'), line)),
          ...(type === 'png' ? {} : { type }),
        });
        const { facts } = await makePrintFile(made, files, join(folder, `rubbed.${type}`));
        expect(facts.likeness)
          .withContext(JSON.stringify(facts.likeness))
          .toEqual(jasmine.objectContaining({ ok: true }));
        const wrong = { ...made, layers: layers(picture('square')) };
        await writeFile(join(folder, 'wrong'), Buffer.concat(await encodePrintFile(wrong, files)));
        const { pixels, ...reader } = await (await printFormat(type)).open(join(folder, 'wrong'), made, files);
        expect((await likeness(made, files, pixels, reader)).ok).toBeFalse();
      });
  });

  it('is the same bytes when made twice', async () => {
    const hash = async () =>
      createHash('sha256')
        .update(
          await bytesOf(
            recipe([
              { sha256: 'square', map: box(11, 22, 133, 133) },
              { sha256: 'disc', map: box(50, 150, 80, 80) },
            ]),
          ),
        )
        .digest('hex');
    expect(await hash()).toBe(await hash());
  });

  it('is grey when grey is demanded, and flat on white when transparency is forbidden', async () => {
    const grey = readPrintFile(
      await bytesOf(recipe([{ sha256: 'disc', map: box(100, 30, 100, 100) }], { mode: 'grey' })),
    );
    expect(grey.channels).toBe(2);
    const flat = decode(await bytesOf(recipe([{ sha256: 'disc', map: box(100, 30, 100, 100) }], { alpha: false })));
    expect(flat.channels).toBe(3);
    expect([...flat.data.subarray(0, 3)]).toEqual([255, 255, 255]);
    const film = readPrintFile(
      await bytesOf(
        recipe([{ sha256: 'disc', map: box(100, 30, 100, 100) }], { alpha: false, mode: 'grey', dpi: 360 }),
      ),
    );
    expect(film.channels).toBe(1);
    expect(film.dpiX).toBeCloseTo(360, 1);
  });

  it('looks the same when it is too large for memory and streamed instead', async () => {
    const one = recipe([
      { sha256: 'disc', map: box(-40, 20, 300, 300) },
      { sha256: 'square', map: box(150, 200, 220, 220), opacity: 0.6 },
    ]);
    const small = decode(await bytesOf(one));
    const large = decode(await streamed(one, files));
    let most = 0;
    for (let i = 0; i < small.data.length; i += 4) {
      most = Math.max(most, Math.abs(small.data[i + 3] - large.data[i + 3]));
      // Colour is seen through its alpha: rounding weighs that much.
      for (let c = 0; c < 3; c++)
        most = Math.max(most, (Math.abs(small.data[i + c] - large.data[i + c]) * small.data[i + 3]) / 255);
    }
    expect(most).toBeLessThanOrEqual(2);
    const huge = readPrintFile(await bytesOf({ ...one, widthPx: 6400, heightPx: 6400, alpha: false }));
    expect([huge.width, huge.height, huge.channels]).toEqual([6400, 6400, 3]);
  });

  it('is read back whole and holds nothing private', async () => {
    const out = join(folder, 'made.png');
    const { facts, sha256 } = await makePrintFile(
      recipe([{ sha256: 'square', map: box(20, 40, 200, 200) }]),
      files,
      out,
    );
    expect(facts).toEqual(
      jasmine.objectContaining({
        fileType: 'png',
        widthPx: 300,
        heightPx: 360,
        pixelsPerMetreX: 11811,
        pixelsPerMetreY: 11811,
        mode: 'rgb',
        bitsPerChannel: 8,
        hasAlpha: true,
        interlaced: false,
        privateData: [],
      }),
    );
    expect(facts.profile).toContain('sRGB');
    expect(sha256).toHaveSize(64);
    await expectAsync(makePrintFile(recipe([]), files, join(folder, 'no', 'such', 'folder.png'))).toBeRejected();
  });

  it('is found alike whatever the art is: fine lines, turned photos, and the part of either that is seen when it is much larger than the canvas', async () => {
    const photo = await sharp({
      create: {
        width: 900,
        height: 600,
        channels: 3,
        background: '#000',
        noise: { type: 'gaussian', mean: 128, sigma: 70 },
      },
    })
      .blur(2)
      .png()
      .toBuffer();
    files['tilted'] = join(folder, 'tilted');
    await writeFile(files['tilted'], await sharp(photo).withMetadata({ orientation: 6 }).jpeg().toBuffer());
    const ART = fileURLToPath(new URL('../../../../demo/artwork/', import.meta.url));
    for (const name of ['barometer-dial', 'isobars-lines']) files[name] = join(ART, `${name}.svg`);
    for (const [sha256, proportion] of [
      ['tilted', 600 / 900],
      ['barometer-dial', 1],
      ['isobars-lines', 3000 / 3750],
    ] as const) {
      for (const [width, turn] of [
        [1000, 0],
        [2300, 0],
        [1300, 37],
        [21_000, 191],
      ] as const) {
        const map = compose(
          translate(500, 600),
          rotate(turn),
          scale(-width, width / proportion),
          translate(-0.5, -0.5),
        );
        const layers = [{ sha256, map, opacity: 1 }];
        const canvas = await drawLayers({ width: 1000, height: 1200 }, layers, files);
        const found = await likeness(recipe([], { widthPx: 1000, heightPx: 1200, layers }), files, canvas);
        expect(found.differing).withContext(`${sha256}, ${width} px wide, turned by ${turn}°`).toBeLessThan(0.001);
        expect(found.ok).withContext(`${sha256}, ${width} px wide, turned by ${turn}°`).toBeTrue();
      }
    }
  });

  it('is compared with a second drawing of the design: alike as it is made, and told where it is not', async () => {
    const noise = await sharp({
      create: {
        width: 400,
        height: 300,
        channels: 3,
        background: '#000',
        noise: { type: 'gaussian', mean: 128, sigma: 40 },
      },
    })
      .blur(4)
      .png()
      .toBuffer();
    files['photo'] = join(folder, 'photo');
    await writeFile(files['photo'], noise);
    const layers: PrintRecipe['layers'] = [
      { sha256: 'photo', map: box(0, 0, 300, 220), opacity: 1 },
      { sha256: 'disc', map: box(60, 100, 180, 180), opacity: 0.7 },
      {
        sha256: 'square',
        map: compose(translate(200, 260), rotate(30), scale(-120, 90), translate(-0.5, -0.5)),
        opacity: 1,
      },
      { sha256: 'corner', map: box(10, 240, 100, 60), opacity: 1, blend: 'multiply' },
    ];
    for (const change of [{}, { alpha: false }, { mode: 'grey' as const }, { widthPx: 900, heightPx: 1080 }]) {
      const { facts } = await makePrintFile(recipe([], { ...change, layers }), files, join(folder, 'alike.png'));
      expect(facts.likeness)
        .withContext(JSON.stringify(change))
        .toEqual(jasmine.objectContaining({ ok: true }));
    }
    // The second look at artwork is shared by the targets that follow: nothing is read again.
    const alike = async () =>
      (await likeness(recipe([], { layers }), files, await drawLayers({ width: 300, height: 360 }, layers, files))).ok;
    expect(await alike()).toBeTrue();
    await rename(files['photo'], join(folder, 'gone'));
    expect(await alike()).toBeTrue();
    await rename(join(folder, 'gone'), files['photo']);
    // Another layer, another place, another colour, a lost edge row: each is told from the file's pixels.
    const whole = recipe([], { layers });
    const { width, height, data } = await drawLayers({ width: 300, height: 360 }, layers, files);
    const judged = (of: PrintRecipe) => likeness(of, files, { width, height, data });
    expect((await judged(whole)).ok).toBeTrue();
    expect((await judged({ ...whole, layers: layers.slice(0, 3) })).ok).toBeFalse();
    expect(
      (
        await judged({
          ...whole,
          layers: [layers[0], { ...layers[1], map: box(66, 106, 180, 180) }, ...layers.slice(2)],
        })
      ).ok,
    ).toBeFalse();
    const full: PrintRecipe['layers'] = [{ sha256: 'photo', map: box(0, 0, 300, 360), opacity: 1 }];
    const covered = await drawLayers({ width: 300, height: 360 }, full, files);
    for (let y = 0; y < 360; y++)
      for (let x = 295; x < 300; x++) (covered.data as Buffer).fill(0, (y * 300 + x) * 4, (y * 300 + x) * 4 + 4);
    const lost = await likeness(recipe([], { layers: full }), files, covered);
    expect(lost.ok).toBeFalse();
    expect(lost.where!.x).toBeGreaterThan(0.95);
    const dull = await drawLayers({ width: 300, height: 360 }, full, files);
    for (let i = 0; i < dull.data.length; i++)
      if (i % 4 < 3) (dull.data as Buffer)[i] = 128 + (dull.data[i] - 128) * 0.8;
    expect((await likeness(recipe([], { layers: full }), files, dull)).mean).toBeGreaterThan(
      (await likeness(recipe([], { layers: full }), files, await drawLayers({ width: 300, height: 360 }, full, files)))
        .mean,
    );
  });
});
