import { TestBed, type ComponentFixture } from '@angular/core/testing';
import type { HttpTestingController } from '@angular/common/http/testing';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { FontFamily } from '@kettle/contract';
import { twoColours, type Paint } from '@kettle/core/model';
import { GraphicsDialog } from '../design-page/graphics-dialog';
import { Tools } from '../editor/tools';
import { refusal } from '../testing/heard';
import { openEditor } from '../testing/open-editor';
import { ColourField } from './colour-field';
import { FontPicker } from './font-picker';
import { PaintField } from './paint-field';

const family = (
  name: string,
  category: FontFamily['category'],
  scripts: FontFamily['scripts'] = ['Latin'],
): FontFamily => ({
  name,
  category,
  scripts,
  start: name.toLowerCase(),
  faces: [{ id: name.toLowerCase(), weight: 400, files: 1 }],
});
const families = [
  family('Sign', 'own'),
  family('Anton', 'condensed'),
  family('Cairo', 'display', ['Arabic', 'Latin']),
  family('Rye', 'slab'),
];

describe('pickers', () => {
  let http: HttpTestingController;
  const closed: unknown[] = [];
  beforeEach(() => {
    closed.length = 0;
    ({ http } = openEditor({}, [
      { provide: MatDialogRef, useValue: { close: (value: unknown) => closed.push(value) } },
      { provide: MAT_DIALOG_DATA, useValue: { family: 'Anton', text: 'Fog' } },
    ]));
  });
  const page = (fixture: ComponentFixture<unknown>) => fixture.nativeElement as HTMLElement;
  const button = (fixture: ComponentFixture<unknown>, label: string) =>
    [...page(fixture).querySelectorAll('button')].find(
      (one) => (one.getAttribute('aria-label') ?? one.textContent ?? '').trim() === label,
    )!;
  async function press(fixture: ComponentFixture<unknown>, label: string): Promise<void> {
    button(fixture, label).click();
    await fixture.whenStable();
  }
  async function type(fixture: ComponentFixture<unknown>, words: string): Promise<void> {
    const box = page(fixture).querySelector<HTMLInputElement>('input[type=search]')!;
    box.value = words;
    box.dispatchEvent(new Event('input'));
    await fixture.whenStable();
  }

  describe('for faces', () => {
    let fixture: ComponentFixture<FontPicker>;
    beforeEach(async () => {
      fixture = TestBed.createComponent(FontPicker);
      http.expectOne('/api/fonts').flush(families);
      await fixture.whenStable();
    });
    const names = () => [...page(fixture).querySelectorAll('.name b')].map((one) => one.textContent);

    it('finds by words, kind and script, and shows the seller’s own words', async () => {
      expect(names()).toEqual(['Sign', 'Anton', 'Cairo', 'Rye']);
      expect(page(fixture).querySelector('.sample')!.textContent).toBe('Fog');
      await type(fixture, 'slab');
      expect(names()).toEqual(['Rye']);
      await type(fixture, '');
      await press(fixture, 'Arabic');
      expect([names(), page(fixture).querySelector('.sample')!.textContent]).toEqual([['Cairo'], 'ضباب']);
    });

    it('remembers favourites and what was used last', async () => {
      await press(fixture, 'Put Rye among the favourites');
      await press(fixture, 'Favourites');
      expect(names()).toEqual(['Rye']);
      page(fixture).querySelector<HTMLElement>('.face')!.click();
      expect(closed).toEqual([families[3]]);
      await press(fixture, 'Used last');
      expect(names()).toEqual(['Rye']);
      expect(JSON.parse(localStorage.getItem('kettle.fonts.favourites')!)).toEqual(['Rye']);
    });

    it('takes a font of one’s own off the list, and shipped ones never', async () => {
      const button = (name: string) => page(fixture).querySelector(`[aria-label="Take ${name} off the list"]`);
      expect([button('Rye'), button('Sign') !== null]).toEqual([null, true]);
      await press(fixture, 'Take Sign off the list');
      const [{ id }] = families[0].faces;
      http.expectOne({ method: 'DELETE', url: `/api/fonts/${id}?of=family` }).flush(null);
      http.expectOne('/api/fonts').flush(families.slice(1));
      await fixture.whenStable();
      expect(names()).toEqual(['Anton', 'Cairo', 'Rye']);
      expect(page(fixture).textContent).toContain('“Sign” is off the list. Designs that use it keep it');
    });

    it('chooses a font of one’s own as soon as it is in', async () => {
      const field = page(fixture).querySelector<HTMLInputElement>('input[type=file]')!;
      const files = new DataTransfer();
      files.items.add(new File(['x'], 'fog.ttf'));
      field.files = files.files;
      field.dispatchEvent(new Event('change'));
      const fog = family('Fog', 'own');
      http.expectOne((one) => one.method === 'POST' && one.url === '/api/fonts').flush(fog);
      await fixture.whenStable();
      expect(closed).toEqual([fog]);
    });
  });

  it('for graphics finds by words and kind', async () => {
    const graphic = (name: string, category: string) => ({
      id: name,
      name,
      category,
      width: 10,
      height: 10,
      parts: [{ path: 'M0 0L10 0L10 10Z', fill: '#112233' }],
    });
    const fixture = TestBed.createComponent(GraphicsDialog);
    TestBed.tick();
    http.expectOne('/api/graphics').flush([graphic('Teapot', 'Food and drink'), graphic('Cat', 'Animals and nature')]);
    await fixture.whenStable();
    expect(page(fixture).querySelectorAll('.pieces button').length).toBe(2);
    await type(fixture, 'drink tea');
    button(fixture, 'Teapot').click();
    expect(closed).toEqual([jasmine.objectContaining({ id: 'Teapot' })]);
    await type(fixture, 'dragon');
    expect(page(fixture).textContent).toContain('No graphic has these words');
  });

  it('for graphics says why the library did not come, and fetches it again by a press', async () => {
    const fixture = TestBed.createComponent(GraphicsDialog);
    await fixture.whenStable();
    expect(page(fixture).textContent).toContain('Unpacking the library');
    TestBed.tick();
    http.expectOne('/api/graphics').flush(...refusal('The library is damaged.', 500));
    await fixture.whenStable();
    expect(page(fixture).querySelector('[role=alert]')?.textContent).toContain('The library is damaged.');
    await press(fixture, 'Try again');
    expect(page(fixture).textContent).toContain('Unpacking the library');
    TestBed.tick();
    http.expectOne('/api/graphics').flush([]);
    await fixture.whenStable();
    expect(page(fixture).querySelector('[role=alert]')).toBeNull();
  });

  describe('for fills', () => {
    let fixture: ComponentFixture<PaintField>;
    let paint: Paint | null;
    async function show(start: Paint | null): Promise<void> {
      fixture = TestBed.createComponent(PaintField);
      fixture.componentRef.setInput('label', 'Fill');
      fixture.componentInstance.changed.subscribe((to) => {
        paint = to;
        fixture.componentRef.setInput('paint', to);
      });
      fixture.componentRef.setInput('paint', (paint = start));
      await fixture.whenStable();
    }

    it('turn a colour into a run and back, keeping the colour', async () => {
      await show('#112233');
      await press(fixture, 'Linear');
      expect(paint).toEqual(
        jasmine.objectContaining({
          kind: 'linear',
          stops: [jasmine.objectContaining({ hex: '#112233' }), jasmine.objectContaining({ at: 1 })],
        }),
      );
      await press(fixture, 'Radial');
      expect((paint as { kind: string }).kind).toBe('radial');
      await press(fixture, 'Plain');
      expect(paint).toBe('#112233');
      await press(fixture, 'None');
      expect(paint).toBeNull();
    });

    it('take stops, move them by key, turn round and fade', async () => {
      await show(twoColours('#000000', '#ffffff'));
      await press(fixture, 'Add a stop');
      const stops = () => (paint as ReturnType<typeof twoColours>).stops;
      expect(stops()[1]).toEqual({ at: 0.5, hex: '#808080', opacity: 1 });
      const handle = page(fixture).querySelectorAll<HTMLElement>('.stop')[1];
      handle.dispatchEvent(
        new KeyboardEvent('keydown', { key: 'ArrowRight', shiftKey: true, bubbles: true, cancelable: true }),
      );
      expect(stops()[1].at).toBe(0.6);
      await fixture.whenStable();
      await press(fixture, 'Turn round');
      expect(stops().map((stop) => Math.round(stop.at * 10) / 10)).toEqual([0, 0.4, 1]);
      await press(fixture, 'Fade out');
      expect(stops()[2].opacity).toBe(0);
      await press(fixture, 'Remove');
      expect(stops().length).toBe(2);
      expect(button(fixture, 'Remove').disabled).toBeTrue();
    });
  });

  it('for colours mix by sliders, keep a grey’s hue, and take one from the canvas', async () => {
    const fixture = TestBed.createComponent(ColourField);
    const taken: (string | null)[] = [];
    for (const [name, value] of [
      ['label', 'Fill'],
      ['hex', '#3a6ea5'],
    ])
      fixture.componentRef.setInput(name, value);
    fixture.componentInstance.changed.subscribe((hex) => {
      taken.push(hex);
      fixture.componentRef.setInput('hex', hex);
    });
    await fixture.whenStable();
    await press(fixture, 'Fill: mix');
    const slide = async (label: string, value: number) => {
      const thumb = page(fixture).querySelector<HTMLInputElement>(`[aria-label="Fill, ${label}"]`)!;
      thumb.value = String(value);
      thumb.dispatchEvent(new Event('input'));
      thumb.dispatchEvent(new Event('change'));
      await fixture.whenStable();
    };
    await slide('Saturation', 0);
    expect(taken[0]).toMatch(/^#(..)\1\1$/);
    await slide('Saturation', 100);
    expect(taken[1]!.slice(1, 3) < taken[1]!.slice(5, 7))
      .withContext('still blue')
      .toBeTrue();
    await press(fixture, 'Fill: take a colour from the canvas');
    TestBed.inject(Tools).sampling()!('#abcdef');
    expect(taken.at(-1)).toBe('#abcdef');
  });
});
