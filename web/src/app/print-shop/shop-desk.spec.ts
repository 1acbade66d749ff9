import { TestBed } from '@angular/core/testing';
import type { HttpTestingController } from '@angular/common/http/testing';
import type { ComponentFixture } from '@angular/core/testing';
import type { ShopOrder } from '@kettle/contract';
import type { Requirement } from '@kettle/core/model';
import type { PrintShop } from '@kettle/core/orders';
import { openDesk } from '../testing/open-desk';
import { tee } from '../testing/open-editor';
import { ShopDesk } from './shop-desk';

const shop: PrintShop = {
  id: 'hobnail',
  revision: 1,
  shipped: true,
  channel: tee.channel,
  currency: 'GBP',
  sizes: ['S', 'M'],
  positions: ['Chest'],
  breaks: [
    { from: 5, each: 1450 },
    { from: 12, each: 1150 },
  ],
  setUp: 1500,
  days: 6,
  takes: ['png'],
  by: 'print-shop',
};
const order = (change: Partial<ShopOrder> = {}): ShopOrder => ({
  id: 'o',
  designId: 'd',
  shopId: 'hobnail',
  shop: 'Hobnail',
  requirementId: tee.id,
  state: 'mend',
  sheet: {
    requirementId: tee.id,
    product: 'T-shirt',
    size: 'M',
    colour: { name: 'Chalk', hex: '#F5F3EE' },
    position: 'Chest',
    copies: 12,
    note: '',
  },
  trouble: '',
  changedAt: '2026-11-28T10:00:00.000Z',
  rounds: [
    {
      round: 1,
      sentAt: '2026-11-28T10:00:00.000Z',
      file: { filename: 'a.png', sha256: 'ab'.repeat(32), bytes: 9, revision: 3, dpi: 300 },
      answer: {
        saidAt: '2026-11-28T10:01:00.000Z',
        state: 'mend',
        remarks: [{ text: '<b>Too thin</b>', where: null, picture: 'cd'.repeat(32) }],
        price: null,
        days: null,
      },
    },
  ],
  changedSince: false,
  ...change,
});

describe('the print shop’s desk', () => {
  let fixture: ComponentFixture<ShopDesk>;
  let http: HttpTestingController;
  let page: HTMLElement;
  const open = async (orders: readonly ShopOrder[], requirements: readonly Requirement[] = [tee]): Promise<void> => {
    ({ fixture, http, page } = openDesk(ShopDesk, requirements));
    TestBed.tick();
    http.expectOne('/api/print-shops').flush([shop]);
    await new Promise((resolve) => setTimeout(resolve, 5));
    http.expectOne('/api/designs/d/shop-orders').flush(orders);
    await fixture.whenStable();
  };
  afterEach(() => page.remove());
  const button = (words: RegExp): HTMLButtonElement =>
    [...page.querySelectorAll('button')].find((one) => words.test(one.textContent!))!;
  const copies = async (text: string): Promise<void> => {
    const field = [...page.querySelectorAll('label')]
      .find((one) => /Copies/.test(one.textContent!))!
      .querySelector('input')!;
    field.value = text;
    field.dispatchEvent(new Event('input'));
    await fixture.whenStable();
  };

  it('says before anything is sent that the shop does not print from such a file', async () => {
    await open([], [{ ...tee, mode: 'cmyk', transparency: 'allowed', fileTypes: ['tiff'] }]);
    expect(page.querySelector('.wrong')!.textContent).toContain(
      `${tee.channel} prints from PNG. The file of Tee is TIFF`,
    );
    expect(button(/^ *Send to/).disabled).toBeTrue();
  });

  it('tells what so many would cost before anything is sent, and sends what the sheet says', async () => {
    await open([]);
    await copies('4');
    expect(page.textContent).toContain('They print 5 and more. With 1 more, 14.50 GBP each.');
    await copies('12');
    expect(page.textContent).toContain('11.50 GBP each and 15.00 GBP to set up: 153.00 GBP.');
    page.querySelector('form')!.requestSubmit();
    const sent = http.expectOne({ method: 'POST', url: '/api/designs/d/shop-orders' });
    expect(sent.request.body).toEqual({
      shopId: 'hobnail',
      requirementId: tee.id,
      size: 'S',
      colour: tee.colourways[0].name,
      position: 'Chest',
      copies: 12,
      note: '',
    });
  });

  it('sends no number that is none', async () => {
    await open([]);
    for (const text of ['', 'dozens', '0', '1.5', '-3']) {
      await copies(text);
      expect(page.querySelector('[role=alert]')!.textContent).toContain(`“${text}” is not a number of copies.`);
      page.querySelector('form')!.dispatchEvent(new Event('submit'));
      http.expectNone({ method: 'POST', url: '/api/designs/d/shop-orders' });
    }
  });

  it('shows what the shop said as it was said, and sends again what has changed alone', async () => {
    await open([order()]);
    expect(page.textContent).toContain('Mend the design');
    expect(page.querySelector('.remarks')!.textContent).toContain('“<b>Too thin</b>”');
    expect(page.querySelector<HTMLImageElement>('.remarks img')!.getAttribute('src')).toBe(
      `/api/shop-orders/o/files/${'cd'.repeat(32)}`,
    );
    expect(button(/as it is now/).disabled).toBeTrue();
    fixture.destroy();
    page.remove();
  });

  it('asks for nothing more once they have said yes', async () => {
    await open([order({ state: 'yes' })]);
    expect(page.textContent).toContain('can print it');
    expect(page.textContent).not.toContain('Mend the design');
  });

  it('says that a yes is to another file than it is now', async () => {
    const [round] = order().rounds;
    const yes = { ...round, answer: { ...round.answer!, state: 'yes' as const, remarks: [] } };
    await open([order({ state: 'yes', rounds: [yes], changedSince: true })]);
    expect(page.textContent).toContain('The design has changed since they said yes.');
    button(/as it is now/).click();
    http.expectOne({ method: 'POST', url: '/api/shop-orders/o/send' });
  });

  it('teaches the next step where no target is for a print shop', async () => {
    await open([], [{ ...tee, channel: 'Elsewhere' }]);
    expect(page.textContent).toContain('No target of this design is for a print shop.');
  });
});
