import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { HttpTestingController } from '@angular/common/http/testing';
import { Router } from '@angular/router';
import type { KeptScene } from '@kettle/core/model';
import { MOST_SCENES } from '@kettle/core/document';
import type { Editor } from '../editor/editor';
import { HEARD, Heard, refusal } from '../testing/heard';
import { InPage } from '../testing/in-page';
import { cup, openEditor, shirt } from '../testing/open-editor';
import { BlankList } from './blank-list';
import { MockupEditor } from './mockup-editor';
import { SceneList } from './scene-list';
import { SceneLook } from './scene-look';
import { ScenePainter } from './scene-painter';
import { SmallScenes } from './small-scenes';

const UNDRAWN = [
  { provide: SmallScenes, useValue: { picture: () => '', isDrawn: () => true, see: () => undefined } },
  { provide: ScenePainter, useValue: { prepare: () => undefined, ready: signal(true) } },
];
const own = { ...cup, id: 'own-1', name: 'Enamel mug', product: 'Enamel mug', own: true };

describe('the list of blanks', () => {
  it('says that it is on its way until it is there, and not that nothing is found', async () => {
    const { http } = openEditor({ targets: [{ requirementId: 'tee' }] }, [MockupEditor, ...HEARD, ...UNDRAWN]);
    const page = await InPage.show(BlankList);
    expect(page.text).toContain('Fetching the blanks …');
    expect(page.text).not.toContain('No blank');
    http.expectOne('/api/blanks').flush([shirt, cup]);
    await page.fixture.whenStable();
    expect(page.text).toContain('2 of 2');
  });
});

describe('what stands beside the picture of a product', () => {
  let editor: Editor;
  let mockup: MockupEditor;
  let http: HttpTestingController;
  const scenes = (): readonly KeptScene[] => editor.desk.document()!.scenes ?? [];
  beforeEach(() => {
    ({ editor, http } = openEditor({ targets: [{ requirementId: 'tee' }, { requirementId: 'mug' }] }, [
      MockupEditor,
      ...HEARD,
      ...UNDRAWN,
    ]));
    mockup = TestBed.inject(MockupEditor);
    http.expectOne('/api/blanks').flush([shirt, cup, own]);
  });

  it('names the light of a product by what it has: folds on cloth, shading on a mug', async () => {
    const page = await InPage.show(SceneLook);
    expect(page.text).toContain('Folds');
    mockup.show(cup);
    await page.fixture.whenStable();
    expect(page.text).toContain('Shading');
    expect(page.text).not.toContain('Folds');
  });

  describe('scenes that are kept', () => {
    const menu = async (page: InPage<SceneList>, name: string, what: string): Promise<void> => {
      await page.press(`Scene ${name}: more`);
      // A menu that closes is still there while it fades: the one that belongs to the button is meant.
      const menu = document.getElementById(page.button(`Scene ${name}: more`).getAttribute('aria-controls')!)!;
      [...menu.querySelectorAll<HTMLElement>('.mat-mdc-menu-item')]
        .find((one) => one.textContent!.trim() === what)!
        .click();
      await page.fixture.whenStable();
    };
    const names = () => scenes().map(({ name }) => name);

    it('are named after what they show, shown on a press, and never named alike', async () => {
      const page = await InPage.show(SceneList);
      await page.press('Keep this scene');
      mockup.change({ garment: '#F5F3EE' });
      await page.press('Keep as another');
      expect(new Set(names()).size).toBe(2);
      expect(names()[0]).toMatch(/^Cotton tee/);
      mockup.show(cup);
      await page.fixture.whenStable();
      await page.press('Keep this scene');
      expect(names()[2]).toMatch(/^Mug/);
      await page.press(names()[0]);
      expect(mockup.blank()?.id).toBe('tee-front');
      expect(page.button(names()[0]).getAttribute('aria-pressed')).toBe('true');
    });

    it('are renamed, copied, put in another order and taken away, each a step back', async () => {
      const page = await InPage.show(SceneList);
      await page.press('Keep this scene');
      const [first] = names();
      await menu(page, first, 'Duplicate');
      expect(names()).toEqual([first, `${first} 2`]);
      await menu(page, `${first} 2`, 'Move up');
      expect(names()).toEqual([`${first} 2`, first]);
      await menu(page, first, 'Rename');
      const field = page.field('Name of the scene');
      field.value = '  On the wall ';
      field.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter' }));
      await page.fixture.whenStable();
      expect(names()).toEqual([`${first} 2`, 'On the wall']);
      await menu(page, 'On the wall', 'Take it away');
      expect(names()).toEqual([`${first} 2`]);
      editor.desk.undo();
      expect(names()).toEqual([`${first} 2`, 'On the wall']);
    });

    it('are as many as a design keeps, and that is said', async () => {
      const page = await InPage.show(SceneList);
      await page.press('Keep this scene');
      const [one] = scenes();
      editor.desk.edit((design) => ({
        ...design,
        scenes: Array.from({ length: MOST_SCENES }, (_, i) => ({ ...one, id: `s${i}`, name: `Scene ${i}` })),
      }));
      await page.fixture.whenStable();
      expect(page.button('Keep this scene').disabled).toBeTrue();
      expect(page.text).toContain(`A design keeps ${MOST_SCENES} scenes.`);
    });
  });

  describe('blanks', () => {
    const shown = (page: InPage<BlankList>) =>
      [...page.element.querySelectorAll('ul .blank small')].map((one) => one.textContent);
    const search = async (page: InPage<BlankList>, words: string): Promise<void> => {
      const field = page.field('Search blanks');
      field.value = words;
      field.dispatchEvent(new Event('input'));
      await page.fixture.whenStable();
    };

    it('are found by words and kinds, whose counts say what is left, and all of them again', async () => {
      const page = await InPage.show(BlankList);
      expect(page.text).toContain('3 of 3');
      await page.press('Drinkware 2');
      expect(shown(page)).toEqual(['Mug', 'Enamel mug']);
      await search(page, 'enamel');
      expect(shown(page)).toEqual(['Enamel mug']);
      await search(page, 'umbrella');
      expect(page.text).toContain('No blank is all of this.');
      await page.press('Show all');
      expect(shown(page).length).toBe(3);
    });

    it('are marked, and the marked ones shown alone', async () => {
      const page = await InPage.show(BlankList);
      await page.press('Favourite: Mug');
      await page.press('Favourites 1');
      expect(shown(page)).toEqual(['Mug']);
      await page.press('Favourite: Mug');
      await page.press('Show all');
      expect(shown(page).length).toBe(3);
    });

    it('of one’s own are changed on their page, and taken off the list until they are brought back', async () => {
      const page = await InPage.show(BlankList);
      expect(page.buttons).not.toContain('Take it away');
      mockup.show(own);
      await page.fixture.whenStable();
      const router = spyOn(TestBed.inject(Router), 'navigate').and.resolveTo(true);
      await page.press('Change it …');
      expect(router.calls.mostRecent().args[0]).toEqual(['/blanks', 'own-1']);
      await page.press('Take it away');
      http.expectOne((one) => one.method === 'DELETE' && one.url === '/api/blanks/own-1').flush(null);
      http.expectOne('/api/blanks').flush([shirt, cup]);
      expect(TestBed.inject(Heard).last).toContain('“Enamel mug” is off the list. Pictures made with it stay.');
      TestBed.inject(Heard).takeUp();
      http.expectOne((one) => one.method === 'POST' && /own-1/.test(one.url)).flush(null);
      http.expectOne('/api/blanks').flush([shirt, cup, own]);
      await page.fixture.whenStable();
      expect(shown(page).length).toBe(3);
    });

    it('that cannot be taken in are told, and the list stays', async () => {
      const page = await InPage.show(BlankList);
      await page.give('Blank pack', new File(['x'], 'pack.zip', { type: 'application/zip' }));
      http.expectOne((one) => one.method === 'POST').flush(...refusal('This is no blank pack.', 422));
      expect(TestBed.inject(Heard).last).toContain('This is no blank pack.');
      expect(shown(page).length).toBe(3);
    });
  });
});
