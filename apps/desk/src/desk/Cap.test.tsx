import { act, create } from 'react-test-renderer';
import { LiveStoreContext } from '../live/LiveContext';
import { LiveStore } from '../live/liveStore';
import { Cap } from './Cap';

const mockDrawn: string[] = [];
jest.mock('../caps/CapFace', () => ({
  CapFace: ({ legend }: { legend: string }) => {
    mockDrawn.push(legend);
    return null;
  },
}));

/** A socket that says what the test says. */
class HandSocket {
  static OPEN = 1;
  static last: HandSocket;
  readyState = 1;
  onopen: () => void = () => undefined;
  onmessage: (event: { data: string }) => void = () => undefined;
  onclose: () => void = () => undefined;
  constructor() {
    HandSocket.last = this;
  }
  send(): void {
    // Nobody listens.
  }
  close(): void {
    this.readyState = 3;
  }
}

const CAPS = 300;
const face = (sign: string | null) => ({ sign, lost: false, note: '' });
const run = (ended: boolean) => ({
  runId: 'r',
  name: 'Cap 7',
  buttonId: 'b7',
  step: 'Cut',
  leftMs: null,
  ...(ended ? { ended: { how: 'done' } } : {}),
});

describe('three hundred caps', () => {
  let store: LiveStore;
  const say = (message: object): Promise<void> =>
    act(async () => {
      HandSocket.last.onmessage({ data: JSON.stringify(message) });
      await Promise.resolve();
    });
  beforeEach(async () => {
    jest.useFakeTimers();
    Object.assign(globalThis, { WebSocket: HandSocket, IS_REACT_ACT_ENVIRONMENT: true });
    store = new LiveStore('ws://test', () => ({ station: 'Desk', person: '' }));
    store.open();
    HandSocket.last.onopen();
    await act(async () => {
      create(
        <LiveStoreContext.Provider value={store}>
          {Array.from({ length: CAPS }, (_, at) => (
            <Cap key={at} buttonId={`b${at}`} legend={`Cap ${at}`} note="" family="slate" />
          ))}
        </LiveStoreContext.Provider>,
      );
      await Promise.resolve();
    });
    await say({
      type: 'snapshot',
      epoch: 1,
      n: 1,
      revision: 1,
      points: {},
      faces: Object.fromEntries(Array.from({ length: CAPS }, (_, at) => [`b${at}`, face(null)])),
      runs: [],
      ended: [],
      devices: [],
    });
    mockDrawn.length = 0;
  });
  afterEach(() => {
    act(() => store.close());
    jest.useRealTimers();
  });

  it('are drawn where a change concerns them, and nowhere else', async () => {
    await say({
      type: 'changes',
      epoch: 1,
      n: 2,
      points: { 'switcher.program': 4 },
      faces: { b3: face('onAir'), b4: face(null) },
    });
    // The cap that came on air and the one that was told anew: of 300, at most ten may be drawn.
    expect(mockDrawn.length).toBeLessThanOrEqual(2);
    expect(mockDrawn).toContain('Cap 3');
  });

  it('do not draw because something runs: only the cap of its button does', async () => {
    await say({ type: 'run', run: run(false) });
    await say({ type: 'run', run: run(true) });
    expect(new Set(mockDrawn)).toEqual(new Set(['Cap 7']));
    await say({ type: 'changes', epoch: 1, n: 3, devices: [], revision: 2, edits: [] });
    expect(new Set(mockDrawn)).toEqual(new Set(['Cap 7']));
  });

  it('all draw when contact is lost, with their lamps out', async () => {
    await act(async () => {
      HandSocket.last.onclose();
      await Promise.resolve();
    });
    expect(mockDrawn.length).toBe(CAPS);
  });
});
