import { AxeBuilder } from '@axe-core/playwright';
import type { Page } from '@playwright/test';
import { expect } from './kettle.js';

/**
 * Axe finds nothing serious on what is shown, and none of its colours too weak in the dark theme either: all else is the
 * same there.
 * @param view name of it, for the report
 */
export async function expectNoBarriers(page: Page, view: string): Promise<void> {
  await expectNone(new AxeBuilder({ page }), view);
  await page.evaluate(() => (document.documentElement.dataset['theme'] = 'dark'));
  try {
    const colours = new AxeBuilder({ page }).withRules(['color-contrast', 'link-in-text-block']);
    await expectNone(colours, `${view}, dark`);
  } finally {
    await page.evaluate(() => (document.documentElement.dataset['theme'] = 'light'));
  }
}

async function expectNone(axe: AxeBuilder, view: string): Promise<void> {
  const { violations } = await axe.analyze();
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
}
