import type { ShowDocument } from '@umbek/core/show';
import type { Locator } from 'playwright-core';
import { freshDemo, openAt, useBrowser } from './support/browser';
import { type Demo, until } from './support/demo';

jest.setTimeout(120_000);
useBrowser();

const legendsOf = async (demo: Demo, name: string): Promise<string> => {
  const { strips, buttons } = (await (await fetch(`${demo.url}/api/show`)).json()) as ShowDocument;
  const strip = strips.find((candidate) => candidate.name === name);
  return buttons
    .filter(({ stripId }) => stripId === strip?.id)
    .sort((a, b) => (a.order < b.order ? -1 : 1))
    .map(({ legend }) => legend)
    .join();
};
const boxOf = async (what: Locator) => {
  await what.scrollIntoViewIfNeeded();
  const box = await what.boundingBox();
  if (!box) throw new Error('It is not there.');
  return box;
};

describe('buttons are moved', () => {
  it('by dragging with the mouse, several at once, into their place and to another strip; a drag is no tap', async () => {
    const demo = await freshDemo();
    const page = await openAt(demo.url, 'wide', '/bench');
    const capOf = (legend: string) =>
      page.getByRole('button', { name: new RegExp(`^(Edit|Choose) ${legend}$`) }).first();
    const drag = async (from: string, to: string, side: number): Promise<void> => {
      const [a, b] = [await boxOf(capOf(from)), await boxOf(capOf(to))];
      await page.mouse.move(a.x + a.width / 2, a.y + a.height / 2);
      await page.mouse.down();
      await page.mouse.move(a.x + a.width / 2 + 10, a.y + a.height / 2 + 4, { steps: 3 });
      await page.mouse.move(b.x + b.width * side, b.y + b.height / 2, { steps: 8 });
      await page.mouse.up();
    };
    // Its middle comes to stand left of the middle of Lawn cam: before it.
    await drag('Roof cam', 'Lawn cam', 0.3);
    await until(
      'in its place',
      async () => (await legendsOf(demo, 'Sources')) === 'Desk cam,Roof cam,Lawn cam,Dome cam,Star charts,Black',
    );
    expect(await page.getByRole('button', { name: 'Close the editor' }).count()).toBe(0);
    await page.getByRole('button', { name: 'Undo' }).click();
    await until(
      'back',
      async () => (await legendsOf(demo, 'Sources')) === 'Desk cam,Lawn cam,Dome cam,Roof cam,Star charts,Black',
    );
    // Shift takes all between.
    await page.getByRole('button', { name: 'Choose several' }).click();
    await capOf('Dome cam').click();
    await capOf('Star charts').click({ modifiers: ['Shift'] });
    await page.getByText('3 buttons chosen').waitFor();
    await drag('Roof cam', 'Ines Halloran', 0.8);
    await until('in the other strip', async () => (await legendsOf(demo, 'Sources')) === 'Desk cam,Lawn cam,Black');
    expect(await legendsOf(demo, 'Names')).toMatch(/^Ines Halloran,Dome cam,Roof cam,Star charts,Tomasz Reke/);
    await demo.close();
  });

  it('with a finger that rests first; one that does not scrolls', async () => {
    const demo = await freshDemo();
    const page = await openAt(demo.url, 'phone', '/bench');
    const session = await page.context().newCDPSession(page);
    const [a, b] = [
      await boxOf(page.getByRole('button', { name: 'Edit Desk cam' }).first()),
      await boxOf(page.getByRole('button', { name: 'Edit Dome cam' }).first()),
    ];
    const send = (type: 'touchStart' | 'touchMove' | 'touchEnd', points: { x: number; y: number }[]) =>
      session.send('Input.dispatchTouchEvent', { type, touchPoints: points });
    const swipe = async (restMs: number, to: { x: number; y: number }): Promise<void> => {
      const from = { x: a.x + a.width / 2, y: a.y + a.height / 2 };
      await send('touchStart', [from]);
      await page.waitForTimeout(restMs);
      for (let step = 1; step <= 10; step += 1) {
        const share = step / 10;
        await send('touchMove', [{ x: from.x + (to.x - from.x) * share, y: from.y + (to.y - from.y) * share }]);
        await page.waitForTimeout(16);
      }
      await send('touchEnd', []);
    };
    await swipe(400, { x: b.x + b.width * 0.8, y: b.y + b.height / 2 });
    await until(
      'behind Dome cam',
      async () => (await legendsOf(demo, 'Sources')) === 'Lawn cam,Dome cam,Desk cam,Roof cam,Star charts,Black',
    );
    expect(await page.getByRole('button', { name: 'Close the editor' }).count()).toBe(0);
    await swipe(0, { x: a.x + a.width / 2, y: a.y - 150 });
    await page.waitForTimeout(400);
    expect(await legendsOf(demo, 'Sources')).toBe('Lawn cam,Dome cam,Desk cam,Roof cam,Star charts,Black');
    await demo.close();
  });

  it('with Alt and the arrow keys, one place or one strip on, and the focus stays on them', async () => {
    const demo = await freshDemo();
    const page = await openAt(demo.url, 'wide', '/bench');
    await page.getByRole('button', { name: 'Edit Lawn cam' }).first().focus();
    await page.keyboard.press('Alt+ArrowRight');
    await until('one on', async () => (await legendsOf(demo, 'Sources')).startsWith('Desk cam,Dome cam,Lawn cam'));
    await page.keyboard.press('Alt+ArrowRight');
    await until('two on', async () =>
      (await legendsOf(demo, 'Sources')).startsWith('Desk cam,Dome cam,Roof cam,Lawn cam'),
    );
    expect(await page.evaluate(() => globalThis.document.activeElement?.getAttribute('aria-label'))).toBe(
      'Edit Lawn cam',
    );
    await demo.close();
  });
});
