import { demoId } from '@umbek/demo';
import { ulid } from 'ulid';
import { browser, SIZES } from '../e2e/support/browser';
import { type Demo, until } from '../e2e/support/demo';

/** What React leaves at a component that it has called: developers' tools read it, in production as well. */
const PERFORMED_WORK = 1;

/**
 * Caps that are drawn anew when the preview goes from one source to another, on a panel where the lamps of all others read neither of them. Counted
 * in the page as it ships, by what React itself tells of each commit.
 */
export async function drawnCaps(demo: Demo): Promise<{ readonly drawn: number; readonly shown: number }> {
  const context = await browser.newContext({ viewport: SIZES.phone });
  const page = await context.newPage();
  await page.addInitScript((performed) => {
    interface Fiber {
      readonly memoizedProps: Record<string, unknown> | null;
      readonly flags: number;
      readonly alternate: Fiber | null;
      readonly child: Fiber | null;
      readonly sibling: Fiber | null;
    }
    const drawn = new Set<string>();
    // What was left out as a whole keeps its children, and their marks of an earlier commit with them.
    const look = (parent: Fiber): void => {
      if (parent.child === parent.alternate?.child) return;
      for (let item = parent.child; item !== null; item = item.sibling) {
        const id = item.memoizedProps?.buttonId;
        if (typeof id === 'string' && item.alternate !== null && (item.flags & performed) !== 0) drawn.add(id);
        look(item);
      }
    };
    Object.assign(window, {
      drawn,
      __REACT_DEVTOOLS_GLOBAL_HOOK__: {
        supportsFiber: true,
        inject: () => 1,
        onCommitFiberRoot: (_id: number, root: { readonly current: Fiber }) => look(root.current),
        onCommitFiberUnmount: () => undefined,
      },
    });
  }, PERFORMED_WORK);
  await page.goto(demo.url);
  await page.getByText(/^(\d+) of \1 reached$/).waitFor({ timeout: 20_000 });
  await page.waitForTimeout(1000);
  const shown = await page.locator('[data-testid^="cap-"]').count();
  const preview = async (button: number): Promise<void> => {
    await demo.post('/api/press', {
      pressId: ulid(),
      buttonId: demoId('BTN', button),
      phase: 'down',
      station: 'bench',
    });
  };
  const next = (button: number) =>
    page.locator(`[data-testid="cap-${demoId('BTN', button)}"][data-lamp="onPreview"]`).waitFor();
  await preview(2);
  await next(2);
  await page.waitForTimeout(1500);
  await page.evaluate(() => (window as unknown as { drawn: Set<string> }).drawn.clear());
  await preview(3);
  await next(3);
  const drawn = await until('something was drawn', async () => {
    const count = await page.evaluate(() => (window as unknown as { drawn: Set<string> }).drawn.size);
    return count > 0 ? count : undefined;
  });
  await page.waitForTimeout(300);
  const all = await page.evaluate(() => (window as unknown as { drawn: Set<string> }).drawn.size);
  await context.close();
  return { drawn: Math.max(drawn, all), shown };
}
