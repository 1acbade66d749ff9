import type { Pixels } from '@kettle/core/geometry';
import { USUAL_SOFT_EDGE, type ColourCut, type SeedStroke } from '@kettle/core/model';
import {
  applyMatte,
  compileTreatKernel,
  cutByStrokes,
  cutColour,
  dissolve,
  reduced,
  workingSize,
} from '@kettle/core/treatments';
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { errorOf, plainFlood, type CutError } from './cut-quality.js';
import { groundOf, onGround, trueArt } from './true-art.js';
import type { Row } from './timing.js';

const KERNEL = compileTreatKernel(readFileSync(fileURLToPath(import.meta.resolve('@kettle/core/treat.wasm'))));

export const FLAT: readonly (readonly [string, readonly [number, number, number]])[] = [
  ['white', [255, 255, 255]],
  ['cream', [244, 234, 212]],
  ['mid colour', [122, 150, 138]],
];

const hexOfRgb = (rgb: readonly number[]): string =>
  `#${rgb.map((value) => value.toString(16).padStart(2, '0')).join('')}`;

export function cutAtFull(source: Pixels, cut: ColourCut): Pixels {
  const { width, height } = workingSize(source.width, source.height);
  const matte = cutColour(KERNEL, reduced(source, width, height), cut);
  const out = { width: source.width, height: source.height, data: Uint8ClampedArray.from(source.data) };
  applyMatte(out, matte);
  return out;
}

/** A ground like a photograph: patches of several colours with grain, from waves of several lengths. */
function busy(x: number, y: number): readonly [number, number, number] {
  const wave = (fx: number, fy: number, phase: number): number =>
    Math.sin(x * fx + Math.sin(y * fy + phase) * 2 + phase);
  const patch = wave(9, 7, 0.4) + 0.6 * wave(23, 19, 1.7) + 0.35 * wave(61, 53, 2.9) + 0.2 * wave(171, 149, 0.9);
  const grain = (Math.sin(x * 12989.8 + y * 78233.1) * 43758.5) % 1;
  const light = 118 + 42 * patch + 14 * grain;
  return [light + 20 * wave(5, 11, 2), light + 14 * wave(13, 6, 1), light - 24 + 26 * wave(4, 9, 3)];
}

/**
 * Three strokes as a hurried hand draws them, told by the truth alone: one across the art and one down it, through the
 * middle of what is widest there, and one around the picture close to its rim.
 */
function hurriedStrokes({ width, height, data }: Pixels): SeedStroke[] {
  const solid = (x: number, y: number): boolean => data[(y * width + x) * 4 + 3] > 250;
  const through = (lines: number, length: number, is: (line: number, at: number) => boolean): [number, number][] => {
    const points: [number, number][] = [];
    for (let step = 1; step < 14; step++) {
      const line = Math.floor((lines * step) / 14);
      let [best, middle, run] = [0, -1, 0];
      for (let at = 0; at <= length; at++) {
        if (at < length && is(line, at)) run++;
        else {
          if (run > best) [best, middle] = [run, at - run / 2];
          run = 0;
        }
      }
      if (best > length * 0.04) points.push([line, middle]);
    }
    return points;
  };
  const across = through(width, height, (x, y) => solid(x, y)).flatMap(([x, y]) => [x / width, y / height]);
  const down = through(height, width, (y, x) => solid(x, y)).flatMap(([y, x]) => [x / width, y / height]);
  const rim = [0.03, 0.03, 0.97, 0.03, 0.97, 0.97, 0.03, 0.97, 0.03, 0.03];
  return [
    { keep: true, points: across, size: 0.01 },
    { keep: true, points: down, size: 0.01 },
    { keep: false, points: rim, size: 0.02 },
  ];
}

function strokesAtFull(source: Pixels, strokes: readonly SeedStroke[]): Pixels {
  const { width, height } = workingSize(source.width, source.height);
  const matte = cutByStrokes(reduced(source, width, height), {
    id: 's',
    kind: 'strokes',
    strokes,
    hair: 0.006,
    fine: true,
  })!;
  const out = { width: source.width, height: source.height, data: Uint8ClampedArray.from(source.data) };
  applyMatte(out, matte);
  return out;
}

/** Farthest that a dissolved picture laid on black is from what it was, levels. */
function farthestOnBlack(pictures: readonly Pixels[]): number {
  let most = 0;
  for (const { width, height, data } of pictures) {
    const out: Pixels = { width, height, data: Uint8ClampedArray.from(data) };
    dissolve(out, { id: 'd', kind: 'dissolve', hex: '#000000', clean: 0 });
    for (let i = 0; i < data.length; i += 4)
      for (let k = 0; k < 3; k++)
        most = Math.max(most, Math.abs(Math.round((out.data[i + k] * out.data[i + 3]) / 255) - data[i + k]));
  }
  return most;
}

const mean = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0) / values.length;

export async function cutOuts(): Promise<Row[]> {
  const art = await trueArt();
  const all: { ours: CutError; plain: CutError }[] = [];
  for (const [name, rgb] of FLAT) {
    const ground = groundOf(() => rgb);
    for (const jpeg of [false, true])
      for (const one of art) {
        const laid = await onGround(one.pixels, ground, jpeg);
        const tolerance = jpeg ? 9 : 3;
        const ours = errorOf(
          one.pixels,
          cutAtFull(laid, {
            id: 'c',
            kind: 'colour',
            hex: hexOfRgb(rgb),
            tolerance,
            from: 'border',
            soft: USUAL_SOFT_EDGE,
          }),
        );
        const plain = errorOf(one.pixels, plainFlood(laid, rgb, 32));
        all.push({ ours, plain });
        if (process.env['CUT_VERBOSE'])
          console.error(
            `${name} ${jpeg ? 'jpeg' : 'png'} ${one.name}: alpha ${ours.alpha.toFixed(4)} (${plain.alpha.toFixed(4)}), edge ${ours.edge.toFixed(2)} (${plain.edge.toFixed(2)})`,
          );
      }
  }
  const onBusy: { ours: CutError; plain: CutError }[] = [];
  for (const [name, ground] of [
    ['gradient', groundOf((x, y) => [225 - 90 * y, 215 - 60 * y, 190 + 40 * x - 50 * y])],
    ['like a photo', groundOf(busy)],
  ] as const)
    for (const jpeg of [false, true])
      for (const one of art.filter(({ kind }) => kind === 'outlines')) {
        const laid = await onGround(one.pixels, ground, jpeg);
        const start = performance.now();
        const cut = strokesAtFull(laid, hurriedStrokes(one.pixels));
        const took = performance.now() - start;
        const ours = errorOf(one.pixels, cut);
        const plain = errorOf(one.pixels, plainFlood(laid, [...laid.data.subarray(0, 3)], 32));
        onBusy.push({ ours, plain });
        if (process.env['CUT_VERBOSE']) {
          console.error(
            `${name} ${jpeg ? 'jpeg' : 'png'} ${one.name}: alpha ${ours.alpha.toFixed(4)} (${plain.alpha.toFixed(4)}), edge ${ours.edge.toFixed(2)} (${plain.edge.toFixed(2)}) in ${Math.round(took)} ms`,
          );
        }
      }
  const row = (what: string, own: number, base: number, most: number, digits: number, count = all.length): Row => ({
    what,
    measured: own.toFixed(digits),
    spread: `${count} pictures`,
    against: `flood fill: ${base.toFixed(digits)}`,
    ratio: (own / base).toFixed(2),
    budget: `≤ ${most.toFixed(digits)}`,
    kept: own <= most,
  });
  const back = farthestOnBlack(
    await Promise.all(
      art
        .filter(({ kind }) => kind === 'soft')
        .map(({ pixels }) =>
          onGround(
            pixels,
            groundOf(() => [0, 0, 0]),
            false,
          ),
        ),
    ),
  );
  return [
    row(
      'Flat ground taken out, error of alpha',
      mean(all.map((one) => one.ours.alpha)),
      mean(all.map((one) => one.plain.alpha)),
      0.01,
      4,
    ),
    row(
      'Flat ground taken out, colour at the edge (CIEDE2000)',
      mean(all.map((one) => one.ours.edge)),
      mean(all.map((one) => one.plain.edge)),
      3,
      2,
    ),
    row(
      'Busy ground taken out by three strokes, error of alpha',
      mean(onBusy.map((one) => one.ours.alpha)),
      mean(onBusy.map((one) => one.plain.alpha)),
      0.03,
      4,
      onBusy.length,
    ),
    {
      what: 'Black dissolved and laid on black again, farthest from the picture',
      measured: `${back} ${back === 1 ? 'level' : 'levels'}`,
      spread: 'every pixel of 2 pictures',
      against: '1 level',
      ratio: back.toFixed(2),
      budget: '≤ 1 level',
      kept: back <= 1,
    },
  ];
}
