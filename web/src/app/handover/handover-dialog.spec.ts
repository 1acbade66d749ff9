import type { HttpTestingController } from '@angular/common/http/testing';
import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { ListingAnswer, ListingCheck } from '@kettle/contract';
import { emptyListing } from '@kettle/core/listing';
import { RequirementShelf } from '../data/requirement-shelf';
import { Heard, refusal } from '../testing/heard';
import { InPage } from '../testing/in-page';
import { openDialog } from '../testing/open-dialog';
import { tee } from '../testing/open-editor';
import { ownPress, ownRules } from '../testing/own-rules';
import { HandoverDialog, type HandoverDialogData } from './handover-dialog';

const ready: ListingCheck = {
  rulesId: 'mine',
  broken: [],
  missing: [],
  publication: null,
  changed: [],
  connected: true,
};
const answer = (check: Partial<ListingCheck> = {}): ListingAnswer => ({
  savedRevision: 1,
  fields: emptyListing('Fog'),
  pictures: [],
  checks: [{ ...ready, ...check }],
  earlierTags: [],
});
const live = { publication: { state: 'live' } as ListingCheck['publication'] };

describe('listings of several designs', () => {
  let http: HttpTestingController;
  let page: InPage<HandoverDialog>;
  let closed: unknown[];
  const data: HandoverDialogData = {
    designs: ['Fog', 'Rain', 'Hail'].map((name) => ({ designId: name.toLowerCase(), name, targets: ['press-tee'] })),
  };
  /** Everything that was set in motion has come to rest. */
  const rest = async (): Promise<void> => {
    await new Promise((resolve) => setTimeout(resolve));
    await page.fixture.whenStable();
  };
  const told = async (answers: Readonly<Record<string, ListingAnswer>>): Promise<void> => {
    for (const [id, one] of Object.entries(answers)) http.expectOne(`/api/designs/${id}/listing`).flush(one);
    await rest();
  };
  const row = (name: string): string =>
    [...page.element.querySelectorAll('tbody tr')]
      .find((one) => one.querySelector('.open')?.textContent === name)!
      .textContent!.replace(/\s+/g, ' ');
  beforeEach(async () => {
    ({ http, closed } = openDialog(data, [
      {
        provide: RequirementShelf,
        useValue: { all: signal([{ ...tee, id: 'press-tee', channel: ownPress.channel }]) },
      },
    ]));
    page = await InPage.show(HandoverDialog);
    http.expectOne('/api/channel-rules').flush([ownRules]);
    http.expectOne('/api/print-shops').flush([{ ...ownPress, by: 'print-shop' }]);
    await told({
      fog: answer(),
      rain: answer({ missing: ['There is no picture.'] as unknown as ListingCheck['missing'] }),
      hail: answer({ ...live, changed: ['title'] as unknown as ListingCheck['changed'] }),
    });
  });
  const publish = (id: string) => http.expectOne((one) => one.method === 'POST' && one.url.includes(`/${id}/`));

  it('say how each stands, and count what one press sends', () => {
    expect(row('Fog')).toContain('can be sent');
    expect(row('Rain')).toContain('1 thing to mend');
    expect(row('Hail')).toMatch(/live.*changed since it was sent/);
    expect(page.buttons).toContain('Send 2 listings');
  });

  it('are sent one by one; what fails for one harms no other, and is said at its name', async () => {
    await page.press('Send 2 listings');
    publish('fog').flush(...refusal('The market does not answer.', 502));
    await rest();
    const second = publish('hail');
    expect(JSON.stringify(second.request.body)).toContain('mine');
    second.flush({});
    await rest();
    await told({ fog: answer(), hail: answer(live) });
    expect(row('Fog')).toContain('The market does not answer.');
    expect(row('Rain')).not.toContain('The market');
    expect(page.buttons).toContain('Send 1 listing');
  });

  it('are not sent to a channel whose tick was taken away', async () => {
    await page.tick(ownRules.channel);
    expect(page.button('Send 0 listings').disabled).toBeTrue();
    await page.tick(ownRules.channel);
    expect(page.button('Send 2 listings').disabled).toBeFalse();
  });

  it('get the prices of one rule, and are shown again as they are then', async () => {
    await page.press('Use for 3 designs');
    const asked = http.expectOne((one) => one.method !== 'GET' && JSON.stringify(one.body).includes('hail'));
    asked.flush({});
    await rest();
    await told({ fog: answer(live), rain: answer(), hail: answer(live) });
    expect(row('Rain')).toContain('can be sent');
    expect(page.buttons).toContain('Send 1 listing');
  });

  it('are sampled where a print shop has a target of them, each with an order of one', async () => {
    await page.press('Order 3 samples');
    for (const id of ['fog', 'rain', 'hail']) {
      const order = publish(id);
      expect(order.request.body).toEqual(
        jasmine.objectContaining({
          shopId: 'press',
          requirementId: 'press-tee',
          size: 'S',
          colour: 'Harbour',
          copies: 1,
        }),
      );
      if (id === 'rain') order.flush(...refusal('No print file.', 409));
      else order.flush({});
      await rest();
    }
    expect(page.text).toContain(`2 of 3 ordered; what ${ownPress.channel} says stands on the sheet.`);
    expect(row('Rain')).toContain('No print file.');
  });

  it('lead to a design, or to a client with all of them', async () => {
    await page.press('Rain');
    await page.press('Show them to a client …');
    expect(closed).toEqual([{ designId: 'rain' }, { designId: 'fog', beside: ['rain', 'hail'] }]);
    expect(TestBed.inject(Heard).sentences).toEqual([]);
  });
});
