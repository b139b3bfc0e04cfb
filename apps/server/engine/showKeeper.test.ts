import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { corvaneHill, demoId } from '@umbek/core/demo';
import type { Change } from '@umbek/core/show';
import { ulid } from 'ulid';
import { freshDatabase } from '../../../e2e/support/database';
import { type Database, migrateDatabase, openDatabase } from '../database/database';
import { UnreadableVersion, VersionStore } from '../database/versionStore';
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
const open = (where = folder()): Promise<ShowKeeper> => ShowKeeper.open(db, where, corvaneHill(), ulid);
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
    expect((await open()).current().document.panels.find((one) => one.id === demoId('PAN', 1))?.name).toBe('Main');
  });

  it('refuses what would make the show invalid as a whole', async () => {
    const keeper = await fresh();
    const { revision } = keeper.current();
    const gone: Change = {
      entity: 'positions',
      id: demoId('P0S', 1),
      field: '*',
      from: keeper.current().document.positions[0],
      to: null,
    };
    expect(await keeper.edit(edit(gone))).toMatchObject({
      ok: false,
      error: expect.arrayContaining([expect.objectContaining({ code: 'dangling' })]),
    });
    expect(keeper.current().revision).toBe(revision);
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

  it('keeps the show that was replaced', async () => {
    const keeper = await fresh();
    await keeper.edit(edit(legend('Ines close', 'Ines tight')));
    await keeper.replace({ ...corvaneHill(), show: { ...corvaneHill().show, name: 'Another night' } });
    expect(keeper.current().document.show.name).toBe('Another night');
    expect(keeper.replaced()?.buttons.find((one) => one.id === INES)?.legend).toBe('Ines tight');
  });

  it('refuses edits in words while the database is away, goes on with what it has, and starts from the local copy', async () => {
    const where = folder();
    const keeper = await open(where);
    await keeper.replace(corvaneHill());
    const away = openDatabase('postgresql://umbek@127.0.0.1:9/umbek');
    const cut = await ShowKeeper.open(away.db, where, null, ulid);
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
