import type { ChildNode, Element } from 'domhandler';
import svgpath from 'svgpath';

/** A box in an element's own coordinates. */
export interface Box {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

const ANGLES: Readonly<Record<string, number>> = { deg: 1, grad: 0.9, rad: 180 / Math.PI, turn: 360, '': 1 };
const LENGTHS: Readonly<Record<string, number>> = {
  '': 1,
  px: 1,
  in: 96,
  cm: 96 / 2.54,
  mm: 96 / 25.4,
  pt: 96 / 72,
  pc: 16,
};

const plain = (value: number): string => String(Math.round(value * 1e6) / 1e6);
const numberAnd = (text: string): [number, string] | null => {
  const match = /^([+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?)([a-z%]*)$/i.exec(text.trim());
  return match && [Number(match[1]), match[2].toLowerCase()];
};
/** A length in px, shares of a whole among them; null for one that depends on something else. */
function length(text: string, whole: number): number | null {
  const [value, unit] = numberAnd(text) ?? [NaN, ''];
  if (unit === '%') return (value / 100) * whole;
  return Number.isFinite(value) && unit in LENGTHS ? value * LENGTHS[unit] : null;
}
const angle = (text: string): number | null => {
  const [value, unit] = numberAnd(text) ?? [NaN, ''];
  return Number.isFinite(value) && unit in ANGLES ? value * ANGLES[unit] : null;
};
const scaleOf = (text: string): number | null => {
  const [value, unit] = numberAnd(text) ?? [NaN, 'x'];
  return unit === '' ? value : unit === '%' ? value / 100 : null;
};
/** What writes styles anew leaves out the space after a percentage. */
const spaced = (text: string): string => text.replace(/%(?=[\w.+-])/g, '% ');
const parts = (text: string): string[] =>
  spaced(text)
    .split(/[\s,]+/)
    .filter(Boolean);

/**
 * The transform that styles say, as an SVG attribute has it: `translate`, `rotate`, `scale` and then `transform` (CSS
 * Transforms 2, 5). Empty for none, null for one that has no such form.
 * @param box what percentages are of
 */
export function transformOf(said: Readonly<Record<string, string | undefined>>, { width, height }: Box): string | null {
  const out: (string | null)[] = [];
  const moved = said['translate'];
  if (moved && moved !== 'none') out.push(step('translate', parts(moved), width, height));
  if (said['rotate'] && said['rotate'] !== 'none') out.push(step('rotate', parts(said['rotate']), width, height));
  if (said['scale'] && said['scale'] !== 'none') out.push(step('scale', parts(said['scale']), width, height));
  const list = said['transform'];
  if (list && list !== 'none') {
    const all = [...list.matchAll(/([a-z0-9]+)\(([^()]*)\)\s*/gi)];
    if (
      all
        .map(([whole]) => whole)
        .join('')
        .trim().length !== list.trim().length
    )
      return null;
    for (const [, name, given] of all) out.push(step(name.toLowerCase(), parts(given), width, height));
  }
  return out.includes(null) ? null : out.join(' ');
}

function step(name: string, given: readonly string[], width: number, height: number): string | null {
  const written = (values: readonly (number | null)[], as = name): string | null =>
    values.length > 0 && values.every((value) => value !== null)
      ? `${as}(${values.map((value) => plain(value!)).join(' ')})`
      : null;
  switch (name) {
    case 'translate':
      return given.length > 2 ? null : written([length(given[0] ?? '', width), length(given[1] ?? '0', height)]);
    case 'translatex':
      return written([length(given[0] ?? '', width), 0], 'translate');
    case 'translatey':
      return written([0, length(given[0] ?? '', height)], 'translate');
    case 'scale':
      return given.length > 2 ? null : written(given.map(scaleOf));
    case 'scalex':
      return written([scaleOf(given[0] ?? ''), 1], 'scale');
    case 'scaley':
      return written([1, scaleOf(given[0] ?? '')], 'scale');
    case 'rotate':
      return given.length > 1 ? null : written([angle(given[0] ?? '')]);
    case 'skewx':
      return written([angle(given[0] ?? '')], 'skewX');
    case 'skewy':
      return written([angle(given[0] ?? '')], 'skewY');
    case 'skew': {
      const tangents = [given[0] ?? '', given[1] ?? '0'].map((one) => Math.tan(((angle(one) ?? NaN) * Math.PI) / 180));
      return tangents.every(Number.isFinite) ? written([1, tangents[1], tangents[0], 1, 0, 0], 'matrix') : null;
    }
    case 'matrix':
      return given.length === 6 ? written(given.map((one) => numberAnd(one)?.[0] ?? null)) : null;
    default:
      return null;
  }
}

const SIDES: Readonly<Record<string, string>> = { left: '0%', top: '0%', center: '50%', right: '100%', bottom: '100%' };

/** A point of a box as `transform-origin` and positions of shapes say it; null for what is not understood. */
export function originOf(text: string, box: Box): { x: number; y: number } | null {
  let given = parts(text);
  // "top left" is the same as "left top".
  if (/^(top|bottom)$/.test(given[0] ?? '') || /^(left|right)$/.test(given[1] ?? ''))
    given = [given[1] ?? 'center', given[0]];
  if (given.length < 1 || given.length > 3) return null;
  const x = length(SIDES[given[0]] ?? given[0], box.width);
  const y = length(SIDES[given[1] ?? 'center'] ?? given[1], box.height);
  return x === null || y === null ? null : { x: box.x + x, y: box.y + y };
}

/** A basic shape of CSS as an element of SVG, in the coordinates of a box (CSS Shapes 1, 3). */
export function shapeOf(text: string, box: Box): string | null {
  const match = /^(circle|ellipse|inset|polygon|path)\((.*)\)\s*(?:[a-z]+-box)?$/is.exec(text.trim());
  if (!match) return null;
  const [kind, given] = [match[1].toLowerCase(), spaced(match[2]).trim()];
  if (kind === 'path') {
    const [, rule, , path] = /^(?:(nonzero|evenodd)\s*,\s*)?(["'])(.*)\2$/s.exec(given) ?? [];
    if (path === undefined) return null;
    return `<path${rule === 'evenodd' ? ' clip-rule="evenodd"' : ''} transform="translate(${plain(box.x)} ${plain(box.y)})" d="${path.replace(/[<>&"]/g, '')}"/>`;
  }
  if (kind === 'polygon') {
    const evenOdd = /^evenodd\s*,/.test(given);
    const points = given
      .replace(/^(?:nonzero|evenodd)\s*,/, '')
      .split(',')
      .map((one) => parts(one))
      .map(([x, y]) => [length(x ?? '', box.width), length(y ?? '', box.height)]);
    if (points.some(([x, y]) => x === null || y === null)) return null;
    return `<polygon${evenOdd ? ' clip-rule="evenodd"' : ''} points="${points.map(([x, y]) => `${plain(box.x + x!)},${plain(box.y + y!)}`).join(' ')}"/>`;
  }
  if (kind === 'inset') {
    const [sides, round] = given.split(/\bround\b/);
    const [top, right = top, bottom = top, left = right] = parts(sides);
    const [t, b] = [top ?? '', bottom ?? ''].map((one) => length(one, box.height));
    const [r, l] = [right ?? '', left ?? ''].map((one) => length(one, box.width));
    const radius = round === undefined ? 0 : length(parts(round)[0] ?? '', box.width);
    if (t === null || b === null || r === null || l === null || radius === null) return null;
    const [width, height] = [box.width - l - r, box.height - t - b].map((one) => Math.max(0, one));
    return `<rect x="${plain(box.x + l)}" y="${plain(box.y + t)}" width="${plain(width)}" height="${plain(height)}" rx="${plain(radius)}"/>`;
  }
  const [radii, position = 'center'] = given.split(/(?:^|\s)at\s/);
  const middle = originOf(position, box);
  if (!middle) return null;
  const to = { left: middle.x - box.x, top: middle.y - box.y, right: 0, bottom: 0 };
  to.right = box.width - to.left;
  to.bottom = box.height - to.top;
  const radiusOf = (one: string, ends: readonly number[], whole: number): number | null =>
    one === 'closest-side'
      ? Math.min(...ends.map(Math.abs))
      : one === 'farthest-side'
        ? Math.max(...ends.map(Math.abs))
        : length(one, whole);
  const [first = 'closest-side', second = 'closest-side'] = parts(radii ?? '');
  const across = [to.left, to.right];
  const down = [to.top, to.bottom];
  const [rx, ry] =
    kind === 'circle'
      ? [radiusOf(first, [...across, ...down], Math.hypot(box.width, box.height) / Math.SQRT2)].flatMap((r) => [r, r])
      : [radiusOf(first, across, box.width), radiusOf(second, down, box.height)];
  if (rx === null || ry === null) return null;
  return `<ellipse cx="${plain(middle.x)}" cy="${plain(middle.y)}" rx="${plain(rx)}" ry="${plain(ry)}"/>`;
}

/** The box that an element's outline fills, without its stroke; null where that is not simply known. */
export function boxOf(element: Element): Box | null {
  const { attribs, name } = element;
  const said = (key: string, instead = '0'): number =>
    length(
      new RegExp(`(?:^|[;\\s])${key}\\s*:\\s*([^;]+)`).exec(attribs['style'] ?? '')?.[1] ?? attribs[key] ?? instead,
      NaN,
    ) ?? NaN;
  const known = (box: Box): Box | null => (Object.values(box).every(Number.isFinite) ? box : null);
  switch (name) {
    case 'rect':
    case 'image':
      return known({ x: said('x'), y: said('y'), width: said('width', ''), height: said('height', '') });
    case 'circle': {
      const r = said('r');
      return known({ x: said('cx') - r, y: said('cy') - r, width: 2 * r, height: 2 * r });
    }
    case 'ellipse': {
      const [rx, ry] = [said('rx', ''), said('ry', '')];
      return known({ x: said('cx') - rx, y: said('cy') - ry, width: 2 * rx, height: 2 * ry });
    }
    case 'line':
      return around([said('x1'), said('y1'), said('x2'), said('y2')]);
    case 'polygon':
    case 'polyline':
      return around(parts(attribs['points'] ?? '').map(Number));
    case 'path':
      return pathBox(attribs['d'] ?? '');
    case 'g':
    case 'svg':
      return groupBox(element);
    default:
      return null;
  }
}

function groupBox(element: Element): Box | null {
  const boxes: Box[] = [];
  for (const child of element.children as ChildNode[]) {
    if (child.type !== 'tag' || ['defs', 'clipPath', 'title', 'desc', 'metadata'].includes(child.name)) continue;
    // What is moved itself would have to be followed there.
    if (child.attribs['transform'] || /transform|rotate|scale|translate/.test(child.attribs['style'] ?? ''))
      return null;
    const box = boxOf(child);
    if (!box) return null;
    boxes.push(box);
  }
  return around(boxes.flatMap(({ x, y, width, height }) => [x, y, x + width, y + height]));
}

/** @param values x and y one after the other */
function around(values: readonly number[]): Box | null {
  if (values.length < 2 || values.length % 2 || !values.every(Number.isFinite)) return null;
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < values.length; i += 2) {
    left = Math.min(left, values[i]);
    right = Math.max(right, values[i]);
    top = Math.min(top, values[i + 1]);
    bottom = Math.max(bottom, values[i + 1]);
  }
  return { x: left, y: top, width: right - left, height: bottom - top };
}

/** Points that a curve is looked at, between its ends. */
const LOOKS = 64;

/** Box of an outline's curves, within a few thousandths of its size. */
function pathBox(d: string): Box | null {
  const values: number[] = [];
  const path = svgpath(d).abs().unarc().unshort();
  path.iterate((segment, _index, x, y) => {
    const [command, ...to] = segment as [string, ...number[]];
    const upper = command.toUpperCase();
    if (upper === 'Z') return;
    if (upper === 'H') values.push(to[0], y);
    else if (upper === 'V') values.push(x, to[0]);
    else if (upper === 'M' || upper === 'L') values.push(to[0], to[1]);
    else if (upper === 'C' || upper === 'Q')
      for (let n = 0; n <= LOOKS; n++) values.push(...curveAt(n / LOOKS, [x, y, ...to]));
  });
  return around(values);
}

/** A point of a Bézier curve by de Casteljau's construction. @param points x and y one after the other */
function curveAt(t: number, points: readonly number[]): [number, number] {
  let now = [...points];
  while (now.length > 2) now = now.slice(0, -2).map((value, i) => value + (now[i + 2] - value) * t);
  return [now[0], now[1]];
}
