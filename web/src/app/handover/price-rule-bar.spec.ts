import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { PriceRule } from '@kettle/core/listing';
import { InPage } from '../testing/in-page';
import { PriceRuleBar } from './price-rule-bar';

describe('how prices are made of costs', () => {
  let page: InPage<PriceRuleBar>;
  let http: HttpTestingController;
  let changed: PriceRule[];
  const rules = () => http.expectOne((request) => request.url.includes('price-rules'));
  beforeEach(async () => {
    TestBed.configureTestingModule({
      providers: [provideZonelessChangeDetection(), provideHttpClient(), provideHttpClientTesting()],
    });
    http = TestBed.inject(HttpTestingController);
    page = await InPage.show(PriceRuleBar, { rule: { factor: '2.4', ending: 95 }, currency: 'GBP' });
    rules().flush({ rules: [{ name: 'Autumn', factor: '3', ending: null }] });
    await page.fixture.whenStable();
    changed = [];
    page.fixture.componentInstance.changed.subscribe((rule) => changed.push(rule));
  });

  it('takes a factor with a point or a comma, and refuses anything else in a sentence', async () => {
    await page.enter('Factor of the cost', '2,75');
    expect(changed.at(-1)).toEqual({ factor: '2,75', ending: 95 });
    await page.enter('Factor of the cost', 'twice');
    expect(page.element.querySelector('[role=alert]')?.textContent).toContain('“twice” is not a number');
    expect(changed.length).toBe(1);
  });

  it('ends prices as is chosen, or as they come', async () => {
    expect([...page.field<HTMLSelectElement>('What prices end in').options].map((one) => one.text.trim())).toContain(
      '.95',
    );
    await page.enter('What prices end in', '0');
    await page.enter('What prices end in', '');
    expect(changed.map(({ ending }) => ending)).toEqual([0, null]);
  });

  it('is taken from those that are kept', async () => {
    await page.enter('Price rules that are kept', 'Autumn');
    expect(changed).toEqual([{ factor: '3', ending: null }]);
  });

  it('is kept under a name, in place of one of the same name', async () => {
    await page.press('Keep this rule …');
    await page.enter('Name of the price rule', ' Autumn ');
    await page.press('Keep it');
    const call = rules();
    expect(call.request.body).toEqual({ rules: [{ name: 'Autumn', factor: '2.4', ending: 95 }] });
    call.flush({ rules: [{ name: 'Autumn', factor: '2.4', ending: 95 }] });
    await page.fixture.whenStable();
    expect(page.buttons).toContain('Keep this rule …');
  });

  it('stays being named when it could not be kept', async () => {
    await page.press('Keep this rule …');
    await page.enter('Name of the price rule', 'Winter');
    await page.press('Keep it');
    rules().flush('', { status: 503, statusText: 'away' });
    await page.fixture.whenStable();
    expect(page.field('Name of the price rule').value).toBe('Winter');
  });
});
