import { artOnCanvas, layoutTarget } from '../document/target.js';
import { design, facts, layer, mug, tee } from '../testing/samples.js';
import { resetText, textLayer } from '../document/text-layer.js';
import type { FactsById } from './asset-facts.js';
import { CANNOT_MAKE, findTarget } from './checks.js';
import { isPrintable, type FindingCode } from './finding.js';
import { clearestColourway } from './lost-on-garment.js';
import { fixEdit } from './fix.js';
import type { DesignDocument, Target } from '../document/design.js';
import type { Requirement } from '../requirement/requirement.js';

const target: Target = { requirementId: 'tee' };
const known = (change = {}): FactsById => ({ 'asset-a': facts(change) });
const codes = (
  document: DesignDocument,
  all: FactsById = known(),
  requirement: Requirement = tee(),
  of: Target = target,
): FindingCode[] => findTarget(document, of, requirement, all).map((finding) => finding.code);

/** Applies the fix of a finding and answers the findings that are left. */
function mended(
  document: DesignDocument,
  code: FindingCode,
  all: FactsById,
  requirement = tee(),
  of: Target = target,
): FindingCode[] {
  const finding = findTarget(document, of, requirement, all).find((one) => one.code === code)!;
  const after = fixEdit(finding, document, of, requirement)!(document);
  return codes(
    after,
    all,
    requirement,
    after.targets.find((one) => one.requirementId === of.requirementId),
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
    const dark = known({
      inks: [
        { hex: '#1f1f22', share: 0.9 },
        { hex: '#c2552b', share: 0.1 },
      ],
    });
    const on = { ...target, garment: '#1B1B1D' };
    const finding = findTarget(design(), on, tee(), dark)[0];
    expect(finding.code).toBe('lost-on-garment');
    expect(finding.title).toBe('Vanishes on Soot');
    expect(finding.fix).toEqual(jasmine.objectContaining({ kind: 'garment', hex: '#F5F3EE' }));
    expect(clearestColourway([{ hex: '#ffffff', share: 1 }], tee().colourways)?.name).toBe('Soot');
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
    const dark = known({ inks: [{ hex: '#1f1f22', share: 1 }] });
    expect(mended(document, 'lost-on-garment', dark, tee(), on)).toEqual([]);
    expect(mug().id).toBe('mug');
  });
});
