import type { HttpTestingController } from '@angular/common/http/testing';
import { TestBed } from '@angular/core/testing';
import type { DesignDocument, Layer } from '@kettle/core/model';
import { panelRequirement } from '@kettle/core/requirement';
import { graphicLayer, shapeLayer } from '@kettle/core/drawing';
import { pictureLayer } from '@kettle/core/document';
import type { Editor } from '../editor/editor';
import { Tools } from '../editor/tools';
import { Preferences } from '../data/preferences';
import { RequirementShelf } from '../data/requirement-shelf';
import { InPage } from '../testing/in-page';
import { badge, mug, openEditor, shirt, tee } from '../testing/open-editor';
import { ImportantParts } from '../artwork/important-parts';
import { InkScreenDetails } from '../artwork/ink-screen';
import { LayerDetails } from './layer-details';
import { PartDetails } from '../artwork/part-details';
import { ReachDetails } from '../artwork/reach-details';

const FIELD = { width: 355.6, height: 406.4 };
const star = { ...shapeLayer('s', 'star', FIELD, '#f2bd4b'), name: 'Star' };
const rain = pictureLayer('r', 'Rain gauge', badge, FIELD);
const kite = graphicLayer(
  'k',
  {
    id: 'kite',
    name: 'Kite',
    category: 'Weather',
    width: 20,
    height: 20,
    parts: [
      { path: 'M0 0L20 0L20 20Z', fill: '#112233' },
      { path: 'M0 0L9 0L9 9Z', fill: '#f2bd4b' },
    ],
  },
  FIELD,
);

describe('a layer in hand', () => {
  let editor: Editor;
  let http: HttpTestingController;
  const design = (): DesignDocument => editor.desk.document()!;
  const layer = (id: string): Layer => design().layers.find((one) => one.id === id)!;
  beforeEach(() => {
    ({ editor, http } = openEditor({
      field: FIELD,
      layers: [rain, star, kite],
      targets: [{ requirementId: 'tee' }, { requirementId: 'mug' }],
    }));
    TestBed.inject(Preferences).unit.set('mm');
  });

  it('is had as a file of its own, as SVG only where outlines hold it', async () => {
    const files = async (ids: readonly string[]): Promise<string[]> => {
      editor.select(ids);
      const page = await InPage.show(LayerDetails);
      await page.press('Save as a file');
      const found = [...document.querySelectorAll<HTMLAnchorElement>('.cdk-overlay-container a[mat-menu-item]')];
      const all = found.map((one) => one.getAttribute('href')!);
      page.fixture.destroy();
      return all;
    };
    const about = '&layers=s&requirement=tee';
    expect(await files(['s'])).toEqual([
      `/api/designs/d1/file?as=png${about}&cut=ink`,
      `/api/designs/d1/file?as=png${about}`,
      `/api/designs/d1/file?as=svg${about}&cut=ink`,
      `/api/designs/d1/file?as=svg${about}`,
    ]);
    expect((await files(['r'])).map((href) => /as=(\w+)/.exec(href)![1])).toEqual(['png', 'png']);
  });

  describe('by its numbers', () => {
    it('is as wide, as high and as far from the top and the centre as is typed; a shape may be stretched', async () => {
      editor.select(['s']);
      const page = await InPage.show(LayerDetails);
      await page.enter('Width', '80');
      const { width, height } = layer('s').place;
      expect(width).toBeCloseTo(80, 6);
      await page.enter('From top', '30');
      await page.enter('From centre', '-12,5');
      expect(layer('s').place.y - height / 2).toBeCloseTo(30, 6);
      expect(layer('s').place.x - FIELD.width / 2).toBeCloseTo(-12.5, 6);
      await page.press('Keep proportions');
      await page.enter('Height', '20');
      expect(layer('s').place.width).toBeCloseTo(80, 6);
      expect(layer('s').place.height).toBeCloseTo(20, 6);
      expect(layer('s').place.y - 10).toBeCloseTo(30, 6);
      // The next one keeps its proportions again.
      const pressed = () => page.button('Keep proportions').getAttribute('aria-pressed');
      expect(pressed()).toBe('false');
      editor.select(['r']);
      await page.fixture.whenStable();
      editor.select(['s']);
      await page.fixture.whenStable();
      expect(pressed()).toBe('true');
    });

    it('keeps its proportions when it is a picture, and is turned and mirrored', async () => {
      editor.select(['r']);
      const page = await InPage.show(LayerDetails);
      expect(page.text).toContain('900 × 900 px');
      await page.enter('Height', '50');
      expect(layer('r').place.width).toBeCloseTo(50, 6);
      expect(page.buttons).not.toContain('Keep proportions');
      await page.enter('Turn', '15');
      await page.press('Mirror left to right');
      expect(layer('r').place).toEqual(jasmine.objectContaining({ turn: 15, flipX: true, flipY: false }));
      await page.enter('Height', '0');
      expect(page.element.querySelector('[role=alert]')).not.toBeNull();
      expect(layer('r').place.width).toBeCloseTo(50, 6);
    });

    it('has a name, is hidden, locked and let go; none is no name', async () => {
      editor.select(['s']);
      const page = await InPage.show(LayerDetails);
      await page.enter('Name', ' Pole star ');
      await page.enter('Name', '   ');
      expect(layer('s').name).toBe('Pole star');
      await page.press('Hide');
      expect(layer('s').hidden).toBeTrue();
      await page.press('Show');
      await page.press('Lock');
      expect(page.text).toContain('Locked: it stays where it is.');
      await page.press('Unlock');
      expect([layer('s').hidden, layer('s').locked ?? false]).toEqual([false, false]);
      await page.press('Delete');
      expect(design().layers.map(({ id }) => id)).toEqual(['r', 'k']);
    });

    it('is mixed with what lies below as is chosen', async () => {
      editor.select(['s', 'k']);
      const page = await InPage.show(LayerDetails);
      expect(page.text).toContain('2 layers');
      await page.enter('Blend mode', 'multiply');
      expect([layer('s').blend, layer('k').blend, layer('r').blend]).toEqual(['multiply', 'multiply', undefined]);
    });

    it('gives way to the design when nothing is held', async () => {
      const page = await InPage.show(LayerDetails);
      expect(page.text).toContain('Design3 layers');
      await page.enter('Name', 'Weather');
      expect(design().name).toBe('Weather');
    });
  });

  describe('its reach', () => {
    it('is every target, or the chosen one alone, which says what it does differently and can be as everywhere', async () => {
      editor.select(['s']);
      const page = await InPage.show(ReachDetails);
      expect(page.button('Every target').getAttribute('aria-pressed')).toBe('true');
      await page.press('Only Tee');
      const before = layer('s').place.x;
      editor.nudge(7, 0);
      await page.fixture.whenStable();
      expect(layer('s').place.x).toBe(before);
      expect(editor.selected()!.place.x).toBeGreaterThan(before);
      expect(page.text).toContain('Only here: moved');
      await page.press('As everywhere');
      expect(editor.selected()!.place.x).toBe(before);
      expect(page.text).not.toContain('Only here');
    });
  });

  describe('its colours', () => {
    it('change wherever they are in a graphic, or part by part', async () => {
      const page = await InPage.show(PartDetails, { layer: layer('k') });
      const colours = () => {
        const found = layer('k');
        return found.kind === 'graphic' ? found.parts.map((one) => one.fill) : [];
      };
      await page.press('#f2bd4b');
      await page.enter('This colour becomes, hex', '#00aa88');
      expect(colours()).toEqual(['#112233', '#00aa88']);
      page.fixture.componentRef.setInput('layer', layer('k'));
      await page.press('Part 1 of 2');
      await page.enter('Part 1, hex', '#ffffff');
      expect(colours()).toEqual(['#ffffff', '#00aa88']);
    });

    it('where they are thin are printed as they are, solid, or as dots that the press can hold', async () => {
      editor.select(['s']);
      const page = await InPage.show(InkScreenDetails);
      await page.press('Solid');
      expect(layer('s').screen).toEqual({ kind: 'solid', threshold: 0.5 });
      await page.press('Dots');
      await page.enter('Angle', '22,5');
      expect(layer('s').screen).toEqual(jasmine.objectContaining({ kind: 'dots', angle: 22.5 }));
      const rows = () => (layer('s').screen as { lpi: number }).lpi;
      await page.enter('Rows an inch', '5000');
      expect(rows()).toBeLessThan(500);
      await page.press('As it is');
      expect(layer('s').screen).toBeUndefined();
      await page.press('Show where');
      expect(TestBed.inject(Tools).showSoft()).toBeTrue();
    });
  });

  describe('its important parts', () => {
    it('are asked for where cloth is cut and sewn alone, and kept as ninths', async () => {
      editor.select(['s']);
      const page = await InPage.show(ImportantParts);
      expect(page.buttons).toEqual([]);
      const panel = panelRequirement(shirt, {
        ...shirt.areas[0],
        kind: 'all-over',
        cut: [
          [0, 0],
          [300, 0],
          [300, 400],
        ],
      });
      TestBed.inject(RequirementShelf).refresh().subscribe();
      http.expectOne('/api/requirements').flush([tee, mug, { ...panel, id: 'front', revision: 1 }]);
      editor.desk.edit((before) => ({ ...before, targets: [...before.targets, { requirementId: 'front' }] }));
      await page.fixture.whenStable();
      await page.press('lower centre');
      await page.press('upper left');
      expect(layer('s').important).toEqual([0, 7]);
      expect(page.text).toContain('Told when a seam or the scissors reach them.');
      await page.press('lower centre');
      await page.press('upper left');
      expect(layer('s').important).toBeUndefined();
    });
  });
});
