import type { Locator, Page } from 'playwright-core';

/**
 * One finger on a phone, counting what it does: a tap, a drag, a word typed into a field that was tapped, the Enter that ends it. Looking and
 * scrolling are not counted.
 */
export class Hand {
  touches = 0;

  constructor(private readonly page: Page) {}

  async tap(what: Locator): Promise<void> {
    await what.tap();
    this.touches += 1;
  }

  button(name: string | RegExp): Promise<void> {
    return this.tap(this.page.getByRole('button', { name, exact: typeof name === 'string' }).first());
  }

  /** A key of a keyboard beside it. */
  async key(name: string): Promise<void> {
    await this.page.keyboard.press(name);
    this.touches += 1;
  }

  place(name: 'Desk' | 'Bench' | 'Rig' | 'Log'): Promise<void> {
    return this.tap(this.page.getByRole('navigation').getByRole('link', { name }));
  }

  part(name: string): Promise<void> {
    return this.tap(
      this.page
        .getByRole('radio', { name })
        .or(this.page.getByText(name, { exact: true }))
        .first(),
    );
  }

  /** Types over what stands in a field. @param tapped false where the field has the focus already */
  async write(field: Locator, text: string, tapped = true): Promise<void> {
    if (tapped) await this.tap(field);
    await field.press('Control+a');
    await this.page.keyboard.type(text);
    await this.page.keyboard.press('Enter');
    this.touches += 1;
  }

  async drag(what: Locator, x: number, y: number): Promise<void> {
    const box = await what.boundingBox();
    if (!box) throw new Error('Nothing is there to be dragged.');
    const session = await this.page.context().newCDPSession(this.page);
    const at = { x: box.x + box.width / 2, y: box.y + box.height / 2 };
    const send = (type: 'touchStart' | 'touchMove' | 'touchEnd', points: { x: number; y: number }[]) =>
      session.send('Input.dispatchTouchEvent', { type, touchPoints: points });
    await send('touchStart', [at]);
    for (let step = 1; step <= 8; step += 1)
      await send('touchMove', [{ x: at.x + (x * step) / 8, y: at.y + (y * step) / 8 }]);
    await send('touchEnd', []);
    this.touches += 1;
  }
}
