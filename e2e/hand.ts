import type { Locator, Page } from '@playwright/test';

/** A job is done from an empty shelf in at most so many actions: clicks, choices, fields filled. */
export const MOST_ACTIONS = 15;

/** Does things on a page, and counts them. */
export class Hand {
  actions = 0;
  constructor(readonly page: Page) {}

  async does(...acts: (() => Promise<unknown>)[]): Promise<void> {
    for (const act of acts) {
      this.actions++;
      await act();
    }
  }

  readonly press =
    (name: string | RegExp, within: Page | Locator = this.page) =>
    () =>
      within
        .getByRole('button', { name, exact: typeof name === 'string' })
        .first()
        .click();
}
