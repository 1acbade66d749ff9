import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection, signal } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { MatIconRegistry } from '@angular/material/icon';
import { DomSanitizer } from '@angular/platform-browser';
import type { ListingAnswer, Publication } from '@kettle/contract';
import { emptyDesign } from '@kettle/core/model';
import { emptyListing, type ChannelRules, type ListingFields } from '@kettle/core/listing';
import { Editor } from '../editor/editor';
import { RequirementShelf } from '../data/requirement-shelf';
import { registerIcons } from '../icons/icons';
import { JobFeed } from '../jobs/job-feed';
import { tee } from '../testing/open-editor';
import { ListingBoard } from './listing-board';

const rules: ChannelRules = {
  id: 'lark',
  revision: 1,
  shipped: true,
  channel: tee.channel,
  currency: 'GBP',
  title: { least: 5, most: 30 },
  description: { least: 0, most: 200 },
  tags: { least: 0, most: 4, letters: 12 },
  forbidden: ['free'],
  capitals: 1,
  pictures: { least: 0, most: 4, leastSide: 800, shapes: [], firstPlain: false },
  clip: 'allowed',
  fees: { percent: '10', fixed: 0 },
  costs: [{ product: 'T-shirt', cost: 1000 }],
  by: 'one-call',
};
const answer = (
  fields: Partial<ListingFields> = {},
  savedRevision = 1,
  publication: Partial<Publication> | null = null,
): ListingAnswer => ({
  savedRevision,
  fields: { ...emptyListing('Mostly Drizzle'), ...fields },
  pictures: [],
  checks: [
    { rulesId: 'lark', broken: [], missing: [], publication: publication as Publication, changed: [], connected: true },
  ],
  earlierTags: ['rain'],
});

const kept: ListingFields = {
  ...emptyListing('Fog'),
  title: 'Fog, a shirt',
  tags: ['fog'],
  prices: { factor: '3', ending: 0 },
};

describe('the station Hand-over', () => {
  const document = signal({ ...emptyDesign('Mostly Drizzle'), targets: [{ requirementId: 'tee' }] });
  const revision = signal(1);
  let http: HttpTestingController;
  let fixture: ComponentFixture<ListingBoard>;

  function open(first = answer()): HTMLElement {
    localStorage.clear();
    jasmine.clock().install().mockDate();
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        { provide: Editor, useValue: { desk: { id: signal('d'), revision, document } } },
        { provide: RequirementShelf, useValue: { all: signal([tee]) } },
        { provide: JobFeed, useValue: { runningFor: () => [] } },
      ],
    });
    registerIcons(TestBed.inject(MatIconRegistry), TestBed.inject(DomSanitizer));
    http = TestBed.inject(HttpTestingController);
    fixture = TestBed.createComponent(ListingBoard);
    fixture.detectChanges();
    http.expectOne('/api/channel-rules').flush([rules]);
    return loaded(first);
  }

  function loaded(what: ListingAnswer): HTMLElement {
    http.expectOne('/api/designs/d/listing').flush(what);
    return settle();
  }
  function settle(): HTMLElement {
    TestBed.tick();
    fixture.detectChanges();
    for (const asked of http.match('/api/listings')) asked.flush([{ designId: 'fog', name: 'Fog', fields: kept }]);
    TestBed.tick();
    fixture.detectChanges();
    return fixture.nativeElement as HTMLElement;
  }
  const turns = async (): Promise<void> => {
    for (let i = 0; i < 6; i++) await Promise.resolve();
    settle();
  };
  const title = (page: HTMLElement): HTMLInputElement => page.querySelector<HTMLInputElement>('.field input')!;
  function type(page: HTMLElement, text: string): void {
    const field = title(page);
    field.focus();
    field.value = text;
    field.dispatchEvent(new Event('input'));
    settle();
  }
  const sent = () => http.expectOne(({ method }) => method === 'PUT');

  afterEach(() => jasmine.clock().uninstall());

  it('judges what is typed at once, and saves when typing rests', async () => {
    const page = open();
    await turns();
    expect(title(page).value).toBe('Mostly Drizzle');
    type(page, 'Rain');
    expect(page.textContent).toContain('The title has 4 letters; at least 5 are needed, 1 more.');
    http.expectNone(({ method }) => method === 'PUT');
    type(page, 'Rain for free');
    expect(page.textContent).toContain('may not have the word “free”');
    jasmine.clock().tick(600);
    const put = sent();
    expect([put.request.headers.get('If-Match'), (put.request.body as ListingFields).title]).toEqual([
      '"1"',
      'Rain for free',
    ]);
    // What is typed while it is on its way is not written over by the answer.
    type(page, 'Rain for free, a');
    put.flush(answer({ title: 'Rain for free' }, 2));
    await turns();
    expect(title(page).value).toBe('Rain for free, a');
    jasmine.clock().tick(600);
    const again = sent();
    expect([again.request.headers.get('If-Match'), (again.request.body as ListingFields).title]).toEqual([
      '"2"',
      'Rain for free, a',
    ]);
  });

  it('says what is earned, and leaves an old price where a new one is none', async () => {
    const page = open();
    await turns();
    const price = page.querySelector<HTMLInputElement>('input[aria-label="Price of Tee"]')!;
    expect(price.value).toBe('24.95');
    expect(page.querySelector('output[aria-label="What you earn of Tee"]')!.textContent).toContain('12.45');
    price.value = 'much';
    price.dispatchEvent(new Event('change'));
    expect(settle().textContent).toContain('“much” is not an amount in GBP');
    price.value = '10,50';
    price.dispatchEvent(new Event('change'));
    expect(settle().textContent).toContain('You would pay 0.55 for each; from 11.11 on you do not.');
    page.querySelector<HTMLButtonElement>('.colours button')!.click();
    settle();
    jasmine.clock().tick(600);
    expect((sent().request.body as ListingFields).products).toEqual({ tee: { price: 1050, without: ['#1F2B4D'] } });
  });

  it('gives a channel a text of its own, and takes it back', async () => {
    const page = open();
    await turns();
    const chip = (name: string) =>
      [...page.querySelectorAll<HTMLButtonElement>('.chip')].find((one) => one.textContent.includes(name))!;
    chip(tee.channel).click();
    settle();
    type(page, 'For the market alone');
    jasmine.clock().tick(600);
    const put = sent();
    expect([(put.request.body as ListingFields).title, (put.request.body as ListingFields).exceptions]).toEqual([
      'Mostly Drizzle',
      { lark: { title: 'For the market alone' } },
    ]);
    put.flush(answer(put.request.body as ListingFields, 2));
    await turns();
    chip('As all others again').click();
    await turns();
    jasmine.clock().tick(600);
    expect((sent().request.body as ListingFields).exceptions).toEqual({});
  });

  it('begins as the listing of another design, with its own name in it', async () => {
    const page = open();
    await turns();
    const box = page.querySelector<HTMLSelectElement>('.from select')!;
    box.value = 'fog';
    box.dispatchEvent(new Event('change'));
    await turns();
    jasmine.clock().tick(600);
    const { title: words, tags, prices } = sent().request.body as ListingFields;
    expect([words, tags, prices]).toEqual(['Mostly Drizzle, a shirt', ['mostly drizzle'], { factor: '3', ending: 0 }]);
    expect(title(settle()).value).toBe('Mostly Drizzle, a shirt');
  });

  it('asks whose text stays when two have changed it', async () => {
    const page = open();
    await turns();
    type(page, 'Mine is this one');
    jasmine.clock().tick(600);
    sent().flush(
      { code: 'stale-revision', detail: 'This listing was changed elsewhere.' },
      { status: 412, statusText: 'Precondition Failed' },
    );
    http.expectOne('/api/designs/d/listing').flush(answer({ title: 'Theirs' }, 7));
    await turns();
    expect(page.textContent).toContain('This listing was changed elsewhere.');
    type(page, 'Mine is this one!');
    jasmine.clock().tick(5000);
    // Nothing is sent before the seller has said.
    http.expectNone(({ method }) => method === 'PUT');
    [...page.querySelectorAll('button')].find((one) => one.textContent.includes('Keep mine'))!.click();
    await turns();
    jasmine.clock().tick(600);
    const put = sent();
    expect([put.request.headers.get('If-Match'), (put.request.body as ListingFields).title]).toEqual([
      '"7"',
      'Mine is this one!',
    ]);
  });

  it('looks for a market’s answer until it has come, and shows it in the market’s words', async () => {
    const page = open(answer({}, 1, { id: 'p', state: 'checking', reasons: [] }));
    await turns();
    expect(page.textContent).toContain('sent, they look at it');
    jasmine.clock().tick(2100);
    http.expectOne('/api/designs/d/listing').flush(answer({}, 1, { id: 'p', state: 'checking', reasons: [] }));
    await turns();
    jasmine.clock().tick(2100);
    const reasons = [{ field: 'title', text: 'Not a card we would hang.' }];
    http.expectOne('/api/designs/d/listing').flush(answer({}, 1, { id: 'p', state: 'refused', reasons }));
    await turns();
    expect(page.textContent).toContain('refused');
    expect(page.textContent).toContain('“Not a card we would hang.”');
    jasmine.clock().tick(10_000);
    http.expectNone('/api/designs/d/listing');
  });
});
