import type { HttpTestingController } from '@angular/common/http/testing';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import type { ClientPage, ClientWord } from '@kettle/contract';
import { openDesk } from '../testing/open-desk';
import { tee } from '../testing/open-editor';
import { ClientDesk } from './client-desk';

const word = (change: Partial<ClientWord> = {}): ClientWord => ({
  id: 1,
  round: 1,
  kind: 'comment',
  bySeller: false,
  name: 'Ada',
  text: '<script>alert(1)</script>',
  alternative: 0,
  pin: { picture: 0, x: 0.25, y: 0.5 },
  approved: null,
  saidAt: '2026-11-28T10:00:00.000Z',
  seen: true,
  ...change,
});
const clientPage = (change: Partial<ClientPage> = {}): ClientPage => ({
  id: 'p',
  designId: 'd',
  seller: 'The club',
  client: 'Fell Rescue',
  path: '/c/secret',
  hasPassPhrase: false,
  expiresAt: null,
  withdrawnAt: null,
  open: true,
  madeAt: '2026-11-28T10:00:00.000Z',
  rounds: [
    {
      round: 1,
      shownAt: '2026-11-28T10:00:00.000Z',
      note: '',
      alternatives: [
        {
          designId: 'd',
          name: 'Mostly Drizzle',
          revision: 2,
          print: 'ef'.repeat(32),
          pictures: [{ sha256: 'ab'.repeat(32), mediaType: 'image/jpeg', bytes: 9, alt: 'A shirt' }],
          clip: null,
          sizes: [{ product: 'T-shirt', widthCm: 23.8, heightCm: 34.2 }],
          files: [],
        },
      ],
    },
  ],
  words: [],
  approval: null,
  changedSince: false,
  ...change,
});

describe('the desk of clients’ pages', () => {
  let fixture: ComponentFixture<ClientDesk>;
  let http: HttpTestingController;
  let page: HTMLElement;
  const open = async (
    pages: readonly ClientPage[],
    pictures: readonly object[] = [{ outOfDate: false }],
  ): Promise<void> => {
    ({ fixture, http, page } = openDesk(ClientDesk, [tee]));
    await new Promise((resolve) => setTimeout(resolve, 5));
    http.expectOne('/api/designs/d/clips').flush([]);
    http.expectOne('/api/designs/d/client-pages').flush(pages);
    http.expectOne('/api/designs/d/pictures').flush(pictures);
    await fixture.whenStable();
  };
  afterEach(() => page.remove());
  const field = (words: RegExp): HTMLInputElement =>
    [...page.querySelectorAll('label')].find((one) => words.test(one.textContent!))!.querySelector('input, textarea')!;
  const type = async (words: RegExp, text: string): Promise<void> => {
    field(words).value = text;
    field(words).dispatchEvent(new Event('input'));
    await fixture.whenStable();
  };
  const state = (): string => page.querySelector('section [role=status]')!.textContent!.trim();

  it('says before anything is typed that there is nothing to show, and where it is made', async () => {
    await open([], [{ outOfDate: true }]);
    const said = page.querySelector('[role=alert]')!;
    expect(said.textContent).toContain('There is no current picture of this design to show.');
    expect(said.querySelector('a')!.getAttribute('href')).toBe('/designs/d/mockups');
    await type(/In whose name/, 'The club');
    await type(/For whom/, 'Fell Rescue');
    expect(page.querySelector<HTMLButtonElement>('button[type=submit]')!.disabled).toBeTrue();
  });

  it('makes a page of what is typed, and of nothing that cannot be', async () => {
    await open([]);
    const make = (): HTMLButtonElement => page.querySelector('form button[type=submit]')!;
    expect(make().disabled).toBeTrue();
    await type(/In whose name/, 'The club');
    await type(/For whom/, 'Fell Rescue');
    await type(/so many days/, 'weeks');
    expect(page.textContent).toContain('“weeks” is not a number of days');
    expect(make().disabled).toBeTrue();
    await type(/so many days/, '');
    await type(/Pass phrase/, 'short');
    expect(page.textContent).toContain('at least 6 letters');
    await type(/Pass phrase/, '');
    make().click();
    const { body } = http.expectOne({ method: 'POST', url: '/api/designs/d/client-pages' }).request;
    expect(body).toEqual({
      seller: 'The club',
      client: 'Fell Rescue',
      note: '',
      days: null,
      passPhrase: '',
      alternatives: [{ designId: 'd', pictures: [], clip: null }],
    });
  });

  it('shows other designs beside it, to pick from', async () => {
    await open([]);
    [...page.querySelectorAll('button')].find((one) => /Another design/.test(one.textContent!))!.click();
    const rows = ['d', 'fog', 'rain'].map((designId) => ({ designId, name: `Design ${designId}` }));
    http.expectOne(({ url }) => url.startsWith('/api/sheet')).flush({ rows, requirements: [], total: rows.length });
    await fixture.whenStable();
    const select = page.querySelector<HTMLSelectElement>('.beside select')!;
    expect([...select.options].map(({ value }) => value)).toEqual(['', 'fog', 'rain']);
    select.value = 'rain';
    select.dispatchEvent(new Event('change'));
    await fixture.whenStable();
    expect(page.querySelector('.beside [aria-pressed=true]')!.textContent).toContain('Design rain');
    await type(/In whose name/, 'The club');
    await type(/For whom/, 'Fell Rescue');
    page.querySelector<HTMLButtonElement>('form button[type=submit]')!.click();
    const { body } = http.expectOne({ method: 'POST', url: '/api/designs/d/client-pages' }).request;
    expect((body as { alternatives: { designId: string }[] }).alternatives.map((one) => one.designId)).toEqual([
      'd',
      'rain',
    ]);
  });

  it('shows what was said as it was written, with its place, and notes that it was read', async () => {
    await open([clientPage({ words: [word({ seen: false })] })]);
    http.expectOne({ method: 'POST', url: '/api/client-pages/p/seen' });
    expect(page.querySelector('.words .said')!.textContent).toBe('<script>alert(1)</script>');
    const pin = page.querySelector<HTMLElement>('.pin')!;
    expect([pin.style.left, pin.style.top]).toEqual(['25%', '50%']);
    expect(page.textContent).toContain('23.8 × 34.2 cm');
  });

  it('tells how a page stands', async () => {
    const approval = word({
      kind: 'approval',
      approved: { designId: 'd', name: 'Mostly Drizzle', revision: 2, print: 'ef'.repeat(32), files: [] },
    });
    for (const [change, words] of [
      [{}, 'waits for an answer'],
      [{ words: [word({ kind: 'change' })] }, 'wants a change'],
      [{ words: [approval], approval }, 'said yes'],
      [{ words: [approval], approval, changedSince: true }, 'said yes, changed since'],
      [{ open: false, withdrawnAt: '2026-11-28T11:00:00.000Z' }, 'closed'],
      [{ open: false, expiresAt: '2026-11-28T11:00:00.000Z' }, 'over'],
    ] as const) {
      await open([clientPage(change)]);
      expect(state()).withContext(words).toBe(words);
      expect(page.textContent!.includes('no longer what was approved')).toBe('changedSince' in change);
      fixture.destroy();
      page.remove();
      TestBed.resetTestingModule();
    }
  });

  it('keeps what was typed when the station is left, until it is sent', async () => {
    await open([]);
    await type(/For whom/, 'Fell Rescue');
    const again = TestBed.createComponent(ClientDesk);
    const other = again.nativeElement as HTMLElement;
    await new Promise((resolve) => setTimeout(resolve, 5));
    for (const asked of http.match('/api/designs/d/client-pages')) asked.flush([]);
    await again.whenStable();
    const name = [...other.querySelectorAll('label')]
      .find((one) => /For whom/.test(one.textContent!))!
      .querySelector('input')!;
    expect(name.value).toBe('Fell Rescue');
  });

  it('sends an answer once it says something, and empties the field when it is there', async () => {
    await open([clientPage()]);
    const form = [...page.querySelectorAll('form')].find((one) => /Your answer/.test(one.textContent!))!;
    form.dispatchEvent(new Event('submit'));
    http.expectNone({ method: 'POST', url: '/api/client-pages/p/answers' });
    await type(/Your answer/, 'Gladly.');
    // The field is left for the button.
    field(/Your answer/).dispatchEvent(new Event('change'));
    form.dispatchEvent(new Event('submit'));
    const sent = http.expectOne({ method: 'POST', url: '/api/client-pages/p/answers' });
    expect(sent.request.body).toEqual({ text: 'Gladly.', form: jasmine.stringMatching(/^a/) });
    sent.flush(clientPage());
    await fixture.whenStable();
    expect(field(/Your answer/).value).toBe('');
  });
});
