import type { Panel } from '../model/requirement.js';
import { findTarget } from '../checks/checks.js';
import { fixEdit } from '../checks/fix.js';
import { design, layer, tee } from '../testing/samples.js';
import { compose, mapBox, scale, translate } from '../geometry/affine.js';
import { coveringPlacement, layoutTarget, placementAt } from '../document/target.js';
import { boundsOfLayers } from '../document/bounds.js';
import { coversCloth, cutAway, fromCut, isOnCloth, panelRequirement, panelsOf, requirementOfPanel } from './panel.js';
import type { Requirement } from '../model/requirement.js';
import type { Blank } from '../model/blank.js';

/** A front of 400 × 500 mm with its upper corners cut off, 10 mm inside its canvas. */
const panel: Panel = {
  areaId: 'panel-front',
  cut: [
    [110, 10],
    [310, 10],
    [410, 160],
    [410, 510],
    [10, 510],
    [10, 160],
  ],
  lines: [
    {
      name: 'hem',
      points: [
        [10, 490],
        [410, 490],
      ],
    },
  ],
  insetMm: 25,
};
const cloth: Requirement = {
  ...tee(),
  id: 'cloth',
  width: 420,
  height: 520,
  unit: 'mm',
  dpi: 150,
  safeInsetMm: 35,
  panel,
};
const CLOTH = { targets: [{ requirementId: 'cloth' }] };
const at = (x: number, y: number, width: number, height: number) => compose(translate(x, y), scale(width, height));

describe('a panel', () => {
  it('knows what lies on the cloth and how far from the cut', () => {
    expect(isOnCloth(panel, { x: 210, y: 20 })).toBeTrue();
    expect(isOnCloth(panel, { x: 30, y: 30 })).toBeFalse();
    expect(isOnCloth(panel, { x: 5, y: 300 })).toBeFalse();
    expect(fromCut(panel, { x: 60, y: 300 })).toBeCloseTo(50, 6);
    // Off a slanted edge: the distance is perpendicular to it.
    expect(fromCut(panel, { x: 360, y: 85 })).toBeCloseTo(0, 6);
  });

  it('tells how much of a drawing is cut away', () => {
    expect(cutAway(panel, at(110, 200, 100, 100))).toEqual({ share: 0, nearest: jasmine.any(Number) });
    expect(cutAway(panel, at(20, 300, 50, 50)).nearest).toBeGreaterThan(9);
    expect(cutAway(panel, at(20, 300, 50, 50)).nearest).toBeLessThan(12);
    // Half of it lies left of the cut.
    expect(cutAway(panel, at(-40, 300, 100, 100)).share).toBeCloseTo(0.5, 1);
    expect(cutAway(panel, at(500, 300, 100, 100))).toEqual({ share: 1, nearest: 0 });
    // The whole canvas: what the two corners, 100 × 150 / 2 each, and the rim of 10 mm take.
    const lost = (420 * 520 - (400 * 500 - 100 * 150)) / (420 * 520);
    expect(cutAway(panel, at(0, 0, 420, 520)).share).toBeCloseTo(lost, 1);
    expect(coversCloth(panel, { x: 0, y: 0, width: 420, height: 520 })).toBeTrue();
    expect(coversCloth(panel, { x: 20, y: 0, width: 420, height: 520 })).toBeFalse();
  });

  it('is covered by one placement, whatever the art’s proportions and place', () => {
    for (const place of [
      { x: 100, y: 90, width: 60, height: 200 },
      { x: 300, y: 350, width: 80, height: 20 },
    ]) {
      const one = layer('a', place);
      const whole = design([one], CLOTH);
      const target = whole.targets[0];
      const placement = coveringPlacement(whole, target, cloth)!;
      const { toCanvas } = layoutTarget(whole, { ...target, placement }, cloth);
      const box = mapBox(toCanvas, boundsOfLayers(whole.layers)!);
      expect(box.x).toBeLessThanOrEqual(0);
      expect(box.y).toBeLessThanOrEqual(0);
      expect(box.x + box.width).toBeGreaterThanOrEqual(420);
      expect(box.y + box.height).toBeGreaterThanOrEqual(520);
      // No larger than it has to be: one of both ways it just covers.
      expect(Math.min(box.width / 420, box.height / 520)).toBeLessThan(1.01);
    }
    expect(coveringPlacement(design([], CLOTH), { requirementId: 'cloth' }, cloth)).toBeNull();
  });

  describe('that is to be covered', () => {
    /** Art on the canvas, through a placement that an own cropping or an own size would give. */
    const judged = (art: { x: number; y: number; width: number; height: number }) => {
      const whole = design([layer('a', { x: 200, y: 200, width: 80, height: 100 })], CLOTH);
      const placement = placementAt(
        whole,
        boundsOfLayers(whole.layers)!,
        { widthMm: 420, heightMm: 520 },
        { ...art, height: (art.width * 100) / 80 },
      );
      const target = { ...whole.targets[0], placement };
      return { whole: { ...whole, targets: [target] }, target, findings: findTarget(whole, target, cloth, {}) };
    };
    const codes = ({ findings }: ReturnType<typeof judged>) => findings.map(({ code }) => code);

    it('is not called cut off by a cropping that just covers it, whatever rounding does', () => {
      const least = (520 * 80) / 100;
      for (const off of [0, 1e-9, -1e-9, 0.05])
        expect(codes(judged({ x: (420 - least) / 2 + off, y: off, width: least, height: 0 })))
          .withContext(`${off}`)
          .not.toContain('off-canvas');
    });

    it('is told where it stays bare, and covered again by the fix, on this piece alone', () => {
      const before = judged({ x: 40, y: 30, width: 340, height: 0 });
      const bare = before.findings.find(({ code }) => code === 'bare-cloth')!;
      expect([bare.severity, bare.fix?.kind]).toEqual(['warns', 'cover-cloth']);
      expect(codes(before)).not.toContain('off-canvas');
      const mended = fixEdit(bare, before.whole, before.target, cloth)!(before.whole);
      expect(mended.layers).toEqual(before.whole.layers);
      expect(findTarget(mended, mended.targets[0], cloth, {}).map(({ code }) => code)).not.toContain('bare-cloth');
    });

    it('is not asked of a logo, whose mending stays on this piece too', () => {
      const logo = judged({ x: 5, y: 200, width: 100, height: 0 });
      expect(codes(logo)).not.toContain('bare-cloth');
      const off = logo.findings.find(({ code }) => code === 'off-cloth')!;
      const mended = fixEdit(off, logo.whole, logo.target, cloth)!(logo.whole);
      expect(mended.layers).toEqual(logo.whole.layers);
      expect(mended.targets[0].layers?.['a'].place).toBeDefined();
    });
  });

  it('has a finding for what falls off and for what comes near a seam, and only a word for what covers it', () => {
    const found = (place: { x: number; y: number; width: number; height: number }) =>
      findTarget(
        design([layer('a', place)], CLOTH),
        { requirementId: 'cloth', placement: { rule: 'same-size', anchor: 'top', scale: 1, offsetX: 0, offsetY: 0 } },
        cloth,
        {},
      ).filter((finding) => ['off-cloth', 'cut-away', 'outside-safe'].includes(finding.code));
    const field = design([], CLOTH).field;
    // The field hangs from the middle of the canvas's upper edge.
    const onCanvas = (x: number, y: number, width: number, height: number) => ({
      x: x + width / 2 - 210 + field.width / 2,
      y: y + height / 2,
      width,
      height,
    });
    expect(found(onCanvas(150, 250, 80, 80))).toEqual([]);
    const [near] = found(onCanvas(20, 300, 60, 60));
    expect([near.code, near.severity, near.title]).toEqual(['off-cloth', 'warns', 'Near a seam']);
    expect(near.sentence).toContain('25 mm are safe');
    const [off] = found(onCanvas(20, 20, 100, 100));
    expect([off.code, off.title]).toEqual(['off-cloth', 'Cut off with the cloth']);
    expect(off.sentence).toMatch(/\d+ % of “.*” lies beyond the cut line/);
    const [covering] = found(onCanvas(-5, -5, 430, 530));
    expect([covering.code, covering.severity]).toEqual(['cut-away', 'tells']);
  });

  it('comes from a blank, the one that is seen most first, and is found again by its product and size', () => {
    const area = (id: string, visible: number, widthMm: number) => ({
      id,
      name: `${id}, all over`,
      kind: 'all-over' as const,
      widthMm,
      heightMm: 520,
      bleedMm: 10,
      safeInsetMm: 25,
      uv: 'u',
      visible,
      cut: panel.cut,
      lines: panel.lines,
    });
    const blank = {
      product: 'T-shirt',
      colourways: [{ name: 'Chalk', hex: '#F5F3EE' }],
      areas: [area('sleeve', 0.02, 300), area('front', 0.4, 420), { ...area('chest', 0.1, 100), kind: undefined }],
    } as unknown as Blank;
    expect(panelsOf(blank).map((one) => one.id)).toEqual(['front', 'sleeve']);
    const fields = panelRequirement(blank, panelsOf(blank)[0]);
    expect([fields.width, fields.height, fields.unit, fields.panel?.insetMm]).toEqual([420, 520, 'mm', 25]);
    expect(fields.name).toBe('front, T-shirt');
    const known = [{ ...fields, id: 'known', revision: 1 }];
    expect(requirementOfPanel(known, blank, panelsOf(blank)[0])?.id).toBe('known');
    expect(requirementOfPanel(known, blank, panelsOf(blank)[1])).toBeUndefined();
    expect(requirementOfPanel(known, { ...blank, product: 'Hoodie' }, panelsOf(blank)[0])).toBeUndefined();
  });
});
