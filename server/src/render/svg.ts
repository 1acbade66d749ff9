import sax from 'sax';
import { ProblemError } from '../safety/problem-error.js';

/** Elements that run, load or hide something. They are left out with all they hold. */
const FORBIDDEN = new Set(['script', 'foreignobject', 'iframe', 'object', 'embed', 'audio', 'video', 'include', 'handler', 'listener', 'set', 'animate', 'animatetransform', 'animatemotion', 'discard']);

/** More elements than any drawing needs; above that an SVG is a way to keep a machine busy. */
const MOST_NODES = 200_000;

const DATA_PICTURE = /^data:image\/(png|jpeg|webp|gif);base64,/i;
const escapeText = (text: string): string => text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;');
const escapeValue = (text: string): string => escapeText(text).replace(/"/g, '&quot;');

/** SVG that is safe to draw, with what was taken out and its own proportions. */
export interface SafeSvg {
  readonly text: string;
  /** Natural size in CSS px. */
  readonly width: number;
  readonly height: number;
  /** What was removed, as sentences. */
  readonly removed: readonly string[];
}

/**
 * Rewrites an SVG without scripts, event handlers, entities and references to anything outside itself.
 * @throws ProblemError when it is no SVG, declares entities, is oversized or has no size
 */
export function safeSvg(bytes: Uint8Array): SafeSvg {
  const source = new TextDecoder('utf-8').decode(bytes);
  if (/<!ENTITY/i.test(source)) throw new ProblemError(422, 'svg-entities', 'This SVG defines entities of its own, which can be made to swallow all memory. Save it again without a DOCTYPE.');
  const out: string[] = [];
  const removed = new Set<string>();
  let nodes = 0;
  let skipping = 0;
  let size: { width: number; height: number } | null = null;
  let root = '';
  const parser = sax.parser(true, { xmlns: false } as sax.SAXOptions);
  parser.onerror = (error) => { throw new ProblemError(422, 'svg-broken', `This SVG is not well-formed (${error.message.split('\n')[0].toLowerCase()}). Save it again from the program that made it.`); };
  parser.onopentag = ({ name, attributes }) => {
    if (++nodes > MOST_NODES) throw new ProblemError(422, 'svg-too-large', `This SVG has more than ${MOST_NODES.toLocaleString('en-GB')} elements. Simplify it, or export it as a PNG.`);
    const local = localName(name);
    if (!root) {
      root = local;
      if (local !== 'svg') throw new ProblemError(415, 'not-a-picture', 'This file is not a picture: its first element is not <svg>.');
      size = sizeOf(attributes as Record<string, string>);
    }
    if (skipping || FORBIDDEN.has(local)) {
      if (!skipping) removed.add(local === 'script' || local === 'handler' || local === 'listener' ? 'A script was taken out.' : local.startsWith('anim') || local === 'set' ? 'Animation was taken out.' : `An embedded <${name}> was taken out.`);
      skipping++;
      return;
    }
    out.push(`<${name}${Object.entries(attributes as Record<string, string>).map(([key, value]) => safeAttribute(key, value, removed)).join('')}>`);
  };
  parser.onclosetag = (name) => { if (skipping) skipping--; else out.push(`</${name}>`); };
  parser.ontext = (text) => { if (!skipping) out.push(escapeText(withoutOutsideUrls(text, removed))); };
  parser.oncdata = (text) => { if (!skipping) out.push(escapeText(withoutOutsideUrls(text, removed))); };
  parser.write(source).close();
  if (!root) throw new ProblemError(415, 'not-a-picture', 'This file is not a picture.');
  if (!size) throw new ProblemError(422, 'svg-no-size', 'This SVG says neither its width and height nor a viewBox, so nobody can know how large it is. Add a viewBox and try again.');
  const { width, height } = size as { width: number; height: number };
  return { text: out.join(''), width, height, removed: [...removed] };
}

const localName = (name: string): string => name.slice(name.indexOf(':') + 1).toLowerCase();

function safeAttribute(key: string, value: string, removed: Set<string>): string {
  const local = localName(key);
  if (/^on/.test(local)) { removed.add('A script was taken out.'); return ''; }
  if (local === 'href' || local === 'src') {
    const target = value.trim();
    if (!target.startsWith('#') && !DATA_PICTURE.test(target)) { removed.add('A reference to something outside the file was taken out.'); return ''; }
  }
  return ` ${key}="${escapeValue(withoutOutsideUrls(value, removed))}"`;
}

function withoutOutsideUrls(text: string, removed: Set<string>): string {
  return text.replace(/@import[^;]*;?/gi, () => { removed.add('A reference to something outside the file was taken out.'); return ''; })
    .replace(/url\(\s*(['"]?)(.*?)\1\s*\)/gi, (whole, _quote, target: string) => {
      if (target.startsWith('#') || DATA_PICTURE.test(target)) return whole;
      removed.add('A reference to something outside the file was taken out.');
      return 'none';
    });
}

const UNITS: Readonly<Record<string, number>> = { '': 1, px: 1, in: 96, cm: 96 / 2.54, mm: 96 / 25.4, pt: 96 / 72, pc: 16 };

/** CSS length in px (CSS Values and Units, 6.2), or null when it is relative or missing. */
function pixels(length: string | undefined): number | null {
  const match = /^\s*([0-9.]+(?:e[+-]?\d+)?)\s*([a-z]*)\s*$/i.exec(length ?? '');
  const factor = match && UNITS[match[2].toLowerCase()];
  const value = match && factor ? Number(match[1]) * factor : NaN;
  return value > 0 && Number.isFinite(value) ? value : null;
}

function sizeOf(attributes: Record<string, string>): { width: number; height: number } | null {
  const box = (attributes['viewBox'] ?? '').trim().split(/[\s,]+/).map(Number);
  const view = box.length === 4 && box[2] > 0 && box[3] > 0 ? { width: box[2], height: box[3] } : null;
  const [width, height] = [pixels(attributes['width']), pixels(attributes['height'])];
  if (width && height) return { width, height };
  if (view && width) return { width, height: (width * view.height) / view.width };
  if (view && height) return { width: (height * view.width) / view.height, height };
  return view;
}
