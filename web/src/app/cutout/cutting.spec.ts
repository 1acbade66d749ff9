import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { ColourCut, PictureLayer, Treatment } from '@kettle/core/model';
import { pictureLayer } from '@kettle/core/document';
import { of, Subject, throwError } from 'rxjs';
import { badge, openEditor, tee } from '../testing/open-editor';
import type { Editor } from '../editor/editor';
import { Cutting } from './cutting';
import { TreatPainter, type TreatedPicture } from './treat-painter';
import type { ReadyPicture } from './treat-messages';

const GUESS: ColourCut = { id: 'guess', kind: 'colour', hex: '#ffffff', tolerance: 5, from: 'border' };

/** A worker that never starts: it is told what to answer. */
class FakePainter {
  readonly asked: (readonly Treatment[])[] = [];
  readonly treated = new Subject<TreatedPicture | Error>();
  readonly guess = signal<ColourCut | null>(GUESS);
  failing = false;

  load() {
    if (this.failing) return throwError(() => new Error('This picture could not be loaded.'));
    return of<ReadyPicture>({
      width: 4,
      height: 4,
      wholeWidth: 900,
      wholeHeight: 900,
      pixels: new ArrayBuffer(64),
      guess: this.guess(),
      colours: ['#ffffff', '#1f2b4d'],
    });
  }
  treat(_assetId: string, treatments: readonly Treatment[]): void {
    this.asked.push(treatments);
  }
}

describe('Cutting', () => {
  let editor: Editor;
  let painter: FakePainter;
  let cutting: Cutting;
  let layer: PictureLayer;
  beforeEach(() => {
    sessionStorage.clear();
    painter = new FakePainter();
    layer = pictureLayer('one', 'Badge', badge, { width: 355.6, height: 406.4 });
    ({ editor } = openEditor({ layers: [layer], targets: [{ requirementId: 'tee' }] }, [
      Cutting,
      { provide: TreatPainter, useValue: painter },
    ]));
    editor.place.set({ kind: 'picture', layerId: 'one' });
    cutting = TestBed.inject(Cutting);
  });
  const open = (): void => {
    cutting.open(editor.layers()[0] as PictureLayer);
    TestBed.tick();
  };
  const kept = (): readonly Treatment[] | undefined => (editor.desk.document()!.layers[0] as PictureLayer).treatments;

  it('takes a flat ground out at once, and leaves the design alone until it is kept', () => {
    open();
    expect(cutting.treatments().map(({ kind }) => kind)).toEqual(['colour']);
    expect(cutting.guessed()).toBeTrue();
    expect(painter.asked.at(-1)).toEqual(cutting.treatments());
    expect(kept()).toBeUndefined();
    cutting.keep();
    expect(kept()!.map(({ kind }) => kind)).toEqual(['colour']);
    expect(editor.place()).toBeNull();
    editor.desk.undo();
    expect(kept()).toBeUndefined();
  });

  it('guesses nothing where there is no flat ground, nor where something was done already', () => {
    painter.guess.set(null);
    open();
    expect(cutting.treatments()).toEqual([]);
    cutting.begin('edge');
    cutting.keep();
    painter.guess.set(GUESS);
    open();
    expect(cutting.treatments().map(({ kind }) => kind)).toEqual(['edge']);
  });

  it('goes back and forth step by step, a moved slider as one', () => {
    open();
    const step = cutting.treatments()[0] as ColourCut;
    for (const tolerance of [6, 7, 8]) cutting.set(cutting.treatments()[0] as ColourCut, { tolerance }, 'tolerance');
    cutting.settle();
    cutting.set(cutting.treatments()[0] as ColourCut, { from: 'everywhere' });
    cutting.undo();
    expect(cutting.treatments()[0]).toEqual({ ...step, tolerance: 8 });
    cutting.undo();
    expect(cutting.treatments()[0]).toEqual(step);
    cutting.redo();
    cutting.redo();
    expect(cutting.treatments()[0]).toEqual({ ...step, tolerance: 8, from: 'everywhere' });
    expect(cutting.canRedo()).toBeFalse();
  });

  it('adds, orders, switches off and removes steps', () => {
    open();
    cutting.begin('dissolve');
    expect(cutting.hand()).toBe('dissolve');
    cutting.pick('#000000', null);
    cutting.begin('colour');
    cutting.pick('#aabbcc', { x: 0.5, y: 0.25 });
    expect(cutting.treatments().map(({ kind }) => kind)).toEqual(['colour', 'dissolve', 'colour']);
    expect(cutting.chosen()).toEqual(
      jasmine.objectContaining({ hex: '#aabbcc', from: 'point', at: { x: 0.5, y: 0.25 } }),
    );
    const [, dissolve, last] = cutting.treatments();
    cutting.move(last.id, -1);
    cutting.move(cutting.treatments()[0].id, -1);
    expect(
      cutting
        .treatments()
        .map(({ id }) => id)
        .slice(1),
    ).toEqual([last.id, dissolve.id]);
    cutting.toggle(dissolve);
    expect(cutting.treatments()[2].off).toBeTrue();
    cutting.toggle(cutting.treatments()[2]);
    expect('off' in cutting.treatments()[2]).toBeFalse();
    cutting.remove(last.id);
    expect(cutting.treatments().length).toBe(2);
  });

  it('draws strokes that keep and drop, and by hand', () => {
    open();
    cutting.begin('strokes');
    cutting.stroke([0.1, 0.1, 0.2, 0.2]);
    cutting.keeping.set(false);
    cutting.stroke([0.9, 0.9]);
    expect(cutting.chosen()).toEqual(
      jasmine.objectContaining({
        strokes: [
          jasmine.objectContaining({ keep: true }),
          jasmine.objectContaining({ keep: false, points: [0.9, 0.9] }),
        ],
      }),
    );
    cutting.begin('touch');
    cutting.stroke([0.5, 0.5]);
    expect(cutting.chosen()).toEqual(
      jasmine.objectContaining({ strokes: [jasmine.objectContaining({ back: false, hardness: 0.8 })] }),
    );
    // A step of the kind that is there is gone on with.
    cutting.begin('strokes');
    expect(cutting.treatments().length).toBe(3);
  });

  it('outlives a reload before it is kept, and is forgotten once it is kept or left', () => {
    open();
    cutting.begin('edge');
    TestBed.tick();
    const draft = cutting.treatments();
    open();
    expect(cutting.treatments()).toEqual(draft);
    cutting.leave();
    open();
    expect(cutting.treatments().map(({ kind }) => kind)).toEqual(['colour']);
  });

  it('reaches one target alone where changes do', () => {
    editor.alone.set(true);
    open();
    cutting.keep();
    expect(kept()).toBeUndefined();
    expect(editor.desk.document()!.targets[0].layers!['one'].treatments!.length).toBe(1);
    expect(editor.current()!.design.layers[0]).toEqual(jasmine.objectContaining({ treatments: [jasmine.anything()] }));
  });

  it('tells lengths of the edge in print', () => {
    open();
    expect(cutting.mmPerPixel()).toBeCloseTo(editor.layers()[0].place.width / 900);
    expect(tee.dpi).toBe(300);
  });

  it('says when the picture cannot be loaded, and when it cannot be worked on', () => {
    painter.failing = true;
    open();
    expect(cutting.failed()).toMatch(/could not be loaded/);
    painter.failing = false;
    open();
    expect(cutting.failed()).toBe('');
    painter.treated.next(new Error('This picture could not be worked on.'));
    expect(cutting.working()).toBeFalse();
  });

  it('shows a first answer at once and goes on working on a finer one', () => {
    open();
    const answer = {
      width: 2,
      height: 2,
      pixels: new Uint8ClampedArray(new ArrayBuffer(16)),
      milliseconds: 9,
      through: null,
    };
    painter.treated.next({ ...answer, quick: true });
    expect([cutting.shown()?.quick, cutting.working()]).toEqual([true, true]);
    cutting.painted();
    expect(cutting.took().answers).toBe(1);
    painter.treated.next({ ...answer, quick: false });
    expect(cutting.working()).toBeFalse();
  });
});
