import type { HttpTestingController } from '@angular/common/http/testing';
import { TestBed } from '@angular/core/testing';
import type { PictureSet, Shot } from '@kettle/core/mockup';
import { Heard, refusal } from '../testing/heard';
import { InPage } from '../testing/in-page';
import { openDialog } from '../testing/open-dialog';
import { shirt } from '../testing/open-editor';
import { stillScene } from '../testing/still-scene';
import { PictureSetDialog, type PictureSetDialogData } from './picture-set-dialog';

const shot = (id: string, name: string, colours = 1): Shot => {
  const { requirementId: _requirement, ...scene } = stillScene('tee-front').scene;
  return { ...scene, id, name, colours } as Shot;
};
const tees: PictureSet = {
  id: 'tees',
  revision: 1,
  shipped: true,
  name: 'Tees',
  about: 'For shirts.',
  shots: [shot('a', 'On the wall', 2), shot('b', 'From near')],
  size: 2000,
  format: 'jpeg',
};

describe('the usual row of pictures', () => {
  let http: HttpTestingController;
  let page: InPage<PictureSetDialog>;
  let closed: unknown[];
  const open = async (setId: string | null = null): Promise<void> => {
    const data: PictureSetDialogData = {
      designs: [
        { designId: 'd1', name: 'Fog', revision: 3 },
        { designId: 'd2', name: 'Rain' },
      ],
      setId,
    };
    ({ http, closed } = openDialog(data));
    page = await InPage.show(PictureSetDialog);
    http.expectOne('/api/blanks').flush([shirt]);
    http.expectOne('/api/picture-sets').flush([tees]);
    await page.fixture.whenStable();
  };
  const asked = (method: string, url: string) => http.expectOne((one) => one.method === method && one.url === url);
  const choose = async (name: string): Promise<void> => {
    [...page.element.querySelectorAll<HTMLElement>('.set')]
      .find((one) => one.querySelector('b')?.textContent === name)!
      .click();
    await page.fixture.whenStable();
  };

  it('is given to all designs, and what is missing of it made in one run of what was seen', async () => {
    await open();
    expect(page.button('Use it').disabled).toBeTrue();
    expect(page.text).toContain('Tees3 pictures');
    await choose('Tees');
    await page.press('Use it and make what is missing');
    const use = asked('POST', '/api/picture-sets/use');
    expect(use.request.body).toEqual({ designIds: ['d1', 'd2'], setId: 'tees' });
    use.flush(null);
    const run = asked('POST', '/api/picture-runs');
    expect(run.request.body).toEqual({ of: 'set', designs: [{ designId: 'd1', revision: 3 }, { designId: 'd2' }] });
    run.flush({ jobId: 'j' });
    expect(closed).toEqual([true]);
  });

  it('that is shipped is copied to be changed, and kept with what was changed before it is used', async () => {
    await open();
    await choose('Tees');
    expect(page.buttons).not.toContain('Take the set away');
    await page.press('Copy it to change it');
    await page.enter('Name', '');
    expect(page.element.querySelector('[role=alert]')?.textContent).toContain('Name the set.');
    expect(page.button('Use it').disabled).toBeTrue();
    await page.enter('Name', 'My tees');
    await page.press('From near: earlier');
    await page.enter('Colours of On the wall', '3');
    await page.enter('Colours of On the wall', '900');
    await page.enter('Longest side', '1200');
    await page.press('Use it');
    const added = asked('POST', '/api/picture-sets');
    expect(added.request.body).toEqual(jasmine.objectContaining({ name: 'My tees', size: 1200 }));
    expect(added.request.body.shots.map(({ id, colours }: Shot) => `${id} ${colours}`)).toEqual(['b 1', 'a 3']);
    added.flush({ ...added.request.body, id: 'mine', revision: 1, shipped: false });
    asked('POST', '/api/picture-sets/use').flush(null);
    http.expectNone('/api/picture-runs');
    expect(closed).toEqual([true]);
  });

  it('keeps what was typed when it cannot be kept, and says why', async () => {
    await open();
    await choose('Tees');
    await page.press('Copy it to change it');
    await page.enter('Name', 'My tees');
    await page.press('Keep the set');
    asked('POST', '/api/picture-sets').flush(...refusal('The disk is full.', 507));
    await page.fixture.whenStable();
    expect(TestBed.inject(Heard).last).toContain('The disk is full.');
    expect([page.field('Name').value, page.button('Keep the set').disabled]).toEqual(['My tees', false]);
  });

  it('is left again by the designs that have it', async () => {
    await open('tees');
    await page.press('Leave without a set');
    const use = asked('POST', '/api/picture-sets/use');
    expect(use.request.body).toEqual({ designIds: ['d1', 'd2'], setId: null });
    use.flush(null);
    expect(closed).toEqual([true]);
  });
});
