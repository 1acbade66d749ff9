import { ChangeDetectionStrategy, Component, computed, provideZonelessChangeDetection, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { MatIconRegistry } from '@angular/material/icon';
import { DomSanitizer } from '@angular/platform-browser';
import { registerIcons } from '../icons/icons';
import { InPage } from '../testing/in-page';
import {
  Settings,
  amount,
  check,
  chips,
  inThrees,
  lengthOf,
  oneOf,
  pick,
  row,
  slide,
  text,
  words,
  type Setting,
} from './settings';

const told: unknown[] = [];

@Component({
  selector: 'ks-settings-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Settings],
  template: `<ks-settings heading="Line" [of]="fields()"><i>More of it</i></ks-settings>`,
})
class SettingsPage {
  readonly width = signal(3);
  readonly isRound = signal(true);
  readonly fields = computed<readonly Setting[]>(() => [
    row(
      amount('Width', this.width(), { unit: 'px', least: 1, most: 20, set: (width) => this.width.set(width) }),
      this.isRound() && lengthOf('Radius', 10, { set: (mm) => told.push(mm) }),
    ),
    slide('Softness', 40, { unit: '%', note: 'of its width', set: (value) => told.push(value) }),
    slide('Grain', 0, { unit: '%', word: (value) => (value ? undefined : 'none'), set: (value) => told.push(value) }),
    chips([{ words: 'Round', on: this.isRound(), press: () => this.isRound.set(!this.isRound()) }]),
    chips([{ words: 'Turn over', icon: 'flip-horizontal', bare: true, press: () => told.push('over') }], 'Turn'),
    oneOf(
      'End',
      [
        { id: 'cut', label: 'Cut' },
        { id: 'open', label: 'Open' },
      ] as const,
      'cut',
      (end) => told.push(end),
    ),
    pick('Join', 'sharp', {
      of: [
        { id: 'round', words: 'rounded' },
        { id: 'sharp', words: 'sharp' },
      ],
      set: (id) => told.push(id),
    }),
    text('Name', 'Rim', { most: 20, set: (name) => told.push(name) }),
    text('Note', '', { rows: 2, live: true, set: (note) => told.push(note) }),
    check('It is printed', true, (on) => told.push(on)),
    words('Lines are drawn in the order they came.'),
  ]);
}

describe('fields that are said in a line each', () => {
  let page: InPage<SettingsPage>;
  beforeEach(async () => {
    told.length = 0;
    TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
    registerIcons(TestBed.inject(MatIconRegistry), TestBed.inject(DomSanitizer));
    page = await InPage.show(SettingsPage);
  });

  it('stand below a heading with what else belongs to it, and beside each other in rows', () => {
    expect(page.element.querySelector('legend')!.textContent).toBe('Line');
    expect(page.text).toContain('More of it');
    expect(page.text).toContain('Lines are drawn in the order they came.');
    expect(page.element.querySelector('.row')!.children.length).toBe(2);
    expect(
      inThrees([words('a'), words('b'), words('c'), words('d')]).map((one) => one.kind === 'row' && one.columns),
    ).toEqual([3, 3]);
  });

  it('read a slid value out with its unit, or as the word there is for it', () => {
    const values = [...page.element.querySelectorAll('ks-slide-field')].map((one) => [
      one.querySelector('input')!.getAttribute('aria-valuetext'),
      one.querySelector('b')!.textContent,
    ]);
    expect(values).toEqual([
      ['40 %', '40 %'],
      ['none', 'none'],
    ]);
  });

  it('tell what was set, each in its own way', async () => {
    await page.press('Turn over');
    await page.press('Open');
    await page.enter('Join', 'round');
    await page.enter('Name', 'Edge');
    await page.enter('Note', 'thin');
    const printed = page.element.querySelector<HTMLInputElement>('input[type=checkbox]')!;
    printed.click();
    expect(told).toEqual(['over', 'open', 'round', 'Edge', 'thin', false]);
    expect(page.button('Cut').getAttribute('aria-pressed')).toBe('true');
    expect(page.button('Turn over').getAttribute('aria-pressed')).toBeNull();
    expect(page.element.querySelector('[role=group][aria-label=Turn]')).not.toBeNull();
  });

  it('stay the same fields while their values change, so that nobody who types is thrown out', async () => {
    const field = page.field('Width');
    field.focus();
    await page.enter('Width', '7');
    await page.press('Round');
    expect(page.element.querySelector('.row')!.children.length).toBe(1);
    expect([page.field('Width') === field, field.value, field.isConnected]).toEqual([true, '7', true]);
  });
});
