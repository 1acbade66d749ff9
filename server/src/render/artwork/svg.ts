import { generate, parse, walk, type Atrule, type CssNode, type List, type ListItem } from 'css-tree';
import { imageSize } from 'image-size';
import sax from 'sax';
import { ProblemError } from '../../floor/basics/problem-error.js';
import { ATTRIBUTES, ELEMENTS, FOREIGN, MOVING, RUNNING } from './svg-rules.js';

/**
 * What a drawing may hold. Each limit is well above what drawings have, and well below what keeps a machine busy or
 * fills its memory.
 */
const MOST = {
  nodes: 200_000,
  deep: 150,
  letters: 30_000,
  css: 1_000_000,
  primitives: 60,
  filtered: 400,
  picturePixels: 60_000_000,
  entities: 60,
  entityLength: 2000,
  output: 100_000_000,
};

const SVG = 'http://www.w3.org/2000/svg';
const escapeText = (text: string): string => text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;');
const escapeValue = (text: string): string =>
  escapeText(text)
    .replace(/"/g, '&quot;')
    .replace(/[\n\t\r]/g, ' ');

const OUTSIDE = 'A reference to something outside the file was taken out.';
const tooMuch = (what: string): ProblemError =>
  new ProblemError(422, 'svg-too-large', `This SVG has ${what}. Simplify it, or export it as a PNG.`);

/** SVG that is safe to draw, with what was taken out and its own proportions. */
export interface SafeSvg {
  /** The whole as a document of its own. */
  readonly text: string;
  /** The whole as an element at the origin of another drawing, at its natural size. */
  readonly nested: string;
  /** Natural size in CSS px. */
  readonly width: number;
  readonly height: number;
  /** What was removed, as sentences. */
  readonly removed: readonly string[];
  /** Families that its live text asks for; empty when it has none. */
  readonly fonts: readonly string[];
  /** True when letters are drawn in a font instead of as outlines. */
  readonly liveText: boolean;
}

interface Options {
  /** A family that all live text is set in, in place of what it asks for. */
  readonly face?: string;
  /** Families that are written just as they stand here wherever they are asked for, in whatever case. */
  readonly spelled?: readonly string[];
  /** Rules within conditions are kept where they hold for a still picture on light ground. */
  readonly plain?: boolean;
}

/**
 * Rewrites an SVG: only what is known to draw something is written out again, from what parsers of XML and CSS
 * understood. Comments, escapes and other
 * programs' own things cannot hide anything, because nothing is copied.
 * @throws ProblemError when it is no SVG, defines entities that grow, is oversized or has no size
 */
export function safeSvg(bytes: Uint8Array, { face, spelled, plain = false }: Options = {}): SafeSvg {
  const source = decoded(bytes);
  const out: string[] = [];
  const removed = new Set<string>();
  const fonts = new Set<string>();
  const names: string[] = [];
  let [nodes, skipping, letters, css, primitives, filtered, pixels, output] = [0, 0, 0, 0, 0, 0, 0, 0];
  let size: { width: number; height: number } | null = null;
  let rootAttributes = '';
  let root = '';
  let rootUri = '';
  let style: string | null = null;
  let lettering = 0;
  let liveText = false;
  const write = (piece: string): void => {
    output += piece.length;
    if (output > MOST.output) throw tooMuch('grown beyond all measure');
    out.push(piece);
  };

  const cleanedCss = (text: string, context: 'stylesheet' | 'declarationList' | 'value'): string => {
    css += text.length;
    if (css > MOST.css) throw tooMuch('more than a megabyte of styles');
    const told = (sentence: string) => removed.add(sentence);
    const ast = parse(text, { context, parseCustomProperty: true, onParseError: () => undefined });
    walk(ast, {
      enter(node: CssNode, item: ListItem<CssNode>, list: List<CssNode>) {
        if (node.type === 'Atrule') {
          if (node.name.toLowerCase() === 'import') told(OUTSIDE);
          if (node.name.toLowerCase() === 'font-face') told('An embedded font was taken out.');
          if (list && !(plain ? holds(node) : node.name.toLowerCase() === 'media')) list.remove(item);
        } else if (node.type === 'Declaration') {
          const family = /^font(-family)?$/i.test(node.property);
          if (family) {
            for (const name of familiesOf(node.value, node.property)) fonts.add(name);
            if (face ?? spelled)
              node.value = { type: 'Raw', value: inFamilies(generate(node.value), node.property, face, spelled) };
          }
          if (/^filter$/i.test(node.property) && ++filtered > MOST.filtered)
            throw tooMuch(`more than ${MOST.filtered} filtered parts`);
          if (list && (usesOutside(node.value) || /^(behavior|-moz-binding)$/i.test(node.property))) {
            told(OUTSIDE);
            list.remove(item);
          }
        } else if (node.type === 'Raw' && list && UNREAD.test(node.value)) {
          told(OUTSIDE);
          list.remove(item);
        }
      },
      // What holds in any case, or on a screen, holds here; the rest of a sheet is for other times.
      leave(node: CssNode, item: ListItem<CssNode>, list: List<CssNode>) {
        if (!plain || node.type !== 'Atrule' || !list || !node.block || !holds(node)) return;
        list.insertList(node.block.children, item);
        list.remove(item);
      },
    });
    if (context === 'value' && usesOutside(ast)) {
      told(OUTSIDE);
      return 'none';
    }
    return generate(ast);
  };

  const attributesOf = (name: string, attributes: Record<string, sax.QualifiedAttribute>): string => {
    let text = '';
    for (const { local, uri, value } of Object.values(attributes)) {
      if (/^on/i.test(local)) {
        removed.add('A script was taken out.');
        continue;
      }
      if (local === 'href' && (uri === '' || uri === 'http://www.w3.org/1999/xlink')) {
        if (name === 'a') continue;
        const target = value.trim();
        const safe = target.startsWith('#') ? target : pictureIn(target);
        if (safe === null) removed.add(OUTSIDE);
        else text += ` href="${escapeValue(safe)}"`;
        continue;
      }
      if (local === 'space' && uri === 'http://www.w3.org/XML/1998/namespace') {
        text += ` xml:space="${value === 'preserve' ? 'preserve' : 'default'}"`;
        continue;
      }
      if (uri !== '' || !ATTRIBUTES.has(local)) continue;
      if (local === 'style') {
        const safe = cleanedCss(value, 'declarationList');
        if (safe) text += ` style="${escapeValue(safe)}"`;
        continue;
      }
      if (local === 'font-family' || local === 'font')
        for (const family of familiesOf(parse(value, { context: 'value', onParseError: () => undefined }), local))
          fonts.add(family);
      if (local === 'filter' && ++filtered > MOST.filtered) throw tooMuch(`more than ${MOST.filtered} filtered parts`);
      if ((face ?? spelled) && (local === 'font-family' || local === 'font')) {
        text += ` ${local}="${escapeValue(inFamilies(value, local, face, spelled))}"`;
        continue;
      }
      text += ` ${local}="${escapeValue(/[(\\]|import/i.test(value) && !/^(transform|gradientTransform|patternTransform|d|points)$/.test(local) ? cleanedCss(value, 'value') : value)}"`;
    }
    return text;
  };

  /** A picture within the file, named as what it is; null for anything else. */
  const pictureIn = (target: string): string | null => {
    const given = /^data:[^,]{0,200}?(;base64)?,/i.exec(target);
    if (!given) return null;
    const content = given[1]
      ? Buffer.from(
          target
            .slice(given[0].length)
            .replace(/%([0-9a-f]{2})/gi, (_all, code: string) => String.fromCharCode(parseInt(code, 16))),
          'base64',
        )
      : Buffer.from(unescapedBytes(target.slice(given[0].length)), 'latin1');
    try {
      const found = imageSize(content);
      const type = ({ png: 'png', jpg: 'jpeg', gif: 'gif', webp: 'webp' } as Record<string, string>)[found.type ?? ''];
      if (!type) return null;
      pixels += (found.width ?? 0) * (found.height ?? 0);
      if (pixels > MOST.picturePixels) throw tooMuch('pictures of more than 60 million pixels within it');
      return `data:image/${type};base64,${content.toString('base64')}`;
    } catch (error) {
      if (error instanceof ProblemError) throw error;
      return null;
    }
  };

  const parser = sax.parser(true, { xmlns: true });
  defineEntities(source, parser);
  parser.onerror = (error) => {
    throw new ProblemError(
      422,
      'svg-broken',
      `This SVG is not well-formed (${error.message.split('\n')[0].toLowerCase()}). Save it again from the program that made it.`,
    );
  };
  parser.onopentag = (tag) => {
    const { local, uri, attributes } = tag as sax.QualifiedTag;
    if (++nodes > MOST.nodes) throw tooMuch(`more than ${MOST.nodes.toLocaleString('en-GB')} elements`);
    if (!root) {
      root = local.toLowerCase();
      rootUri = uri;
      if (root !== 'svg')
        throw new ProblemError(415, 'not-a-picture', 'This file is not a picture: its first element is not <svg>.');
      const own = Object.fromEntries(
        Object.values(attributes)
          .filter((one) => one.uri === '')
          .map((one) => [one.local, one.value]),
      );
      size = sizeOf(own);
      const { width: _w, height: _h, x: _x, y: _y, ...kept } = attributes;
      rootAttributes = attributesOf('svg', kept);
      names.push('svg');
      return;
    }
    const lower = local.toLowerCase();
    const ours = uri === SVG || (uri === '' && rootUri === '');
    if (skipping || !ours || !ELEMENTS.has(local)) {
      if (!skipping) {
        if (RUNNING.has(lower)) removed.add('A script was taken out.');
        else if (MOVING.has(lower)) removed.add('Animation was taken out.');
        else if (FOREIGN.has(lower)) removed.add(`An embedded <${local}> was taken out.`);
      }
      skipping++;
      return;
    }
    if (names.length >= MOST.deep) throw tooMuch(`parts nested more than ${MOST.deep} deep`);
    if (local === 'filter') primitives = 0;
    if (local.startsWith('fe') && names.includes('filter') && ++primitives > MOST.primitives)
      throw tooMuch(`a filter of more than ${MOST.primitives} steps`);
    if (local === 'text') lettering++;
    names.push(local);
    if (local === 'style') {
      style = '';
      return;
    }
    write(`<${local}${attributesOf(local, attributes as Record<string, sax.QualifiedAttribute>)}>`);
  };
  parser.onclosetag = () => {
    if (skipping) {
      skipping--;
      return;
    }
    const name = names.pop()!;
    if (name === 'style' && style !== null) {
      write(`<style>${escapeText(cleanedCss(style, 'stylesheet'))}</style>`);
      style = null;
      return;
    }
    if (name === 'text') lettering--;
    if (names.length) write(`</${name}>`);
  };
  const heard = (text: string): void => {
    if (skipping) return;
    if (style !== null) {
      style += text;
      return;
    }
    if (!lettering) return;
    letters += text.length;
    if (letters > MOST.letters) throw tooMuch(`more than ${MOST.letters.toLocaleString('en-GB')} letters of text`);
    if (text.trim()) liveText = true;
    write(escapeText(text));
  };
  parser.ontext = heard;
  parser.oncdata = heard;
  parser.write(source).close();
  if (!root) throw new ProblemError(415, 'not-a-picture', 'This file is not a picture.');
  if (!size)
    throw new ProblemError(
      422,
      'svg-no-size',
      'This SVG says neither its width and height nor a viewBox, so nobody can know how large it is. Add a viewBox and try again.',
    );
  const { width, height } = size as { width: number; height: number };
  const view = / viewBox="/.test(rootAttributes) ? '' : ` viewBox="0 0 ${width} ${height}"`;
  const chosen =
    face && liveText && !/ font-family="/.test(rootAttributes) ? ` font-family="${escapeValue(face)}"` : '';
  const inside = `${rootAttributes}${chosen}${view} width="${width}" height="${height}">${out.join('')}</svg>`;
  return {
    text: `<svg xmlns="${SVG}"${inside}`,
    nested: `<svg${inside}`,
    width,
    height,
    removed: [...removed],
    fonts: liveText ? [...(face ? [face] : fonts)] : [],
    liveText,
  };
}

/** Text of an XML file in the encoding that its first bytes say (XML 1.0, appendix F). */
function decoded(bytes: Uint8Array): string {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return new TextDecoder('utf-16le').decode(bytes);
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return new TextDecoder('utf-16be').decode(bytes);
  const said =
    /^[^>]*?encoding\s*=\s*["']([\w-]+)["']/.exec(new TextDecoder('latin1').decode(bytes.subarray(0, 200)))?.[1] ??
    'utf-8';
  try {
    return new TextDecoder(said).decode(bytes);
  } catch {
    return new TextDecoder().decode(bytes);
  }
}

/**
 * Entities that stand for a short text, as drawing programs write them for their namespaces. @throws ProblemError for
 * those that stand for other entities, or come from elsewhere
 */
function defineEntities(source: string, parser: sax.SAXParser): void {
  const head = source.slice(0, Math.max(0, source.search(/<(?:\w+:)?svg[\s>]/i)));
  if (!/<!ENTITY/i.test(source)) return;
  const bad = (): ProblemError =>
    new ProblemError(
      422,
      'svg-entities',
      'This SVG defines entities of its own, which can be made to swallow all memory. Save it again without a DOCTYPE.',
    );
  const all = [...head.matchAll(/<!ENTITY\s+([\w.-]+)\s+(?:"([^"&%]*)"|'([^'&%]*)')\s*>/g)];
  if (all.length !== (source.match(/<!ENTITY/gi) ?? []).length || all.length > MOST.entities) throw bad();
  for (const [, name, double, single] of all) {
    const value = double ?? single ?? '';
    if (value.length > MOST.entityLength || /[<>]/.test(value)) throw bad();
    parser.ENTITIES[name] = value;
  }
}

/** True for a block of rules that holds for a still picture on light ground, in a program that knows what it asks for. */
function holds({ name, prelude }: Atrule): boolean {
  const said = prelude ? generate(prelude) : '';
  if (/^(supports|layer)$/i.test(name)) return !/^\s*not\b/i.test(said);
  return (
    /^media$/i.test(name) && /^\s*(?:(?:only\s+)?(?:all|screen)|\(prefers-color-scheme:\s*light\))\s*$/i.test(said)
  );
}

const unescapedBytes = (text: string): string =>
  text.replace(/%([0-9a-f]{2})/gi, (_all, code: string) => String.fromCharCode(parseInt(code, 16)));

/** What a parser of CSS gave up on, when it might still lead outside. */
const UNREAD = /\\|\/\/|url\s*\(|@import|expression\s*\(/i;

/**
 * True when a value reaches for something outside the file. A picture within it may be used where pictures are, not in
 * styles.
 */
function usesOutside(node: CssNode): boolean {
  let found = false;
  walk(node, (one) => {
    if (one.type === 'Url' && !one.value.trim().startsWith('#')) found = true;
    if (one.type === 'Raw' && UNREAD.test(one.value)) found = true;
    // A name with an escape in it is written so for one reason; and no drawing needs these.
    if (
      one.type === 'Function' &&
      (one.name.includes('\\') ||
        /^(src|image|image-set|-webkit-image-set|element|cross-fade|expression)$/i.test(one.name))
    )
      found = true;
  });
  return found;
}

const GENERIC = new Set([
  'serif',
  'sans-serif',
  'monospace',
  'cursive',
  'fantasy',
  'system-ui',
  'inherit',
  'initial',
  'unset',
]);

/** Everything of a `font` shorthand before its families. */
const BEFORE_FAMILIES = /^.*?[\d.]+(?:px|pt|em|mm|cm|in|%|pc|ex|rem)?(?:\/[\w.%]+?)?\s*(?=["'a-z])/i;

/** A `font-family` or `font` value with one family in place of its own, or with some of its own spelled anew. */
function inFamilies(value: string, property: string, face?: string, spelled: readonly string[] = []): string {
  const before = property.toLowerCase() === 'font' ? (BEFORE_FAMILIES.exec(value)?.[0] ?? '') : '';
  const quoted = (family: string): string => `"${family.replace(/["\\]/g, '')}"`;
  if (face) return before + quoted(face);
  const families = value.slice(before.length).split(',');
  return (
    before +
    families
      .map((one) => {
        const plain = unquoted(one).toLowerCase();
        const known = spelled.find((family) => family.toLowerCase() === plain);
        return known ? quoted(known) : one;
      })
      .join(',')
  );
}

const unquoted = (family: string): string =>
  family
    .trim()
    .replace(/^["']|["']$/g, '')
    .trim();

/** Family names of a `font-family` or `font` value, without the generic ones. */
function familiesOf(node: CssNode, property: string): string[] {
  const text = generate(node).replace(/!important/i, '');
  const list = property.toLowerCase() === 'font' ? text.replace(BEFORE_FAMILIES, '') : text;
  return list
    .split(',')
    .map(unquoted)
    .filter((one) => one && one.length < 100 && !GENERIC.has(one.toLowerCase()));
}

const UNITS: Readonly<Record<string, number>> = {
  '': 1,
  px: 1,
  in: 96,
  cm: 96 / 2.54,
  mm: 96 / 25.4,
  q: 96 / 101.6,
  pt: 96 / 72,
  pc: 16,
};

/** CSS length in px (CSS Values and Units, 6.2), or null when it is relative or missing. */
function pixels(length: string | undefined): number | null {
  const match = /^\s*\+?([0-9]*\.?[0-9]+(?:e[+-]?\d+)?)\s*([a-z]*)\s*$/i.exec(length ?? '');
  const factor = match && Object.hasOwn(UNITS, match[2].toLowerCase()) ? UNITS[match[2].toLowerCase()] : null;
  const value = match && factor ? Number(match[1]) * factor : NaN;
  return value > 0 && Number.isFinite(value) ? value : null;
}

function sizeOf(attributes: Record<string, string>): { width: number; height: number } | null {
  const box = (attributes['viewBox'] ?? '')
    .trim()
    .split(/[\s,]+/)
    .map(Number);
  const view =
    box.length === 4 && box[2] > 0 && box[3] > 0 && box.every(Number.isFinite)
      ? { width: box[2], height: box[3] }
      : null;
  const [width, height] = [pixels(attributes['width']), pixels(attributes['height'])];
  if (width && height) return { width, height };
  if (view && width) return { width, height: (width * view.height) / view.width };
  if (view && height) return { width: (height * view.width) / view.height, height };
  return view;
}
