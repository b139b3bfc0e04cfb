import { corvaneHill } from '@umbek/demo';
import { PaperProvider } from 'react-native-paper';
import { act, create, type ReactTestRenderer } from 'react-test-renderer';
import { LiveStoreContext } from '../live/LiveContext';
import { LiveStore } from '../live/liveStore';
import { BenchStrip, type StripActs } from './BenchStrip';

const mockDrawn: string[] = [];
jest.mock('./BenchCap', () => ({
  BenchCap: ({ button }: { button: { legend: string } }) => {
    mockDrawn.push(button.legend);
    return null;
  },
}));
jest.mock('./DropStrip', () => ({
  DropStrip: ({ items }: { items: { key: string; node: unknown }[] }) => {
    const { createElement, Fragment } = jest.requireActual<typeof import('react')>('react');
    return items.map(({ key, node }) => createElement(Fragment, { key }, node as never));
  },
}));

const acts: StripActs = {
  key: () => false,
  tap: () => undefined,
  all: () => undefined,
  edit: () => undefined,
  add: () => undefined,
};
const none = new Map<string, string>();

describe('a strip on the Bench', () => {
  // What is shown is told to the engine after a moment; here is none.
  beforeEach(() => jest.useFakeTimers());
  afterEach(() => jest.useRealTimers());

  it('is drawn anew when one of its own buttons or what is open on it changed, and not with each edit of the show', () => {
    Object.assign(globalThis, { IS_REACT_ACT_ENVIRONMENT: true });
    const { strips, buttons } = corvaneHill();
    const [strip] = strips;
    if (strip === undefined) throw new Error('The demo has no strip.');
    const own = buttons.filter(({ stripId }) => stripId === strip.id);
    const store = new LiveStore('ws://test', () => ({ station: 'Bench', person: '' }));
    const shown = (of: typeof own, open?: string) => (
      <LiveStoreContext.Provider value={store}>
        <PaperProvider settings={{ icon: () => null }}>
          <BenchStrip
            strip={strip}
            buttons={of}
            columns={3}
            count={null}
            choosing={false}
            chosen={null}
            open={open}
            others={none}
            over={false}
            before={undefined}
            acts={acts}
          />
        </PaperProvider>
      </LiveStoreContext.Provider>
    );
    let tree: ReactTestRenderer | undefined;
    act(() => void (tree = create(shown(own))));
    expect(mockDrawn).toEqual(own.map(({ legend }) => legend));
    mockDrawn.length = 0;
    // Another list with the same buttons in it, as every edit makes one.
    act(() => tree?.update(shown([...own])));
    expect(mockDrawn).toEqual([]);
    act(() => tree?.update(shown(own.map((button, at) => (at === 1 ? { ...button, legend: 'Another' } : button)))));
    expect(mockDrawn).toContain('Another');
    mockDrawn.length = 0;
    act(() => tree?.update(shown(own, own[0]?.id)));
    expect(mockDrawn).not.toEqual([]);
    act(() => tree?.unmount());
  });
});
