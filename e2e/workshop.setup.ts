import { writeFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { WORKSHOP, WORKSHOP_SHELF, type KeptShelf } from './bench-hands';

/** The workshop's designs put on a shelf once, and the shelf kept: journeys that begin in one of them open it there. */
test('the workshop’s designs are put on the shelf', async ({ page, context }) => {
  await page.goto('/');
  await page.getByRole('button', { name: 'Put the workshop’s designs here' }).click();
  const cards = page.getByTestId('shelf-card');
  await expect(cards).toHaveCount(WORKSHOP);
  const links = cards.getByRole('link');
  const kept: KeptShelf = {
    paths: Object.fromEntries(
      await links.evaluateAll((all) => all.map((a) => [a.textContent?.trim(), a.getAttribute('href') ?? ''])),
    ),
    state: await context.storageState({ indexedDB: true }),
  };
  writeFileSync(WORKSHOP_SHELF, JSON.stringify(kept));
});
