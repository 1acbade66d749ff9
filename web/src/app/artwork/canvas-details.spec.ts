import { boundsOfPlace } from '@kettle/core/geometry';
import type { DesignDocument } from '@kettle/core/model';
import { freehandLayer, shapeLayer } from '@kettle/core/drawing';
import { keylineOf } from '@kettle/core/document';
import type { Maker } from '../editor/maker';
import type { Editor } from '../editor/editor';
import { Tools } from '../editor/tools';
import { TestBed } from '@angular/core/testing';
import { Notices } from '../data/notices';
import { Preferences } from '../data/preferences';
import { InPage } from '../testing/in-page';
import { openEditor } from '../testing/open-editor';
import { ArrangeDetails } from './arrange-details';
import { BrushDetails } from './brush-details';
import { GuideDetails } from './guide-details';
import { KeylineDetails } from './keyline-details';
import { RubbedDetails } from './rubbed-details';

const FIELD = { width: 355.6, height: 406.4 };
const at = (id: string, x: number, y: number, width = 40, height = 20) => {
  const layer = shapeLayer(id, 'rectangle', FIELD, '#f2bd4b');
  return { ...layer, place: { ...layer.place, x, y, width, height } };
};

describe('what is drawn and lined up on the canvas', () => {
  let editor: Editor;
  let maker: Maker;
  const design = (): DesignDocument => editor.desk.document()!;
  const boundsOf = (id: string) => boundsOfPlace(design().layers.find((one) => one.id === id)!.place);
  beforeEach(() => {
    ({ editor, maker } = openEditor({
      field: FIELD,
      layers: [at('a', 60, 80), at('b', 150, 120, 60), at('c', 300, 300)],
    }));
    TestBed.inject(Preferences).unit.set('mm');
  });

  describe('the brush', () => {
    it('is as thick as is typed, within what a hand can draw', async () => {
      const page = await InPage.show(BrushDetails);
      const tools = TestBed.inject(Tools);
      await page.enter('Size', '12.5');
      expect(tools.brush().size).toBe(12.5);
      await page.enter('Size', '5000');
      expect(tools.brush().size).toBe(200);
    });

    it('turns into an eraser, which has no colour, and is put away', async () => {
      const page = await InPage.show(BrushDetails);
      const tools = TestBed.inject(Tools);
      tools.drawing.set(true);
      expect(page.element.querySelector('ks-colour-field')).not.toBeNull();
      await page.press('Eraser');
      expect(tools.brush().erase).toBeTrue();
      expect(page.button('Eraser').getAttribute('aria-pressed')).toBe('true');
      expect(page.element.querySelector('ks-colour-field')).toBeNull();
      await page.press('Put the eraser away');
      expect(tools.drawing()).toBeFalse();
    });
  });

  describe('the eraser', () => {
    const points = [
      { x: 60, y: 80, pressure: 0.5 },
      { x: 70, y: 85, pressure: 0.5 },
    ];
    const strokes = () => design().layers.map((layer) => layer.rubbed?.length ?? 0);
    let said = '';
    beforeEach(() => {
      TestBed.inject(Tools).change({ erase: true });
      spyOn(TestBed.inject(Notices), 'say').and.callFake((sentence) => void (said = sentence));
    });

    it('rubs out of what is selected, where it is reached, and of nothing else', () => {
      const line = { points: [60, 80, 0.5, 70, 85, 0.5], size: 4, hardness: 1, opacity: 1, hex: '#11564f' };
      editor.edit((one) => ({ ...one, layers: [...one.layers, freehandLayer('f', { ...line, erase: false })] }));
      editor.select(['a', 'b'], false);
      maker.stroke(points);
      expect(strokes()).toEqual([1, 0, 0, 0]);
      expect(design().layers[3]).toEqual(jasmine.objectContaining({ strokes: [jasmine.anything()] }));
      editor.desk.undo();
      expect(strokes()).toEqual([0, 0, 0, 0]);
    });

    it('says why nothing was rubbed out: nothing selected, locked, or beside it', () => {
      editor.select([]);
      maker.stroke(points);
      expect(said).toContain('Select what the eraser shall rub out of');
      editor.select(['b']);
      maker.stroke(points);
      expect(said).toContain('Nothing of what is selected lies there');
      editor.edit((one) => ({ ...one, layers: one.layers.map((layer) => ({ ...layer, locked: true })) }));
      editor.select(['a']);
      maker.stroke(points);
      expect(said).toContain('locked');
      expect(strokes()).toEqual([0, 0, 0]);
    });

    it('stays a step that is softened and taken back, stroke by stroke', async () => {
      editor.select(['a']);
      const page = await InPage.show(RubbedDetails);
      await page.press('Rub out');
      expect(TestBed.inject(Tools).drawing()).toBeTrue();
      maker.stroke(points);
      maker.stroke(points);
      await page.fixture.whenStable();
      expect(page.text).toContain('Rubbed out: 2 strokes');
      const edge = page.element.querySelector('input[type=range]') as HTMLInputElement;
      edge.value = '40';
      edge.dispatchEvent(new Event('change', { bubbles: true }));
      await page.fixture.whenStable();
      expect(design().layers[0].rubbed!.map(({ hardness }) => hardness)).toEqual([0.6, 0.6]);
      await page.press('Bring the last back');
      expect(strokes()).toEqual([1, 0, 0]);
      await page.press('Bring all of it back');
      expect(design().layers[0].rubbed).toBeUndefined();
    });
  });

  describe('guides', () => {
    it('are added in the middle, typed to their place, and taken away; each is a step back', async () => {
      const page = await InPage.show(GuideDetails);
      expect(page.text).toContain('Pull a guide out of a ruler');
      await page.press('Upright');
      expect(Number(page.field('From the left').value)).toBeCloseTo(355.6 / 2, 1);
      await page.enter('From the left', '25');
      expect(Number(page.field('From the left').value)).toBe(25);
      await page.press('Level');
      expect(Number(page.field('From the top').value)).toBeCloseTo(406.4 / 2, 1);
      await page.press('Take this guide away');
      expect(page.text).not.toContain('From the left');
      editor.desk.undo();
      await page.fixture.whenStable();
      expect(Number(page.field('From the left').value)).toBe(25);
    });

    it('belong to one target alone when that is wished', async () => {
      const page = await InPage.show(GuideDetails);
      await page.press('Only this target');
      await page.press('Upright');
      expect(page.text).toContain('From the left, this target');
      expect(design().guides ?? []).toEqual([]);
      expect(JSON.stringify(design().targets[0])).toContain('guides');
    });
  });

  describe('a keyline', () => {
    it('goes around the whole design when nothing is selected, around a layer when one is', async () => {
      const page = await InPage.show(KeylineDetails);
      expect(page.text).toContain('Keyline around the whole design');
      await page.press('Put a line around it');
      expect(keylineOf(design(), { kind: 'design' })?.width).toBe(2);
      editor.select(['b']);
      await page.fixture.whenStable();
      expect(page.text).toContain('Keyline around this layer');
      await page.press('Put a line around it');
      expect(keylineOf(design(), { kind: 'layer', id: 'b' })?.hex).toBe('#ffffff');
    });

    it('takes its width, gap and joins, never thinner than can be printed, and goes again', async () => {
      const page = await InPage.show(KeylineDetails);
      const line = () => keylineOf(design(), { kind: 'design' });
      await page.press('Put a line around it');
      await page.enter('Line width', '3.5');
      await page.enter('Gap', '1.2');
      await page.press('Sharp');
      await page.press('Holes filled');
      expect(line()).toEqual({ hex: '#ffffff', width: 3.5, gap: 1.2, join: 'sharp', holes: 'kept' });
      await page.enter('Gap', '-4');
      expect(line()?.gap).toBe(0);
      await page.press('A line around it');
      expect(line()).toBeNull();
    });
  });

  describe('several layers', () => {
    it('are lined up with each other, spread evenly and made as wide', async () => {
      editor.select(['a', 'b', 'c']);
      const page = await InPage.show(ArrangeDetails);
      expect(page.text).toContain('Line up with each other');
      await page.press('Left edges');
      expect(['a', 'b', 'c'].map((id) => Math.round(boundsOf(id).x))).toEqual([40, 40, 40]);
      editor.desk.undo();
      await page.press('Equal gaps across');
      const [a, b, c] = ['a', 'b', 'c'].map(boundsOf);
      expect(b.x - (a.x + a.width)).toBeCloseTo(c.x - (b.x + b.width), 6);
      await page.press('Width');
      expect(['a', 'b', 'c'].map((id) => boundsOf(id).width)).toEqual([40, 40, 40]);
    });

    it('change their order, and are grouped under a name', async () => {
      editor.select(['a']);
      const page = await InPage.show(ArrangeDetails);
      expect(page.text).toContain('Line up with the safe area');
      await page.press('To the front');
      expect(design().layers.map(({ id }) => id)).toEqual(['b', 'c', 'a']);
      await page.press('Backwards');
      expect(design().layers.map(({ id }) => id)).toEqual(['b', 'a', 'c']);
      expect(page.buttons).not.toContain('Group');
      editor.select(['a', 'c']);
      await page.fixture.whenStable();
      await page.press('Group');
      await page.enter('Group', 'Clouds');
      expect(
        Object.values(design().groups ?? {})
          .map((one) => JSON.stringify(one))
          .join(),
      ).toContain('Clouds');
      await page.press('Ungroup');
      expect(design().layers.every((one) => !one.group)).toBeTrue();
    });
  });
});
