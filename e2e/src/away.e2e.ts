import type { Page, Route } from '@playwright/test';
import { expect, openDemo, test } from './kettle.js';

// Every call that a place makes is taken away once, in one of the ways in which calls are lost: what the page says is then
// what it says otherwise, and comes by itself. Refused for good, each is named.

const STATIONS = ['artwork', 'fit', 'checks', 'files', 'mockups', 'clips', 'hand-over'] as const;
const PAGES = ['', 'requirements', 'channels', 'became'] as const;

const LOST: readonly ((route: Route) => Promise<void>)[] = [
  (route) => route.fulfill({ status: 503, contentType: 'text/plain', body: 'away' }),
  (route) => route.abort('connectionreset'),
  (route) => route.fulfill({ status: 200, contentType: 'application/json', body: '{"half": ' }),
  (route) => route.fulfill({ status: 500, contentType: 'text/html', body: '<h1>Oh</h1>' }),
  async (route) => {
    await new Promise((resolve) => setTimeout(resolve, 2500));
    await route.continue();
  },
];

/** What is asked for to be read, without pictures and events. */
const isRead = (route: Route): boolean =>
  route.request().method() === 'GET' &&
  route.request().resourceType() === 'fetch' &&
  !/\/(events|content|preview|working|thumbnail|miniature|strip|files\/\w+)\b/.test(route.request().url());

/** What a person reads on the page, without what is another thing each time. */
const words = (page: Page): Promise<string> =>
  page.evaluate(() =>
    (document.querySelector('ks-root') ?? document.body).textContent
      .replace(/\d+ (seconds?|minutes?|hours?) ago|saved [\d:. ]+/g, '')
      .replace(/\s+/g, ' '),
  );

async function settled(page: Page): Promise<string> {
  await expect(page.locator('main')).toBeVisible();
  await page.waitForLoadState('networkidle').catch(() => undefined);
  let before = '';
  await expect
    .poll(
      async () => {
        const now = await words(page);
        const isSame = now === before && now.length > 50;
        before = now;
        return isSame;
      },
      { intervals: [1500] },
    )
    .toBe(true);
  return before;
}

async function addressOf(page: Page, demo: { readonly address: string }, station: string): Promise<string> {
  await openDemo(page, demo as never, 'Mostly Drizzle', station);
  return page.url();
}

for (const station of [...STATIONS, ...PAGES])
  test(`calls of ${station || 'the job sheet'} may be lost, each once`, async ({ page, demo }) => {
    const address = (STATIONS as readonly string[]).includes(station)
      ? await addressOf(page, demo, station)
      : `${demo.address}/${station}`;
    await page.goto(address);
    const whole = await settled(page);
    await page.goto('about:blank');
    const lost = new Set<string>();
    await page.route('**/api/**', async (route) => {
      const url = route.request().url();
      if (!isRead(route) || lost.has(url)) return route.fallback();
      lost.add(url);
      return LOST[lost.size % LOST.length](route);
    });
    await page.goto(address);
    const isWhole = () => expect.poll(() => words(page), { timeout: 60_000 }).toBe(whole);
    // What a run under way has changed since is looked up on a page that loses nothing.
    await isWhole().catch(async () => {
      const other = await page.context().newPage();
      await other.goto(address);
      const now = await settled(other);
      await expect.poll(() => words(page)).toBe(now);
    });
    expect(lost.size).toBeGreaterThan(1);
  });

for (const station of [...STATIONS, ...PAGES])
  test(`calls of ${station || 'the job sheet'} that are refused are named`, async ({ page, demo }) => {
    const address = (STATIONS as readonly string[]).includes(station)
      ? await addressOf(page, demo, station)
      : `${demo.address}/${station}`;
    // Nothing that the page before still asks for counts.
    await page.goto('about:blank');
    const refused = new Set<string>();
    await page.route('**/api/**', async (route) => {
      const path = new URL(route.request().url()).pathname;
      // Without its design or its sheet there is no place at all.
      if (!isRead(route) || /^\/api\/(designs\/[\w-]+|sheet|session|requirements|live)$/.test(path))
        return route.fallback();
      refused.add(path);
      return route.fulfill({
        status: 404,
        contentType: 'application/problem+json',
        body: JSON.stringify({
          type: 'about:blank',
          title: 'Not found',
          status: 404,
          code: 'gone',
          detail: `Gone: ${path}.`,
        }),
      });
    });
    await page.goto(address);
    await settled(page);
    // What is measured is said by the checks, with a press of its own. Channels are asked for together: one is named.
    const silent = async (): Promise<string[]> => {
      const said = await page.evaluate(() => document.body.textContent);
      const all = [...refused].filter((path) => !path.endsWith('/measure') && !said.includes(`Gone: ${path}.`));
      return all.length < refused.size && station === 'channels' ? [] : all;
    };
    await expect.poll(silent).toEqual([]);
  });
