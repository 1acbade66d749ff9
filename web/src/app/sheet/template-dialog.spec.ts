import type { HttpTestingController } from '@angular/common/http/testing';
import { TestBed } from '@angular/core/testing';
import type { SheetRow } from '@kettle/contract';
import { emptyDesign, type DesignDocument } from '@kettle/core/model';
import { pictureLayer, textLayer } from '@kettle/core/document';
import { Heard } from '../testing/heard';
import { InPage } from '../testing/in-page';
import { openDialog } from '../testing/open-dialog';
import { badge } from '../testing/open-editor';
import { TemplateDialog } from './template-dialog';

const FIELD = { width: 355.6, height: 406.4 };
const OUTLINES = { path: 'M0 0L30 0L30 7Z', width: 30, height: 7 };
const line = textLayer('t', { text: 'Drizzle', fontId: 'anton' }, OUTLINES, FIELD, '#f2bd4b');
const template: DesignDocument = {
  ...emptyDesign('Mostly Drizzle'),
  layers: [pictureLayer('p', 'Cloud', badge, FIELD), line],
};
const row: SheetRow = {
  designId: 'd1',
  name: 'Mostly Drizzle',
  revision: 3,
  savedAt: '2026-11-25T20:00:00.000Z',
  layers: 2,
  template: true,
  pictures: 0,
  set: null,
  cells: [],
};

describe('a design that starts from another', () => {
  let http: HttpTestingController;
  let page: InPage<TemplateDialog>;
  let closed: unknown[];
  beforeEach(async () => {
    ({ http, closed } = openDialog([row]));
    page = await InPage.show(TemplateDialog);
    await page.press('Mostly Drizzle');
    http.expectOne('/api/designs/d1').flush({ id: 'd1', revision: 3, savedAt: row.savedAt, document: template });
    await page.fixture.whenStable();
  });
  const made = () => http.expectOne((one) => one.method === 'POST' && one.url === '/api/designs');

  it('has a name of its own, and is as the other one where nothing is typed', async () => {
    expect(page.field('Name of the new design').value).toBe('Mostly Drizzle 2');
    await page.press('Make the design');
    http.expectNone('/api/lettering');
    const asked = made();
    expect(asked.request.body.name).toBe('Mostly Drizzle 2');
    expect(asked.request.body.layers.map((one: { name: string }) => one.name)).toEqual(
      template.layers.map(({ name }) => name),
    );
    asked.flush({ id: 'new' });
    expect(closed).toEqual([{ id: 'new' }]);
  });

  it('has other words, set in the same face', async () => {
    await page.enter('Words in place of “Drizzle”', 'Fog');
    await page.enter('Name of the new design', '  Fog, mostly ');
    await page.press('Make the design');
    const asked = http.expectOne('/api/lettering');
    expect(asked.request.body).toEqual(jasmine.objectContaining({ text: 'Fog', fontId: 'anton' }));
    asked.flush({ outlines: { path: 'M0 0L9 0L9 7Z', width: 9, height: 7 }, missing: [] });
    const { body } = made().request;
    expect(body.name).toBe('Fog, mostly');
    const text = body.layers.find((one: { kind: string }) => one.kind === 'text');
    expect([text.text, text.outlines.width]).toEqual(['Fog', 9]);
    // Its letters are as large as they were: narrower words are narrower.
    expect(text.place.height).toBeCloseTo(line.place.height, 6);
  });

  it('is not made of letters that the face does not have; what was typed stays', async () => {
    await page.enter('Words in place of “Drizzle”', 'Τυπ');
    await page.press('Make the design');
    http.expectOne('/api/lettering').flush({ outlines: OUTLINES, missing: ['Τ', 'υ'] });
    await page.fixture.whenStable();
    http.expectNone('/api/designs');
    expect(TestBed.inject(Heard).last).toContain('has no Τ υ');
    expect(page.field<HTMLTextAreaElement>('Words in place of “Drizzle”').value).toBe('Τυπ');
    expect(page.button('Make the design').disabled).toBeFalse();
  });

  it('is not made without a name', async () => {
    await page.enter('Name of the new design', '   ');
    expect(page.button('Make the design').disabled).toBeTrue();
    await page.press('Another one');
    expect(page.buttons).toEqual(['Mostly Drizzle']);
  });
});
