import { artOnCanvas, layoutTarget } from '../document/target.js';
import { design, facts, layer, mug, tee } from '../testing/samples.js';
import { isUnset, resetText, textLayer, unsetLettering } from '../document/text-layer.js';
import type { FactsById } from '../model/asset-facts.js';
import { CANNOT_MAKE, findTarget } from './checks.js';
import { isPrintable, type FindingCode } from './finding.js';
import { clearestColourway } from './lost-on-garment.js';
import { fixEdit } from './fix.js';
import { acceptFinding, refuseFinding } from './accepted.js';
import type { Measured } from './check-input.js';
import { letterHeight } from './small-letters.js';
import type { PressMeasure } from '../press/measure.js';
import { SAME_SIZE_TOP } from '../model/placement.js';
import type { DesignDocument, Layer, Target } from '../model/design.js';
import type { Requirement } from '../model/requirement.js';

const target: Target = { requirementId: 'tee' };
const known = (change = {}): FactsById => ({ 'asset-a': facts(change) });
const codes = (
  document: DesignDocument,
  all: FactsById = known(),
  requirement: Requirement = tee(),
  of: Target = target,
  measured: Measured | null = null,
): FindingCode[] => findTarget(document, of, requirement, all, measured).map((finding) => finding.code);

/** Ink of which most is lost on dark cloth. */
const DARK_INK = {
  onCloth: {
    '#f5f3ee': { lost: 0, hex: null, contrast: 14, where: [] },
    '#1b1b1d': {
      lost: 0.9,
      hex: '#1f1f22',
      contrast: 1.1,
      where: [{ x: 0.25, y: 0.5, width: 0.5, height: 0.25 }],
    },
  },
};

/** Applies the fix of a finding and answers the findings that are left. */
function mended(
  document: DesignDocument,
  code: FindingCode,
  all: FactsById,
  requirement = tee(),
  of: Target = target,
  measured: Measured | null = null,
): FindingCode[] {
  const finding = findTarget(document, of, requirement, all, measured).find((one) => one.code === code)!;
  const after = fixEdit(finding, document, of, requirement)!(document);
  return codes(
    after,
    all,
    requirement,
    after.targets.find((one) => one.requirementId === of.requirementId),
    measured,
  );
}

describe('findings', () => {
  it('are silent when all is well', () => {
    expect(codes(design())).toEqual([]);
  });

  it('name the white box, and only on an opaque picture with a flat border', () => {
    expect(codes(design(), known({ opaque: true, flatBorder: '#ffffff' }))).toEqual(['white-box']);
    expect(codes(design(), known({ opaque: true }))).toEqual(['opaque-picture']);
    expect(codes(design(), known({ opaque: true, flatBorder: '#ffffff' }), tee({ transparency: 'forbidden' }))).toEqual(
      [],
    );
  });

  it('see the line around a layer, a group or the design run over the edge, and move it inside with its art', () => {
    const keyline = { hex: '#ffffff', width: 6, gap: 2, join: 'round', holes: 'filled' } as const;
    // The art itself ends 5 mm inside the canvas; its line of 8 mm does not.
    const near = () => {
      const plain = design([layer('a', { x: 30 })]);
      const { widthMm } = layoutTarget(plain, target, tee()).canvas;
      const half = plain.layers[0].place.width / 2;
      return design([layer('a', { x: widthMm - half - 5 })]);
    };
    const loose = tee({ safeInsetMm: 0 });
    expect(codes(near(), known(), loose)).toEqual([]);
    const [one] = near().layers;
    for (const lined of [
      { ...near(), keyline },
      { ...near(), layers: [{ ...one, keyline }] },
      { ...near(), layers: [{ ...one, group: 'g' }], keylines: { g: keyline } },
    ]) {
      expect(codes(lined, known(), loose)).toEqual(['off-canvas']);
      expect(mended(lined, 'off-canvas', known(), loose)).toEqual([]);
    }
    expect(codes({ ...near(), keyline: { ...keyline, width: 2 } }, known(), loose)).toEqual([]);
  });

  it('name letters that no face has, and no file is made without them', () => {
    const words = textLayer(
      't',
      { text: 'Fog ☂', fontId: 'anton', missing: '☂' },
      { path: 'M0 7L20 7L20 0Z', width: 20, height: 7 },
      { width: 355.6, height: 406.4 },
      '#f2bd4b',
    );
    const [finding] = findTarget(design([words]), { requirementId: 'tee' }, tee(), {});
    expect([finding.code, finding.severity]).toEqual(['missing-letters', 'blocks']);
    expect(finding.sentence).toContain('☂');
    expect(CANNOT_MAKE).toContain('missing-letters');
    const { missing: _gone, ...whole } = words;
    expect(
      findTarget(design([whole as typeof words]), { requirementId: 'tee' }, tee(), {}).map((one) => one.code),
    ).not.toContain('missing-letters');
    // Lettering that no face has set yet has no ink: it is told, and nothing is made without it.
    const unset = { ...(whole as typeof words), outlines: unsetLettering('Fog') };
    const [waits] = findTarget(design([unset]), { requirementId: 'tee' }, tee(), {});
    expect([waits.code, waits.severity, waits.title]).toEqual([
      'missing-letters',
      'blocks',
      'Lettering is not set yet',
    ]);
    expect(isUnset(resetText(unset, {}, words.outlines))).toBeFalse();
    // Set anew in a face that has them, nothing is missing any more.
    expect(resetText(words, { fontId: 'other', missing: undefined }, words.outlines).missing).toBeUndefined();
  });

  it('call enlargement soft print with its percentage, and never shrinking', () => {
    const soft = findTarget(design(), target, tee(), known({ width: 1000, height: 500 }));
    expect(soft[0].sentence).toContain('enlarged to 236 %');
    expect(soft[0].severity).toBe('blocks');
    expect(codes(design(), known({ width: 20_000, height: 10_000 }))).toEqual([]);
    expect(codes(design(), known({ width: 10, height: 5, vector: true }))).toEqual([]);
  });

  it('see what is cut, outside the safe line, and gone', () => {
    expect(codes(design([layer('a', { x: 30 })]))).toEqual(['off-canvas']);
    expect(codes(design([layer('a', { x: 106 })]))).toEqual(['outside-safe']);
    expect(codes(design([layer('a', { y: -300 })]))).toEqual(['nothing-visible']);
    expect(codes(design([{ ...layer('a'), hidden: true }]))).toEqual(['nothing-visible']);
    expect(codes(design([]))).toEqual(['no-art']);
    expect(codes(design(), known({ inkBox: null }))).toContain('nothing-visible');
  });

  it('measure ink, not the empty margin of a file', () => {
    expect(
      codes(design([layer('a', { x: 90 })]), known({ inkBox: { x: 0.3, y: 0.3, width: 0.4, height: 0.4 } })),
    ).toEqual([]);
  });

  it('let art that covers the whole canvas be cut', () => {
    expect(
      codes(
        design([layer('a', { y: 203, width: 500, height: 600 })]),
        known({ width: 9000, height: 9000, opaque: true }),
      ),
    ).toEqual([]);
  });

  it('tell when ink is lost on the garment and offer a colour that shows it', () => {
    const on = { ...target, garment: '#1B1B1D' };
    const finding = findTarget(design(), on, tee(), known(), DARK_INK)[0];
    expect(finding.code).toBe('lost-on-garment');
    expect(finding.title).toBe('Vanishes on Soot');
    expect(finding.fix).toEqual(jasmine.objectContaining({ kind: 'garment', hex: '#F5F3EE' }));
    expect(finding.sentence).toContain('90 % of the ink (#1f1f22)');
    // Its places are those that were measured, on the canvas.
    expect(finding.places).toEqual([finding.where!]);
    expect(finding.where!.x).toBeCloseTo(355.6 * 0.25, 9);
    expect(finding.where!.height).toBeCloseTo(406.4 * 0.25, 9);
    // Nothing is said of a colour that was not measured.
    expect(findTarget(design(), on, tee(), known(), { onCloth: {} })).toEqual([]);
    expect(findTarget(design(), on, tee(), known())).toEqual([]);
    expect(clearestColourway(DARK_INK.onCloth, tee().colourways)?.name).toBe('Chalk');
  });

  it('hold a canvas of one’s own against the demand', () => {
    expect(
      codes(design(), known(), tee(), { ...target, canvas: { widthPx: 4200, heightPx: 4800, dpi: 72 } }),
    ).toContain('canvas-dpi');
    expect(
      codes(design([layer('a', { x: 150, y: 60, width: 50, height: 25 })]), known(), tee(), {
        ...target,
        canvas: { widthPx: 3000, heightPx: 3000, dpi: 300 },
      }),
    ).toContain('canvas-size');
    expect(
      codes(design([layer('a', { x: 150, y: 60, width: 50, height: 25 })]), known(), tee({ sizeRule: 'at-most' }), {
        ...target,
        canvas: { widthPx: 3000, heightPx: 3000, dpi: 300 },
      }),
    ).not.toContain('canvas-size');
  });

  it('say plainly what cannot be made', () => {
    const all = findTarget(design(), target, tee({ mode: 'cmyk', fileTypes: ['png'] }), known());
    expect(all.map((one) => one.code)).toEqual(['file-type']);
    expect(isPrintable(all)).toBeFalse();
    expect(codes(design(), {})).toEqual(['missing-asset']);
  });
});

describe('fixes', () => {
  it('shrink to the picture’s own pixels and keep the top edge', () => {
    const small = known({ width: 1000, height: 500 });
    const before = design();
    expect(mended(before, 'enlarged', small)).toEqual([]);
    const finding = findTarget(before, target, tee(), small)[0];
    const after = fixEdit(finding, before, target, tee())!(before);
    expect(after.layers[0].place.y - after.layers[0].place.height / 2).toBeCloseTo(70, 6);
    expect(after.layers[0].place.width).toBeCloseTo((1000 / 300) * 25.4, 6);
  });

  it('move inside by the least way', () => {
    expect(mended(design([layer('a', { x: 30 })]), 'off-canvas', known())).toEqual([]);
    expect(mended(design([layer('a', { x: 106 })]), 'outside-safe', known())).toEqual([]);
    expect(
      mended(
        design([layer('a', { width: 900, height: 450, x: 30 })]),
        'off-canvas',
        known({ width: 20_000, height: 10_000 }),
      ),
    ).toEqual([]);
  });

  it('centre what is out of sight', () => {
    const far = design([layer('a', { y: -300 })]);
    expect(mended(far, 'nothing-visible', known())).toEqual([]);
    const finding = findTarget(far, target, tee(), known())[0];
    const after = fixEdit(finding, far, target, tee())!(far);
    const art = artOnCanvas(after, layoutTarget(after, target, tee()))!;
    expect(art.x + art.width / 2).toBeCloseTo(177.8, 6);
  });

  it('set the demanded canvas and DPI', () => {
    const own = { ...target, canvas: { widthPx: 4200, heightPx: 4800, dpi: 72 } };
    const document = design([layer('a')], { targets: [own] });
    expect(mended(document, 'canvas-dpi', known(), tee(), own)).toEqual([]);
    const wrong = { ...target, canvas: { widthPx: 1000, heightPx: 1000, dpi: 300 } };
    expect(mended(design([layer('a')], { targets: [wrong] }), 'canvas-size', known(), tee(), wrong)).toEqual([]);
  });

  it('change the garment of that target alone', () => {
    const on = { ...target, garment: '#1B1B1D' };
    const document = design([layer('a')], { targets: [on, { requirementId: 'mug' }] });
    expect(mended(document, 'lost-on-garment', known(), tee(), on, DARK_INK)).toEqual([]);
    expect(mug().id).toBe('mug');
  });
});

describe('what a print shop would find', () => {
  const measure = (change: Partial<PressMeasure> = {}): PressMeasure => ({
    thin: { count: 0, where: [], thinnestMm: 0 },
    gaps: { count: 0, where: [], thinnestMm: 0 },
    letters: { count: 0, where: [], lowestMm: 0 },
    specks: { count: 0, where: [] },
    holes: { count: 0, where: [] },
    fade: { count: 0, where: [], widestMm: 0 },
    coverage: null,
    gamut: null,
    ...change,
  });
  const at = { x: 170, y: 110, width: 4, height: 0.2 };
  const found = (change: Partial<PressMeasure>, requirement = tee()) =>
    findTarget(design(), target, requirement, known(), measure(change));
  const one = (change: Partial<PressMeasure>, code: string, requirement = tee()) =>
    found(change, requirement).find((finding) => finding.code === code);

  it('is told of gaps, and of letters in pictures, which lettering tells by itself', () => {
    const gap = one({ gaps: { count: 1, where: [at], thinnestMm: 0.1 } }, 'thin-gaps')!;
    expect([gap.layerId, gap.where]).toEqual(['a', at]);
    expect(gap.sentence).toBe(
      '1 gap in the ink, the narrowest 0.10 mm; direct to garment holds 0.35 mm. Ink runs together in narrower ones: widen them, or close them.',
    );
    const letters = { letters: { count: 2, where: [at, at], lowestMm: 1.5 } };
    const low = one(letters, 'small-letters')!;
    expect(low.sentence).toContain(
      '2 rows of letters in a picture, the lowest 1.5 mm high; direct to garment holds 2.0 mm',
    );
    const after = fixEdit(low, design(), target, tee())!(design()).layers[0].place;
    expect(after.width / design().layers[0].place.width).toBeCloseTo((2 / 1.5) * 1.02, 6);
    const place = design().layers[0].place;
    const outlines = { width: 100, height: 30, path: 'M0 0H20V30H0Z', shapes: [] };
    const words = textLayer(
      't',
      { text: 'Fog', fontId: 'f' },
      outlines as never,
      { width: 300, height: 400 },
      '#112233',
    );
    const written = design([], { layers: [{ ...words, place }] });
    const all = findTarget(written, target, tee(), known(), measure(letters));
    expect(all.filter(({ sentence }) => sentence.includes('in a picture'))).toEqual([]);
  });

  it('is told with its places, the layer it lies on, why, and a fix that mends it', () => {
    const thin = one({ thin: { count: 2, where: [at, at], thinnestMm: 0.2 } }, 'thin-lines')!;
    expect([thin.layerId, thin.where, thin.places?.length]).toEqual(['a', at, 2]);
    expect(thin.sentence).toContain('0.20 mm');
    expect(thin.sentence).toContain('holds 0.35 mm');
    const thicker = fixEdit(thin, design(), target, tee())!(design());
    expect(thicker.layers[0].keyline).toEqual(jasmine.objectContaining({ hex: '#f2bd4b', width: 0.08, gap: 0 }));

    const dirt = one({ specks: { count: 5, where: [at] } }, 'specks')!;
    const cleaned = fixEdit(dirt, design(), target, tee())!(design()).layers[0];
    // 4000 px lie on 200 mm: half a millimetre is a disc of 79 px.
    expect(cleaned.kind === 'picture' && cleaned.treatments).toEqual([
      jasmine.objectContaining({ kind: 'edge', specks: 79, pinholes: 79 }),
    ]);
    expect(one({ specks: { count: 2, where: [at] } }, 'specks')).toBeUndefined();
    expect(one({ holes: { count: 5, where: [at] } }, 'pinholes')?.fix?.kind).toBe('clean');
    expect(one({ fade: { count: 1, where: [at], widestMm: 12 } }, 'long-fade')?.fix?.kind).toBe('dots');

    const poster = tee({ product: 'Poster' });
    const heavy = one({ coverage: { count: 1, where: [at], most: 340, share: 0.1 } }, 'ink-coverage', poster)!;
    expect(heavy.sentence).toContain('340 %');
    expect(heavy.sentence).toContain('300 %');
    expect(
      one({ coverage: { count: 1, where: [at], most: 340, share: 0.1 } }, 'ink-coverage', tee({ product: 'Mug' })),
    ).toBeDefined();
    const dull = one(
      { gamut: { count: 1, where: [at], share: 0.3, colours: [{ hex: '#ff2200', printed: '#d8492f', delta: 9 }] } },
      'out-of-gamut',
    )!;
    expect([dull.fix?.kind, dull.swatches]).toEqual(['proof', [['#ff2200', '#d8492f']]]);
  });

  it('follows the limits of the requirement: none is no finding', () => {
    const thin = { thin: { count: 2, where: [at], thinnestMm: 0.2 } };
    expect(one(thin, 'thin-lines', tee({ limits: { lineMm: null } }))).toBeUndefined();
    expect(
      one({ fade: { count: 1, where: [at], widestMm: 12 } }, 'long-fade', tee({ product: 'Poster' })),
    ).toBeUndefined();
  });

  it('tells art that ends in the bleed, an empty half, inks too close, and what is mirrored', () => {
    const poster = tee({ bleedMm: 3, placement: { ...SAME_SIZE_TOP, rule: 'cover', anchor: 'centre' } });
    const inBleed = (place: Partial<Layer['place']>) =>
      findTarget(design([layer('a', place)]), target, poster, known()).map(({ code }) => code);
    expect(inBleed({ x: 101.5, width: 200 })).toContain('in-the-bleed');
    expect(inBleed({ x: 177.8, width: 200 })).not.toContain('in-the-bleed');
    expect(inBleed({ x: 177.8, y: 203.2, width: 400, height: 460 })).not.toContain('in-the-bleed');
    expect(inBleed({ x: 60, width: 80, height: 300, y: 200 })).toContain('empty-half');
    expect(inBleed({ x: 177.8, width: 300, height: 300, y: 200 })).not.toContain('empty-half');
    // A print for the left breast lies on one half of a shirt, as it should.
    expect(codes(design([layer('a', { x: 250, width: 80, height: 40 })]))).not.toContain('empty-half');

    const two = (hexes: readonly string[]) =>
      findTarget(design([layer('a'), layer('b', { width: 60, height: 30 })]), target, tee(), {
        'asset-a': facts({ inks: [{ hex: hexes[0], share: 1 }] }),
        'asset-b': facts({ inks: [{ hex: hexes[1], share: 1 }] }),
      }).find(({ code }) => code === 'close-inks');
    expect(two(['#f2bd4b', '#f0b94a'])?.layerId).toBe('b');
    expect(two(['#f2bd4b', '#1f2b4d'])).toBeUndefined();
    expect(two(['#f2bd4b', '#f2bd4b'])).toBeUndefined();
    const words = (lost: number | null, number = 1) =>
      findTarget(
        design([
          layer('a'),
          textLayer(
            't',
            { text: 'Fog', fontId: 'anton' },
            { path: 'M0 7L20 7L20 0Z', width: 20, height: 7 },
            { width: 200, height: 200 },
            '#1f2b4d',
          ),
        ]),
        target,
        tee(),
        known(),
        lost === null
          ? null
          : {
              onInk: {
                [number]: { lost, hex: '#1f2b4d', under: '#1e2a4c', where: { x: 0.5, y: 0, width: 0.5, height: 1 } },
              },
            },
      ).find(({ code }) => code === 'close-inks');
    expect(words(0.4)).toEqual(
      jasmine.objectContaining({ layerId: 't', where: jasmine.objectContaining({ y: 0, height: 406.4 }) }),
    );
    expect(words(0.4)!.where!.x).toBeCloseTo(177.8, 6);
    expect([words(null), words(0.1), words(0.4, 0)]).toEqual([undefined, undefined, undefined]);

    const mirrored = (change: Partial<Requirement>) =>
      findTarget(design(), target, tee(change), known()).find(({ code }) => code === 'mirrored');
    expect(mirrored({})).toBeUndefined();
    expect(mirrored({ process: 'transfer' })?.severity).toBe('warns');
    expect(mirrored({ process: 'transfer', mirrored: true })?.severity).toBe('tells');
  });

  it('measures letters on their outlines: the small ones, not dots and accents', () => {
    // An ascender of 10, two letters of 5, a dot of 1.
    const bar = (x: number, y: number, height: number): string =>
      `M${x} ${y}L${x + 2} ${y}L${x + 2} ${y + height}L${x} ${y + height}Z`;
    expect(letterHeight(bar(0, 0, 10) + bar(4, 5, 5) + bar(8, 5, 5) + bar(12, 2, 1))).toBe(5);
    expect(letterHeight('')).toBe(0);
  });

  it('is left alone once it is accepted with a reason, and comes back when the art or the demand changes', () => {
    const thin = { thin: { count: 2, where: [at], thinnestMm: 0.2 } };
    const finding = one(thin, 'thin-lines')!;
    const accepted = acceptFinding(finding, 'hairlines are meant', { target, requirement: tee(), cloth: null })(
      design(),
    );
    const again = (document: DesignDocument, requirement = tee()) =>
      findTarget(document, document.targets[0], requirement, known(), measure(thin)).find(
        ({ code }) => code === 'thin-lines',
      )!;
    expect(again(accepted).accepted).toBe('hairlines are meant');
    // Another layer is none of its business; its own is, and so is the demand.
    expect(
      again({ ...accepted, layers: [...accepted.layers, { ...layer('z'), hidden: true }] }).accepted,
    ).toBeDefined();
    const moved = { ...accepted, layers: [layer('a', { x: 150 })] };
    expect(again(moved).accepted).toBeUndefined();
    expect(again(accepted, tee({ revision: 2 })).accepted).toBeUndefined();
    const back = refuseFinding(finding, 'tee', null)(accepted);
    expect(back.targets[0].accepted).toBeUndefined();
    // What blocks and is taken as it is does not block any more.
    const dark = { ...target, garment: '#1B1B1D' };
    const onSoot = (document: DesignDocument, of: Target, more = {}) =>
      findTarget(document, of, tee(), known(), { ...DARK_INK, ...more });
    const lost = onSoot(design(), dark).find(({ code }) => code === 'lost-on-garment')!;
    const tone = acceptFinding(lost, 'tone on tone', { target: dark, requirement: tee(), cloth: null })(
      design(undefined, { targets: [dark] }),
    );
    expect([isPrintable(onSoot(design(), dark)), isPrintable(onSoot(tone, tone.targets[0]))]).toEqual([false, true]);
    // What is accepted stands behind what is not.
    const all = onSoot(accepted, { ...accepted.targets[0], garment: '#1B1B1D' }, measure(thin));
    expect(all.length).toBe(2);
    expect(all.at(-1)!.code).toBe('thin-lines');
  });
});
