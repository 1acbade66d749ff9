import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import svgpath from 'svgpath';
import { boxAround, type Point } from '@kettle/core/geometry';
import type { GraphicPart } from '@kettle/core/model';
import type { Graphic } from '@kettle/core/drawing';

interface IconSet {
  readonly icons: Readonly<Record<string, { readonly body: string }>>;
}
interface IconLists {
  readonly categories: Readonly<Record<string, readonly string[]>>;
}

/** Lists of the icon set that hold what a garment wears, under our names. */
const CATEGORIES: readonly (readonly [of: string, name: string])[] = [
  ['Animals & Nature', 'Animals and nature'],
  ['Food & Drink', 'Food and drink'],
  ['Activities', 'Play'],
  ['Objects', 'Things'],
  ['Travel & Places', 'Travel and places'],
  ['Symbols', 'Signs'],
];

const PART =
  /<path fill="(#[0-9a-f]{3,6})"((?: fill-rule="evenodd")?)(?: clip-rule="evenodd")? d="([^"]+)"(?: clip-rule="evenodd")?\/>/g;

const read = <T>(file: string): T =>
  JSON.parse(
    readFileSync(fileURLToPath(import.meta.resolve(`@iconify-json/fluent-emoji-flat/${file}.json`)), 'utf8'),
  ) as T;

/**
 * The shipped library by category and name: flat pictures made of filled outlines alone, so that each part can be
 * given another colour. MIT licence. Takes a second or two.
 */
export function readGraphics(): Graphic[] {
  const { icons } = read<IconSet>('icons');
  const { categories } = read<IconLists>('metadata');
  return CATEGORIES.flatMap(([of, category]) =>
    [...(categories[of] ?? [])].sort().flatMap((id) => {
      const drawn = icons[id] && readIcon(icons[id].body);
      return drawn ? [{ id, name: nameOf(id), category, ...drawn }] : [];
    }),
  );
}

const nameOf = (id: string): string => {
  const words = id.replaceAll('-', ' ');
  return words.charAt(0).toUpperCase() + words.slice(1);
};

/** Filled outlines of an icon, moved so that their box begins at 0, 0; null for one that is made of anything else. */
export function readIcon(body: string): Pick<Graphic, 'width' | 'height' | 'parts'> | null {
  const inside = /^<g fill="none">(.*)<\/g>$/s.exec(body)?.[1] ?? body;
  const found = [...inside.matchAll(PART)];
  if (!found.length || inside.replace(PART, '').trim()) return null;
  const paths = found.map(([, , , d]) => svgpath(d).abs().unshort().unarc());
  const box = boxAround(paths.flatMap(pointsOf));
  const parts = found.map(([, hex, rule], i): GraphicPart => ({
    path: paths[i].translate(-box.x, -box.y).round(3).toString(),
    fill: longHex(hex),
    ...(rule ? { rule: 'evenodd' } : {}),
  }));
  return { width: round(box.width), height: round(box.height), parts };
}

const longHex = (hex: string): string =>
  hex.length === 4 ? `#${[...hex.slice(1)].map((digit) => digit + digit).join('')}` : hex;
const round = (value: number): number => Math.round(value * 1000) / 1000;

/** Points along a path of absolute commands, close enough for its box. */
function pointsOf(path: ReturnType<typeof svgpath>): Point[] {
  const points: Point[] = [];
  path.iterate((segment, _index, x, y) => {
    const v = segment.slice(1) as number[];
    switch (segment[0]) {
      case 'H':
        points.push({ x: v[0], y });
        return;
      case 'V':
        points.push({ x, y: v[0] });
        return;
      case 'C':
        for (let t = 1; t <= 16; t++) points.push(onCurve([x, v[0], v[2], v[4]], [y, v[1], v[3], v[5]], t / 16));
        return;
      case 'Q':
        for (let t = 1; t <= 16; t++)
          points.push(
            onCurve(
              [x, x + ((v[0] - x) * 2) / 3, v[2] + ((v[0] - v[2]) * 2) / 3, v[2]],
              [y, y + ((v[1] - y) * 2) / 3, v[3] + ((v[1] - v[3]) * 2) / 3, v[3]],
              t / 16,
            ),
          );
        return;
      default:
        if (v.length >= 2) points.push({ x: v[0], y: v[1] });
    }
  });
  return points;
}

function onCurve(xs: readonly number[], ys: readonly number[], t: number): Point {
  const at = ([a, b, c, d]: readonly number[]) =>
    (1 - t) ** 3 * a + 3 * (1 - t) ** 2 * t * b + 3 * (1 - t) * t * t * c + t ** 3 * d;
  return { x: at(xs), y: at(ys) };
}
