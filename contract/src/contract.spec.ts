import { emptyDesign, SAME_SIZE_TOP, type RequirementFields } from '@kettle/core/model';
import { shapeLayer } from '@kettle/core/drawing';
import { blankSchema } from './blank-schema.js';
import { CALL_NAMES, callOf, partsOf } from './calls/calls.js';
import { designSchema } from './design-schema.js';
import { openApi } from './openapi.js';
import { refuse } from './refuse.js';
import { picturesRequestSchema } from './requests.js';
import { refuseRequirement, requirementSchema } from './requirement-schema.js';

const requirement = (change: Partial<RequirementFields> = {}): RequirementFields => ({
  channel: 'Larkpost Market',
  name: 'Tee',
  product: 'T-shirt',
  width: 14,
  height: 16,
  unit: 'in',
  dpi: 300,
  mode: 'rgb',
  transparency: 'required',
  fileTypes: ['png'],
  maxBytes: null,
  sizeRule: 'exact',
  safeInsetMm: 10,
  placement: SAME_SIZE_TOP,
  colourways: [{ name: 'White', hex: '#FFFFFF' }],
  note: '',
  ...change,
});
const picture = {
  kind: 'picture',
  id: 'a',
  name: 'Cloud',
  assetId: 'x1',
  opacity: 1,
  hidden: false,
  place: { x: 1, y: 2, width: 3, height: 4, turn: 5, flipX: false, flipY: true },
};
const BLANK = JSON.stringify({
  id: 'card',
  name: 'Card',
  category: 'Paper',
  product: 'Card',
  view: 'front',
  wearer: 'none',
  setting: 'studio',
  kind: 'still',
  tags: ['paper'],
  width: 2000,
  height: 2000,
  albedo: 0.9,
  glossTint: 0.2,
  shadowStrength: 0.5,
  backdrop: '#ffffff',
  colourways: [{ name: 'White', hex: '#ffffff' }],
  areas: [{ id: 'front', name: 'Front', widthMm: 100, heightMm: 150, safeInsetMm: 3, uv: 'uv-front.webp' }],
  files: { photo: 'photo.webp', mask: 'mask.webp', shade: 'shade.webp', shadow: 'shadow.webp' },
});
const design = (change: object = {}) => ({ ...emptyDesign('Isobars'), ...change });

describe('rules for requirements', () => {
  it('take sensible ones', () => {
    expect(refuseRequirement(requirement())).toBeNull();
    expect(refuseRequirement(requirement({ width: 3600, height: 3600, unit: 'px', maxBytes: 1_000_000 }))).toBeNull();
  });

  it('answer one sentence a field, the first thing to mend first', () => {
    const wrong = refuseRequirement(requirement({ width: -4, dpi: Number.NaN, channel: '' }))!;
    expect(wrong['width']).toBe('Width must be at least 0.01.');
    expect(wrong['dpi']).toBe('DPI must be a number.');
    expect(wrong['channel']).toBe('Name the channel.');
  });

  it('hold the canvas within what can be made', () => {
    expect(refuseRequirement(requirement({ width: 500 }))!['width']).toContain('at most 30000 px a side');
    expect(refuseRequirement(requirement({ width: 0.01, height: 0.01 }))!['width']).toContain('at least 16 px a side');
    expect(refuseRequirement(requirement({ width: 11_000, height: 11_000, unit: 'px' }))!['width']).toContain(
      '120 million',
    );
  });

  it('refuse what they do not know, and numbers that are text', () => {
    expect(refuse(requirementSchema, { ...requirement(), extra: 1 })).not.toBeNull();
    expect(refuse(requirementSchema, { ...requirement(), width: '14' })).not.toBeNull();
    expect(refuse(requirementSchema, null)).not.toBeNull();
  });
});

describe('rules for designs', () => {
  it('take every kind of layer', () => {
    const shape = shapeLayer('s', 'star', { width: 100, height: 100 }, '#123456');
    expect(
      refuse(
        designSchema,
        design({
          layers: [picture, shape, { ...shape, id: 't', outline: { hex: '#ffffff', width: 1, dash: 'dotted' } }],
        }),
      ),
    ).toBeNull();
  });

  it('refuse layers that could not be drawn', () => {
    for (const broken of [
      { ...picture, assetId: undefined },
      { ...picture, opacity: 2 },
      { ...picture, place: { ...picture.place, width: 0 } },
      { ...picture, place: { ...picture.place, x: Infinity } },
      { ...picture, kind: 'film' },
      { ...picture, id: '../x' },
      { ...picture, hidden: 'no' },
      { ...picture, name: 'n'.repeat(201) },
      { ...picture, shape: 'star' },
    ])
      expect(refuse(designSchema, design({ layers: [broken] })))
        .withContext(JSON.stringify(broken))
        .not.toBeNull();
  });

  it('name the field that a kind of layer lacks, or that it does not have', () => {
    const box = { id: 'l', name: 'Layer', place: picture.place, opacity: 1, hidden: false };
    const stroke = { points: [0, 0, 0.5], size: 1, hardness: 1, opacity: 1, hex: '#112233', erase: false };
    const { assetId: _asset, ...withoutFile } = picture;
    const cases: [object, string, RegExp][] = [
      [withoutFile, 'layers[0].assetId', /needs its artwork file/],
      [{ ...picture, fill: '#112233' }, 'layers[0]', /picture layer has no field “fill”/],
      [
        { ...box, kind: 'shape', shape: 'star', fill: null, outline: null },
        'layers[0].parameters',
        /needs its numbers/,
      ],
      [
        { ...box, kind: 'shape', shape: 'star', parameters: { points: 'five' }, fill: null, outline: null },
        'layers[0].parameters',
        /finite/,
      ],
      [{ ...box, kind: 'graphic', graphic: 'fox', parts: [] }, 'layers[0].box', /needs the box/],
      [{ ...box, kind: 'freehand', strokes: [stroke] }, 'layers[0].frame', /needs its frame/],
      [
        {
          ...box,
          kind: 'freehand',
          frame: { x: 0, y: 0, width: 9, height: 9 },
          strokes: [{ ...stroke, points: [1, 2, 0.5, 3] }],
        },
        'layers[0].strokes[0].points',
        /x, y and pressure/,
      ],
      [{ ...box, kind: 'hologram' }, 'layers[0].kind', /Kind must be one of/],
      [{ ...box }, 'layers[0].kind', /says its kind/],
      [{ ...picture, id: 'constructor' }, 'layers[0].id', /every object has/],
      [{ ...picture, assetId: '__proto__' }, 'layers[0].assetId', /every object has/],
    ];
    for (const [layer, field, sentence] of cases) {
      const told = refuse(designSchema, design({ layers: [layer] }));
      expect(told?.[field]).withContext(JSON.stringify(layer).slice(0, 80)).toMatch(sentence);
    }
  });

  it('know blanks that could not be drawn', () => {
    const blank = JSON.parse(BLANK) as object;
    expect(refuse(blankSchema, blank)).toBeNull();
    expect(refuse(blankSchema, { ...blank, areas: [] })?.['areas']).toContain('at least one print area');
    expect(Object.keys(refuse(blankSchema, { ...blank, albedo: 0, colourways: [{ name: 'x', hex: 'red' }] })!)).toEqual(
      ['colourways[0].hex', 'albedo'],
    );
  });

  it('keep a target’s exceptions sensible', () => {
    const target = {
      requirementId: 'tee',
      placement: { ...SAME_SIZE_TOP, scale: 1.2 },
      canvas: { widthPx: 100, heightPx: 100, dpi: 72 },
      garment: '#1F2B4D',
    };
    expect(refuse(designSchema, design({ targets: [target] }))).toBeNull();
    expect(
      refuse(
        designSchema,
        design({ targets: [{ ...target, canvas: { widthPx: 29_000, heightPx: 29_000, dpi: 72 } }] }),
      ),
    ).not.toBeNull();
    expect(refuse(designSchema, design({ targets: [{ ...target, garment: 'navy' }] }))).not.toBeNull();
    expect(
      refuse(designSchema, design({ targets: [{ ...target, placement: { ...SAME_SIZE_TOP, rule: 'stretch' } }] })),
    ).not.toBeNull();
  });
});

describe('rules for pictures', () => {
  it('know the sizes and formats', () => {
    const asked = { blankId: 'tee-front', colourways: [{ name: 'Soot', hex: '#1B1B1D' }], size: 600, format: 'jpeg' };
    expect(refuse(picturesRequestSchema, asked)).toBeNull();
    for (const change of [{ size: 601 }, { format: 'gif' }, { colourways: [] }, { blankId: 'a b' }, { inkOpacity: 2 }])
      expect(refuse(picturesRequestSchema, { ...asked, ...change }))
        .withContext(JSON.stringify(change))
        .not.toBeNull();
  });
});

describe('the OpenAPI description', () => {
  const { paths } = openApi() as unknown as {
    paths: Record<
      string,
      Record<
        string,
        {
          parameters: { name: string; in: string; required: boolean }[];
          requestBody?: object;
          responses: Record<string, object>;
        }
      >
    >;
  };

  it('names every parameter of a path and every answer', () => {
    for (const name of CALL_NAMES) {
      const { method, path } = partsOf(name);
      const { answer, status = answer ? 200 : 204, problems = [], keeps, body } = callOf(name);
      const operation = paths[path][method];
      const named = operation.parameters.filter((one) => one.in === 'path').map((one) => `{${one.name}}`);
      expect(named)
        .withContext(path)
        .toEqual(path.match(/\{\w+\}/g) ?? []);
      expect(Object.keys(operation.responses))
        .withContext(path)
        .toEqual([...new Set([status, ...problems, ...(keeps ? [507] : [])])].map(String).sort());
      expect(operation.requestBody !== undefined)
        .withContext(path)
        .toBe(body !== undefined);
    }
  });

  it('demands If-Match where somebody’s work could be overwritten', () => {
    for (const path of ['/api/designs/{id}', '/api/requirements/{id}'])
      expect(paths[path]['put'].parameters).toContain(
        jasmine.objectContaining({ name: 'If-Match', in: 'header', required: true }),
      );
  });

  it('says of every answer what it holds, by kind where there are several', () => {
    for (const name of CALL_NAMES) {
      const { method, path } = partsOf(name);
      const described = JSON.stringify(Object.values(paths[path][method].responses)[0]);
      expect(described).withContext(name).not.toContain('"schema":{}');
    }
    const document = JSON.stringify(paths['/api/designs/{id}']['get'].responses['200']);
    for (const field of ['fontId', 'strokes', 'assetId', 'tolerance', 'lpi'])
      expect(document).withContext(field).toContain(`"${field}"`);
  });
});
