import sax from 'sax';
import { BLEND_MODES, type BlendMode } from '@kettle/core/raster';
import { cutText, shortName } from '@kettle/core/text';
import { ProblemError } from '../../floor/basics/problem-error.js';

/** A layer as a stack has it, with all of its stacks' positions, opacities and visibilities worked in. */
export interface StackLayer {
  readonly name: string;
  readonly src: string;
  readonly x: number;
  readonly y: number;
  readonly opacity: number;
  readonly hidden: boolean;
  readonly locked: boolean;
  readonly blend: BlendMode;
  readonly group: { readonly key: string; readonly name: string } | null;
}

export interface Stack {
  readonly width: number;
  readonly height: number;
  readonly dpi: number;
  readonly name: string;
  /** Back to front. */ readonly layers: readonly StackLayer[];
  /** What could not be taken over as it is, in sentences. */ readonly told: readonly string[];
}

interface Within {
  readonly x: number;
  readonly y: number;
  readonly opacity: number;
  readonly hidden: boolean;
  readonly group: StackLayer['group'];
}

/** The stack's name of a blend mode. */
export const compositeOp = (blend: BlendMode = 'normal'): string => `svg:${blend === 'normal' ? 'src-over' : blend}`;

function blendOf(operator: string): BlendMode | null {
  const name = operator.replace(/^svg:/, '');
  if (name === 'src-over' || name === '') return 'normal';
  return BLEND_MODES.find((mode) => mode === name) ?? null;
}

const damaged = (what: string): ProblemError =>
  new ProblemError(422, 'damaged-ora', `This OpenRaster file is damaged: ${what}.`);

/** Reads the stack.xml of an OpenRaster file. @throws ProblemError when it cannot be read */
export function readStack(xml: string): Stack {
  if (xml.length > 4_000_000) throw damaged('its list of layers is larger than 4 MB');
  if (/<!(DOCTYPE|ENTITY)/i.test(xml)) throw damaged('its list of layers defines entities of its own');
  const parser = sax.parser(true, { trim: true });
  const open: Within[] = [];
  const layers: StackLayer[] = [];
  const told = new Set<string>();
  let image: { width: number; height: number; dpi: number; name: string } | null = null;
  let [stacks, wrong] = [0, ''];
  const number = (text: string | undefined, otherwise: number): number => {
    const value = Number(text ?? otherwise);
    return Number.isFinite(value) ? value : otherwise;
  };
  parser.onerror = (error) => {
    wrong ||= error.message.split('\n')[0];
    (parser as unknown as { error: null }).error = null;
  };
  parser.onopentag = ({ name, attributes }) => {
    const of = attributes as Record<string, string | undefined>;
    const outer = open.at(-1) ?? { x: 0, y: 0, opacity: 1, hidden: false, group: null };
    const here: Within = {
      x: outer.x + number(of['x'], 0),
      y: outer.y + number(of['y'], 0),
      opacity: outer.opacity * Math.min(1, Math.max(0, number(of['opacity'], 1))),
      hidden: outer.hidden || of['visibility'] === 'hidden',
      group: outer.group,
    };
    if (name === 'image')
      image = {
        width: number(of['w'], 0),
        height: number(of['h'], 0),
        dpi: number(of['xres'], 0) || 300,
        name: of['name'] ?? '',
      };
    if (name === 'stack') {
      // The outermost stack is the picture itself. Stacks within groups are taken into the group they are in.
      const group =
        open.length === 0
          ? null
          : (outer.group ?? { key: `stack${++stacks}`, name: shortName(of['name'] ?? '', 200, 'Group') });
      if (open.length > 0 && outer.group) told.add('Groups within groups became one group.');
      if (open.length > 0 && of['opacity'] !== undefined && number(of['opacity'], 1) < 1)
        told.add('A group’s opacity was given to its layers.');
      if (open.length > 0 && blendOf(of['composite-op'] ?? '') !== 'normal')
        told.add('A group’s own blend mode was left out.');
      open.push({ ...here, group });
    }
    if (name === 'layer' && of['src']) {
      const blend = blendOf(of['composite-op'] ?? '');
      if (!blend) told.add(`The operator “${cutText(of['composite-op'] ?? '', 40)}” became normal.`);
      layers.push({
        name: shortName(of['name'] ?? '', 200, 'Layer'),
        src: of['src'],
        x: here.x,
        y: here.y,
        opacity: here.opacity,
        hidden: here.hidden,
        locked: of['edit-locked'] === 'true',
        blend: blend ?? 'normal',
        group: outer.group,
      });
    }
  };
  parser.onclosetag = (name) => {
    if (name === 'stack') open.pop();
  };
  parser.write(xml).close();
  const found = image as { width: number; height: number; dpi: number; name: string } | null;
  if (!found || !(found.width > 0) || !(found.height > 0)) throw damaged('it does not say how large the picture is');
  if (wrong) told.add('Its list of layers is damaged; what could be read of it was taken.');
  return { ...found, layers: layers.reverse(), told: [...told] };
}
