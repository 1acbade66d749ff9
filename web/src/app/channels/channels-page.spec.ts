import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { MatIconRegistry } from '@angular/material/icon';
import { DomSanitizer } from '@angular/platform-browser';
import { registerIcons } from '../icons/icons';
import { comes } from '../testing/comes';
import { HEARD, Heard } from '../testing/heard';
import { InPage } from '../testing/in-page';
import { ownPress, ownRules } from '../testing/own-rules';
import { ChannelsPage } from './channels-page';

const shipped = { ...ownRules, id: 'larkpost', channel: 'Larkpost Market', shipped: true };
const { id: _id, revision: _revision, shipped: _shipped, ...fields } = ownRules;

describe('those whom designs are handed to', () => {
  let http: HttpTestingController;
  let page: InPage<ChannelsPage>;
  /** Answers what the page asks for to show all of it. */
  const answer = async (channels = [shipped, ownRules], shops = [ownPress]): Promise<void> => {
    http.expectOne((one) => one.method === 'GET' && one.url === '/api/channel-rules').flush(channels);
    http.expectOne((one) => one.method === 'GET' && one.url === '/api/print-shops').flush(shops);
    http
      .expectOne((one) => one.method === 'GET' && one.url === '/api/rates')
      .flush({ home: 'GBP', rates: { EUR: '0.86' } });
    await page.fixture.whenStable();
  };
  const heading = () => page.element.querySelector('h2')?.textContent;
  const asked = (method: string, url: string) => http.expectOne((one) => one.method === method && one.url === url);
  beforeEach(async () => {
    localStorage.clear();
    TestBed.configureTestingModule({
      providers: [provideZonelessChangeDetection(), provideHttpClient(), provideHttpClientTesting(), ...HEARD],
    });
    registerIcons(TestBed.inject(MatIconRegistry), TestBed.inject(DomSanitizer));
    http = TestBed.inject(HttpTestingController);
    page = await InPage.show(ChannelsPage);
    await new Promise((resolve) => setTimeout(resolve, 1));
    await answer();
  });

  it('are channels and print shops; what is shipped stays as it is, and is copied to be changed', async () => {
    expect(heading()).toBe('Larkpost Market');
    expect(page.text).toContain('stay as they are');
    expect(page.buttons.filter((name) => name === 'Delete')).toEqual([]);
    await page.press('Copy');
    const { id: _own, revision: _at, shipped: _came, ...same } = shipped;
    const copied = asked('POST', '/api/channel-rules');
    expect(copied.request.body).toEqual({ ...same, channel: 'Larkpost Market, mine' });
    const mine = { ...ownRules, id: 'copy', channel: 'Larkpost Market, mine' };
    copied.flush(mine);
    await answer([shipped, ownRules, mine]);
    expect(heading()).toBe('Larkpost Market, mine');
    await page.press('Delete');
    asked('DELETE', '/api/channel-rules/copy').flush(null);
    await answer();
    expect(heading()).toBe('Larkpost Market');
  });

  it('are changed under the revision that was seen', async () => {
    await page.press('Back Room PressGBP, your own');
    await page.enter('Days to the parcel, days', '9');
    // A file that is given now would not have it yet.
    expect(page.button('As a file').disabled).toBeTrue();
    const saved = await comes(http, (one) => one.method === 'PUT' && one.url === '/api/print-shops/press');
    expect(saved.request.headers.get('If-Match')).toBe('"2"');
    expect(saved.request.body).toEqual(jasmine.objectContaining({ days: 9, channel: 'Back Room Press' }));
    saved.flush({ ...ownPress, revision: 3, days: 9 });
    await page.fixture.whenStable();
    // The list is asked for again; what it said before has no say any more.
    await answer();
    expect(page.button('As a file').disabled).toBeFalse();
    expect(page.field('Days to the parcel, days').value).toBe('9');
  });

  it('are kept as they were typed when somebody else changed them, and may be taken over', async () => {
    await page.press('Back Room PressGBP, your own');
    await page.enter('Days to the parcel, days', '9');
    const saved = await comes(http, (one) => one.method === 'PUT' && one.url === '/api/print-shops/press');
    saved.flush({ code: 'stale-revision', detail: 'It was changed.' }, { status: 412, statusText: 'No' });
    http.expectOne((one) => one.url === '/api/print-shops').flush([{ ...ownPress, revision: 5, days: 3 }]);
    await page.fixture.whenStable();
    expect(page.text).toContain('Changed elsewhere. It was changed.');
    expect(page.field('Days to the parcel, days').value).toBe('9');
    await page.press('Take the newer one');
    expect(page.field('Days to the parcel, days').value).toBe('3');
  });

  it('come in as a file, which is judged before it is sent', async () => {
    const give = async (text: string, name = 'quillmere.json') => {
      const file = new File([text], name);
      await page.give('File of a channel or a print shop', file);
      await file.text();
      await new Promise((resolve) => setTimeout(resolve, 1));
      await page.fixture.whenStable();
    };
    await give('kind: channel');
    expect(TestBed.inject(Heard).last).toBe('quillmere.json is not JSON. Nothing was taken in.');
    await give(JSON.stringify({ kind: 'recipe' }));
    expect(TestBed.inject(Heard).last).toContain('does not say that it is a channel or a print shop');
    await give(JSON.stringify({ kind: 'channel-rules', ...fields, currency: 'XXX' }));
    expect(TestBed.inject(Heard).last).toMatch(/^quillmere\.json cannot be taken in\. /);
    http.expectNone((one) => one.method === 'POST');
    await give(JSON.stringify({ kind: 'channel-rules', ...fields }));
    expect(asked('POST', '/api/channel-rules').request.body).toEqual(fields);
  });

  it('are reckoned in one currency, by what others are worth in it; a worth that is no number changes nothing', async () => {
    await page.press('CurrenciesGBP');
    await page.enter('One EUR in GBP', '0,85');
    expect(asked('PUT', '/api/rates').request.body).toEqual({ home: 'GBP', rates: { EUR: '0.85' } });
    await page.enter('One USD in GBP', 'plenty');
    http.expectNone((one) => one.method === 'PUT');
    expect(TestBed.inject(Heard).last).toBe('“plenty” is not a number such as 0.85. The old one stays.');
    // Rates in one currency are none in another.
    await page.enter('Sums are in', 'EUR');
    expect(asked('PUT', '/api/rates').request.body).toEqual({ home: 'EUR', rates: {} });
  });
});
