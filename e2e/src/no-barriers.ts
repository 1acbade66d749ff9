import { AxeBuilder } from '@axe-core/playwright';
import type { Page } from '@playwright/test';
import { expect } from './kettle.js';

/** Axe finds nothing serious on what is shown. @param view name of it, for the report */
export async function expectNoBarriers(page: Page, view: string): Promise<void> {
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
}
