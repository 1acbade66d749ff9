import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { of, Subject } from 'rxjs';
import { TreatPainter } from '../cutout/treat-painter';
import { HEARD } from '../testing/heard';
import { InPage } from '../testing/in-page';
import { point } from '../testing/shown';
import { AreaOverlay } from './area-overlay';
import { OwnBlankDraft } from './own-blank-draft';

describe('the print area over a photo', () => {
  let draft: OwnBlankDraft;
  let page: InPage<AreaOverlay>;
  const points = (): HTMLElement[] => [...page.element.querySelectorAll<HTMLElement>('.point:not(.known)')];
  const corner = () => draft.handles()[0];
  beforeEach(async () => {
    localStorage.clear();
    const photo = { width: 800, height: 1000, guess: null };
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        OwnBlankDraft,
        ...HEARD,
        { provide: TreatPainter, useValue: { load: () => of(photo), treat: () => undefined, treated: new Subject() } },
      ],
    });
    draft = TestBed.inject(OwnBlankDraft);
    draft.begin('photo', 'hanger');
    page = await InPage.show(AreaOverlay);
    page.element.style.cssText = 'display: block; position: relative; width: 200px; height: 250px';
    document.body.append(page.element);
  });
  afterEach(() => page.element.remove());

  it('has a point at each corner, which a hand drags; the drag is one step back', async () => {
    expect(points().length).toBe(4);
    const [first] = points();
    spyOn(first, 'setPointerCapture');
    const before = corner();
    point(first, 'pointerdown', 4, 4);
    const { left, top } = page.element.getBoundingClientRect();
    for (const [x, y] of [
      [60, 60],
      [40, 50],
    ])
      first.dispatchEvent(
        new PointerEvent('pointermove', { clientX: left + x, clientY: top + y, pointerId: 1, bubbles: true }),
      );
    first.dispatchEvent(new PointerEvent('pointerup', { pointerId: 1, bubbles: true }));
    expect(corner()).toEqual({ x: 0.2, y: 0.2 });
    await page.fixture.whenStable();
    expect(parseFloat(points()[0].style.left)).toBeCloseTo(20, 3);
    draft.undo();
    expect(corner()).toEqual(before);
  });

  it('has points that keys move, with Shift farther', () => {
    const before = corner();
    const press = (key: string, shiftKey = false) =>
      points()[0].dispatchEvent(new KeyboardEvent('keydown', { key, shiftKey, bubbles: true, cancelable: true }));
    press('ArrowRight');
    expect(corner().x).toBeCloseTo(before.x + 0.002, 6);
    TestBed.tick();
    press('ArrowDown', true);
    expect(corner().y).toBeCloseTo(before.y + 0.02, 6);
  });

  it('is drawn as the print will run, and in another colour where its points are no area', async () => {
    const rim = () => page.element.querySelector('.rim')!;
    const flat = rim().getAttribute('d')!;
    draft.setKind('cylinder');
    await page.fixture.whenStable();
    expect(rim().getAttribute('d')).not.toBe(flat);
    draft.setKind('corners');
    // Two corners change places: what is between them is crossed.
    const [a, b] = draft.handles();
    draft.movePoint(0, b, 'x');
    draft.movePoint(1, a, 'y');
    await page.fixture.whenStable();
    expect(draft.wrongArea()).toBeTruthy();
    expect(rim().classList).toContain('wrong');
    expect(rim().getAttribute('d')!.length).toBeGreaterThan(10);
  });

  it('takes its size from a line along something that is known', async () => {
    draft.measure();
    await page.fixture.whenStable();
    const ends = page.element.querySelectorAll<HTMLElement>('.point.known');
    expect(ends.length).toBe(2);
    const before = draft.source().widthMm;
    for (let i = 0; i < 5; i++)
      ends[1].dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowLeft', shiftKey: true, cancelable: true }));
    // A shorter line of the same length means a larger area.
    expect(draft.source().widthMm).toBeGreaterThan(before * 0.2);
    const half = draft.source().widthMm;
    draft.setKnown({ lengthMm: draft.known()!.lengthMm * 2 });
    expect(draft.source().widthMm / half).toBeCloseTo(2, 1);
  });
});
