import { generate, parse, walk, type CssNode, type Declaration, type Rule, type Selector } from 'css-tree';
import { compile } from 'css-select';
import sharp from 'sharp';
import render from 'dom-serializer';
import type { ChildNode, Element } from 'domhandler';
import { parseDocument } from 'htmlparser2';
import { profileName } from '../colour/icc.js';
import { decodeRaster, openRaster } from './source.js';
import { safeSvg } from './svg.js';
import { boxOf, originOf, shapeOf, transformOf, type Box } from './svg-shapes.js';

/** Most matches of elements against selectors that are tried: a drawing has thousands, a trap has billions. */
const MOST_MATCHES = 30_000_000;
/** Longest value a variable may come to, so that variables of variables do not grow without end. */
const LONGEST = 20_000;

/** What the renderer does not understand by itself: such a drawing's styles are worked out and written to its elements. */
const NEEDED =
  /var\(|:(?:is|where|has)\(|transform-origin|clip-path\s*[:=]\s*["']?\s*(?:circle|ellipse|inset|polygon|path)\(|(?<![\w-])(?:transform|rotate|scale|translate|d)\s*:/;
/** Colours that are written in ways the renderer takes for none. */
const UNKNOWN_COLOUR = /(?<![\w-])(?:oklch|oklab|lch|lab|color|color-mix|light-dark)\(/i;

/** Filters whose colours the renderer works out in linear light. */
const CHANGING_FILTER = /filter\s*[:=][^;>]*?(?:grayscale|sepia|saturate|hue-rotate|invert|brightness|contrast)\(/i;

/** Properties that are written as attributes, or change others, once they are worked out. */
const PLACED = ['transform', 'transform-origin', 'transform-box', 'translate', 'rotate', 'scale', 'clip-path', 'd'];

interface Said {
  readonly property: string;
  readonly value: string;
  readonly important: boolean;
}

interface SheetRule {
  readonly matches: (element: Element) => boolean;
  /** Of its selector (Selectors 4, 17): ids, classes, types. */
  readonly weight: number;
  readonly order: number;
  readonly said: readonly Said[];
}

/**
 * An SVG that every renderer draws as a browser does: its styles worked out, its pictures in sRGB. Null where it is that
 * already.
 * @param asItIs its safe text, where that was read before
 */
export async function plainDrawing(
  bytes: Uint8Array,
  asItIs = safeSvg(bytes).text,
): Promise<{ readonly text: string | null; readonly told: readonly string[] }> {
  const safe = safeSvg(bytes, { plain: true }).text;
  const { text, told } = withPlainStyles(safe);
  const plain = await withPlainPictures(text);
  return { text: plain === asItIs ? null : plain, told };
}

/** A picture with a profile of its own as a PNG in sRGB; null where it is in sRGB. */
async function inSrgb(bytes: Buffer): Promise<Buffer | null> {
  const { icc, space } = await openRaster(bytes).metadata();
  if (space !== 'cmyk' && (!icc || /srgb/i.test(profileName(icc) ?? ''))) return null;
  const { width, height, data } = await decodeRaster(bytes);
  return sharp(data, { raw: { width, height, channels: 4 } })
    .png()
    .toBuffer();
}

/** The pictures within a drawing in sRGB where they have a profile of their own, which renderers pass over. */
async function withPlainPictures(text: string): Promise<string> {
  const pieces: string[] = [];
  let from = 0;
  for (const found of text.matchAll(/href="data:image\/(?:png|jpeg|webp);base64,([^"]+)"/g)) {
    const bytes = Buffer.from(found[1], 'base64');
    // One that cannot be read is left to the renderer, as it was.
    const png = await inSrgb(bytes).catch(() => null);
    if (!png) continue;
    pieces.push(text.slice(from, found.index), `href="data:image/png;base64,${png.toString('base64')}"`);
    from = found.index + found[0].length;
  }
  return pieces.join('') + text.slice(from);
}

/**
 * A safe SVG with its styles worked out as a browser does (CSS Cascade 4; CSS Variables 1; CSS Transforms 1; CSS Shapes
 * 1): rules become the elements' own, variables what they stand for, transforms, clips and outlines of styles the
 * attributes that every renderer knows. Drawings that need none of it come back as they are.
 * @param text of one `<svg>`, from what was read and written anew
 * @returns with what could not be followed, as sentences
 */
function withPlainStyles(text: string): { readonly text: string; readonly told: readonly string[] } {
  const told = new Set<string>();
  if (UNKNOWN_COLOUR.test(text))
    told.add(
      'Some of its colours are written in a way that is not known here (oklch, color, color-mix): save them as hex.',
    );
  if (/calc\(/i.test(text)) told.add('Some of its lengths are calculations (calc), which are not worked out here.');
  if (CHANGING_FILTER.test(text))
    told.add('Colours that its filters change may come out a little otherwise than in a browser.');
  if (!NEEDED.test(text)) return { text, told: [...told] };
  const root = parseDocument(text, { xmlMode: true }).children.find(isElement);
  if (!root) return { text, told: [...told] };
  const sheets: string[] = [];
  const elements: Element[] = [];
  const gather = (element: Element): void => {
    if (element.name === 'style') sheets.push(element.children.map((one) => ('data' in one ? one.data : '')).join(''));
    else elements.push(element);
    for (const child of element.children) if (isElement(child)) gather(child);
  };
  gather(root);
  const rules = rulesOf(sheets.join('\n'));
  if (rules.length * elements.length > MOST_MATCHES)
    return {
      text,
      told: [...told, 'Its styles are too many to be worked out, and may be drawn otherwise than in a browser.'],
    };
  new Resolver(rules, told).resolve(root);
  // Where it is looked for by those who give a drawing another size.
  const { width, height, ...others } = root.attribs;
  root.attribs = { ...others, width, height };
  return { text: render(root, { xmlMode: true, encodeEntities: 'utf8', selfClosingTags: true }), told: [...told] };
}

const isElement = (node: ChildNode): node is Element => node.type === 'tag' || node.type === 'style';

/** The rules of style sheets in their order, each with one selector. */
function rulesOf(css: string): SheetRule[] {
  const out: SheetRule[] = [];
  walk(parse(css, { parseCustomProperty: false, onParseError: () => undefined }), {
    visit: 'Rule',
    enter(rule: Rule) {
      if (rule.prelude.type !== 'SelectorList') return;
      const said = saidIn(rule.block);
      for (const selector of rule.prelude.children) {
        const text = generate(selector);
        try {
          const matches = compile<ChildNode, Element>(text, { xmlMode: true });
          out.push({ matches, weight: weightOf(selector as Selector), order: out.length, said });
        } catch {
          // One that matches nothing in a still drawing, as :hover does.
        }
      }
    },
  });
  return out;
}

function saidIn(node: CssNode): Said[] {
  const said: Said[] = [];
  walk(node, {
    visit: 'Declaration',
    enter({ property, value, important }: Declaration) {
      said.push({
        property: property.startsWith('--') ? property : property.toLowerCase(),
        value: generate(value).trim(),
        important: !!important,
      });
    },
  });
  return said;
}

function weightOf(selector: Selector): number {
  let weight = 0;
  for (const part of selector.children) {
    if (part.type === 'IdSelector') weight += 1e8;
    else if (part.type === 'ClassSelector' || part.type === 'AttributeSelector') weight += 1e4;
    else if (part.type === 'TypeSelector') weight += part.name === '*' ? 0 : 1;
    else if (part.type === 'PseudoClassSelector') {
      const inner = [...(part.children ?? [])].flatMap((one) =>
        one.type === 'SelectorList' ? [...one.children].map((each) => weightOf(each as Selector)) : [],
      );
      // `:is` and `:not` weigh as the weightiest of what is in them, `:where` nothing.
      if (part.name !== 'where') weight += inner.length ? Math.max(...inner) : 1e4;
    }
  }
  return weight;
}

/** Variables that are looked up for one drawing before the rest of them is left as it is. */
const MOST_LOOKUPS = 200_000;

class Resolver {
  private clips = 0;
  private lookups = 0;

  constructor(
    private readonly rules: readonly SheetRule[],
    private readonly told: Set<string>,
  ) {}

  resolve(root: Element): void {
    this.element(root, new Map(), viewOf(root) ?? { x: 0, y: 0, width: 0, height: 0 });
  }

  private element(element: Element, above: ReadonlyMap<string, string>, view: Box): void {
    const said = this.saidOf(element);
    const variables = new Map(above);
    for (const [property, value] of said) if (property.startsWith('--')) variables.set(property, value);
    const style: string[] = [];
    const placed: Record<string, string> = {};
    for (const [name, value] of Object.entries(element.attribs)) {
      if (name === 'style' || name === 'id' || !value.includes('var(')) continue;
      const known = this.substituted(value, variables);
      if (known === null) delete element.attribs[name];
      else element.attribs[name] = known;
    }
    for (const [property, value] of said) {
      if (property.startsWith('--')) continue;
      const known = value.includes('var(') ? this.substituted(value, variables) : value;
      if (known === null) continue;
      if (PLACED.includes(property)) placed[property] = known;
      else style.push(`${property}:${known}`);
    }
    const inside = element.name === 'svg' || element.name === 'symbol' ? (viewOf(element) ?? view) : view;
    this.place(element, placed, view, style);
    if (style.length) element.attribs['style'] = style.join(';');
    else delete element.attribs['style'];
    for (const child of [...element.children]) {
      if (!isElement(child)) continue;
      if (child.name === 'style') element.children.splice(element.children.indexOf(child), 1);
      else this.element(child, variables, inside);
    }
  }

  /** What is said of an element, each property once: the last of the weightiest. */
  private saidOf(element: Element): Map<string, string> {
    const own = element.attribs['style']
      ? saidIn(parse(element.attribs['style'], { context: 'declarationList', onParseError: () => undefined }))
      : [];
    const matching = this.rules
      .filter((rule) => rule.matches(element))
      .sort((a, b) => a.weight - b.weight || a.order - b.order);
    const all = [...matching.flatMap((rule) => rule.said), ...own];
    const said = new Map<string, string>();
    for (const isImportant of [false, true])
      for (const { property, value, important } of all)
        if (important === isImportant) {
          said.delete(property);
          said.set(property, value);
        }
    return said;
  }

  /** Transforms, clips and outlines as attributes. */
  private place(element: Element, placed: Record<string, string>, view: Box, style: string[]): void {
    const { attribs } = element;
    const about = placed['transform-origin'] ?? attribs['transform-origin'];
    const steps = transformOf(placed, view);
    if (steps === null) this.told.add('A transform of its styles could not be followed.');
    const written = steps || attribs['transform'] || '';
    if (steps) attribs['transform'] = steps;
    delete attribs['transform-origin'];
    if (written && about !== undefined) {
      const ownBox = /fill-box|content-box|stroke-box|border-box/.test(placed['transform-box'] ?? '');
      const box = ownBox ? boxOf(element) : view;
      const origin = box && originOf(about, box);
      if (!origin) this.told.add('A turn about the middle of one of its parts could not be followed.');
      else if (origin.x || origin.y)
        attribs['transform'] = `translate(${origin.x} ${origin.y}) ${written} translate(${-origin.x} ${-origin.y})`;
    }
    const outline = /^path\(\s*(["'])(.*)\1\s*\)$/s.exec(placed['d'] ?? '')?.[2];
    if (outline !== undefined && element.name === 'path') attribs['d'] = outline;
    const clip = placed['clip-path'] ?? attribs['clip-path'];
    if (clip === undefined) return;
    if (/^(?:url\(|none|inherit)/.test(clip)) {
      if (placed['clip-path']) style.push(`clip-path:${clip}`);
      return;
    }
    const box = boxOf(element);
    const shape = box && shapeOf(clip, box);
    delete attribs['clip-path'];
    if (!shape) {
      this.told.add('A shape that clips one of its parts could not be followed.');
      return;
    }
    const id = `ks-clip-${++this.clips}`;
    const made = parseDocument(`<clipPath id="${id}">${shape}</clipPath>`, { xmlMode: true }).children[0];
    const beside = element.parent!.children;
    made.parent = element.parent;
    beside.splice(beside.indexOf(element), 0, made);
    attribs['clip-path'] = `url(#${id})`;
  }

  /** A value with its variables in it, or null where one is neither known nor has anything in its place. */
  private substituted(
    value: string,
    variables: ReadonlyMap<string, string>,
    within: readonly string[] = [],
  ): string | null {
    let out = '';
    let rest = value;
    for (;;) {
      const at = rest.indexOf('var(');
      if (at < 0) break;
      if (++this.lookups > MOST_LOOKUPS) {
        this.told.add('Its styles use more variables than are followed.');
        return null;
      }
      let [depth, end] = [1, at + 4];
      while (end < rest.length && depth > 0) {
        if (rest[end] === '(') depth++;
        else if (rest[end] === ')') depth--;
        end++;
      }
      const inside = rest.slice(at + 4, depth === 0 ? end - 1 : end);
      const comma = inside.indexOf(',');
      const name = (comma < 0 ? inside : inside.slice(0, comma)).trim();
      const own = within.includes(name) ? undefined : variables.get(name);
      const known = own === undefined ? null : this.substituted(own, variables, [...within, name]);
      const instead = known ?? (comma < 0 ? null : this.substituted(inside.slice(comma + 1).trim(), variables, within));
      if (instead === null) return null;
      out += rest.slice(0, at) + instead;
      rest = rest.slice(end);
      if (out.length > LONGEST) return null;
    }
    // What is put together of parts may not lead outside either.
    return /url\(\s*["']?\s*[^#"'\s]/i.test(out + rest) ? null : out + rest;
  }
}

const viewOf = ({ attribs }: Element): Box | null => {
  const [x, y, width, height] = (attribs['viewBox'] ?? '')
    .trim()
    .split(/[\s,]+/)
    .map(Number);
  return width > 0 && height > 0 ? { x, y, width, height } : null;
};
