import { leastDifference } from '../colour/readable.js';
import { design, facts, layer, tee } from '../testing/samples.js';
import type { DesignDocument, Layer, ShapeLayer, Target } from '../model/design.js';
import { changeException, recolourOnTarget } from './edits.js';
import { seenBy } from './exception.js';
import { dropVersion, proposedVersion, proposeVersion } from './propose-version.js';
import { treatOnTarget, treatPicture } from './treating.js';
import { placeOfCrop } from '../layers/treated-layer.js';
import { asVersion, clothOf, garmentOfVersion, readTargetKey, targetKey, versionFor, versionsOf } from './version.js';

const shape = (id: string, fill: string): ShapeLayer => ({
  kind: 'shape',
  id,
  name: id,
  shape: 'rectangle',
  parameters: {},
  fill,
  outline: null,
  opacity: 1,
  hidden: false,
  place: layer(id).place,
});
const requirement = tee();
const both: Target = {
  requirementId: 'tee',
  layers: { a: { hidden: true, colours: { '#111111': '#222222', '#333333': '#444444' } } },
  versions: { dark: { layers: { a: { hidden: false, colours: { '#111111': '#eeeeee' } }, b: { hidden: true } } } },
};
const targetOf = (one: DesignDocument): Target => one.targets[0];

describe('versions of a target', () => {
  it('are two where there is one of its own, told by the cloth', () => {
    expect(versionsOf({ requirementId: 'tee' })).toEqual([null]);
    expect(versionsOf(both)).toEqual(['light', 'dark']);
    expect([clothOf('#f5f3ee'), clothOf('#1b1b1d'), clothOf('#d9a93a')]).toEqual(['light', 'dark', 'light']);
    expect([versionFor(both, '#1b1b1d'), versionFor({ requirementId: 'tee' }, '#1b1b1d')]).toEqual(['dark', null]);
  });

  it('lie on top of what the target does anyway, field by field', () => {
    const dark = asVersion(both, 'dark', requirement);
    expect(dark.layers).toEqual({
      a: { hidden: false, colours: { '#111111': '#eeeeee', '#333333': '#444444' } },
      b: { hidden: true },
    });
    expect(asVersion(both, 'light', requirement).layers).toEqual(both.layers!);
    expect(asVersion(both, 'dark', requirement)).toBe(dark);
    expect(asVersion(both, null, requirement)).toBe(both);
  });

  it('are looked at on a garment of their kind', () => {
    expect(garmentOfVersion(both, 'dark', requirement.colourways)).toBe('#1B1B1D');
    expect(garmentOfVersion(both, 'light', requirement.colourways)).toBe('#F5F3EE');
    expect(garmentOfVersion({ ...both, garment: '#1f2b4d' }, 'dark', requirement.colourways)).toBe('#1f2b4d');
    expect(garmentOfVersion({ ...both, garment: '#1f2b4d' }, 'light', requirement.colourways)).toBe('#F5F3EE');
  });

  it('are named in one word', () => {
    expect([targetKey('tee', null), targetKey('tee', 'dark')]).toEqual(['tee', 'tee/dark']);
    for (const cloth of [null, 'light', 'dark'] as const)
      expect(readTargetKey(targetKey('tee', cloth))).toEqual({ requirementId: 'tee', cloth });
  });

  it('hold changes that were meant for them alone', () => {
    const start = design([shape('s', '#111111')], { targets: [{ requirementId: 'tee' }] });
    const dark = recolourOnTarget('tee', ['s'], '#111111', '#fafafa', 'dark')(start);
    const fill = (one: DesignDocument, cloth: 'light' | 'dark'): unknown =>
      (seenBy(one, asVersion(targetOf(one), cloth, requirement)).layers[0] as ShapeLayer).fill;
    expect([fill(dark, 'light'), fill(dark, 'dark')]).toEqual(['#111111', '#fafafa']);
    const hidden = changeException('tee', 's', { hidden: true }, 'dark')(dark);
    expect(targetOf(hidden).versions!.dark!.layers['s']).toEqual({ colours: { '#111111': '#fafafa' }, hidden: true });
    // What is left of nothing is no exception.
    const shown = changeException('tee', 's', { hidden: undefined, colours: undefined }, 'dark')(hidden);
    expect(targetOf(shown).versions!.dark!.layers).toEqual({});
  });
});

describe('a proposed version', () => {
  const propose = (layers: readonly Layer[], cloth: 'light' | 'dark', known = facts()) =>
    proposedVersion(design(layers), { requirementId: 'tee' }, requirement, cloth, { 'asset-a': known }).layers;

  it('moves inks that vanish in lightness until they read on every colour of that kind, and leaves the others', () => {
    const found = propose([shape('dark', '#1c2440'), shape('bright', '#f2bd4b')], 'dark');
    expect(Object.keys(found)).toEqual(['dark']);
    const [[from, to]] = Object.entries(found['dark'].colours!);
    expect(from).toBe('#1c2440');
    expect(leastDifference(to, ['#1F2B4D', '#1B1B1D'])).toBeGreaterThan(20);
    // The hue stays: it is still a blue.
    const [r, , b] = [1, 3, 5].map((at) => parseInt(to.slice(at, at + 2), 16));
    expect(b).toBeGreaterThan(r);
    const light = propose([shape('pale', '#f7f1e3')], 'light')['pale'].colours!;
    expect(leastDifference(Object.values(light)[0], ['#F5F3EE'])).toBeGreaterThan(20);
  });

  it('turns line art over, and leaves pictures of many colours alone', () => {
    const inks = (...list: [string, number][]) => facts({ inks: list.map(([hex, share]) => ({ hex, share })) });
    const lines = propose([layer('a')], 'dark', inks(['#101010', 0.9], ['#606060', 0.1]));
    expect(lines['a'].treatments).toEqual([jasmine.objectContaining({ kind: 'tone', turnedOver: true })]);
    // Lettering of two inks, one of which reads either way.
    expect(Object.keys(propose([layer('a')], 'dark', inks(['#1e1e21', 0.7], ['#c2552b', 0.3])))).toEqual(['a']);
    expect(propose([layer('a')], 'dark', inks(['#101010', 0.4], ['#d03020', 0.6]))).toEqual({});
    // Turned over it would lose its white.
    expect(propose([layer('a')], 'dark', inks(['#101010', 0.6], ['#fafafa', 0.4]))).toEqual({});
    expect(propose([layer('a')], 'dark', inks(['#f0f0f0', 1]))).toEqual({});
  });

  it('is given with one edit and taken away with another', () => {
    const start = design([shape('s', '#15161a')], { targets: [{ requirementId: 'tee' }] });
    const given = proposeVersion(targetOf(start), requirement, 'dark', {})(start);
    expect(versionsOf(targetOf(given)).length).toBe(2);
    const taken = dropVersion(targetOf(given), 'dark')(given);
    expect(versionsOf(targetOf(taken))).toEqual([null]);
  });
});

describe('treatments in a design', () => {
  const crop = { id: 'c', kind: 'crop', box: { x: 0.5, y: 0, width: 0.5, height: 1 } } as const;

  it('leave what stays visible where it was, on every target', () => {
    const start = design([layer('a', { x: 100, y: 100, width: 200, height: 100 })], {
      targets: [
        { requirementId: 'tee', layers: { a: { place: layer('a', { x: 50, y: 40, width: 20, height: 10 }).place } } },
      ],
    });
    const cropped = treatPicture('a', [crop])(start);
    expect(cropped.layers[0].place).toEqual(jasmine.objectContaining({ x: 150, y: 100, width: 100, height: 100 }));
    expect(targetOf(cropped).layers!['a'].place).toEqual(
      jasmine.objectContaining({ x: 55, y: 40, width: 10, height: 10 }),
    );
    const back = treatPicture('a', [])(cropped);
    expect(back.layers[0].place.x).toBeCloseTo(100);
    expect(back.layers[0].place.width).toBeCloseTo(200);
    expect('treatments' in back.layers[0]).toBeFalse();
  });

  it('follow a turned and mirrored picture', () => {
    const place = { x: 0, y: 0, width: 40, height: 20, turn: 90, flipX: true, flipY: false };
    const right = placeOfCrop(place, { x: 0, y: 0, width: 1, height: 1 }, { x: 0.5, y: 0, width: 0.5, height: 1 });
    expect([right.x, right.y, right.width, right.height].map((value) => Math.round(value) + 0)).toEqual([
      0, -10, 20, 20,
    ]);
  });

  it('can differ on one version of a target', () => {
    const start = design([layer('a')]);
    const dark = treatOnTarget('tee', 'a', [crop], 'dark')(start);
    const seen = (cloth: 'light' | 'dark') => seenBy(dark, asVersion(targetOf(dark), cloth, requirement)).layers[0];
    expect(seen('light')).toEqual(start.layers[0]);
    expect(seen('dark')).toEqual(jasmine.objectContaining({ treatments: [crop] }));
    expect(seen('dark').place.width).toBe(100);
    expect(targetOf(treatOnTarget('tee', 'a', null, 'dark')(dark)).versions!.dark!.layers).toEqual({});
  });
});
