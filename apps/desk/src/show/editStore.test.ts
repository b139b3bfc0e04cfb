import { changed, made, removed } from '@umbek/core/changes';
import { corvaneHill, demoId } from '@umbek/demo';
import { applyEdit, type Edit, type ShowDocument } from '@umbek/core/show';
import { EditStore } from './editStore';

/** A server of the test's own: holds a show, answers edits, can be away or refuse. */
class HandServer {
  document: ShowDocument = corvaneHill();
  revision = 1;
  away = false;
  readonly taken: Edit[] = [];
  refuse: ((edit: Edit) => object | null) | null = null;
  faults: object[] = [];

  readonly call = (path: string, body?: unknown): Promise<Response> => {
    if (this.away) return Promise.reject(new TypeError('away'));
    if (path === '/api/show') return Promise.resolve(answer(200, { revision: this.revision, ...this.document }));
    if (path === '/api/undo')
      return Promise.resolve(answer(200, { label: 'Something', kept: ['name of Main was changed since.'] }));
    const edit = body as Edit;
    const refusal = this.refuse?.(edit) ?? null;
    if (refusal) return Promise.resolve(answer(409, refusal));
    const applied = applyEdit(this.document, edit);
    if (!applied.ok) return Promise.resolve(answer(400, applied.error[0] ?? {}));
    this.document = applied.value;
    this.taken.push(edit);
    return Promise.resolve(answer(200, { revision: (this.revision += 1), faults: this.faults }));
  };
}
const answer = (status: number, body: object): Response =>
  ({ ok: status < 400, status, json: () => Promise.resolve(body) }) as Response;
const settle = async (): Promise<void> => {
  for (let turn = 0; turn < 20; turn += 1) await Promise.resolve();
};
const name = (store: EditStore): string | undefined => store.getState().document?.panels[0]?.name;
const panel = corvaneHill().panels[0] ?? { id: '', name: '', order: '' };

async function opened() {
  const server = new HandServer();
  const store = new EditStore(
    () => 'Ada',
    () => Promise.resolve(applyEdit),
    server.call,
    server.call,
  );
  store.wake();
  await store.load();
  return { server, store };
}

describe('the edit store', () => {
  it('loads nothing until a place asks for the show', async () => {
    const server = new HandServer();
    const store = new EditStore(
      () => 'Ada',
      () => Promise.resolve(applyEdit),
      server.call,
      server.call,
    );
    store.heard(1);
    await settle();
    expect(store.getState().document).toBeNull();
    store.wake();
    await settle();
    expect(name(store)).toBe(panel.name);
  });

  it('tells of another show once for each edit: that it was stored is no other show, whatever else is said meanwhile', async () => {
    const { store } = await opened();
    const shows: unknown[] = [];
    let times = 0;
    store.subscribe(() => {
      times += 1;
      if (shows.at(-1) !== store.getState().document) shows.push(store.getState().document);
    });
    store.edit('Name', [changed('panels', panel, 'name', 'First')]);
    // A second one, and words that are told, while the first is on its way.
    store.edit('Name', [{ ...changed('panels', panel, 'name', 'Second'), from: 'First' }]);
    store.tell('Nothing to paste.', true);
    await settle();
    expect([name(store), store.getState().saved, store.getState().waiting]).toEqual(['Second', 2, 0]);
    // Two edits made, words, two answers.
    expect([shows.length, times]).toEqual([2, 5]);
  });

  it('fetches what works edits in before the show, and asks again when it does not come', async () => {
    const server = new HandServer();
    let there = false;
    const store = new EditStore(
      () => 'Ada',
      () => (there ? Promise.resolve(applyEdit) : Promise.reject(new TypeError('away'))),
      server.call,
      server.call,
    );
    store.wake();
    await store.load();
    expect(store.getState()).toMatchObject({ document: null, failed: true });
    there = true;
    await store.load();
    store.edit('Name', [changed('panels', panel, 'name', 'First')]);
    expect(name(store)).toBe('First');
  });

  it('shows an edit at once and sends it with who made it', async () => {
    const { server, store } = await opened();
    store.edit('Name', [changed('panels', panel, 'name', 'First')]);
    expect([name(store), store.getState().waiting]).toEqual(['First', 1]);
    await settle();
    expect([server.taken[0]?.by, name(store), store.getState().waiting, store.getState().revision]).toEqual([
      'Ada',
      'First',
      0,
      2,
    ]);
  });

  it('keeps edits in order while the engine is away, and sends them when it is back', async () => {
    jest.useFakeTimers();
    const { server, store } = await opened();
    server.away = true;
    store.edit('One', [changed('panels', panel, 'name', 'First')]);
    store.edit('Two', [changed('panels', { ...panel, name: 'First' }, 'name', 'Second')]);
    await settle();
    expect(store.getState()).toMatchObject({ kept: 'engine', waiting: 2 });
    expect(name(store)).toBe('Second');
    server.away = false;
    await jest.advanceTimersByTimeAsync(1100);
    expect(server.taken.map((edit) => edit.label)).toEqual(['One', 'Two']);
    expect(store.getState()).toMatchObject({ kept: null, waiting: 0 });
    jest.useRealTimers();
  });

  it('tells a conflict with both values, and puts its own after all when asked to', async () => {
    const { server, store } = await opened();
    let reported = false;
    server.refuse = () => {
      if (reported) return null;
      reported = true;
      server.document = {
        ...server.document,
        panels: server.document.panels.map((item) => (item.id === panel.id ? { ...item, name: 'Theirs' } : item)),
      };
      server.revision += 1;
      return {
        code: 'conflict',
        message: 'Changed.',
        mend: 'Decide.',
        path: 'changes.0.from',
        newer: 'Theirs',
        others: [],
      };
    };
    store.edit('Name', [changed('panels', panel, 'name', 'Mine')]);
    await settle();
    expect(store.getState().conflict?.fields).toEqual([
      { change: { entity: 'panels', id: panel.id, field: 'name', from: 'Main', to: 'Mine' }, newer: 'Theirs' },
    ]);
    expect(name(store)).toBe('Theirs');
    store.decide(true);
    await settle();
    expect(server.document.panels[0]?.name).toBe('Mine');
  });

  it('knows why an entry that it changed does not do what it says, until that is mended', async () => {
    const { server, store } = await opened();
    const button = store.getState().document?.buttons[0];
    if (!button) throw new Error('The demo has no buttons.');
    server.faults = [{ message: 'There is no device x.', mend: 'Choose one.', at: { id: button.id } }];
    store.edit('Steps', [changed('buttons', button, 'steps', [])]);
    await settle();
    expect([...store.getState().faults]).toEqual([[button.id, 'There is no device x. Choose one.']]);
    server.faults = [];
    store.edit('Legend', [changed('buttons', button, 'legend', 'Mended')]);
    await settle();
    expect(store.getState().faults.size).toBe(0);
  });

  it('takes a refused edit off again and tells why', async () => {
    const { store } = await opened();
    store.edit('Name', [changed('panels', panel, 'name', '')]);
    expect(name(store)).toBe('Main');
    await settle();
    expect(store.getState().notice).toMatchObject({ bad: true });
    expect(name(store)).toBe('Main');
  });

  it('makes and removes whole entries, and loads what others changed', async () => {
    const { server, store } = await opened();
    const added = { id: demoId('PAN', 9), name: 'New', pages: [], order: 'z' };
    store.edit('Add', [made('panels', added)]);
    await settle();
    expect(store.getState().document?.panels).toHaveLength(corvaneHill().panels.length + 1);
    store.edit('Remove', [removed('panels', added)]);
    await settle();
    expect(server.document.panels).toHaveLength(corvaneHill().panels.length);
    server.document = { ...server.document, panels: [] };
    server.revision = 40;
    store.heard(40);
    await settle();
    expect(store.getState()).toMatchObject({ revision: 40, document: { panels: [] } });
  });

  it('follows edits that were told without loading the show, and loads it when one is missing', async () => {
    const { server, store } = await opened();
    const { revision } = store.getState();
    const renamed = (to: string, from: string) => ({
      entity: 'panels' as const,
      id: panel.id,
      field: 'name',
      from,
      to,
    });
    store.heard(revision + 2, [
      { revision: revision + 1, changes: [renamed('One', panel.name)] },
      { revision: revision + 2, changes: [renamed('Two', 'One')] },
    ]);
    expect(store.getState()).toMatchObject({
      revision: revision + 2,
      document: { panels: expect.arrayContaining([expect.objectContaining({ id: panel.id, name: 'Two' })]) },
    });
    server.document = { ...server.document, panels: [{ ...panel, pages: [], name: 'As it is' }] };
    server.revision = revision + 4;
    store.heard(revision + 4, [{ revision: revision + 4, changes: [renamed('Three', 'Two')] }]);
    await settle();
    expect(store.getState()).toMatchObject({ revision: revision + 4, document: { panels: [{ name: 'As it is' }] } });
  });

  it('says what an undo left alone', async () => {
    const { store } = await opened();
    await store.undo('undo');
    expect(store.getState().notice?.words).toBe('Undone: Something. Left as it is: name of Main was changed since.');
  });

  it('waits while the database is away, and takes no edit for refused', async () => {
    jest.useFakeTimers();
    const { server, store } = await opened();
    server.refuse = () => ({ code: 'database-away', message: 'The database is away.', mend: 'Try again.' });
    store.edit('Name', [changed('panels', panel, 'name', 'First')]);
    await jest.advanceTimersByTimeAsync(10);
    expect([store.getState().kept, store.getState().notice, name(store)]).toEqual(['database', null, 'First']);
    server.refuse = null;
    await jest.advanceTimersByTimeAsync(1100);
    expect([store.getState().kept, server.document.panels[0]?.name]).toEqual([null, 'First']);
    jest.useRealTimers();
  });

  it('keeps edits over a reload of the page, and sends them then', async () => {
    const memory = new Map<string, string>();
    const sessionStorage = {
      getItem: (key: string) => memory.get(key) ?? null,
      setItem: (key: string, value: string) => memory.set(key, value),
      removeItem: (key: string) => memory.delete(key),
    };
    const before = globalThis.window;
    Object.assign(globalThis, { window: { crypto: globalThis.crypto, sessionStorage } });
    const { server, store } = await opened();
    server.away = true;
    store.edit('Name', [changed('panels', panel, 'name', 'First')]);
    await settle();
    server.away = false;
    const next = new EditStore(
      () => 'Ada',
      () => Promise.resolve(applyEdit),
      server.call,
      server.call,
    );
    expect(next.getState().waiting).toBe(1);
    for (let turn = 0; turn < 5; turn += 1) await settle();
    expect([server.document.panels[0]?.name, memory.size]).toEqual(['First', 0]);
    Object.assign(globalThis, { window: before });
  });

  it('puts several conflicts one by one, and loses none', async () => {
    const { server, store } = await opened();
    server.refuse = () => ({
      code: 'conflict',
      path: 'changes.0.field',
      newer: 'Theirs',
      message: 'Changed.',
      mend: '',
    });
    store.edit('One', [changed('panels', panel, 'name', 'First')]);
    store.edit('Two', [changed('panels', panel, 'order', 'b')]);
    for (let turn = 0; turn < 5; turn += 1) await settle();
    const asked = (): string | undefined => store.getState().conflict?.edit.label;
    expect(asked()).toBe('One');
    store.decide(false);
    expect(asked()).toBe('Two');
    store.decide(false);
    expect(asked()).toBeUndefined();
  });

  it('tells a page whose field somebody else has changed right after it', async () => {
    const { server, store } = await opened();
    store.edit('Name', [changed('panels', panel, 'name', 'First')]);
    for (let turn = 0; turn < 5; turn += 1) await settle();
    expect(server.revision).toBe(2);
    store.heard(3, [{ revision: 3, changes: [changed('panels', { ...panel, name: 'First' }, 'name', 'Theirs')] }]);
    expect(store.getState().notice?.words).toBe('Another station changed the name after you. It is “Theirs” now.');
  });
});
