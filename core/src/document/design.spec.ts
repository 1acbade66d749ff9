import { design, facts, layer, mug, tee } from '../testing/samples.js';
import {
  apply,
  compose,
  IDENTITY,
  intersect,
  invert,
  mapBox,
  rotate,
  scale,
  translate,
  unite,
} from '../geometry/affine.js';
import { MAX_LAYERS, type DesignDocument } from '../model/design.js';
import type { Requirement } from '../model/requirement.js';
import {
  addLayer,
  addTarget,
  changeTarget,
  copiesOf,
  duplicateLayers,
  fadeLayers,
  hideLayers,
  layOnTarget,
  moveOnCanvas,
  moveOnTargetOnly,
  pictureLayer,
  placeLayer,
  removeLayers,
  removeTarget,
  rename,
  renameLayer,
} from './edits.js';
import { reorderLayer } from './grouping.js';
import { record, redo, settle, startHistory, undo } from './history.js';
import { boundsOfLayers } from './bounds.js';
import { boundsOfPlace, placeInside } from '../geometry/place.js';
import { canonicalJson } from '../model/canonical-json.js';
import { fileNameOf } from '../naming/file-name.js';
import { miniatureCanvas, printRecipe } from '../recipes/recipe.js';
import { artOnCanvas, effectiveDpi, fieldScale, layoutTarget, targetFor } from './target.js';
import { usualPlace } from './usual-places.js';

describe('affine maps', () => {
  it('compose from right to left and invert', () => {
    const map = compose(translate(5, 7), rotate(30), scale(2, 3));
    const point = { x: 1.5, y: -4 };
    const back = apply(invert(map), apply(map, point));
    expect(back.x).toBeCloseTo(1.5, 9);
    expect(back.y).toBeCloseTo(-4, 9);
    expect(() => invert(scale(0))).toThrowError(RangeError);
  });

  it('box what they map', () => {
    const turned = mapBox(rotate(90), { x: 0, y: 0, width: 10, height: 4 });
    expect(turned.x).toBeCloseTo(-4, 9);
    expect(turned.width).toBeCloseTo(4, 9);
    expect(unite([])).toBeNull();
    expect(intersect({ x: 0, y: 0, width: 2, height: 2 }, { x: 2, y: 0, width: 2, height: 2 })).toBeNull();
  });
});

describe('a layer', () => {
  it('is bounded by its turned corners', () => {
    const box = boundsOfPlace(layer('a', { x: 50, y: 50, width: 100, height: 20, turn: 90 }).place);
    expect([box.x, box.y, box.width, box.height].map((v) => Math.round(v * 1e6) / 1e6)).toEqual([40, 0, 20, 100]);
  });

  it('does not count while hidden', () => {
    expect(boundsOfLayers([{ ...layer('a'), hidden: true }])).toBeNull();
  });

  it('comes in at its own pixels at most, near the top', () => {
    const field = { width: 355.6, height: 406.4 };
    const small = pictureLayer('a', 'Badge', { id: 'x', width: 900, height: 900, vector: false }, field);
    expect(small.place.width).toBeCloseTo(76.2, 6);
    const vector = pictureLayer('a', 'Badge', { id: 'x', width: 90, height: 90, vector: true }, field);
    expect(vector.place.width).toBeCloseTo(284.48, 6);
    expect(placeInside(2, { x: 0, y: 0, width: 100, height: 100 }, 'centre')).toEqual(
      jasmine.objectContaining({ width: 100, height: 50, y: 50 }),
    );
  });
});

describe('a target', () => {
  it('keeps real millimetres at the same size, centred from the top', () => {
    const layout = layoutTarget(design(), { requirementId: 'tee' }, tee());
    const art = artOnCanvas(design(), layout)!;
    expect(art.width).toBeCloseTo(200, 9);
    expect(art.x + art.width / 2).toBeCloseTo(layout.canvas.widthMm / 2, 6);
    expect(art.y).toBeCloseTo(70, 9);
  });

  it('shows the whole field when fitted and leaves no edge bare when covering', () => {
    const field = design().field;
    const canvas = layoutTarget(design(), { requirementId: 'mug' }, mug()).canvas;
    const fit = fieldScale(field, canvas, mug().placement);
    expect(Math.max(field.width * fit - canvas.widthMm, field.height * fit - canvas.heightMm)).toBeCloseTo(0, 6);
    const cover = fieldScale(field, canvas, { ...mug().placement, rule: 'cover' });
    expect(Math.min(field.width * cover - canvas.widthMm, field.height * cover - canvas.heightMm)).toBeCloseTo(0, 6);
  });

  it('knows the DPI at which a picture’s own pixels arrive', () => {
    expect(effectiveDpi(layer('a', { width: 254, height: 127 }), facts({ width: 3000, height: 1500 }), 1)).toBeCloseTo(
      300,
      6,
    );
    expect(
      effectiveDpi(layer('a', { width: 254, height: 254 }), facts({ width: 3000, height: 1500 }), 0.5),
    ).toBeCloseTo(300, 6);
  });

  it('falls back to the first one', () => {
    const two = addTarget(mug())(design());
    expect(targetFor(two, 'mug')?.requirementId).toBe('mug');
    expect(targetFor(two, 'gone')?.requirementId).toBe('tee');
  });
});

describe('art on a target that is added', () => {
  const boxOn = (whole: DesignDocument, requirement: Requirement) => {
    const target = whole.targets.find((one) => one.requirementId === requirement.id)!;
    return artOnCanvas(whole, layoutTarget(whole, target, requirement))!;
  };

  it('keeps its own size where there is room, and is as large as there is room for where there is not', () => {
    // 203 mm of art do not become 45 because the shirt they were made for is larger than the mug.
    const small = layOnTarget(mug())(design([layer('a', { width: 203, height: 60, x: 100, y: 200 })]));
    expect(boxOn(small, mug()).width).toBeCloseTo(203, 6);
    expect(boxOn(small, mug()).x).toBeCloseTo(3.5, 1);
    const tall = layOnTarget(mug())(design([layer('a', { width: 203, height: 203 })]));
    // 90 mm less the safe line of 3 on both sides.
    expect(boxOn(tall, mug()).height).toBeCloseTo(84, 2);
    expect(boxOn(tall, mug()).y).toBeCloseTo(3, 6);
  });

  it('lies as the requirement says where that shows it no smaller, and stays where it was laid before', () => {
    const tee14 = layOnTarget(tee())({ ...design([layer('a')]), targets: [] });
    expect(tee14.targets).toEqual([{ requirementId: 'tee' }]);
    const bare = layOnTarget(mug())(design([]));
    expect(bare.targets.at(-1)).toEqual({ requirementId: 'mug' });
    const laid = addTarget(mug())(design([layer('a')]));
    expect(layOnTarget(mug())(laid)).toBe(laid);
  });
});

describe('edits', () => {
  const two = design([layer('a'), layer('b', { x: 100, y: 300, width: 50, height: 50 })]);

  it('touch one layer and leave the others alone', () => {
    for (const edit of [
      fadeLayers(['a'], 0.4),
      hideLayers(['a'], true),
      renameLayer('a', 'Cloud'),
      placeLayer('a', { turn: 12 }),
    ]) {
      const after = edit(two);
      expect(after.layers[0]).not.toEqual(two.layers[0]);
      expect(after.layers[1]).toBe(two.layers[1]);
    }
    expect(fadeLayers(['a'], 7)(two).layers[0].opacity).toBe(1);
  });

  it('reorder, duplicate and remove', () => {
    expect(reorderLayer('a', 1)(two).layers.map((one) => one.id)).toEqual(['b', 'a']);
    expect(reorderLayer('a', 99)(two).layers.map((one) => one.id)).toEqual(['b', 'a']);
    expect(reorderLayer('a', 0)(two)).toBe(two);
    expect(
      duplicateLayers(
        ['a'],
        copiesOf([two.layers[0]], () => 'c'),
      )(two).layers.map((one) => one.id),
    ).toEqual(['a', 'c', 'b']);
    expect(removeLayers(['a'])(two).layers.map((one) => one.id)).toEqual(['b']);
    expect(rename('Fog')(two).name).toBe('Fog');
    expect(removeTarget('tee')(addTarget(mug())(two)).targets.map((one) => one.requirementId)).toEqual(['mug']);
    expect(addTarget(tee())(two)).toBe(two);
  });

  it('refuse more layers than a design holds', () => {
    const full = design(Array.from({ length: MAX_LAYERS }, (_, i) => layer(String(i))));
    expect(() => addLayer(layer('one too many'))(full)).toThrowError(/at most/);
  });

  it('move art on one canvas so that it lands there exactly, whatever the placement rule', () => {
    for (const requirement of [
      tee(),
      mug(),
      { ...mug(), placement: { ...mug().placement, rule: 'cover' as const, scale: 1.3, offsetX: 4 } },
    ]) {
      const target = { requirementId: requirement.id };
      const to = { x: 20, y: 15, width: 60, height: 0 };
      const after = moveOnCanvas(['a', 'b'], target, requirement, to)(two);
      const art = artOnCanvas(after, layoutTarget(after, target, requirement))!;
      expect([art.x, art.y, art.width].map((v) => Math.round(v * 1e6) / 1e6)).toEqual([20, 15, 60]);
    }
  });

  it('move art on one target alone without touching any layer', () => {
    const both = addTarget(mug())(two);
    const after = moveOnTargetOnly(both.targets[1], mug(), { x: 80, y: 10, width: 40, height: 60 })(both);
    expect(after.layers).toBe(both.layers);
    expect(after.targets[0]).toBe(both.targets[0]);
    const art = artOnCanvas(after, layoutTarget(after, after.targets[1], mug()))!;
    expect([art.x, art.y, art.width].map((v) => Math.round(v * 1e6) / 1e6)).toEqual([80, 10, 40]);
    expect(changeTarget('mug', { placement: undefined })(after).targets[1].placement).toBeUndefined();
  });
});

describe('usual places', () => {
  const safe = { x: 10, y: 10, width: 335.6, height: 386.4 };
  const art = { x: 0, y: 0, width: 300, height: 150 };

  it('keep proportions and stay inside the safe line', () => {
    for (const place of ['chest', 'left-chest', 'full', 'width'] as const) {
      const box = usualPlace(place, art, safe);
      expect(box.width / box.height)
        .withContext(place)
        .toBeCloseTo(2, 9);
      expect(intersect(box, safe))
        .withContext(place)
        .toEqual(jasmine.objectContaining({ width: jasmine.any(Number) }));
      expect(box.x)
        .withContext(place)
        .toBeGreaterThanOrEqual(safe.x - 1e-9);
      expect(box.x + box.width)
        .withContext(place)
        .toBeLessThanOrEqual(safe.x + safe.width + 1e-9);
    }
  });

  it('put a crest on the wearer’s left, which is the viewer’s right', () => {
    const box = usualPlace('left-chest', art, safe);
    expect(box.width).toBe(90);
    expect(box.x + box.width / 2).toBeGreaterThan(safe.x + safe.width / 2 + 50);
  });

  it('centre at the present size', () => {
    const box = usualPlace('centre', art, safe);
    expect([box.width, box.height]).toEqual([300, 150]);
    expect(box.x).toBeCloseTo(27.8, 9);
  });
});

describe('history', () => {
  it('undoes and redoes in order, and forgets the redo after a new change', () => {
    let history = startHistory('a');
    history = record(record(history, 'b'), 'c');
    expect(undo(history).present).toBe('b');
    expect(redo(undo(history)).present).toBe('c');
    expect(record(undo(history), 'd').future).toEqual([]);
    expect(undo(startHistory('a')).present).toBe('a');
  });

  it('takes a drag as one step and the next drag as another', () => {
    let history = startHistory(0);
    for (const at of [1, 2, 3]) history = record(history, at, 'drag');
    history = settle(history);
    for (const at of [4, 5]) history = record(history, at, 'drag');
    expect(undo(history).present).toBe(3);
    expect(undo(undo(history)).present).toBe(0);
  });

  it('records nothing when nothing changed', () => {
    const history = startHistory(design());
    expect(record(history, history.present)).toBe(history);
  });
});

describe('a recipe', () => {
  const sha = (id: string) => `sha-${id}`;

  it('is the same text for the same work, whatever the order of keys', () => {
    expect(canonicalJson({ b: 1, a: [{ d: undefined, c: 2 }] })).toBe('{"a":[{"c":2}],"b":1}');
    expect(canonicalJson(printRecipe(design(), { requirementId: 'tee' }, tee(), sha))).toBe(
      canonicalJson(printRecipe(design(), { requirementId: 'tee' }, tee(), sha)),
    );
  });

  it('changes with the requirement’s revision and with what is seen, not with names or hidden layers', () => {
    const text = (d = design(), r = tee()) => canonicalJson(printRecipe(d, { requirementId: 'tee' }, r, sha));
    expect(text(design(), tee({ revision: 2 }))).not.toBe(text());
    expect(text(placeLayer('a', { x: 10 })(design()))).not.toBe(text());
    expect(text(rename('Other')(renameLayer('a', 'Other')(design())))).toBe(text());
    expect(text(addLayer({ ...layer('h'), hidden: true })(design()))).toBe(text());
  });

  it('places the unit square of a picture in pixels', () => {
    const [a, b, c, d, e, f] = printRecipe(
      design([layer('a', { x: 177.8, y: 25.4, width: 254, height: 50.8 })]),
      { requirementId: 'tee' },
      tee(),
      sha,
    ).layers[0].map;
    expect([a, b, c, d, e, f]).toEqual([3000, 0, 0, 600, 600, 0]);
    expect(IDENTITY[0]).toBe(1);
  });

  it('names files readably in any script', () => {
    expect(fileNameOf('../../etc/пасси ☁ 東京')).toBe('etc-пасси-東京');
    expect(fileNameOf('///')).toBe('untitled');
  });

  it('keeps the shape in miniature', () => {
    const small = miniatureCanvas(layoutTarget(design(), { requirementId: 'tee' }, tee()).canvas, 160);
    expect([small.widthPx, small.heightPx]).toEqual([140, 160]);
  });
});
