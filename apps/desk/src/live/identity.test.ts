import { editorName, writeIdentity } from './identity';

describe('who edits count as', () => {
  it('is the person, or where nobody gave a name this browser alone, the same from its first second on', () => {
    const memory = new Map<string, string>();
    const localStorage = {
      getItem: (key: string) => memory.get(key) ?? null,
      setItem: (key: string, value: string) => memory.set(key, value),
    };
    const before = globalThis.window;
    Object.assign(globalThis, { window: { localStorage } });
    const first = editorName();
    expect(first).toMatch(/^Desk [A-Z0-9]{4}$/);
    expect(editorName()).toBe(first);
    writeIdentity({ station: 'Desk', person: 'Ada', brightness: 1 });
    expect(editorName()).toBe('Ada');
    Object.assign(globalThis, { window: before });
  });
});
