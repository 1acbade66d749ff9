import { AxeBuilder } from '@axe-core/playwright';
import { expect, openDemo, test } from './kettle.js';

for (const theme of ['light', 'dark'] as const) {
  test(`nobody is shut out of any view (${theme})`, async ({ page, demo }) => {
    await page.addInitScript((chosen) => localStorage.setItem('kettle.theme', chosen), theme);
    const check = async (view: string) => {
      const { violations } = await new AxeBuilder({ page }).analyze();
      const grave = violations
        .filter((one) => one.impact === 'serious' || one.impact === 'critical')
        .map(
          (one) =>
            `${one.id}: ${one.nodes
              .slice(0, 4)
              .map((node) => `${node.target.join(' ')} ${node.any[0]?.message ?? ''}`)
              .join(' | ')}`,
        );
      expect.soft(grave, view).toEqual([]);
    };
    await page.goto(demo.address);
    await expect(page.locator('ks-sheet-cell').first()).toBeVisible();
    await check('job sheet');
    await page.goto(`${demo.address}/requirements`);
    await expect(page.locator('.preview')).toBeVisible();
    await check('requirements');
    for (const station of ['artwork', 'fit', 'checks', 'files', 'mockups']) {
      await openDemo(page, demo, 'Mostly Drizzle', station);
      if (station === 'artwork') await page.locator('[data-layer]').first().click();
      await check(station);
      if (station === 'checks') {
        await page.getByRole('button', { name: 'Side by side' }).click();
        await expect(page.getByText('Working …')).toHaveCount(0);
        await check('proof');
      }
    }
    await page.goto(demo.address);
    await page.getByRole('button', { name: 'Package …' }).click();
    await expect(page.getByRole('list', { name: 'Examples' })).toBeVisible();
    await check('package');
    await page.keyboard.press('Escape');
    // What stands in front of the stations.
    await openDemo(page, demo, 'Cumulus Appreciation', 'checks');
    await page.getByRole('button', { name: 'On every colour' }).click();
    await expect(page.locator('ks-colour-wall .wall li').first()).toBeVisible();
    await check('every colour');
    await openDemo(page, demo, 'Cumulus Appreciation', 'artwork');
    await page.locator('[data-layer]').first().click();
    await page.getByRole('button', { name: 'Make it fit for cloth' }).click();
    await expect(page.locator('ks-picture-view canvas')).toBeVisible();
    await check('fit for cloth');
    for (const step of [/^Edge/, /^Tone/, /^Strokes/]) await page.getByRole('button', { name: step }).first().click();
    await check('fit for cloth, strokes');
    await page.getByRole('button', { name: /Leave it as it was|Back to the canvas/ }).click();
    // What opens over the bench.
    await openDemo(page, demo, 'Mostly Drizzle', 'artwork');
    await page.getByRole('button', { name: 'Graphic', exact: true }).click();
    await expect(page.locator('.pieces svg').first()).toBeVisible();
    await check('graphics');
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: 'History' }).click();
    await expect(page.locator('ks-history-dialog img').first()).toBeVisible();
    await check('history');
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: 'Brush', exact: true }).click();
    await check('brush');
    await page.getByRole('button', { name: 'Put the brush away' }).click();
    await page.getByRole('button', { name: 'Shape', exact: true }).click();
    await page.getByRole('menuitem', { name: 'Star', exact: true }).click();
    await page.getByRole('button', { name: 'Radial', exact: true }).click();
    await page.getByRole('button', { name: 'Stop 1: mix' }).click();
    await check('gradient');
    await page.getByRole('button', { name: 'Undo', exact: true }).click();
    await page.getByRole('button', { name: 'Undo', exact: true }).click();
  });
}
