import { ChangeDetectionStrategy, Component, computed, provideZonelessChangeDetection, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { InPage } from '../testing/in-page';
import { ChipRow, chip, choices } from './chips';
import { FilePicker } from './file-picker';
import { PickField } from './pick-field';
import { SearchField } from './search-field';
import { Swatches } from './swatches';

@Component({
  selector: 'ks-choices-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChipRow, FilePicker, PickField, SearchField, Swatches],
  template: `
    <ks-chips label="Shape" [of]="shapes()" />
    <ks-chips [of]="acts()"><a href="/x">Export it</a></ks-chips>
    <ks-pick-field label="Size" [of]="sizes" [value]="size()" (chosen)="size.set($event)" />
    <ks-pick-field label="Begin from" [bare]="true" [of]="others" (chosen)="told.push($event)" />
    <ks-search-field label="Search blanks" hint="tee, mug" [(words)]="words" />
    <ks-file-picker #photo label="Photo" kinds="photos" [several]="true" (chosen)="files.set($event)" />
    <ks-swatches label="Colour" [of]="colours" [value]="hex()" (chosen)="hex.set($event)" />
    <ks-swatches label="Taken from" [of]="['#00ff00']" (chosen)="told.push($event)" />
  `,
})
class ChoicesPage {
  readonly shape = signal<'wide' | 'tall'>('wide');
  readonly shapes = computed(() =>
    choices(
      [
        { id: 'wide', label: 'Wide' },
        { id: 'tall', label: 'Tall', hint: 'For a phone' },
      ] as const,
      this.shape(),
      (shape) => this.shape.set(shape),
    ),
  );
  readonly canRemove = signal(true);
  readonly acts = computed(() => [
    this.canRemove() && chip('Take it away', () => this.canRemove.set(false)),
    chip('Make', () => this.told.push('made'), { disabled: this.canRemove() }),
  ]);
  readonly sizes = [
    { id: 's', words: 'small' },
    { id: 'm', words: 'medium', disabled: true },
    { id: 'l', words: 'large' },
  ];
  readonly size = signal('s');
  readonly others = [
    { id: '', words: 'another design …' },
    { id: 'd2', words: 'Fog Signal' },
  ];
  readonly words = signal('');
  readonly files = signal<readonly File[]>([]);
  readonly colours = [{ hex: '#F5F3EE', name: 'Chalk' }, { hex: '#1b1b1d' }];
  readonly hex = signal<string | null>('#F5F3EE');
  readonly told: string[] = [];
}

describe('parts to choose with', () => {
  let page: InPage<ChoicesPage>;
  let at: ChoicesPage;
  beforeEach(async () => {
    TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
    page = await InPage.show(ChoicesPage);
    at = page.fixture.componentInstance;
  });
  const pressed = (name: string) => page.button(name).getAttribute('aria-pressed');

  it('have the chosen one of a few pressed, and leave out what cannot be done', async () => {
    expect(page.element.querySelector('[role=group]')!.getAttribute('aria-label')).toBe('Shape');
    await page.press('Tall');
    expect([at.shape(), pressed('Wide'), pressed('Tall'), page.button('Tall').title]).toEqual([
      'tall',
      'false',
      'true',
      'For a phone',
    ]);
    expect([pressed('Make'), page.button('Make').disabled]).toEqual([null, true]);
    await page.press('Take it away');
    expect(page.buttons).not.toContain('Take it away');
    await page.press('Make');
    expect(at.told).toEqual(['made']);
    expect(page.text).toContain('Export it');
  });

  it('keep the focus where a press changes what they say, or takes one away', async () => {
    page.button('Take it away').focus();
    await page.press('Take it away');
    expect(document.activeElement?.textContent?.trim()).toBe('Make');
  });

  it('unfold a list; one that only does something stands on its first line again', async () => {
    const size = page.field<HTMLSelectElement>('Size');
    expect([size.value, size.options[1].disabled]).toEqual(['s', true]);
    await page.enter('Size', 'l');
    expect([at.size(), size.value]).toEqual(['l', 'l']);
    at.size.set('m');
    await page.fixture.whenStable();
    expect(size.value).toBe('m');
    await page.enter('Begin from', 'd2');
    await page.enter('Begin from', 'd2');
    expect([at.told, page.field('Begin from').value]).toEqual([['d2', 'd2'], '']);
  });

  it('narrow down by words as they are typed, and are emptied from outside', async () => {
    await page.enter('Search blanks', 'mug');
    expect(at.words()).toBe('mug');
    at.words.set('');
    await page.fixture.whenStable();
    expect([page.field('Search blanks').value, page.field('Search blanks').placeholder]).toEqual(['', 'tee, mug']);
  });

  it('take files of the kinds that are wanted, the same one twice', async () => {
    const field = page.field('Photo');
    expect([field.accept.includes('.heic'), field.accept.includes('.svg'), field.multiple]).toEqual([
      true,
      false,
      true,
    ]);
    const names: string[] = [];
    for (let times = 0; times < 2; times++) {
      await page.give('Photo', new File(['x'], 'mug.png'));
      names.push(...at.files().map(({ name }) => name));
    }
    expect([names, field.value]).toEqual([['mug.png', 'mug.png'], '']);
    const before = at.files();
    field.dispatchEvent(new Event('change'));
    expect(at.files()).toBe(before);
  });

  it('ring the colour that is chosen, whatever its letters; colours that are only taken from have no ring', async () => {
    expect([pressed('Chalk'), pressed('#1b1b1d'), pressed('#00ff00')]).toEqual(['true', 'false', null]);
    await page.press('#1b1b1d');
    expect([at.hex(), pressed('Chalk'), pressed('#1b1b1d')]).toEqual(['#1b1b1d', 'false', 'true']);
    await page.press('#00ff00');
    expect(at.told).toEqual(['#00ff00']);
  });
});
