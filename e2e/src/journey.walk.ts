import { expect, test, type Page } from '@playwright/test';

// The journey of the README on a machine that has much else to do: npm run patience

const ADDRESS = process.env['KETTLE_WALK']!;
const ART = Buffer.from(
  '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 200 100"><circle cx="50" cy="50" r="50" fill="#f2bd4b"/><rect x="120" y="10" width="80" height="80" fill="#e8e4da"/></svg>',
);

/** Everything that the page says went wrong, as it says it. */
async function complaints(page: Page): Promise<() => Promise<string[]>> {
  await page.addInitScript(() => {
    const said = ((window as unknown as { said: string[] }).said = [] as string[]);
    const look = (): void => {
      for (const one of document.querySelectorAll('[role=alert], mat-snack-bar-container, .keeper')) {
        const text = one.textContent?.replace(/\s+/g, ' ').trim() ?? '';
        if (text && !said.includes(text)) said.push(text);
      }
    };
    new MutationObserver(look).observe(document, { subtree: true, childList: true, characterData: true });
  });
  return () => page.evaluate(() => (window as unknown as { said: string[] }).said);
}

test('from art to a listing, a client’s yes and a clip', async ({ page, browser }) => {
  const said = await complaints(page);
  const step = (name: string) => console.log(`        ${name}`);
  await page.goto(ADDRESS);
  await page.locator('ks-sheet-page input[aria-label="Artwork files"]').setInputFiles({
    name: 'fog-signal-two.svg',
    mimeType: 'image/svg+xml',
    buffer: ART,
  });
  await expect(page.locator('.stations h1')).toHaveText('Fog signal two');
  await expect(page.locator('.paper')).toBeVisible();
  step('The art is taken in.');

  await page.getByRole('button', { name: 'Lettering', exact: true }).click();
  await expect(page.getByRole('textbox', { name: /^Words of the lettering/ })).toBeFocused();
  await page.keyboard.type('FOG', { delay: 90 });
  await page.keyboard.press('Escape');
  await expect(page.locator('ks-strip .waits')).toHaveCount(0);
  await expect(page.locator('ks-strip .sheet')).toHaveCount(2);
  await expect(page.locator('.stations small')).toHaveText(/^saved /);
  step('Lettering is written and set.');

  await page.getByRole('button', { name: 'Files' }).click();
  await page.getByRole('button', { name: 'Make this print file' }).click();
  await expect(page.getByRole('heading', { name: 'As Larkpost Market demands' })).toBeVisible();
  step('The print file is made and holds what is demanded.');

  await page.getByRole('button', { name: 'Mockups' }).click();
  await expect(page.locator('[data-frame-ms]')).not.toHaveAttribute('data-frame-ms', '0.0');
  const colours = page.getByRole('group', { name: 'Colours of the set' });
  await colours.getByRole('button', { name: 'Harbour' }).click();
  await page.getByRole('combobox', { name: 'Size' }).selectOption('1200');
  await page.getByRole('button', { name: 'Make 1 picture', exact: true }).click();
  await expect(page.locator('a.picture')).toHaveCount(1);
  step('A picture on a shirt is made.');

  await page.getByRole('button', { name: 'Hand-over' }).click();
  await page
    .getByRole('textbox', { name: /^Title/ })
    .first()
    .fill('Fog signal, the second');
  await page
    .getByLabel('Description')
    .fill(
      'The light at Tarn End as the Weather Club sees it on most mornings: hardly, and late, and very well indeed.',
    );
  await page
    .getByRole('combobox', { name: /^Tags/ })
    .or(page.getByRole('textbox', { name: /^Tags/ }))
    .first()
    .click();
  for (const tag of ['fog', 'light', 'coast']) {
    await page.keyboard.type(tag, { delay: 60 });
    await page.keyboard.press('Enter');
  }
  await page.getByRole('button', { name: /^Send to (1 channel|Larkpost)/ }).click();
  await expect(page.getByRole('button', { name: /^Larkpost Market live/ })).toBeVisible();
  step('It is live on Larkpost Market.');

  await page.getByRole('button', { name: /^Client’s yes/ }).click();
  await page.getByLabel('In whose name').fill('Tarn End Weather Club');
  await page.getByLabel('For whom').fill('Fell Rescue');
  await page.getByRole('button', { name: 'Make the page' }).click();
  const link = await page.getByLabel('Link of the page').inputValue();
  const client = await (await browser.newContext()).newPage();
  await client.goto(link);
  await client.getByLabel('Your name').fill('Ada Fell');
  await client.getByRole('button', { name: 'Yes, print it like this' }).click();
  await expect(client.getByText('Your yes is written down.')).toBeVisible();
  await expect(page.getByText('Ada Fell said yes to Fog signal two').first()).toBeVisible();
  step('The client has said yes.');

  await page.getByRole('button', { name: 'Clips' }).click();
  await page.getByRole('button', { name: /^Quick cut/ }).click();
  await expect(page.locator('ks-clip-stage canvas')).toHaveAttribute('data-ready', 'true');
  await page.getByRole('button', { name: 'Make this clip' }).click();
  await expect(
    page
      .locator('ks-clip-making')
      .getByRole('link', { name: /\.(webm|mp4|webp)$/ })
      .first(),
  ).toBeVisible();
  step('The clip is made.');

  // What was made is said; nothing was said to have gone wrong, or to be away.
  expect((await said()).filter((one) => !one.includes(' is made and kept.'))).toEqual([]);
});
