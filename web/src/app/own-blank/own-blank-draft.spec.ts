import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { MAX_SEED_STROKES } from '@kettle/core/model';
import { NEVER, Subject, of } from 'rxjs';
import { TreatPainter, type TreatedPicture } from '../cutout/treat-painter';
import type { ReadyPicture } from '../cutout/treat-messages';
import { Notices } from '../data/notices';
import { OwnBlankDraft } from './own-blank-draft';

const PHOTO = { width: 800, height: 1000, guess: null } as unknown as ReadyPicture;

describe('a blank of one’s own while it is made', () => {
  const treat = jasmine.createSpy('treat');
  let treated: Subject<TreatedPicture | Error>;
  const load = jasmine.createSpy('load');
  let draft: OwnBlankDraft;
  let said: string[];

  /** The page as it is opened, or opened again. */
  const open = (): OwnBlankDraft => {
    TestBed.resetTestingModule();
    treated = new Subject();
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        OwnBlankDraft,
        { provide: TreatPainter, useValue: { load, treat, treated } },
      ],
    });
    const notices = TestBed.inject(Notices);
    spyOn(notices, 'say').and.callFake((text: string) => void said.push(text));
    spyOn(notices, 'complain').and.callFake((text: unknown) => void said.push(String(text)));
    return TestBed.inject(OwnBlankDraft);
  };
  beforeEach(() => {
    localStorage.clear();
    treat.calls.reset();
    load.and.returnValue(of(PHOTO));
    said = [];
    draft = open();
    draft.begin('photo', 'hanger.jpg');
  });

  it('begins with the product in the middle and not at the border, which strokes of one’s own take over', () => {
    const usual = draft.strokes();
    expect(usual.some((one) => one.keep)).toBeTrue();
    expect(usual.filter((one) => !one.keep).length).toBe(4);
    draft.rub(true, [0.4, 0.4, 0.6, 0.7], 0.05);
    expect(
      draft
        .strokes()
        .filter((one) => one.keep)
        .map((one) => one.points),
    ).toEqual([[0.4, 0.4, 0.6, 0.7]]);
    expect(draft.strokes().filter((one) => !one.keep).length)
      .withContext('what lies at the border stays')
      .toBe(4);
    draft.rub(true, [0.2, 0.2, 0.3, 0.3], 0.05);
    expect(draft.strokes().filter((one) => one.keep).length).toBe(2);
    expect(treat).toHaveBeenCalledTimes(3);
  });

  it('is undone and redone step by step, a drag as one', () => {
    const [before, first] = [draft.source().shape, draft.handles()[0]];
    for (const x of [0.3, 0.31, 0.32]) draft.movePoint(0, { x, y: 0.3 }, 'drag 1');
    draft.settle();
    draft.movePoint(0, { x: 0.1, y: 0.1 }, 'drag 1');
    expect(draft.handles()[0]).toEqual({ x: 0.1, y: 0.1 });
    draft.undo();
    expect(draft.handles()[0]).toEqual({ x: 0.32, y: 0.3 });
    draft.undo();
    expect(draft.source().shape).toEqual(before);
    expect(draft.handles()[0]).toEqual(first);
    draft.redo();
    expect(draft.handles()[0]).toEqual({ x: 0.32, y: 0.3 });
    draft.change({ folds: 1 });
    expect(draft.canRedo()).withContext('a change is a new way forward').toBeFalse();
  });

  it('is still there after a reload, and gone once it is kept', () => {
    draft.change({ name: 'Hanger at home', widthMm: 280 });
    draft = open();
    draft.restore();
    expect(draft.source()).toEqual(
      jasmine.objectContaining({ name: 'Hanger at home', widthMm: 280, assetId: 'photo' }),
    );
    draft.done();
    draft = open();
    draft.restore();
    expect(draft.source().assetId).toBe('');
  });

  it('that was left in a browser as nonsense is begun anew', () => {
    localStorage.setItem('kettle.blank-draft', '{"half');
    draft = open();
    draft.restore();
    expect(draft.source().assetId).toBe('');
    expect(localStorage.getItem('kettle.blank-draft')).toBeNull();
  });

  it('of a kept blank is apart from one that is new', () => {
    const kept = { ...draft.source(), assetId: 'other', name: 'Cup' };
    draft.open(kept, 'blank-7');
    draft.change({ name: 'Cup, blue' });
    expect(JSON.parse(localStorage.getItem('kettle.blank-draft')!).name).toBe('hanger.jpg');
    draft = open();
    draft.open(kept, 'blank-7');
    expect(draft.source().name).toBe('Cup, blue');
  });

  it('keeps the corners of its print area when that becomes a grid or goes around, and says why one is none', () => {
    const corners = draft.handles();
    draft.setKind('grid');
    expect(draft.handles().length).toBe(9);
    draft.setGrid(4, 5);
    expect(draft.handles().length).toBe(20);
    draft.setKind('corners');
    draft.handles().forEach((one, i) => {
      expect(one.x).toBeCloseTo(corners[i].x, 9);
      expect(one.y).toBeCloseTo(corners[i].y, 9);
    });
    expect(draft.wrongArea()).toBeNull();
    // Corners that cross each other.
    draft.movePoint(0, { x: 0.9, y: 0.9 }, 'a');
    expect(draft.wrongArea()?.length).toBeGreaterThan(10);
    draft.movePoint(0, { x: 7, y: -7 }, 'a');
    expect(draft.handles()[0]).withContext('no farther than an area may reach').toEqual({ x: 1.2, y: -0.2 });
  });

  it('takes its size from a line over something of known length', () => {
    draft.measure();
    draft.setKnown({ lengthMm: 210 });
    const { widthMm, heightMm } = draft.source();
    // The line is three tenths of the photo's width, the area a little less; the photo is a quarter taller than wide.
    expect(widthMm).toBeCloseTo((0.28 / 0.3) * 210, 0);
    expect(heightMm).toBeCloseTo(((0.37 * 1.25) / 0.3) * 210, 0);
    draft.setKnown({ lengthMm: 420 });
    expect(draft.source().widthMm).toBeCloseTo(2 * widthMm, -1);
    const size = draft.source().widthMm;
    draft.moveKnown(0, draft.known()!.line[1]);
    expect(draft.source().widthMm).withContext('a line without length says nothing').toBe(size);
    draft.measure();
    expect(draft.known()).toBeNull();
  });

  it('can be all of the photo, and be begun anew', () => {
    draft.takeAll();
    expect(draft.isCut()).toBeFalse();
    draft.startOver();
    expect(draft.strokes().length).toBe(5);
  });

  it('says when it holds as many strokes as it can, and when the photo cannot be read', () => {
    for (let i = 0; i < MAX_SEED_STROKES + 3; i++) draft.rub(false, [i / 1000, 0.1, 0.2, 0.2], 0.01);
    expect(draft.strokes().length).toBe(MAX_SEED_STROKES);
    expect(said.at(-1)).toContain('as many strokes as a cut-out keeps');
    treated.next(new Error('The photo could not be read.'));
    expect(said.at(-1)).toContain('The photo could not be read.');
  });

  it('takes no photo for another one that came later', () => {
    const slow = new Subject<ReadyPicture>();
    load.and.returnValues(slow, NEVER);
    draft.begin('first', 'first.jpg');
    draft.begin('second', 'second.jpg');
    slow.next(PHOTO);
    expect(draft.ready()).toBeNull();
    expect(draft.source().assetId).toBe('second');
  });
});
