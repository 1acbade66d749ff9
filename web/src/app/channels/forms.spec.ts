import { provideZonelessChangeDetection, type Type } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { ChannelRules, ChannelRulesFields } from '@kettle/core/listing';
import type { PrintShop, PrintShopFields } from '@kettle/core/orders';
import { Notices } from '../data/notices';
import { ownPress as shop, ownRules as rules } from '../testing/own-rules';
import { ChannelRulesForm } from './channel-rules-form';
import { PrintShopForm } from './print-shop-form';

describe('what channels and print shops demand, field by field', () => {
  let said: string[];

  function show<F>(form: Type<unknown>, name: string, value: object) {
    said = [];
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        { provide: Notices, useValue: { say: (sentence: string) => said.push(sentence) } },
      ],
    });
    const fixture = TestBed.createComponent(form);
    fixture.componentRef.setInput(name, value);
    fixture.detectChanges();
    const page = fixture.nativeElement as HTMLElement;
    const changes: F[] = [];
    (fixture.componentInstance as { changed: { subscribe(heard: (one: F) => void): void } }).changed.subscribe((one) =>
      changes.push(one),
    );
    /** The field of a label, by how that begins. */
    const field = (label: string) =>
      [...page.querySelectorAll('label')]
        .find((one) => one.textContent!.replace(/\s+/g, ' ').trim().startsWith(label))!
        .querySelector<HTMLInputElement>('input, select, textarea')!;
    return {
      page,
      changes,
      field,
      type: (label: string, text: string) => {
        field(label).value = text;
        field(label).dispatchEvent(new Event('change'));
        return changes.at(-1);
      },
    };
  }
  const showRules = (change: Partial<ChannelRules> = {}) =>
    show<ChannelRulesFields>(ChannelRulesForm, 'rules', { ...rules, ...change });
  const showShop = (change: Partial<PrintShop> = {}) =>
    show<PrintShopFields>(PrintShopForm, 'shop', { ...shop, ...change });

  it('change one rule and leave all others as they were', () => {
    const { type, changes, page } = showRules();
    const { id: _id, revision: _revision, shipped: _shipped, ...fields } = rules;
    expect(type('Channel', 'Quillmere')).toEqual({ ...fields, channel: 'Quillmere' });
    expect(type('Title, at least', '9')).toEqual({ ...fields, title: { least: 9, most: 80 } });
    expect(type('Shorter side', '1200')!.pictures).toEqual({ ...rules.pictures, leastSide: 1200 });
    expect(type('Capitals of a title', '25')!.capitals).toBe(0.25);
    expect(type('Listings are', 'ticket')!.by).toBe('ticket');
    expect(type('Listings are', '')!.by).toBeNull();
    expect(type('Clip', 'needed')!.clip).toBe('needed');
    expect(type('Words that may stand nowhere', 'cheap, free\nfree')!.forbidden).toEqual(['cheap', 'free']);
    expect(type('What products cost you', 'Mug = 4.20')!.costs).toEqual([{ product: 'Mug', cost: 420 }]);
    const shapes = [...page.querySelectorAll<HTMLButtonElement>('.chip')];
    shapes.find((one) => one.textContent!.trim() === '1:1')!.click();
    expect(changes.at(-1)!.pictures.shapes).toEqual([]);
    shapes.find((one) => one.textContent!.trim() === '4:5')!.click();
    expect(changes.at(-1)!.pictures.shapes).toEqual(['1:1', '4:5']);
    const plain = page.querySelector<HTMLInputElement>('input[type=checkbox]')!;
    plain.checked = true;
    plain.dispatchEvent(new Event('change'));
    expect(changes.at(-1)!.pictures.firstPlain).toBeTrue();
    expect(said).toEqual([]);
  });

  it('take fees as numbers, and keep the old ones otherwise', () => {
    const { type, changes } = showRules();
    expect(type('Fee, percent', '7')!.fees).toEqual({ percent: '7', fixed: 20 });
    expect(type('Fee of each sale', '0.35')!.fees).toEqual({ percent: '6.5', fixed: 35 });
    const before = changes.length;
    type('Fee, percent', 'a bit');
    type('Fee of each sale', '0.355');
    type('What products cost you', 'Mug');
    expect(changes.length).toBe(before);
    expect(said).toEqual([
      '“a bit” is not a number that can be taken. The old one stays.',
      '“0.355” is not a number that can be taken. The old one stays.',
      '“Mug” is not a line such as “T-shirt = 9.50”. The old ones stay.',
    ]);
  });

  it('are what a print shop prints on, where, and for how much from how many on', () => {
    const { type, changes, page } = showShop();
    const { id: _id, revision: _revision, shipped: _shipped, ...fields } = shop;
    const tiff = [...page.querySelectorAll<HTMLButtonElement>('.chip')].find(
      (one) => one.textContent!.trim() === 'TIFF',
    )!;
    tiff.click();
    expect(changes.at(-1)).toEqual({ ...fields, takes: ['tiff'] });
    expect(type('Sizes', 'S, M, L')).toEqual({ ...fields, sizes: ['S', 'M', 'L'] });
    expect(type('Positions', 'Chest, Back')!.positions).toEqual(['Chest', 'Back']);
    expect(type('Days to the parcel', '9')!.days).toBe(9);
    expect(type('To set up', '12.50')!.setUp).toBe(1250);
    expect(type('Orders are', 'print-shop')!.by).toBe('print-shop');
    // However they were typed, breaks are in rising order.
    expect(type('Price of one', '12 = 11.50\n1 = 14')!.breaks).toEqual([
      { from: 1, each: 1400 },
      { from: 12, each: 1150 },
    ]);
    const before = changes.length;
    type('To set up', 'nothing');
    type('Price of one', 'a dozen = 11.50');
    expect(changes.length).toBe(before);
    expect(said).toEqual([
      '“nothing” is not an amount in GBP. The old one stays.',
      '“a dozen = 11.50” is not a line such as “12 = 11.50”. The old ones stay.',
    ]);
  });

  it('are read and not changed where they ship', () => {
    expect(showRules({ shipped: true }).page.querySelector('fieldset')!.disabled).toBeTrue();
    TestBed.resetTestingModule();
    expect(showShop({ shipped: true }).page.querySelector('fieldset')!.disabled).toBeTrue();
  });
});
