import * as yup from 'yup';
import {
  ANCHORS, BLEND_MODES, COLOUR_MODES, FILE_TYPES, LENGTH_UNITS, MAX_LAYERS, MAX_LETTERS, MAX_STOPS, MAX_STROKE_POINTS, MAX_STROKES, PICTURE_SIZES, PLACEMENT_RULES, SHAPE_KINDS, SIZE_RULES, TRANSPARENCIES, demandedCanvas, isHex,
  type Paint, type RequirementFields,
} from '@kettle/core';

const finite = (label: string, least: number, most: number) => yup.number()
  .typeError(`${label} must be a number.`).min(least, `${label} must be at least ${least}.`).max(most, `${label} must be at most ${most}.`)
  .test('finite', `${label} must be a number.`, (value) => value === undefined || value === null || Number.isFinite(value));
const text = (label: string, most: number) => yup.string().strict().typeError(`${label} must be text.`)
  .max(most, `${label} must be at most ${most} letters long.`);
const choice = <T extends string>(label: string, values: readonly T[]) => yup.string<T>().oneOf(values, `${label} must be one of ${values.join(', ')}.`);
const colour = (label: string) => yup.string().matches(/^#[0-9a-fA-F]{6}$/, `${label} must be a colour like #1f2b4d.`);
const identifier = () => yup.string().matches(/^[A-Za-z0-9_-]{1,64}$/, 'An id has up to 64 letters, digits, hyphens and underscores.')
  .test('own', 'This id is the name of something that every object has. Choose another.', (value) => value === undefined || value === null || !(value in Object.prototype));

/** A list whose length is checked before anything in it: a long list of nonsense costs no more than its length. */
const list = (of: yup.AnySchema, most: number, sentence: string, least?: { readonly count: number; readonly sentence: string }) => yup.lazy((value: unknown) => {
  const sized = least ? yup.array().min(least.count, least.sentence).max(most, sentence).required() : yup.array().max(most, sentence).required();
  return Array.isArray(value) && value.length > most ? sized : sized.of(of);
});

const optionalList = (of: yup.AnySchema, most: number, sentence: string) => yup.lazy((value: unknown) => (value === undefined ? yup.mixed().optional() : list(of, most, sentence).resolve({ value })));

/** Numbers in a plain loop: a drawing has tens of thousands. */
const numbers = (label: string, least: number, most: number) => yup.mixed<readonly number[]>().test('numbers', `${label} must be numbers from ${least} to ${most}.`, (value) => (
  value === undefined || (Array.isArray(value) && value.every((one) => typeof one === 'number' && one >= least && one <= most))));
const flag = (label: string) => yup.boolean().strict().typeError(`${label} must be true or false.`);

/** Print canvases above this many pixels are refused: they would not fit a worker's memory. */
export const MAX_CANVAS_PIXELS = 120_000_000;

export const placementSchema = yup.object({
  rule: choice('Rule', PLACEMENT_RULES).required(),
  anchor: choice('Anchor', ANCHORS).required(),
  scale: finite('Scale', 0.01, 100).required(),
  offsetX: finite('Offset across', -10_000, 10_000).required(),
  offsetY: finite('Offset down', -10_000, 10_000).required(),
}).noUnknown();

export const colourwaySchema = yup.object({ name: text('Colour name', 60).required('Give the colour a name.'), hex: colour('Colour').required() }).noUnknown();

/** A requirement as a seller writes it, with the limits that keep it sensible. */
export const requirementSchema = yup.object({
  channel: text('Channel', 80).required('Name the channel.'),
  name: text('Name', 80).required('Name the requirement.'),
  product: text('Product', 80).defined(),
  width: finite('Width', 0.01, 100_000).required('Give a width.'),
  height: finite('Height', 0.01, 100_000).required('Give a height.'),
  unit: choice('Unit', LENGTH_UNITS).required(),
  dpi: finite('DPI', 30, 2400).required('Give the DPI.'),
  mode: choice('Colour mode', COLOUR_MODES).required(),
  transparency: choice('Transparency', TRANSPARENCIES).required(),
  fileTypes: yup.array(choice('File type', FILE_TYPES).required()).min(1, 'Choose at least one file type.').required(),
  maxBytes: finite('Byte limit', 1000, 2_000_000_000).integer('Byte limit must be whole bytes.').nullable().defined(),
  sizeRule: choice('Size rule', SIZE_RULES).required(),
  safeInsetMm: finite('Safe inset', 0, 500).required(),
  placement: placementSchema.required(),
  colourways: list(colourwaySchema.required(), 60, 'At most 60 garment colours.', { count: 1, sentence: 'Give at least one garment colour.' }),
  note: text('Note', 2000).defined(),
}).noUnknown().test('canvas', function canvasFits(value) {
  const { width, height, unit, dpi } = value;
  if (![width, height, dpi].every((number) => number > 0 && Number.isFinite(number)) || !unit) return true;
  const canvas = demandedCanvas({ width, height, unit, dpi });
  if (canvas.widthPx * canvas.heightPx > MAX_CANVAS_PIXELS || Math.max(canvas.widthPx, canvas.heightPx) > 30_000) {
    return this.createError({ path: 'width', message: `That would be ${canvas.widthPx} × ${canvas.heightPx} px. A canvas has at most 30000 px a side and 120 million in all.` });
  }
  return Math.min(canvas.widthPx, canvas.heightPx) >= 16
    || this.createError({ path: 'width', message: `That would be only ${canvas.widthPx} × ${canvas.heightPx} px. A canvas has at least 16 px a side.` });
});

const requirementRow = requirementSchema.clone().shape({ id: identifier().required(), revision: yup.number().integer().required() });

export const placeSchema = yup.object({
  x: finite('Position across', -100_000, 100_000).required(), y: finite('Position down', -100_000, 100_000).required(),
  width: finite('Width', 0.01, 100_000).required(), height: finite('Height', 0.01, 100_000).required(),
  turn: finite('Turn', -3600, 3600).required(), flipX: flag('Flip').required(), flipY: flag('Flip').required(),
}).noUnknown();

export const letteringSettingsSchema = yup.object({
  spacing: finite('Letter spacing', -50, 300).required(), lineSpacing: finite('Line spacing', 30, 400).required(), align: choice('Alignment', ['left', 'middle', 'right']).required(), bend: finite('Bend', -360, 360).required(),
  circle: finite('Circle', -20_000, 20_000).optional(), caps: flag('Upper case').optional(),
}).noUnknown();

export const letteringRequestSchema = yup.object({
  text: yup.string().defined().max(MAX_LETTERS, `Lettering holds at most ${MAX_LETTERS} letters.`), fontId: identifier().required(), settings: letteringSettingsSchema.required(),
}).noUnknown();

export const faceRequestSchema = yup.object({ family: text('Family', 100).required('Name the face.') }).noUnknown();

const stopSchema = yup.object({ at: finite('Stop', 0, 1).required(), hex: colour('Stop colour').required(), opacity: finite('Stop opacity', 0, 1).required() }).noUnknown();

const gradientSchema = yup.object({
  kind: choice('Gradient', ['linear', 'radial']).required(), turn: finite('Turn', -3600, 3600).required(),
  stops: list(stopSchema.required(), MAX_STOPS, `A gradient has at most ${MAX_STOPS} stops.`, { count: 2, sentence: 'A gradient has at least two stops.' }),
}).noUnknown();

/** A colour, a gradient, or null for none. */
const paint = (label: string) => yup.mixed<Paint>().nullable().test('paint', `${label} must be a colour like #1f2b4d or a gradient.`, (value) => (
  value === undefined || value === null || (typeof value === 'string' ? isHex(value) : gradientSchema.isValidSync(value, { strict: true }))));

const pathData = (most: number) => yup.string().max(most, 'These outlines are too long.').matches(/^[MLHVQCSTAZmlhvqcstaz0-9 .,eE+-]+$/, 'Outlines are SVG path data.');

const outlineSchema = yup.object({
  hex: colour('Outline').required(), width: finite('Outline width', 0.05, 200).required(), dash: choice('Dash', ['solid', 'dashed', 'dotted']).required(),
  side: choice('Outline side', ['inside', 'centre', 'outside']).optional(), join: choice('Outline join', ['round', 'bevel', 'mitre']).optional(),
}).noUnknown();

const partSchema = yup.object({ path: pathData(100_000).required(), fill: paint('Fill').defined(), rule: choice('Rule', ['evenodd']).optional() }).noUnknown();

const strokeSchema = yup.object({
  points: numbers('Points', -1_000_000, 1_000_000).required()
    .test('count', `A stroke has 1 to ${MAX_STROKE_POINTS} points, each as x, y and pressure.`, (points) => points === undefined || (points.length >= 3 && points.length <= 3 * MAX_STROKE_POINTS && points.length % 3 === 0)),
  size: finite('Brush size', 0.01, 1000).required(), hardness: finite('Hardness', 0, 1).required(), opacity: finite('Stroke opacity', 0, 1).required(), hex: colour('Brush colour').required(), erase: flag('Erase').required(),
}).noUnknown();

const boxSchema = yup.object({ x: finite('Box', -100_000, 100_000).required(), y: finite('Box', -100_000, 100_000).required(), width: finite('Box width', 0.001, 100_000).required(), height: finite('Box height', 0.001, 100_000).required() }).noUnknown();

/** Fields that only some kinds of layer have; those of its kind are all needed. */
const OWN_FIELDS = {
  picture: ['assetId'], shape: ['shape', 'parameters', 'fill', 'outline'], text: ['text', 'fontId', 'settings', 'outlines', 'fill', 'outline'], graphic: ['graphic', 'box', 'parts'], freehand: ['frame', 'strokes'],
} as const;

export const layerSchema = yup.object({
  kind: choice('Kind', ['picture', 'shape', 'text', 'graphic', 'freehand']).required(), id: identifier().required(), name: text('Layer name', 200).required('Name the layer.'),
  place: placeSchema.required(), opacity: finite('Opacity', 0, 1).required(), hidden: flag('Hidden').required(),
  locked: flag('Locked').optional(), blend: choice('Blend mode', BLEND_MODES).optional(), group: identifier().optional(),
  assetId: identifier().optional(),
  shape: choice('Shape', SHAPE_KINDS).optional(), parameters: yup.object().optional(), fill: paint('Fill').optional(),
  text: yup.string().max(MAX_LETTERS, `Lettering holds at most ${MAX_LETTERS} letters.`).optional(), missing: yup.string().max(MAX_LETTERS).optional(), fontId: identifier().optional(), settings: letteringSettingsSchema.default(undefined).optional(),
  outlines: yup.object({ path: pathData(1_500_000).required(), width: finite('Outlines width', 0.001, 100_000).required(), height: finite('Outlines height', 0.001, 100_000).required() }).noUnknown().default(undefined).optional(),
  outline: outlineSchema.nullable().default(undefined).optional(),
  graphic: identifier().optional(), box: yup.object({ width: finite('Box width', 0.001, 100_000).required(), height: finite('Box height', 0.001, 100_000).required() }).noUnknown().default(undefined).optional(),
  parts: optionalList(partSchema.required(), 300, 'A graphic has at most 300 parts.'),
  frame: boxSchema.default(undefined).optional(), strokes: optionalList(strokeSchema.required(), MAX_STROKES, `A freehand layer holds at most ${MAX_STROKES} strokes. Begin a new one.`),
}).noUnknown().test('whole', 'A layer needs all fields of its kind and none of another: a picture its artwork file; a shape its kind, numbers, fill and outline; lettering its text, font, settings, outlines, fill and outline; a graphic its name, box and parts; freehand its frame and strokes. Fill and outline may be null.', (layer) => {
  const own: readonly string[] = OWN_FIELDS[layer.kind as keyof typeof OWN_FIELDS] ?? [];
  const all = new Set(Object.values(OWN_FIELDS).flat());
  return [...all].every((key) => ((layer as Record<string, unknown>)[key] !== undefined) === own.includes(key))
    && Object.values((layer.parameters ?? {}) as Record<string, unknown>).every((value) => typeof value === 'number' && Number.isFinite(value));
});

/** An object of like values under free keys. */
const recordOf = (schema: yup.AnySchema, most: number, sentence: string) => yup.mixed<Record<string, unknown>>().test('record', sentence, function each(value) {
  if (value === undefined) return true;
  const entries = typeof value === 'object' && value !== null && !Array.isArray(value) ? Object.entries(value) : null;
  return entries !== null && entries.length <= most && entries.every(([key, one]) => /^[A-Za-z0-9_#-]{1,64}$/.test(key) && schema.isValidSync(one, { strict: true }));
});

const guideSchema = yup.object({ axis: choice('Guide', ['x', 'y']).required(), at: finite('Guide', -100_000, 100_000).required() }).noUnknown();
const guides = () => optionalList(guideSchema.required(), 100, 'At most 100 guides.');

const exceptionSchema = yup.object({
  place: placeSchema.default(undefined).optional(), hidden: flag('Hidden').optional(), colours: recordOf(colour('Colour').required(), 60, 'Colours are pairs like {"#1f2b4d": "#ffffff"}.').optional(),
}).noUnknown();

export const targetSchema = yup.object({
  requirementId: identifier().required(),
  placement: placementSchema.default(undefined).optional(),
  canvas: yup.object({
    widthPx: finite('Width', 16, 30_000).integer('Width must be whole pixels.').required(), heightPx: finite('Height', 16, 30_000).integer('Height must be whole pixels.').required(),
    dpi: finite('DPI', 30, 2400).required(),
  }).noUnknown().default(undefined).optional().test('pixels', 'A canvas has at most 120 million pixels.', (c) => !c || c.widthPx * c.heightPx <= MAX_CANVAS_PIXELS),
  garment: colour('Garment colour').optional(),
  guides: guides(),
  layers: recordOf(exceptionSchema.required(), MAX_LAYERS, 'A target’s exceptions are {place, hidden, colours} by layer id.').optional(),
}).noUnknown();

export const sceneSchema = yup.object({
  blankId: identifier().required(), areaId: identifier().required(), requirementId: identifier().nullable().defined(), garment: colour('Garment colour').required(),
  backdrop: colour('Backdrop').required(), inkOpacity: finite('Ink', 0, 1).required(), shadow: finite('Shadow', 0, 1).required(), trueSize: flag('True size').optional(),
}).noUnknown();

export const designSchema = yup.object({
  version: yup.number().oneOf([1], 'This design was written by another version of Kettle Sheet.').required(),
  name: text('Name', 120).required('Name the design.'),
  field: yup.object({ width: finite('Field width', 1, 10_000).required(), height: finite('Field height', 1, 10_000).required() }).noUnknown().required(),
  layers: list(layerSchema.required(), MAX_LAYERS, `A design holds at most ${MAX_LAYERS} layers.`),
  targets: list(targetSchema.required(), 100, 'A design has at most 100 targets.'),
  scene: sceneSchema.default(undefined).optional(),
  groups: recordOf(text('Group name', 200).required(), MAX_LAYERS, 'Groups are names by key.').optional(),
  guides: guides(),
  template: flag('Template').optional(),
}).noUnknown();

const designRow = yup.object({ id: identifier().required(), revision: yup.number().integer().required(), savedAt: yup.string().required(), document: designSchema.required() });

const revision = () => yup.number().integer('A revision is a whole number.').min(1, 'Revisions begin at 1.');

export const printFilesRequestSchema = yup.object({ revision: revision().optional(), requirementIds: list(identifier().required(), 100, 'At most 100 targets at once.', { count: 1, sentence: 'Choose at least one target.' }) }).noUnknown();

export const picturesRequestSchema = yup.object({
  revision: revision().optional(),
  blankId: identifier().required(),
  areaId: identifier().optional(),
  requirementId: identifier().nullable().optional(),
  colourways: list(colourwaySchema.required(), 40, 'At most 40 colours at once.', { count: 1, sentence: 'Choose at least one colour.' }),
  size: yup.number().oneOf([...PICTURE_SIZES], `Size must be one of ${PICTURE_SIZES.join(', ')} px.`).required(),
  format: choice('Format', ['jpeg', 'png']).required(),
  backdrop: colour('Backdrop').optional(),
  inkOpacity: finite('Ink', 0, 1).optional(),
  shadow: finite('Shadow', 0, 1).optional(),
  trueSize: flag('True size').optional(),
}).noUnknown();

const assetRow = yup.object({
  id: identifier().required(), sha256: yup.string().length(64).required(), filename: yup.string().required(), bytes: yup.number().integer().required(),
  width: yup.number().integer().required(), height: yup.number().integer().required(), vector: yup.boolean().required(), dpi: yup.number().nullable().defined(),
  mode: yup.string().required(), hasAlpha: yup.boolean().required(), opaque: yup.boolean().required(), flatBorder: yup.string().nullable().defined(),
  format: yup.string().required(), conversions: yup.array(yup.string().required()).required(), inkBox: yup.object().nullable().defined(), inks: yup.array().required(), liveText: yup.array(yup.string().required()).optional(),
});

const jobRow = yup.object({
  id: identifier().required(), kind: choice('Kind', ['print-files', 'pictures']).required(), designId: identifier().required(),
  revision: yup.number().integer().required(),
  state: choice('State', ['queued', 'running', 'done', 'failed', 'cancelled']).required(),
  done: yup.number().integer().required(), total: yup.number().integer().required(), message: yup.string().defined(),
  results: yup.array(yup.object({ kind: choice('Kind', ['print-file', 'picture']).required(), id: identifier().required() }).required()).required(),
});

const printFileRow = yup.object({
  id: identifier().required(), designId: identifier().required(), requirementId: identifier().required(), filename: yup.string().required(),
  sha256: yup.string().length(64).required(), bytes: yup.number().integer().required(), accepted: yup.boolean().required(), outOfDate: yup.boolean().required(), madeAt: yup.string().required(),
  certificate: yup.array(yup.object({
    demand: yup.string().required(), demanded: yup.string().required(), found: yup.string().required(), ok: yup.boolean().required(), reason: yup.string().optional(),
  }).required()).required(),
});

const pictureRow = yup.object({
  id: identifier().required(), designId: identifier().required(), blankId: identifier().required(), colourway: yup.string().required(), garment: yup.string().required(),
  size: yup.number().required(), format: yup.string().required(), filename: yup.string().required(), bytes: yup.number().required(), outOfDate: yup.boolean().required(), madeAt: yup.string().required(),
});

const findingRow = yup.object({
  code: yup.string().required(), severity: yup.string().required(), title: yup.string().required(), sentence: yup.string().required(),
  layerId: yup.string().nullable().defined(), where: yup.object().nullable().defined(), fix: yup.object().nullable().defined(),
});

export const revisionNameSchema = yup.object({ name: yup.string().defined().max(120, 'A name has at most 120 letters.') }).noUnknown();

const graphicRow = yup.object({ id: identifier().required(), name: yup.string().required(), category: yup.string().required(), width: yup.number().required(), height: yup.number().required(), parts: yup.array(partSchema.required()).required() });

export const responseSchemas = {
  graphic: graphicRow,
  requirement: requirementRow, design: designRow, asset: assetRow, job: jobRow, printFile: printFileRow, picture: pictureRow, finding: findingRow,
} as const;

/** Checks a body and answers the sentences by field when it is not as demanded. */
export function refuse(schema: yup.AnySchema, value: unknown): Record<string, string> | null {
  try {
    schema.validateSync(value, { abortEarly: false, strict: true });
    return null;
  } catch (error) {
    if (!(error instanceof yup.ValidationError)) throw error;
    const inner = error.inner.length ? error.inner : [error];
    // The first complaint about a field is the one to mend first.
    return Object.fromEntries(inner.map((one) => [one.path || 'body', one.message] as const).reverse());
  }
}

/** Sentences for the fields of a requirement, or null when it is fine. */
export const refuseRequirement = (fields: RequirementFields): Record<string, string> | null => refuse(requirementSchema, fields);
