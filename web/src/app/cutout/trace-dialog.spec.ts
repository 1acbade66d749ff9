import type { HttpTestingController } from '@angular/common/http/testing';
import type { TracedPicture } from '@kettle/contract';
import { pictureLayer } from '@kettle/core/document';
import { comes } from '../testing/comes';
import { refusal } from '../testing/heard';
import { InPage } from '../testing/in-page';
import { openDialog } from '../testing/open-dialog';
import { badge } from '../testing/open-editor';
import { TraceDialog } from './trace-dialog';

const traced: TracedPicture = {
  box: { width: 20, height: 10 },
  parts: [
    { path: 'M0 0L20 0L20 10Z', fill: '#f2bd4b' },
    { path: 'M0 0L9 0L9 9Z', fill: '#112233' },
  ],
  differing: 0.0123,
} as TracedPicture;

describe('a picture redrawn as outlines', () => {
  let http: HttpTestingController;
  let page: InPage<TraceDialog>;
  let closed: unknown[];
  beforeEach(async () => {
    ({ http, closed } = openDialog(pictureLayer('p', 'Badge', badge, { width: 300, height: 300 })));
    page = await InPage.show(TraceDialog);
  });
  /** What was asked for once nothing is moved any more. */
  const asked = () => comes(http, (one) => one.method === 'POST' && /trace/.test(one.url));

  it('is seen beside the original, with how much it differs, before it is taken', async () => {
    const first = await asked();
    expect(JSON.stringify(first.request.body)).toContain('6');
    expect(page.button('Use the outlines').disabled).toBeTrue();
    first.flush(traced);
    await page.fixture.whenStable();
    expect(page.text).toContain('2 parts; 1.2 % differs from the picture');
    const [, drawn] = page.element.querySelectorAll('img');
    await drawn.decode();
    expect([drawn.naturalWidth / drawn.naturalHeight, drawn.src.startsWith('data:image/svg+xml')]).toEqual([2, true]);
    await page.press('Use the outlines');
    expect(closed).toEqual([traced]);
  });

  it('that cannot be redrawn is said, and nothing can be taken', async () => {
    (await asked()).flush(...refusal('It is too large to be redrawn.', 422));
    await page.fixture.whenStable();
    expect(page.element.querySelector('[role=alert]')?.textContent).toContain('It is too large to be redrawn.');
    expect(page.button('Use the outlines').disabled).toBeTrue();
  });
});
