import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { Asset } from '@kettle/contract';
import { emptyDesign, SAME_SIZE_TOP, type Requirement } from '@kettle/core';
import { AssetShelf } from '../data/asset-shelf';
import { RequirementShelf } from '../data/requirement-shelf';
import { Bench } from './bench';
import { DesignDesk } from './design-desk';

const tee: Requirement = {
  id: 'tee', revision: 1, channel: 'Larkpost Market', name: 'Tee', product: 'T-shirt', width: 14, height: 16, unit: 'in', dpi: 300, mode: 'rgb', transparency: 'required', fileTypes: ['png'], maxBytes: null, sizeRule: 'exact',
  safeInsetMm: 10, placement: SAME_SIZE_TOP, colourways: [{ name: 'Harbour', hex: '#1F2B4D' }, { name: 'Soot', hex: '#1B1B1D' }], note: '',
};
const badge: Asset = {
  id: 'a1', sha256: '0'.repeat(64), filename: 'rain-gauge_badge.png', bytes: 9, mode: 'RGB', width: 900, height: 900, vector: false, dpi: 72, hasAlpha: true, format: 'PNG', conversions: [], opaque: false, flatBorder: null,
  inkBox: { x: 0, y: 0, width: 1, height: 1 }, inks: [{ hex: '#f2bd4b', share: 1 }],
};

describe('the bench', () => {
  let bench: Bench;
  beforeEach(() => {
    localStorage.clear();
    TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection(), provideHttpClient(), provideHttpClientTesting(), DesignDesk, Bench] });
    bench = TestBed.inject(Bench);
    TestBed.inject(RequirementShelf).refresh().subscribe();
    TestBed.inject(HttpTestingController).expectOne('/api/requirements').flush([tee, { ...tee, id: 'mug', name: 'Mug', width: 210, height: 90, unit: 'mm', safeInsetMm: 3, placement: { ...SAME_SIZE_TOP, rule: 'fit', anchor: 'centre' } }]);
    TestBed.inject(AssetShelf).put(badge);
    bench.desk.open({ id: 'd1', revision: 1, savedAt: '2026-11-25T20:00:00.000Z', document: { ...emptyDesign('Badge'), targets: [{ requirementId: 'tee' }] } });
  });
  const shown = () => bench.movedBox()!;

  it('puts a picture in at its own pixels, named after its file, and selects it', () => {
    bench.addPicture(badge);
    expect(bench.selected()?.name).toBe('Rain gauge badge');
    expect(shown().width).toBeCloseTo(76.2, 6);
    expect(bench.stateOf(bench.current()!)).toBe('not-made');
  });

  it('nudges by exactly one pixel of the canvas, a held key as one step', () => {
    bench.addPicture(badge);
    bench.desk.settle();
    const { x } = shown();
    for (let i = 0; i < 5; i++) bench.nudge(1, 0);
    expect(shown().x - x).toBeCloseTo((5 * 25.4) / 300, 6);
    bench.desk.undo();
    expect(shown().x).toBeCloseTo(x, 6);
  });

  it('moves every target, or one alone', () => {
    bench.addPicture(badge);
    bench.choose('mug');
    const before = bench.targets().map((one) => one.layout.toCanvas);
    const layers = bench.desk.document()!.layers;
    bench.onlyHere.set(true);
    bench.moveTo({ ...shown(), x: 5 });
    expect(bench.desk.document()!.layers).toBe(layers);
    expect(bench.targets()[0].layout.toCanvas).toEqual(before[0]);
    expect(bench.targets()[1].layout.toCanvas).not.toEqual(before[1]);
    bench.onlyHere.set(false);
    bench.placeUsual('centre');
    expect(bench.desk.document()!.layers).not.toBe(layers);
  });

  it('takes exact numbers in printed millimetres whatever the target’s scale', () => {
    bench.addPicture(badge);
    bench.choose('mug');
    bench.placeSelected({ width: 40, height: 40 });
    expect(shown().width).toBeCloseTo(40, 6);
  });

  it('finds, counts and mends', () => {
    bench.addPicture(badge);
    bench.placeSelected({ width: 254, height: 254 });
    expect(bench.selectedFindings().map((finding) => finding.code)).toContain('enlarged');
    expect(bench.stateOf(bench.current()!)).toBe('needs-work');
    bench.mend(bench.selectedFindings().find((finding) => finding.code === 'enlarged')!, bench.current()!);
    expect(bench.current()!.findings.map((finding) => finding.code)).not.toContain('enlarged');
  });
});
