import { shapeLayer } from './shape.js';
import type { PictureLayer, ShapeLayer, Stroke } from '../model/design.js';
import { treatedLayer } from '../layers/treated-layer.js';
import { drawingOf, marksOf, rubbedStep } from '../layers/layer-kinds.js';
import { freehandLayer, MAX_STROKES } from './freehand.js';
import { isRubbed, silhouettesOf } from '../layers/keyline.js';
import { reaches, rubMarks, rubOut, withRubbed } from './rubbed.js';

const stroke: Stroke = {
  points: [130, 60, 0.5],
  size: 10,
  hardness: 1,
  opacity: 1,
  hex: '#000000',
  erase: true,
};
const square: ShapeLayer = {
  ...shapeLayer('s', 'rectangle', { width: 300, height: 300 }, '#11564f'),
  place: { x: 100, y: 50, width: 80, height: 40, turn: 0, flipX: false, flipY: false },
};
/** Middle of the ink that a path of one dot leaves. */
const middle = (path: string): [number, number] => {
  const numbers = path.match(/-?[\d.]+/g)!.map(Number);
  const along = (from: number) => numbers.filter((_, i) => i % 2 === from);
  return [0, 1].map((from) => (Math.min(...along(from)) + Math.max(...along(from))) / 2) as [number, number];
};

describe('the eraser', () => {
  it('takes away from a layer after all that it drew, where the stroke lies', () => {
    const rubbed = rubOut(square, stroke);
    const { marks, box } = drawingOf(rubbed as ShapeLayer);
    expect(marks.map((mark) => mark.erase)).toEqual([false, true]);
    // 130, 60 on the field is 70, 30 in a box of 80 x 40 whose middle lies at 100, 50.
    const [x, y] = middle(marks[1].path);
    expect([x - box.x, y - box.y].map(Math.round)).toEqual([70, 30]);
    expect(marksOf(square)!.marks.length).toBe(1);
  });

  it('stays on the layer when that is moved, turned, mirrored and made larger', () => {
    const turned = { ...square, place: { ...square.place, turn: 90, flipX: true } };
    // The same place of the field is another place of the turned layer, and drawn there it is the same of the field.
    const [mark] = rubMarks(rubOut(turned, stroke).rubbed!, { x: 0, y: 0, width: 80, height: 40 });
    // Turned by 90 degrees clockwise, what lies 10 mm below the middle is 10 mm to the right of it in the layer; mirrored,
    // to the left. What lies 30 mm right of it is 30 mm above.
    expect(middle(mark.path).map(Math.round)).toEqual([30, -10]);
    const larger = { ...rubOut(square, stroke), place: { ...square.place, width: 160, height: 80 } };
    const { marks } = drawingOf(larger as ShapeLayer);
    expect(middle(marks[1].path).map(Math.round)).toEqual([140, 60]);
  });

  it('rubs where the eye sees a layer that a target has elsewhere', () => {
    const seen = { ...square.place, x: 120 };
    const [mark] = rubMarks(rubOut(square, stroke, seen).rubbed!, { x: 0, y: 0, width: 80, height: 40 });
    expect(middle(mark.path).map(Math.round)).toEqual([50, 30]);
  });

  it('knows what it does not reach, is taken back stroke by stroke, and has a bound', () => {
    expect(reaches(stroke, square)).toBeTrue();
    expect(reaches({ ...stroke, points: [30, 50, 0.5] }, square)).toBeFalse();
    const twice = rubOut(rubOut(square, stroke), stroke);
    expect(twice.rubbed!.length).toBe(2);
    expect(withRubbed(twice, twice.rubbed!.slice(0, 0))).toEqual(square);
    const full = { ...square, rubbed: Array.from({ length: MAX_STROKES }, () => twice.rubbed![0]) };
    expect(() => rubOut(full, stroke)).toThrowError(RangeError);
  });

  it('adds to the strokes of freehand lines, which have it among them', () => {
    const line = freehandLayer('f', { ...stroke, erase: false, points: [90, 50, 0.5, 140, 50, 0.5] });
    const rubbed = rubOut(line, { ...stroke, erase: false });
    expect(rubbed.rubbed).toBeUndefined();
    expect(rubbed.kind === 'freehand' && rubbed.strokes.map(({ erase }) => erase)).toEqual([false, true]);
    expect(rubbed.place).toEqual(line.place);
  });

  it('stays where it lies on a picture of which another part is shown', () => {
    const picture: PictureLayer = {
      kind: 'picture',
      id: 'p',
      name: 'p',
      assetId: 'a',
      opacity: 1,
      hidden: false,
      place: square.place,
    };
    const rubbed = rubOut(picture, stroke);
    const cut = treatedLayer(rubbed, [{ id: 'c', kind: 'crop', box: { x: 0.5, y: 0.5, width: 0.5, height: 0.5 } }]);
    // The lower right quarter begins at 100, 50 on the field: the stroke lies 30 to the right of that and 10 below.
    const step = rubbedStep(cut)!;
    expect(step.view).toEqual({ x: 0, y: 0, width: 40, height: 20 });
    expect(middle(/d="([^"]+)"/.exec(step.body)![1]).map(Math.round)).toEqual([30, 10]);
    expect(rubbedStep(picture)).toBeNull();
  });

  it('makes a line around the layer go around what is seen', () => {
    expect(isRubbed(square)).toBeFalse();
    expect(silhouettesOf(square)).not.toBeNull();
    expect(silhouettesOf(rubOut(square, stroke))).toBeNull();
  });
});
