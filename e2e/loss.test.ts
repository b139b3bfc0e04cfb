import { demoId } from '@umbek/demo';
import { sql } from 'drizzle-orm';
import { ulid } from 'ulid';
import { openDatabase } from '../apps/server/database/database';
import { openDesk, useBrowser } from './support/browser';
import { freshDatabase } from './support/database';
import { Demo, freshFolder, until } from './support/demo';
import { historyFaults, toldCommands } from './support/history';
import { stopPostgres } from './support/postgres';

jest.setTimeout(280_000);
useBrowser();

const CUT = demoId('BTN', 20);

/** Presses one after the other, each when the run of the one before is over. */
async function pressMany(demo: Demo, buttonId: string, times: number): Promise<void> {
  for (let done = 0; done < times; done += 1) {
    const pressId = ulid();
    const answer = await demo.post('/api/press', { pressId, buttonId, phase: 'down', station: 'loss' });
    await demo.post('/api/press', { pressId, buttonId, phase: 'up', station: 'loss' });
    if (answer.status !== 202) continue;
    const runId = String(answer.body.runId);
    await until('the run is over', async () => !(await demo.runs()).includes(runId), 5000);
  }
}

describe('500 presses while a fifth of the datagrams is lost and a tenth comes twice', () => {
  it('have exactly one effect each, or fail visibly with none or one', async () => {
    const demo = await Demo.start(await freshDatabase(), freshFolder());
    const store = ulid();
    const stripId = demoId('STR', 1);
    const made = await demo.post('/api/edits', {
      editId: ulid(),
      label: 'Add Store here',
      changes: [
        {
          entity: 'buttons',
          id: store,
          field: '*',
          from: null,
          to: {
            id: store,
            stripId,
            legend: 'Store here',
            steps: [{ id: 'store', kind: 'command', device: 'lawnCam', command: 'store', params: { number: 99 } }],
            order: 'z',
          },
        },
      ],
    });
    expect(made.status).toBe(200);
    const loss = { dropIn: 0.2, dropOut: 0.2, doubleIn: 0.1, doubleOut: 0.1, delayMs: 4 };
    await demo.standins.switcher.faults({ ...loss, seed: 11 });
    await demo.standins.lawnCam.faults({ ...loss, seed: 12 });
    await Promise.all([pressMany(demo, CUT, 350), pressMany(demo, store, 150)]);
    await demo.standins.switcher.faults({});
    await demo.standins.lawnCam.faults({});

    const entries = await demo.asRun();
    const cuts = toldCommands(entries, 'switcher').filter((toldCommand) => toldCommand.command === 'cut');
    const stores = toldCommands(entries, 'lawnCam').filter((toldCommand) => toldCommand.command === 'store');
    expect(
      entries.filter((entry) => entry.kind === 'press' && entry.phase === 'down').length +
        entries.filter((entry) => entry.kind === 'refusal').length,
    ).toBe(500);
    const report = await demo.standins.switcher.report();
    const cutEffects = report.effects
      .filter((effect) => effect.command === 'cut')
      .map((effect) => ({ key: effect.id, command: effect.command }));
    expect(historyFaults(cuts, cutEffects, (command) => `e1.${command.commandId}`)).toEqual([]);

    // VISCA knows no request ids: a sequence number of a sender is done at most once, and there are as many effects as commands told as done.
    const storeEffects = (await demo.standins.lawnCam.report()).effects.filter((effect) => effect.command === 'store');
    expect(new Set(storeEffects.map((effect) => `${effect.from}/${effect.id}`)).size).toBe(storeEffects.length);
    const done = stores.filter((toldCommand) => toldCommand.outcome === 'done').length;
    const unknown = stores.filter(
      (toldCommand) => toldCommand.outcome === 'late' || toldCommand.outcome === 'lost',
    ).length;
    expect(storeEffects.length).toBeGreaterThanOrEqual(done);
    expect(storeEffects.length).toBeLessThanOrEqual(done + unknown);
    // The loss was real, and the presses were not all refused.
    const dropped = (await demo.standins.switcher.records()).filter((record) => record.fate === 'dropped').length;
    expect(dropped).toBeGreaterThan(100);
    expect(cuts.filter((cut) => cut.outcome === 'done').length).toBeGreaterThan(300);
    expect(done).toBeGreaterThan(120);
    await demo.close();
  });
});

describe('a connection that dies between two statements of a transaction', () => {
  it('fails the transaction and leaves the process alive and able to ask again', async () => {
    const { db, close } = openDatabase(await freshDatabase());
    const cut = db.transaction(async (tx) => {
      await tx.execute(sql`select 1`);
      await db.execute(
        sql`select pg_terminate_backend(pid) from pg_stat_activity where datname = current_database() and pid <> pg_backend_pid()`,
      );
      await new Promise((next) => setTimeout(next, 200));
      await tx.execute(sql`select 2`);
    });
    await expect(cut).rejects.toThrow();
    expect((await db.execute(sql`select 3 as n`)).rows).toEqual([{ n: 3 }]);
    await close();
  });
});

describe('PostgreSQL stopped for a while', () => {
  it('lets presses go on, refuses edits in words, and has the as-run whole afterwards', async () => {
    const database = await freshDatabase();
    const demo = await Demo.start(database, freshFolder());
    const page = await openDesk(demo.url, 'phone');
    const start = await stopPostgres(database);
    const began = Date.now();
    let pressed = 0;
    try {
      await until('health tells', async () => (await demo.health()).database === 'away');
      const edit = {
        editId: ulid(),
        label: 'Rename',
        changes: [{ entity: 'panels', id: demoId('PAN', 1), field: 'name', from: 'Main', to: 'Other' }],
      };
      const refused = await demo.post('/api/edits', edit);
      expect([refused.status, refused.body.code]).toEqual([503, 'database-away']);
      await page.getByTestId('fault').getByText('The database does not answer').waitFor();
      while (Date.now() - began < 12_000) {
        const answer = await demo.post('/api/press', {
          pressId: ulid(),
          buttonId: CUT,
          phase: 'down',
          station: 'away',
        });
        expect(answer.status).toBe(202);
        pressed += 1;
        await new Promise((next) => setTimeout(next, 500));
      }
      expect((await demo.asRun()).filter((entry) => entry.kind === 'press').length).toBe(pressed);
    } finally {
      start();
    }
    await until('the database is back', async () => (await demo.health()).database === 'reached', 20_000);
    await page.getByTestId('fault').waitFor({ state: 'detached' });
    const entries = await demo.asRun();
    expect(entries.filter((entry) => entry.kind === 'press').length).toBe(pressed);
    // Every run has its end in the as-run. On a machine that stood still for a second one may honestly have ended as late.
    const done = entries.filter((entry) => entry.kind === 'runEnd' && entry.how === 'done').length;
    expect(entries.filter((entry) => entry.kind === 'runEnd').length).toBe(pressed);
    expect(done).toBeGreaterThanOrEqual(pressed - 3);
    // The engine's own numbers have no gap; the parent's stand apart.
    const seqs = entries.map((entry) => Number(entry.seq)).filter((seq) => seq % 1_000_000_000 < 900_000_000);
    expect(seqs).toEqual(Array.from({ length: seqs.length }, (_, index) => (seqs[0] ?? 0) + index));
    const cuts = (await demo.standins.switcher.report()).effects.filter((effect) => effect.command === 'cut').length;
    expect(cuts).toBeGreaterThanOrEqual(done);
    expect(cuts).toBeLessThanOrEqual(pressed);
    await demo.close();
  });
});
