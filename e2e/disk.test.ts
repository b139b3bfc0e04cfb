import { renameSync, rmSync, symlinkSync } from 'node:fs';
import { join } from 'node:path';
import { demoId } from '@umbek/demo';
import { ulid } from 'ulid';
import { cap, openDesk, useBrowser } from './support/browser';
import { freshDatabase } from './support/database';
import { Demo, freshFolder, until } from './support/demo';

jest.setTimeout(120_000);
useBrowser();

/** Every write to it fails as on a full disk, and it is the system that says so. */
const FULL = '/dev/full';

const press = (demo: Demo, pressId: string) =>
  demo.post('/api/press', { pressId, buttonId: demoId('BTN', 2), phase: 'down', station: 'test' });

describe('a disk that is full', () => {
  it('holds no press up, is told on the page with what goes on, and catches up; an engine that dies meanwhile loses nothing', async () => {
    const demo = await Demo.start(await freshDatabase(), freshFolder());
    const page = await openDesk(demo.url, 'phone');
    const journal = join(demo.folder, 'epoch-1.jsonl');
    renameSync(journal, `${journal}.aside`);
    symlinkSync(FULL, journal);

    const [first, second] = [ulid(), ulid()];
    expect((await press(demo, first)).status).toBe(202);
    await page.getByTestId('fault').getByText('The disk is full').waitFor();
    await page.getByTestId('fault').getByText('presses go on').waitFor();
    const { disk, status } = await demo.health();
    expect([status, disk.dropped]).toEqual(['degraded', 0]);
    expect(disk.trouble).toMatch(/ENOSPC/);
    expect(disk.waiting).toBeGreaterThan(0);
    await page.getByTestId('fault').click();
    await page
      .getByTestId('fault-line')
      .getByText(/Make room on the engine’s machine/)
      .waitFor();
    await page.getByText('Close', { exact: true }).click();
    // A press by hand, and the device has it, although nothing of it is on the disk.
    await cap(page, 'Star charts').click();
    await page.locator('[data-testid^="cap-"][aria-label^="Star charts"][data-lamp="onPreview"]').waitFor();

    // The engine dies: what it had told waits in the process beside it.
    const pid = demo.supervisor.pid() ?? 0;
    expect((await press(demo, second)).status).toBe(202);
    process.kill(pid, 'SIGKILL');
    await until('another engine', async () => (await demo.health()).epoch === 2);
    // The same press again is the same press, over the death of the engine.
    const before = (await demo.standins.switcher.report()).effects.length;
    expect((await press(demo, second)).status).toBe(202);
    await new Promise((next) => setTimeout(next, 300));
    expect((await demo.standins.switcher.report()).effects.length).toBe(before);

    rmSync(journal);
    renameSync(`${journal}.aside`, journal);
    await until('the disk takes everything again', async () => {
      const { disk: now } = await demo.health();
      return now.trouble === null && now.waiting === 0;
    });
    await page.getByTestId('fault').waitFor({ state: 'detached' });
    const pressIds = async () =>
      (await demo.asRun()).filter((entry) => entry.kind === 'press').map((entry) => entry.pressId);
    await until('both presses in the as-run', async () => {
      const all = await pressIds();
      return [first, second].every((candidate) => all.includes(candidate));
    });
    const all = await pressIds();
    for (const pressId of [first, second]) expect(all.filter((candidate) => candidate === pressId)).toHaveLength(1);
    await demo.close();
  });
});
