import { TestBed } from '@angular/core/testing';
import type { PrintFile } from '@kettle/contract';
import type { ShapeLayer } from '@kettle/core/model';
import { shapeLayer } from '@kettle/core/drawing';
import { proposeVersion } from '@kettle/core/document';
import { badge, openBench, tee } from '../testing/open-bench';
import { Arranging } from './arranging';
import type { Bench } from './bench';

const file = (change: Partial<PrintFile>): PrintFile => ({
  id: 'f',
  designId: 'd1',
  requirementId: 'tee',
  filename: 'x.png',
  mediaType: 'image/png',
  recipe: 'cd'.repeat(32),
  sha256: '',
  bytes: 1,
  accepted: true,
  version: null,
  standsFor: [],
  outOfDate: true,
  madeAt: '',
  certificate: [],
  ...change,
});

describe('Versions on the bench', () => {
  let bench: Bench;
  const dark: ShapeLayer = shapeLayer('s', 'ellipse', { width: 300, height: 300 }, '#15161a');
  beforeEach(() => {
    ({ bench } = openBench({ layers: [dark], targets: [{ requirementId: 'tee' }] }));
    bench.edit(proposeVersion(bench.current()!.whole, tee, 'dark', {}));
    TestBed.tick();
  });
  const fillOf = (one = bench.current()!): unknown => (one.design.layers[0] as ShapeLayer).fill;

  it('are a card each, with a garment of their kind', () => {
    expect(bench.targets().map(({ key }) => key)).toEqual(['tee/light', 'tee/dark']);
    expect(bench.targets().map((one) => fillOf(one) === '#15161a')).toEqual([true, false]);
    bench.choose('tee', 'light');
    expect(bench.current()!.cloth).toBe('light');
    bench.choose('tee', 'dark');
    expect([bench.current()!.cloth, bench.current()!.garment]).toEqual(['dark', '#1B1B1D']);
  });

  it('are changed alone where changes reach no other', () => {
    bench.choose('tee', 'dark');
    bench.alone.set(true);
    bench.recolour(['s'], String(fillOf()), '#ff8800');
    expect(fillOf()).toBe('#ff8800');
    TestBed.inject(Arranging).hide(['s'], true);
    expect(bench.current()!.design.layers[0].hidden).toBeTrue();
    bench.choose('tee', 'light');
    expect([fillOf(), bench.current()!.design.layers[0].hidden]).toEqual(['#15161a', false]);
  });

  it('have a state each, by the files that stand for them', () => {
    // Opened as it is saved: the states are those of what was saved.
    const document = bench.desk.document()!;
    bench.desk.open({ id: 'd2', revision: 1, savedAt: '2026-11-27T20:00:00.000Z', document });
    bench.printFiles.set([file({ version: 'dark', standsFor: ['dark'], outOfDate: false })]);
    expect(bench.targets().map((one) => bench.stateOf(one))).toEqual(['out-of-date', 'ready']);
  });

  it('open a picture where it is made fit for cloth', () => {
    bench.treat('s');
    expect(bench.place()).toEqual({ kind: 'picture', layerId: 's' });
    expect(badge.id).toBe('a1');
  });
});
