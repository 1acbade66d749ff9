import type { Target } from '@kettle/core/model';
import { shapeLayer } from '@kettle/core/drawing';
import type { Editor } from '../editor/editor';
import { InPage } from '../testing/in-page';
import { TestBed } from '@angular/core/testing';
import { Maker } from '../editor/maker';
import { AssetShelf } from '../data/asset-shelf';
import { badge, openEditor } from '../testing/open-editor';
import { ColourWall } from './colour-wall';

const FIELD = { width: 355.6, height: 406.4 };
/** As dark as the one colour on sale, as light as nothing. */
const soot = { ...shapeLayer('s', 'rectangle', FIELD, '#1b1b1d'), name: 'Soot' };

describe('a design on every colour on sale', () => {
  let editor: Editor;
  let page: InPage<ColourWall>;
  const target = (): Target => editor.desk.document()!.targets[0];
  const order = () => [...page.element.querySelectorAll('.wall b')].map((one) => one.textContent);
  const lost = (name: string) =>
    [...page.element.querySelectorAll('.wall li')]
      .find((one) => one.querySelector('b')?.textContent === name)!
      .querySelector('.lost')!
      .textContent!.trim();
  /** Ink is weighed with the next picture of the screen. */
  const weighed = async (): Promise<void> => {
    await new Promise((resolve) => requestAnimationFrame(() => requestAnimationFrame(resolve)));
    await page.fixture.whenStable();
  };
  beforeEach(async () => {
    ({ editor } = openEditor({ field: FIELD, layers: [soot], targets: [{ requirementId: 'tee' }] }));
    page = await InPage.show(ColourWall);
    await weighed();
  });

  it('shows the worst first: ink of the colour of the cloth is lost on it', () => {
    expect(order()[0]).toBe('Soot');
    expect(lost('Soot')).toBe('100 % lost');
    expect(page.text).toContain('#1b1b1d can hardly be told from it.');
    expect(page.text).toMatch(/Loses ink on [12] of 2 colours on sale\./);
  });

  it('is helped by a version for dark cloth, which is proposed, worked on and taken away', async () => {
    await page.press('A version for dark cloth');
    await weighed();
    expect(Object.keys(target().versions ?? {})).toContain('dark');
    expect(lost('Soot')).toBe('nothing lost');
    // The other one is seen on its cloth, but dark on dark.
    expect(page.text).toContain('Seen on all 2 colours on sale, faint on 1.');
    expect(lost('Harbour')).toMatch(/^faint, 2\.\d to 1$/);
    expect(page.text).toContain('A version of its own: one layer differs.');
    let looked = false;
    page.fixture.componentInstance.canvas.subscribe(() => (looked = true));
    await page.press('Change it on the canvas');
    expect([looked, editor.alone(), editor.current()?.cloth]).toEqual([true, true, 'dark']);
    editor.desk.undo();
    await weighed();
    expect(lost('Soot')).toBe('100 % lost');
  });

  it('is helped by a line around it', async () => {
    await page.press('A line around it');
    expect(target().versions?.dark?.keyline).toEqual(jasmine.objectContaining({ hex: '#f7f5f0', width: 1.2 }));
  });

  it('is not sold on a colour that is left out, which comes last, until it is sold again', async () => {
    await page.press('Leave it out');
    await weighed();
    expect(target().leftOut).toEqual(['#1b1b1d']);
    expect([order().at(-1), lost('Soot')]).toEqual(['Soot', 'left out']);
    expect(page.text).toMatch(/(Reads on all 1|Loses ink on 1 of 1) colours on sale/);
    await page.press('Sell it again');
    expect(target().leftOut).toBeUndefined();
  });

  it('is sold on one colour alone by one press', async () => {
    await page.press('Sell it alone');
    await weighed();
    expect(target().leftOut).toEqual(['#1f2b4d']);
    expect(page.text).toMatch(/(Reads on all 1|Loses ink on 1 of 1) colours on sale/);
  });

  it('says nothing of ink that it has not seen', async () => {
    TestBed.inject(Maker).picture(badge);
    spyOn(TestBed.inject(AssetShelf), 'image').and.returnValue(null);
    await weighed();
    expect(lost('Harbour')).toBe('not looked at yet');
    expect(page.text).toContain('A picture of this design has not come yet, so nothing is known of its ink.');
  });
});
