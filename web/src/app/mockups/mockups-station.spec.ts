import { CUSTOM_ELEMENTS_SCHEMA, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { HttpTestingController } from '@angular/common/http/testing';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { ActivatedRoute, convertToParamMap } from '@angular/router';
import { LEAST_PICTURE } from '@kettle/core/model';
import { pictureLayer } from '@kettle/core/document';
import { EMPTY } from 'rxjs';
import type { Editor } from '../editor/editor';
import { AssetShelf } from '../data/asset-shelf';
import { JobFeed } from '../jobs/job-feed';
import { HEARD, Heard, refusal } from '../testing/heard';
import { InPage } from '../testing/in-page';
import { badge, cup, openEditor, shirt } from '../testing/open-editor';
import { ChipRow } from '../units/chips';
import { FilePicker } from '../units/file-picker';
import { NumberField } from '../units/number-field';
import { PickField } from '../units/pick-field';
import { Settings } from '../units/settings';
import { Swatches } from '../units/swatches';
import { TypedValue } from '../units/typed-value';
import { MockupEditor } from './mockup-editor';
import { MockupsStation } from './mockups-station';

const layer = pictureLayer('p', 'Badge', badge, { width: 355.6, height: 406.4 });

describe('the station Mockups', () => {
  let editor: Editor;
  let http: HttpTestingController;
  let page: InPage<MockupsStation>;
  const open = async (blank: string | null = null): Promise<void> => {
    const feed = { changes: EMPTY, runningFor: () => [], running: signal([]), cancel: () => undefined };
    // What draws, and what has specifications of its own, stays away.
    TestBed.overrideComponent(MockupsStation, {
      set: {
        imports: [
          MatButtonModule,
          MatIconModule,
          MatMenuModule,
          ChipRow,
          FilePicker,
          NumberField,
          PickField,
          Settings,
          Swatches,
          TypedValue,
        ],
        schemas: [CUSTOM_ELEMENTS_SCHEMA],
        providers: [MockupEditor],
      },
    });
    ({ editor, http } = openEditor({ layers: [layer], targets: [{ requirementId: 'tee', garment: '#1B1B1D' }] }, [
      ...HEARD,
      { provide: JobFeed, useValue: feed },
      {
        provide: ActivatedRoute,
        useValue: { snapshot: { queryParamMap: convertToParamMap(blank ? { blank } : {}) } },
      },
    ]));
    page = await InPage.show(MockupsStation);
    http.expectOne('/api/blanks').flush([shirt, cup]);
    await page.fixture.whenStable();
    for (const one of http.match(({ method }) => method === 'GET'))
      if (!one.cancelled) one.flush(/sheet/.test(one.request.url) ? { rows: [] } : []);
    await page.fixture.whenStable();
  };
  const scene = () => editor.desk.document()!.scene;
  /** Saves what is waited for, and answers with what was asked then. */
  const asked = async (url: string) => {
    // What was changed while the first was on its way is saved after it.
    for (let revision = 2; revision < 4; revision++) {
      for (const put of http.match((one) => one.method === 'PUT'))
        put.flush({ id: 'd1', revision, savedAt: '2026-11-25T20:00:00.000Z', document: put.request.body });
      await new Promise((resolve) => setTimeout(resolve));
    }
    return http.expectOne((one) => one.method === 'POST' && one.url.endsWith(url));
  };

  /** What is judged is drawn with the next picture of the screen. */
  const drawn = async (): Promise<void> => {
    await new Promise((resolve) => requestAnimationFrame(() => requestAnimationFrame(resolve)));
    await page.fixture.whenStable();
  };

  it('begins in the colour the design is sold in, and says how its ink reads on that', async () => {
    await open();
    // A yellow badge with black letters, which meet no cloth.
    const art = new OffscreenCanvas(90, 90);
    const context = art.getContext('2d')!;
    context.fillStyle = '#f2bd4b';
    context.fillRect(0, 0, 90, 90);
    context.fillStyle = '#1b1b1d';
    context.fillRect(20, 30, 50, 20);
    const shelf = TestBed.inject(AssetShelf);
    spyOn(shelf, 'image').and.returnValue(art as unknown as HTMLImageElement);
    spyOn(shelf, 'isMissing').and.returnValue(false);
    expect(page.button('Soot').getAttribute('aria-pressed')).toBe('true');
    await page.press('Chalk');
    expect(scene()?.garment).toBe('#F5F3EE');
    await drawn();
    // A yellow badge is seen on white, but not well.
    expect(page.text).toMatch(/Chalk: part of it is faint, contrast 1\.\d to 1\./);
    await page.press('Soot');
    await drawn();
    expect(page.text).toMatch(/Soot: reads well, contrast \d+\.\d to 1\./);
  });

  it('does not judge a print whose picture could not be had, and says so', async () => {
    await open();
    spyOn(TestBed.inject(AssetShelf), 'isMissing').and.returnValue(true);
    await page.press('Chalk');
    expect(page.text).toContain('The picture of “Badge” could not be had, so it is not shown.');
    expect(page.text).not.toMatch(/reads well|lost on this colour/);
  });

  it('is had as a file in layers or as a page, once it is saved', async () => {
    await open();
    const menu = () => page.element.querySelector<HTMLButtonElement>('[aria-label="Save this scene as a file"]')!;
    expect(menu().disabled).toBe(editor.desk.state() !== 'saved');
    spyOn(editor.desk, 'state').and.returnValue('saved');
    await page.press('Chalk');
    menu().click();
    await page.fixture.whenStable();
    expect(
      [...document.querySelectorAll<HTMLAnchorElement>('a[mat-menu-item]')].map((one) => one.getAttribute('href')),
    ).toEqual(['ora', 'pdf'].map((as) => `/api/designs/${editor.desk.id()}/file?as=mockup-${as}`));
  });

  it('shows the blank that was just made of a photo, once', async () => {
    await open('mug-front');
    expect(scene()?.blankId).toBe('mug-front');
  });

  it('makes a picture of what is seen, of the revision that was saved for it', async () => {
    await open();
    await page.press('Chalk');
    await page.press('Make 1 picture');
    const { body } = (await asked('/pictures')).request;
    expect(body).toEqual(
      jasmine.objectContaining({
        blankId: 'tee-front',
        requirementId: 'tee',
        revision: 2,
        size: 2000,
        format: 'jpeg',
        colourways: [{ name: 'Chalk', hex: '#F5F3EE' }],
      }),
    );
    expect('garment' in body).toBeFalse();
  });

  it('makes one in each colour that is ticked, in a frame and under a limit of one’s own', async () => {
    await open();
    await page.press('All');
    await page.enter('Size', 'own');
    await page.enter('Frame width', '1600');
    await page.enter('Frame height', '5');
    expect(page.element.querySelector('[role=alert]')?.textContent).toBe(`At least ${LEAST_PICTURE} px.`);
    await page.enter('Format', 'webp');
    await page.enter('Byte limit', '250');
    await page.press('Make 3 pictures');
    const { body } = (await asked('/pictures')).request;
    expect(body.colourways.map(({ name }: { name: string }) => name)).toEqual(['Chalk', 'Soot', 'Harbour']);
    expect([body.format, body.fit.frame.width, body.fit.maxBytes]).toEqual(['webp', 1600, 250_000]);
    // What was refused changed nothing.
    expect(body.fit.frame.height).toBe(900);
  });

  it('has a colour of one’s own in the set, and makes a file of the name that was typed', async () => {
    await open();
    const mockup = page.fixture.debugElement.injector.get(MockupEditor);
    mockup.change({ garment: '#7a4f2b' });
    await page.fixture.whenStable();
    await page.press('#7a4f2b');
    page.element.querySelector<HTMLElement>('[aria-label="Colours of the set"] button')!.click();
    // Another colour on the stage leaves the ticked one in the set.
    mockup.change({ garment: shirt.colourways[1].hex });
    await page.fixture.whenStable();
    await page.enter('File name', 'Counter card');
    await page.press('Make 2 pictures');
    const { body } = (await asked('/pictures')).request;
    expect(body.colourways.map(({ hex }: { hex: string }) => hex)).toEqual([shirt.colourways[0].hex, '#7a4f2b']);
    expect(body.filename).toBe('Counter card');
  });

  it('says that a frame larger than what is drawn is enlarged, and has the DPI of what is printed', async () => {
    await open();
    await page.enter('Size', 'own');
    expect(page.text).not.toContain('enlarged');
    await page.enter('Frame height', '3300');
    expect(page.text).toContain('Drawn at 2000 px and enlarged to this frame.');
    await page.enter('DPI of the picture', '300');
    await page.press('Make 1 picture');
    expect((await asked('/pictures')).request.body.fit).toEqual({ frame: { width: 1200, height: 3300 }, dpi: 300 });
    // WebP has nowhere to say it.
    await page.enter('Format', 'webp');
    expect(page.text).not.toContain('DPI of the picture');
  });

  it('says why when nothing can be made', async () => {
    await open();
    await page.press('Make 1 picture');
    (await asked('/pictures')).flush(...refusal('The queue is full.', 503));
    expect(TestBed.inject(Heard).last).toBe('The queue is full.');
  });

  it('has a wall that fades to another colour, and takes it back', async () => {
    await open();
    await page.tick('The wall fades to another colour');
    expect(scene()?.behind?.kind).toBe('gradient');
    await page.enter('Colour the wall fades to', '#224466');
    expect(scene()?.behind).toEqual(jasmine.objectContaining({ to: '#224466' }));
    await page.tick('The wall fades to another colour');
    expect(scene()?.behind).toBeUndefined();
  });
});
