import { appendFileSync, existsSync, mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { corvaneHill, demoId } from '@umbek/demo';
import { type Change, type ShowDocument, STICK } from '@umbek/core/show';
import { sql } from 'drizzle-orm';
import { ulid } from 'ulid';
import { freshDatabase } from '../../../e2e/support/database';
import { holds } from '../../../e2e/support/holds';
import { type Database, migrateDatabase, openDatabase } from '../database/database';
import { UnreadableVersion, VersionStore } from '../database/versionStore';
import { PgShowStore } from '../database/showStore';
import { FileCopy } from './showCopy';
import { ShowKeeper } from './showKeeper';

const INES = demoId('BTN', 7);
const legend = (from: string, to: string): Change => ({ entity: 'buttons', id: INES, field: 'legend', from, to });
const edit = (change: Change, by = 'Ines', editId = ulid()) => ({ editId, label: 'Legend', by, changes: [change] });

let db: Database;
let close: () => Promise<void>;
beforeAll(async () => {
  const database = openDatabase(await freshDatabase());
  await migrateDatabase(database.db, join(process.cwd(), 'apps/server/database/migrations'));
  ({ db, close } = database);
});
afterAll(() => close());

const folder = (): string => mkdtempSync(join(tmpdir(), 'umbek-keeper-'));
const open = (where = folder()): Promise<ShowKeeper> =>
  ShowKeeper.open(new PgShowStore(db), new FileCopy(where), corvaneHill, ulid);
const now = (keeper: ShowKeeper): string | undefined => keeper.current().buttons.get(INES)?.legend;
/** Each test begins with the demo as it comes. */
const fresh = async (): Promise<ShowKeeper> => {
  const keeper = await open();
  const taken = await keeper.replace(corvaneHill());
  if (!taken.ok) throw new Error('the demo was refused');
  return keeper;
};

describe('the keeper of the show', () => {
  it('stores an edit with its revision, and has it after a restart', async () => {
    const keeper = await fresh();
    const before = keeper.current().revision;
    expect(await keeper.edit(edit(legend('Ines close', 'Ines tight')))).toMatchObject({
      ok: true,
      value: { revision: before + 1 },
    });
    const again = await open();
    expect([now(again), again.current().revision]).toEqual(['Ines tight', before + 1]);
  });

  it('takes an edit once, however often it comes', async () => {
    const keeper = await fresh();
    const once = edit(legend('Ines close', 'Ines tight'));
    await keeper.edit(once);
    const { revision } = keeper.current();
    expect(await keeper.edit(once)).toMatchObject({ ok: true, value: { revision } });
  });

  it('refuses the field that somebody changed meanwhile, with what it holds now, and stores nothing of the edit', async () => {
    const keeper = await fresh();
    await keeper.edit(edit(legend('Ines close', 'Ines tight')));
    const both: Change[] = [
      { entity: 'panels', id: demoId('PAN', 1), field: 'name', from: 'Main', to: 'First' },
      legend('Ines close', 'Ines wide'),
    ];
    const refused = await keeper.edit({ ...edit(legend('', '')), changes: both });
    expect(refused).toMatchObject({
      ok: false,
      error: [{ code: 'conflict', newer: 'Ines tight', path: 'changes.1.from' }],
    });
    expect((await open()).current().document.panels.find((panel) => panel.id === demoId('PAN', 1))?.name).toBe('Main');
  });

  it('takes what leaves something dangling, and tells what refuses its press from then on', async () => {
    const keeper = await fresh();
    const [position] = keeper.current().document.positions;
    const gone: Change = { entity: 'positions', id: position?.id ?? '', field: '*', from: position, to: null };
    const taken = await keeper.edit(edit(gone));
    expect(taken.ok).toBe(true);
    const broken = keeper
      .current()
      .faults()
      .filter((fault) => fault.code === 'dangling');
    expect(broken.length).toBeGreaterThan(0);
    expect(broken.every((fault) => fault.message === `There is no position ${position?.key}.`)).toBe(true);
  });

  it('refuses what its schema does not allow: a parameter out of range, a condition that cannot be read', async () => {
    const keeper = await fresh();
    const { revision } = keeper.current();
    const steps = keeper.current().buttons.get(INES)?.steps;
    const change = (to: unknown): Change => ({ entity: 'buttons', id: INES, field: 'steps', from: steps, to });
    const step = { id: 'x', onFail: 'stop' };
    for (const bad of [
      { ...step, kind: 'command', device: 'switcher', command: 'mix', params: { frames: 0 } },
      { ...step, kind: 'wait', until: 'switcher.program ==', timeoutMs: 1000 },
    ])
      expect(await keeper.edit(edit(change([bad])))).toMatchObject({ ok: false });
    expect(keeper.current().revision).toBe(revision);
  });

  it('agrees with the database after the answer of a commit got lost, and tells the engineer', async () => {
    const store = new PgShowStore(db);
    const reports: string[] = [];
    let lose = false;
    const losing = Object.assign(Object.create(store) as PgShowStore, {
      store: async (...args: Parameters<PgShowStore['store']>) => {
        await store.store(...args);
        if (lose) throw new Error('connection lost after commit');
      },
    });
    const keeper = await ShowKeeper.open(losing, new FileCopy(folder()), corvaneHill, ulid, (_program, words) =>
      reports.push(words),
    );
    await keeper.replace(corvaneHill());
    const once = edit(legend('Ines close', 'Ines tight'));
    lose = true;
    expect(await keeper.edit(once)).toMatchObject({ ok: false, error: [{ code: 'database-away' }] });
    expect(now(keeper)).toBe('Ines close');
    lose = false;
    // The page sends it again: it is found stored, and what is stored is what counts from then on.
    expect(await keeper.edit(once)).toMatchObject({ ok: true });
    expect([now(keeper), reports.length]).toEqual(['Ines tight', 1]);
    // Another keeper on the same database does not overwrite what this one stored.
    expect(await keeper.edit(edit(legend('Ines tight', 'Ines wide')))).toMatchObject({ ok: true });
  });

  it('says what is wrong with a file in which an id stands twice, and does not call the database away that refuses something', async () => {
    const store = new PgShowStore(db);
    const keeper = await ShowKeeper.open(store, new FileCopy(folder()), corvaneHill, ulid, () => undefined);
    await keeper.replace(corvaneHill());
    const show = corvaneHill();
    const [first] = show.buttons;
    if (!first) throw new Error('The demo has no buttons.');
    const twice = { ...show, buttons: [...show.buttons, { ...first, legend: 'Again' }] };
    expect(await keeper.replace(twice)).toMatchObject({
      ok: false,
      error: [
        {
          code: 'id-clash',
          message: `Two entries have the id ${first.id}.`,
          path: `buttons.${show.buttons.length}.id`,
        },
      ],
    });
    // What got past the check is refused by the table: that is no database that is away.
    expect(await keeper.replace(twice, false)).toMatchObject({ ok: false, error: [{ code: 'not-stored' }] });
    expect(keeper.current().document.buttons).toHaveLength(show.buttons.length);
    expect(await keeper.edit(edit(legend('Ines close', 'Ines tight')))).toMatchObject({ ok: true });
  });

  it('starts from its copy with the edits made since, also when a line was cut off', async () => {
    const where = folder();
    const keeper = await open(where);
    await keeper.replace(corvaneHill());
    await keeper.edit(edit(legend('Ines close', 'Ines tight')));
    const edits = join(where, 'show-edits.jsonl');
    await holds(() => existsSync(edits) && readFileSync(edits, 'utf8').endsWith('\n'));
    appendFileSync(edits, '{"version":2,"revision":9');
    const copy = await new FileCopy(where).load();
    expect([copy?.document.buttons.find((button) => button.id === INES)?.legend, copy?.revision]).toEqual([
      'Ines tight',
      keeper.current().revision,
    ]);
  });

  it('goes on when the copy on the disk cannot be written, and says so', async () => {
    const keeper = await ShowKeeper.open(new PgShowStore(db), new FileCopy('/proc/none'), corvaneHill, ulid);
    await keeper.replace(corvaneHill());
    expect(await keeper.edit(edit(legend('Ines close', 'Ines tight')))).toMatchObject({ ok: true });
    await holds(() => keeper.copyTrouble !== null);
    expect(keeper.copyTrouble).toMatch(/ENOENT/);
  });

  it('opens rows that an earlier version stored, and writes them all in the version of today with the first edit', async () => {
    const store = new PgShowStore(db);
    const golden = JSON.parse(
      readFileSync(join(process.cwd(), 'packages/core/show/upgrade/golden/show-v1.json'), 'utf8'),
    ) as ShowDocument;
    // What version 1 kept in its rows: the same entries, with the words of that day.
    await store.replace(
      {
        ...golden,
        show: { ...golden.show, airOutputs: [], stick: STICK },
        // A column that came later holds what it begins with.
        macros: golden.macros.map((macro) => ({ ...macro, folder: '' })),
        values: golden.values.map((value) => ({
          ...value,
          type: 'plain' as const,
          choices: [],
          atShowStart: 'reset' as const,
        })),
      },
      1,
    );
    await db.execute(sql`update show set version = 1`);
    const loaded = await store.load();
    expect(loaded?.document.macros[0]?.again).toBe('ignore');
    expect(JSON.stringify(loaded?.document)).not.toMatch(/switcher\.program == \d/);
    const keeper = await open();
    await keeper.edit(edit(legend('Ines close', 'Ines tight')));
    const [row] = (await db.execute(sql`select version from show`)).rows as { version: number }[];
    expect(row?.version).toBe(2);
    const [button] = (await db.execute(sql`select lamps from button where legend = 'Desk cam' order by id`)).rows as {
      lamps: unknown;
    }[];
    expect(JSON.stringify(button?.lamps)).toContain('onAir');
  });

  it('takes back and does again by the engineer, and leaves what another changed since', async () => {
    const keeper = await fresh();
    await keeper.edit(edit(legend('Ines close', 'Ines tight'), 'Ines'));
    await keeper.edit(
      edit({ entity: 'buttons', id: INES, field: 'note', from: 'arrive, cut, name', to: 'slowly' }, 'Tomasz'),
    );
    expect(await keeper.next('Ines')).toEqual({ undo: 'Legend', redo: null });
    expect(await keeper.step('Ines', 'undo', ulid())).toMatchObject({ ok: true, value: { label: 'Legend', kept: [] } });
    expect([now(keeper), keeper.current().buttons.get(INES)?.note]).toEqual(['Ines close', 'slowly']);
    await keeper.edit(edit(legend('Ines close', 'The host'), 'Tomasz'));
    // Doing it again would overwrite what Tomasz did.
    expect(await keeper.step('Ines', 'redo', ulid())).toMatchObject({
      ok: true,
      value: { kept: ['legend of The host was changed since.'] },
    });
    expect(now(keeper)).toBe('The host');
    expect(await keeper.step('Della', 'undo', ulid())).toMatchObject({
      ok: false,
      error: [{ code: 'nothing-to-undo' }],
    });
  });

  it('says what takes the show back to a row of its history, undone edits and others’ among what came after', async () => {
    const keeper = await fresh();
    const first = edit(legend('Ines close', 'Ines tight'));
    await keeper.edit(first);
    await keeper.edit(edit(legend('Ines tight', 'The host'), 'Tomasz'));
    await keeper.edit(edit({ entity: 'buttons', id: INES, field: 'note', from: 'arrive, cut, name', to: 'slowly' }));
    await keeper.step('Ines', 'undo', ulid());
    const back = await keeper.back(first.editId);
    expect(back).toMatchObject({ label: 'Legend', edits: 3, changes: [legend('The host', 'Ines tight')] });
    expect(await keeper.back(ulid())).toBeNull();
    await keeper.edit({ editId: ulid(), label: 'Back', by: 'Ines', changes: back?.changes ?? [] });
    expect(now(keeper)).toBe('Ines tight');
    // The row of before is gone with the show that it was of.
    await keeper.replace(corvaneHill());
    expect(await keeper.back(first.editId)).toBeNull();
  });

  it('knows since when it is tonight, and how many edits stand since then; the same mark twice is one', async () => {
    const keeper = await fresh();
    await keeper.edit(edit(legend('Ines close', 'Ines tight')));
    expect(await keeper.since()).toBeNull();
    const mark = ulid();
    const { revision } = keeper.current();
    await keeper.tonight('begin', 'Ines', mark);
    await keeper.tonight('begin', 'Ines', mark);
    // Another engineer begins it too: it is one evening, since the first of them.
    await keeper.tonight('begin', 'Tomasz', ulid());
    expect(keeper.current().revision).toBe(revision + 1);
    await keeper.edit(edit(legend('Ines tight', 'The host'), 'Tomasz'));
    await keeper.edit(edit(legend('The host', 'Somebody')));
    await keeper.step('Ines', 'undo', ulid());
    expect(await keeper.since()).toMatchObject({ editId: mark, by: 'Ines', edits: 1 });
    expect((await keeper.back(mark))?.changes).toEqual([legend('The host', 'Ines tight')]);
    // A mark is no edit: an undo goes past it.
    expect(await keeper.next('Ines')).toMatchObject({ undo: 'Legend' });
    await keeper.tonight('end', 'Ines', ulid());
    expect(await keeper.since()).toBeNull();
  });

  it('hands edits over: the next engineer undoes them and has tonight, the one before has nothing to undo', async () => {
    const keeper = await fresh();
    await keeper.tonight('begin', 'Ines', ulid());
    await keeper.edit(edit(legend('Ines close', 'Ines tight')));
    await keeper.edit(edit(legend('Ines tight', 'The host')));
    await keeper.edit(
      edit({ entity: 'buttons', id: INES, field: 'note', from: 'arrive, cut, name', to: 'slowly' }, 'Della'),
    );
    const { revision } = keeper.current();
    const handed = await keeper.handOver('Ines', 'Tomasz');
    expect(handed).toMatchObject({ ok: true, value: { edits: 2 } });
    expect(keeper.current().revision).toBe(revision + 1);
    expect(await keeper.next('Ines')).toEqual({ undo: null, redo: null });
    expect(await keeper.next('Della')).toMatchObject({ undo: 'Legend' });
    expect(await keeper.since()).toMatchObject({ by: 'Tomasz', edits: 3 });
    expect((await keeper.history(4)).map(({ kind, by, handedTo }) => ({ kind, by, handedTo }))).toEqual([
      { kind: 'handedOver', by: 'Ines', handedTo: undefined },
      { kind: 'edit', by: 'Della', handedTo: undefined },
      { kind: 'edit', by: 'Ines', handedTo: 'Tomasz' },
      { kind: 'edit', by: 'Ines', handedTo: 'Tomasz' },
    ]);
    await keeper.step('Tomasz', 'undo', ulid());
    expect(now(keeper)).toBe('Ines tight');
    await keeper.step('Tomasz', 'redo', ulid());
    expect(now(keeper)).toBe('The host');
    // Handed back, and from somebody who has none.
    expect(await keeper.handOver('Tomasz', 'Ines')).toMatchObject({ ok: true, value: { edits: 2 } });
    expect((await keeper.history(9)).find(({ label }) => label === 'Legend')?.handedTo).toBeUndefined();
    const still = keeper.current().revision;
    expect(await keeper.handOver('Nobody', 'Ines')).toMatchObject({ ok: true, value: { edits: 0 } });
    expect(keeper.current().revision).toBe(still);
  });

  it('keeps the show that was replaced', async () => {
    const keeper = await fresh();
    await keeper.edit(edit(legend('Ines close', 'Ines tight')));
    await keeper.replace({ ...corvaneHill(), show: { ...corvaneHill().show, name: 'Another night' } });
    expect(keeper.current().document.show.name).toBe('Another night');
    expect((await keeper.replaced())?.buttons.find((button) => button.id === INES)?.legend).toBe('Ines tight');
  });

  it('waits at the very first start for a database that comes late, and says in words what is wrong with one that never comes', async () => {
    const store = new PgShowStore(db);
    let late = 3;
    const coming = Object.assign(Object.create(store) as PgShowStore, {
      load: () => ((late -= 1) >= 0 ? Promise.reject(new Error('Failed query')) : store.load()),
    });
    const waited: number[] = [];
    const pause = (ms: number): Promise<void> => Promise.resolve(void waited.push(ms));
    const open = (from: PgShowStore) =>
      ShowKeeper.open(from, new FileCopy(folder()), corvaneHill, ulid, undefined, undefined, pause);
    expect(now(await open(coming))).toBeDefined();
    expect(waited).toEqual([1000, 1000, 1000]);
    waited.length = 0;
    const away = openDatabase('postgresql://umbek@127.0.0.1:9/umbek');
    await expect(open(new PgShowStore(away.db))).rejects.toThrow(
      /^The database cannot be used: connect ECONNREFUSED 127\.0\.0\.1:9\. There is no copy of the show on this machine yet/,
    );
    expect(waited).toHaveLength(14);
    await away.close();
  });

  it('refuses edits in words while the database is away, goes on with what it has, and starts from the local copy', async () => {
    const where = folder();
    const keeper = await open(where);
    await keeper.replace(corvaneHill());
    const away = openDatabase('postgresql://umbek@127.0.0.1:9/umbek');
    const cut = await ShowKeeper.open(new PgShowStore(away.db), new FileCopy(where), () => null, ulid);
    expect([now(cut), cut.current().revision]).toEqual(['Ines close', keeper.current().revision]);
    expect(await cut.edit(edit(legend('Ines close', 'Ines tight')))).toMatchObject({
      ok: false,
      error: [{ code: 'database-away', mend: 'Try again when the database is back.' }],
    });
    expect(now(cut)).toBe('Ines close');
    await away.close();
  });
});

describe('versions', () => {
  it('are kept once under their id, listed newest first, read whole and let go', async () => {
    const store = new VersionStore(db);
    const [first, second] = [ulid(), ulid()];
    await store.keep({ id: first, name: 'Before the show', by: 'Ines' }, corvaneHill());
    await store.keep({ id: first, name: 'Again', by: 'Ines' }, { ...corvaneHill(), panels: [] });
    await new Promise((next) => setTimeout(next, 5));
    await store.keep({ id: second, name: 'Later', by: '' }, { ...corvaneHill(), macros: [] });
    expect((await store.list()).map(({ name, by }) => [name, by])).toEqual([
      ['Later', ''],
      ['Before the show', 'Ines'],
    ]);
    expect((await store.read(first))?.document).toEqual(corvaneHill());
    expect([await store.drop(second), await store.drop(second), await store.read(second)]).toEqual([true, false, null]);
  });

  it("tell a show that is none of today's from a database that is away", async () => {
    const store = new VersionStore(db);
    const id = ulid();
    await store.keep({ id, name: 'From long ago', by: '' }, {
      ...corvaneHill(),
      panels: [{ id: 'no id', name: '' }],
    } as never);
    await expect(store.read(id)).rejects.toThrow(UnreadableVersion);
  });
});
