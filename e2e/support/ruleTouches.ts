import type { Page } from 'playwright-core';
import { Hand } from './hand';

/** Most touches of what a person makes of rules and macros, each from its list. A word typed into the search counts as one. */
export const RULE_TOUCHES = {
  whileRule: 3,
  filmEnds: 4,
  macro: 8,
  clips: 6,
  why: 2,
} as const;

/** @param opened the list has just opened: its search has the focus */
async function search(page: Page, hand: Hand, words: string, opened = true): Promise<void> {
  const field = page.getByPlaceholder('Search').last();
  await field.waitFor();
  if (opened) await page.waitForFunction(() => document.activeElement?.tagName === 'INPUT');
  else await hand.tap(field);
  await field.fill(words);
  hand.touches += 1;
}

const choice = (page: Page, words: string) => page.getByRole('button', { name: words, exact: true }).last();

/** A while rule from a source: what it keeps comes first. */
export async function makeWhileRule(page: Page): Promise<number> {
  const hand = new Hand(page);
  await hand.button('New trigger');
  await hand.tap(choice(page, 'While Desk cam is on air'));
  await hand.tap(choice(page, 'Bring the count board in'));
  return hand.touches;
}

/** When the film ends, mix to Desk cam. */
export async function makeFilmEnds(page: Page): Promise<number> {
  const hand = new Hand(page);
  await hand.button('New trigger');
  await search(page, hand, 'channel 1, layer 1 has ended');
  await hand.tap(choice(page, 'When Spool: clip on channel 1, layer 1 has ended'));
  await search(page, hand, 'mix to desk');
  // Enter takes the first that was found; it ends the word.
  await page.keyboard.press('Enter');
  return hand.touches;
}

/** Recall, mix on arrival, a caption for six seconds. */
export async function makeMacro(page: Page): Promise<number> {
  const hand = new Hand(page);
  await hand.button('New macro');
  await search(page, hand, 'ines close');
  await hand.tap(choice(page, 'Recall a position: Ines close'));
  await hand.tap(choice(page, 'Wait until Desk cam has arrived at Ines close'));
  await hand.tap(choice(page, 'Mix to Desk cam'));
  await search(page, hand, 'name caption in', false);
  await page.keyboard.press('Enter');
  await hand.tap(page.getByRole('button', { name: /^Keep it for 6 s/ }).last());
  return hand.touches;
}

/** Two clips to two layers at once, in a macro that is open. */
export async function makeClips(page: Page): Promise<number> {
  const hand = new Hand(page);
  await hand.button('Clips as steps');
  await hand.tap(page.getByRole('checkbox', { name: 'Clip Opening film' }));
  await hand.tap(page.getByRole('checkbox', { name: 'Clip Holding loop' }));
  await hand.button('Add 2 clips');
  return hand.touches;
}

/** Why a rule did not fire, from the list of triggers. */
export async function askWhy(page: Page, name: string): Promise<number> {
  const hand = new Hand(page);
  await hand.tap(page.getByRole('button', { name: new RegExp(`^Trigger ${name}`) }).first());
  await hand.tap(page.getByText('What it did', { exact: true }));
  await page
    .getByRole('button', { name: /Did not fire/ })
    .first()
    .waitFor();
  return hand.touches;
}
