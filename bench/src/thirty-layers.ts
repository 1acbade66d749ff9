import { SELLER } from '@kettle/server';
import { createReadStream } from 'node:fs';
import type { BlendMode } from '@kettle/core/raster';
import { PLAIN_LETTERING } from '@kettle/core/text';
import { emptyDesign, twoColours, type DesignDocument, type Layer } from '@kettle/core/model';
import { freehandLayer, graphicLayer, shapeLayer, SHAPES } from '@kettle/core/drawing';
import { pictureLayer, textLayer } from '@kettle/core/document';
import { artworkPath } from '@kettle/demo';
import type { House } from '@kettle/server';

const PICTURES = [
  'mostly-drizzle-cloud.svg',
  'fog-signal.png',
  'rain-gauge-regulars.png',
  'barometer-dial.svg',
  'cumulus-appreciation.jpg',
];
const WORDS = ['FOG SIGNAL', 'Tarn End', 'Weather Club', 'ضباب', 'कोहरा', 'Meets outdoors', 'regrettably'];
const FACES = [
  'fraunces-latin-900',
  'anton-latin-400',
  'pacifico-latin-400',
  'cairo-arabic-800',
  'hind-devanagari-700',
  'caveat-latin-700',
  'rye-latin-400',
];
const BLENDS: readonly BlendMode[] = ['multiply', 'screen', 'overlay', 'soft-light'];

/** A design of thirty layers of every kind, spread over the field, four of them blended. */
export async function thirtyLayers(house: House): Promise<DesignDocument> {
  const empty = emptyDesign('Thirty layers');
  const { field } = empty;
  const layers: Layer[] = [];
  for (const [i, file] of PICTURES.entries()) {
    const asset = await house.assets.takeIn(SELLER, createReadStream(artworkPath(file)), file);
    layers.push(pictureLayer(`p${i}`, file, asset, field));
  }
  for (let i = 0; i < 8; i++)
    layers.push({
      ...shapeLayer(`s${i}`, SHAPES[(i * 2) % SHAPES.length].kind, field, '#2a6f8f'),
      ...(i === 0 ? { fill: twoColours('#f2bd4b', '#c2552b') } : {}),
      outline: i % 3 === 0 ? { hex: '#1b1b1d', width: 1.5, dash: 'solid', side: 'outside' } : null,
    });
  for (const [i, text] of WORDS.entries()) {
    const set = { text, fontId: FACES[i] };
    const { outlines } = await house.lettering.set(SELLER, {
      ...set,
      settings: { ...PLAIN_LETTERING, bend: i === 1 ? 60 : 0 },
    });
    layers.push({
      ...textLayer(`t${i}`, set, outlines!, field, '#e8e4da'),
      outline: i === 2 ? { hex: '#123456', width: 1, dash: 'solid', side: 'outside' } : null,
    });
  }
  for (const [i, graphic] of (await house.graphics.all()).slice(20, 26).entries())
    layers.push(graphicLayer(`g${i}`, graphic, field));
  for (let i = 0; i < 4; i++) {
    const points = Array.from({ length: 60 }, (_, k) => [
      40 + k * 4,
      120 + 40 * Math.sin(k / 6),
      0.3 + 0.4 * Math.abs(Math.sin(k / 9)),
    ]).flat();
    layers.push(
      freehandLayer(`f${i}`, {
        points,
        size: 8,
        hardness: i % 2 ? 0.4 : 1,
        opacity: 0.9,
        hex: '#b4532a',
        erase: false,
      }),
    );
  }
  const spread = layers.map((layer, i): Layer => {
    const [width, height] = [layer.place.width, layer.place.height];
    const factor = Math.min(1, 110 / Math.max(width, height)) * (i === 0 ? 2.4 : 1);
    return {
      ...layer,
      place: {
        ...layer.place,
        width: width * factor,
        height: height * factor,
        turn: (i * 17) % 40,
        x: 60 + ((i * 83) % 240),
        y: 60 + ((i * 131) % 290),
      },
      opacity: i % 5 === 4 ? 0.8 : 1,
      ...(i >= 26 ? { blend: BLENDS[i - 26] } : {}),
    };
  });
  return {
    ...empty,
    layers: spread,
    targets: [{ requirementId: (await house.requirements.list(SELLER.owner))[0].id }],
  };
}
