import { TestBed, type ComponentFixture } from '@angular/core/testing';
import type { HttpTestingController } from '@angular/common/http/testing';
import { PLAIN_LETTERING } from '@kettle/core/text';
import type { TextLayer } from '@kettle/core/model';
import { shapeLayer } from '@kettle/core/drawing';
import { isInked } from '@kettle/core/layers';
import { textLayer } from '@kettle/core/document';
import type { FontFamily } from '@kettle/contract';
import type { Editor } from '../editor/editor';
import { Typesetter } from '../editor/typesetter';
import { InPage } from '../testing/in-page';
import { openEditor } from '../testing/open-editor';
import { ColourField } from './colour-field';
import { InkDetails } from './ink-details';
import { TextDetails } from './text-details';

const anton: FontFamily = {
  name: 'Anton',
  category: 'condensed',
  scripts: ['Latin'],
  start: 'anton',
  faces: [{ id: 'anton', weight: 400, files: 1 }],
};
const cairo: FontFamily = {
  name: 'Cairo',
  category: 'display',
  scripts: ['Arabic', 'Latin'],
  start: 'cairo',
  faces: [{ id: 'cairo', weight: 800, files: 2 }],
};
const field = { width: 355.6, height: 406.4 };
const letters = textLayer(
  't',
  { text: 'Fog', fontId: 'anton' },
  { path: 'M0 7L20 7L20 0Z', width: 20, height: 7 },
  field,
  '#f2bd4b',
);
const star = shapeLayer('s', 'star', field, '#f2bd4b');

describe('details of the selected layer', () => {
  let editor: Editor;
  let http: HttpTestingController;
  beforeEach(() => {
    ({ editor, http } = openEditor({ layers: [star, { ...star, id: 's2' }, letters] }));
  });

  const page = (fixture: ComponentFixture<unknown>) => fixture.nativeElement as HTMLElement;
  const press = (fixture: ComponentFixture<unknown>, label: string) =>
    [...page(fixture).querySelectorAll('button')]
      .find((one) => (one.getAttribute('aria-label') ?? one.textContent ?? '').trim() === label)!
      .click();
  const layerOf = (id: string) => editor.desk.document()!.layers.find((one) => one.id === id)!;

  describe('a colour', () => {
    const field = async (inputs: object = {}) => {
      const shown = await InPage.show(ColourField, { label: 'Fill', hex: '#f2bd4b', ...inputs });
      const taken: (string | null)[] = [];
      shown.fixture.componentInstance.changed.subscribe((hex) => taken.push(hex));
      return { shown, taken };
    };

    it('is taken as hex, with or without its sign, from the design, or not at all', async () => {
      const { shown, taken } = await field({ optional: true });
      await shown.enter('Fill, hex', '1F2B4D');
      await shown.press('#1b1b1d');
      await shown.press('none');
      expect(taken).toEqual(['#1f2b4d', '#1b1b1d', null]);
    });

    it('is refused with a sentence when it is none', async () => {
      const { shown, taken } = await field();
      await shown.enter('Fill, hex', 'greenish');
      expect(shown.element.querySelector('[role=alert]')?.textContent).toContain('#1f2b4d');
      expect(shown.field('Fill, hex').value).toBe('#f2bd4b');
      expect(taken).toEqual([]);
    });
  });

  describe('a shape', () => {
    it('has its own numbers, and takes them one by one', async () => {
      const shown = await InPage.show(InkDetails, { layer: star });
      expect(
        [...shown.element.querySelectorAll('ks-number-field label')].map((one) => one.firstChild?.textContent?.trim()),
      ).toEqual(['Points', 'Depth']);
      await shown.enter('Points', '7');
      expect(layerOf('s')).toEqual(jasmine.objectContaining({ parameters: { count: 7 } }));
      expect(layerOf('s2')).toEqual(jasmine.objectContaining({ parameters: {} }));
    });

    it('changes its colour alone, or everywhere in the design', async () => {
      const shown = await InPage.show(InkDetails, { layer: star });
      await shown.enter('Fill, hex', '#112233');
      expect([layerOf('s'), layerOf('s2')].map((one) => one.kind === 'shape' && one.fill)).toEqual([
        '#112233',
        '#f2bd4b',
      ]);
      editor.desk.undo();
      shown.fixture.componentRef.setInput('layer', layerOf('s'));
      await shown.fixture.whenStable();
      expect(shown.text).toContain('change it on all 3 layers of this colour');
      shown.element.querySelector<HTMLInputElement>('input[type=checkbox]')!.click();
      await shown.enter('Fill, hex', '#112233');
      expect(editor.desk.document()!.layers.map((one) => isInked(one) && one.fill)).toEqual([
        '#112233',
        '#112233',
        '#112233',
      ]);
    });

    it('gets an outline in millimetres, solid at first', async () => {
      const shown = await InPage.show(InkDetails, { layer: star });
      await shown.press('none');
      expect(layerOf('s')).toEqual(jasmine.objectContaining({ outline: { hex: '#f2bd4b', width: 2, dash: 'solid' } }));
    });
  });

  describe('lettering', () => {
    const wanted = () => {
      jasmine.clock().tick(120);
      return http.expectOne('/api/lettering');
    };
    beforeEach(() => {
      jasmine.clock().install().mockDate();
    });
    afterEach(() => jasmine.clock().uninstall());
    const showText = () => {
      const fixture = TestBed.createComponent(TextDetails);
      fixture.componentRef.setInput('layer', letters);
      fixture.detectChanges();
      http.expectOne('/api/fonts').flush([anton, cairo]);
      fixture.detectChanges();
      return fixture;
    };
    const type = (fixture: ComponentFixture<unknown>, text: string) => {
      const area = page(fixture).querySelector('textarea')!;
      area.value = text;
      area.dispatchEvent(new Event('input'));
    };

    it('is set anew once after quick typing, and keeps the size of its letters', () => {
      const fixture = showText();
      type(fixture, 'Fo');
      type(fixture, 'Fogs');
      const post = wanted();
      expect(post.request.body).toEqual({ text: 'Fogs', fontId: 'anton', settings: PLAIN_LETTERING });
      post.flush({ outlines: { path: 'M0 7L40 7L40 0Z', width: 40, height: 7 }, missing: [], instead: [] });
      const after = layerOf('t') as TextLayer;
      expect([after.text, after.name]).toEqual(['Fogs', 'Fogs']);
      expect(after.place.width / 40).toBeCloseTo(letters.place.width / 20, 9);
    });

    it('adds up changes that come before the answer', () => {
      const fixture = showText();
      type(fixture, 'Fogs');
      press(fixture, 'Right');
      expect(wanted().request.body).toEqual({
        text: 'Fogs',
        fontId: 'anton',
        settings: { ...PLAIN_LETTERING, align: 'right' },
      });
    });

    it('keeps the change of one lettering when another is changed right after it', () => {
      const typesetter = TestBed.inject(Typesetter);
      typesetter.set(letters, { text: 'Fogs' });
      typesetter.set({ ...letters, id: 'other' }, { text: 'Mist' });
      jasmine.clock().tick(120);
      expect(http.match('/api/lettering').map((call) => (call.request.body as { text: string }).text)).toEqual([
        'Fogs',
        'Mist',
      ]);
    });

    it('names letters the face does not have, and offers one that has them', () => {
      const fixture = showText();
      type(fixture, 'ض');
      wanted().flush({ outlines: null, missing: ['ض'], instead: [cairo] });
      fixture.detectChanges();
      expect(page(fixture).querySelector('[role=alert]')?.textContent).toContain('Anton has no ض');
      expect(layerOf('t')).toBe(letters);
      press(fixture, 'Use Cairo');
      expect(wanted().request.body).toEqual(jasmine.objectContaining({ text: 'ض', fontId: 'cairo' }));
    });
  });
});
