import type { Page } from 'playwright-core';

/** Touches that a button which recalls a position, waits until it arrived and cuts may take, from an opened Bench. */
export const MOST_TOUCHES = 8;

/** Makes such a button the way a person would, counting each touch. @returns how many it took */
export async function makeButton(page: Page): Promise<number> {
  let touches = 0;
  const touch = async (name: string | RegExp): Promise<void> => {
    await page
      .getByRole('button', { name, exact: typeof name === 'string' })
      .first()
      .click();
    touches += 1;
  };
  await touch('Add a button to Moments');
  await touch('Recall a position: Ines close');
  await touch('Wait until Desk cam has arrived at Ines close');
  await touch('Cut');
  await touch('Done');
  return touches;
}
