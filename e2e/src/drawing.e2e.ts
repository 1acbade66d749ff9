import { SELLER } from '@kettle/server';
import { createReadStream } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { artworkPath } from '@kettle/demo';
import type { LayerPlace } from '@kettle/core/geometry';
import { BLEND_MODES } from '@kettle/core/raster';
import { PLAIN_LETTERING } from '@kettle/core/text';
import {
  emptyDesign,
  SAME_SIZE_TOP,
  twoColours,
  type DesignDocument,
  type Layer,
  type Requirement,
} from '@kettle/core/model';
import { freehandLayer, graphicLayer, rubOut, shapeLayer, strokeOnLayer } from '@kettle/core/drawing';
import { layoutTarget, seenBy, textLayer } from '@kettle/core/document';
import type { RunningServer } from '@kettle/server';
import { decode } from 'fast-png';
import { expect, test } from './kettle.js';
import { difference, ownDrawing } from './own-drawing.js';

const place = (x: number, y: number, width: number, height: number, turn = 0): LayerPlace => ({
  x,
  y,
  width,
  height,
  turn,
  flipX: false,
  flipY: false,
});

/** Makes a design's print files and reads them back. */
async function printFiles(
  { house }: RunningServer,
  document: DesignDocument,
): Promise<{ requirement: Requirement; png: ReturnType<typeof decode> }[]> {
  const design = await house.designs.add(SELLER, document);
  const ids = document.targets.map((target) => target.requirementId);
  const job = await house.outputs.askForPrintFiles(SELLER, design.id, ids);
  await expect.poll(async () => (await house.outputs.job(SELLER, job.id)).state).toBe('done');
  const files = await house.outputs.printFilesOf(SELLER, design.id);
  // The second drawing, by another path and with other filters, is no judge that refuses what is right.
  for (const { certificate } of files)
    expect(certificate.find(({ demand }) => demand === 'Picture')).toEqual(expect.objectContaining({ ok: true }));
  return Promise.all(
    ids.map(async (id) => ({
      requirement: await house.requirements.demand(SELLER.owner, id),
      png: decode(await readFile(await house.blobs.localPath(files.find((file) => file.requirementId === id)!.sha256))),
    })),
  );
}

const requirement = (name: string, width: number, height: number, rule: 'fit' | 'same-size') => ({
  channel: 'Larkpost Market',
  name,
  product: 'Test',
  width,
  height,
  unit: 'px' as const,
  dpi: 150,
  mode: 'rgb' as const,
  transparency: 'required' as const,
  fileTypes: ['png' as const],
  maxBytes: null,
  sizeRule: 'exact' as const,
  safeInsetMm: 0,
  placement: { ...SAME_SIZE_TOP, rule },
  colourways: [{ name: 'White', hex: '#FFFFFF' }],
  note: '',
});

test('a design with every kind of layer prints at two targets as the browser draws it', async ({ page, app }) => {
  const { house } = app;
  const targets = await Promise.all([
    house.requirements.add(SELLER.owner, requirement('Full', 1200, 1400, 'same-size')),
    house.requirements.add(SELLER.owner, requirement('Small', 640, 700, 'fit')),
  ]);
  const { field } = emptyDesign('', { width: 203.2, height: 237.07 });
  const cloud = await house.assets.takeIn(
    SELLER,
    createReadStream(artworkPath('mostly-drizzle-cloud.svg')),
    'cloud.svg',
  );
  const lit = await house.assets.takeIn(SELLER, createReadStream(artworkPath('rain-gauge-regulars.png')), 'rain.png');
  const set = async (
    id: string,
    text: string,
    fontId: string,
    at: LayerPlace,
    change: Partial<Layer> = {},
    bend = 0,
  ): Promise<Layer> => {
    const { outlines } = await house.lettering.set(SELLER, { text, fontId, settings: { ...PLAIN_LETTERING, bend } });
    const layer = textLayer(id, { text, fontId }, outlines!, field, '#1f2b4d');
    return { ...layer, place: { ...at, height: (at.width * outlines!.height) / outlines!.width }, ...change } as Layer;
  };
  const kettle = (await house.graphics.all()).find((graphic) => graphic.id === 'teapot')!;
  const wavy = Array.from({ length: 50 }, (_, i) => [
    20 + i * 1.4,
    215 + 8 * Math.sin(i / 4),
    0.25 + 0.5 * Math.abs(Math.sin(i / 7)),
  ]).flat();
  const line = freehandLayer('hand', {
    points: wavy,
    size: 7,
    hardness: 1,
    opacity: 0.85,
    hex: '#b4532a',
    erase: false,
  });
  const soft = freehandLayer('soft', {
    points: wavy.map((v, i) => (i % 3 === 0 ? v + 95 : v)),
    size: 12,
    hardness: 0.3,
    opacity: 1,
    hex: '#11564f',
    erase: false,
  });
  const erased = {
    ...line,
    strokes: [
      ...line.strokes,
      strokeOnLayer(line, {
        points: [50, 190, 0.5, 52, 235, 0.5],
        size: 6,
        hardness: 1,
        opacity: 1,
        hex: '#000000',
        erase: true,
      }),
    ],
  };
  const whole: Layer[] = [
    {
      ...shapeLayer('ground', 'rectangle', field, '#f2bd4b'),
      place: place(101, 60, 150, 80),
      fill: twoColours('#f2bd4b', '#c2552b'),
    },
    {
      ...shapeLayer('ring', 'ring', field, '#2a6f8f'),
      place: place(40, 150, 50, 50),
      outline: { hex: '#1b1b1d', width: 2, dash: 'solid', side: 'outside' },
    },
    {
      ...shapeLayer('star', 'star', field, '#e8e4da'),
      place: place(100, 150, 44, 44, 20),
      outline: { hex: '#6a3b5b', width: 2.4, dash: 'solid', side: 'inside', join: 'mitre' },
    },
    {
      ...shapeLayer('glow', 'ellipse', field, '#ffffff'),
      place: place(160, 150, 50, 40),
      fill: {
        kind: 'radial',
        turn: 0,
        stops: [
          { at: 0, hex: '#ffffff', opacity: 1 },
          { at: 0.6, hex: '#5fb0d6', opacity: 0.8 },
          { at: 1, hex: '#1f2b4d', opacity: 0 },
        ],
      },
    },
    {
      ...shapeLayer('dashes', 'heart', field, '#e2a3a0'),
      place: place(170, 205, 30, 28),
      fill: null,
      outline: { hex: '#a3261b', width: 1.2, dash: 'dashed' },
    },
    {
      kind: 'picture',
      id: 'cloud',
      name: 'Cloud',
      assetId: cloud.id,
      place: place(60, 60, 70, 45),
      opacity: 0.9,
      hidden: false,
    },
    {
      kind: 'picture',
      id: 'rain',
      name: 'Rain',
      assetId: lit.id,
      place: place(150, 60, 48, 48 * (lit.height / lit.width)),
      opacity: 1,
      hidden: false,
    },
    { ...graphicLayer('kettle', kettle, field), place: place(100, 200, 34, (34 * kettle.height) / kettle.width) },
    await set('words', 'Fog Signal', 'fraunces-latin-900', place(100, 30, 110, 1)),
    await set(
      'arc',
      'TARN END',
      'anton-latin-400',
      place(100, 105, 90, 1),
      { outline: { hex: '#ffffff', width: 1, dash: 'solid', side: 'outside' } } as Partial<Layer>,
      90,
    ),
    await set('arabic', 'ضباب', 'cairo-arabic-800', place(35, 110, 40, 1)),
    await set('hindi', 'कोहरा', 'hind-devanagari-700', place(170, 112, 36, 1)),
    await set('kana', '霧の', 'dela-gothic-one-japanese-400', place(168, 178, 34, 1)),
    erased,
    soft,
    {
      ...shapeLayer('shade', 'ellipse', field, '#6fa8c9'),
      place: place(60, 45, 60, 30),
      blend: 'multiply',
      opacity: 0.7,
    },
  ];
  // Something is rubbed out of a turned shape, a picture and letters, with a clean and with a soft edge.
  const layers = whole.map((layer, i): Layer => {
    if (!['star', 'cloud', 'rain', 'words'].includes(layer.id)) return layer;
    const { x, y } = layer.place;
    const points = [x - 18, y - 4, 0.5, x, y + 3, 0.7, x + 18, y - 2, 0.4];
    return rubOut(layer, { points, size: 5, hardness: i % 2 ? 1 : 0.4, opacity: 0.9, hex: '#000000', erase: true });
  });
  const document: DesignDocument = {
    ...emptyDesign('Everything', field),
    layers,
    targets: [
      { requirementId: targets[0].id },
      {
        requirementId: targets[1].id,
        layers: {
          star: { place: place(120, 150, 60, 60, 20) },
          dashes: { hidden: true },
          words: { colours: { '#1f2b4d': '#a3261b' } },
        },
      },
    ],
  };
  await page.goto(app.address);
  for (const [i, { requirement: one, png }] of (await printFiles(app, document)).entries()) {
    const layout = layoutTarget(document, document.targets[i], one);
    const drawn = await ownDrawing(
      page,
      seenBy(document, document.targets[i]).layers,
      layout.toCanvas,
      150 / 25.4,
      png,
    );
    const { rounded, inside, astray, pixels, worst } = difference(png.data as Uint8Array, drawn, png, 40);
    // Each translucent layer rounds once more, and a soft stroke is twelve of them: a few flat pixels may be two or
    // three levels off, none further but where edges meet.
    expect(rounded / pixels, `${one.name}: flat pixels more than a level off`).toBeLessThan(0.03);
    expect(inside / pixels, `${one.name}: flat pixels that differ, the worst by ${JSON.stringify(worst)}`).toBeLessThan(
      0.0005,
    );
    expect(astray / pixels, `${one.name}: edges astray, the worst by ${JSON.stringify(worst)}`).toBeLessThan(0.001);
  }
});

test('every blend mode prints as the browser blends it, to one level', async ({ page, app }) => {
  const one = await app.house.requirements.add(SELLER.owner, {
    ...requirement('Blends', 640, 640, 'same-size'),
    dpi: 254,
  });
  const field = { width: 64, height: 64 };
  const inks = ['#d94f30', '#3a6ea5', '#e8e4da', '#1f2b4d'];
  const layers = BLEND_MODES.flatMap((blend, i): Layer[] => {
    const [x, y] = [8 + (i % 4) * 16, 8 + Math.floor(i / 4) * 16];
    const bars = inks.map((hex, k): Layer => ({
      ...shapeLayer(`${blend}-${k}`, 'rectangle', field, hex),
      place: place(x - 6 + k * 4, y, 4, 14),
    }));
    return [
      ...bars,
      { ...shapeLayer(blend, 'rectangle', field, '#7fb069'), place: place(x, y - 3, 16, 4), blend, opacity: 0.8 },
      { ...shapeLayer(`${blend}-full`, 'rectangle', field, '#c98bb0'), place: place(x, y + 3, 16, 4), blend },
    ];
  });
  const document: DesignDocument = { ...emptyDesign('Blends', field), layers, targets: [{ requirementId: one.id }] };
  await page.goto(app.address);
  const [{ png }] = await printFiles(app, document);
  const drawn = await ownDrawing(page, layers, layoutTarget(document, document.targets[0], one).toCanvas, 10, png);
  let most = 0;
  for (let i = 0; i < drawn.length; i += 4) {
    const from = drawn[i + 3] === 255 ? 0 : 3;
    for (let c = from; c < 4; c++) most = Math.max(most, Math.abs(drawn[i + c] - (png.data[i + c] as number)));
  }
  expect(most).toBeLessThanOrEqual(1);
});
