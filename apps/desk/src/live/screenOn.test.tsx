import { act, create, type ReactTestRenderer } from 'react-test-renderer';
import { screenStaysOn, useScreenOn } from './screenOn';

function Page() {
  useScreenOn();
  return null;
}

describe('the screen', () => {
  let asked = 0;
  let released = 0;
  let stored: string | null = null;
  let visible: 'visible' | 'hidden' = 'visible';
  const document = Object.defineProperty(new EventTarget(), 'visibilityState', { get: () => visible });
  beforeEach(() => {
    [asked, released, stored, visible] = [0, 0, null, 'visible'];
    Object.assign(globalThis, { IS_REACT_ACT_ENVIRONMENT: true, document });
    Object.defineProperty(globalThis, 'window', {
      configurable: true,
      value: { localStorage: { getItem: () => stored, setItem: (_key: string, value: string) => (stored = value) } },
    });
    Object.defineProperty(globalThis, 'navigator', {
      configurable: true,
      value: {
        wakeLock: {
          request: async () => {
            asked += 1;
            const lock = { released: false, release: async () => void ((lock.released = true), (released += 1)) };
            return lock;
          },
        },
      },
    });
  });
  const settled = () => act(async () => void (await new Promise((next) => setTimeout(next, 0))));
  const shown = async (): Promise<ReactTestRenderer> => {
    let page: ReactTestRenderer | undefined;
    await act(async () => void (page = create(<Page />)));
    await settled();
    if (!page) throw new Error('no page');
    return page;
  };

  it('is kept on while the page is in sight, let go when it is not, and asked for again when it comes back', async () => {
    const page = await shown();
    expect([asked, released]).toEqual([1, 0]);
    visible = 'hidden';
    document.dispatchEvent(new Event('visibilitychange'));
    await settled();
    expect([asked, released]).toEqual([1, 1]);
    visible = 'visible';
    document.dispatchEvent(new Event('visibilitychange'));
    await settled();
    expect([asked, released]).toEqual([2, 1]);
    await act(async () => page.unmount());
    await settled();
    expect([asked, released]).toEqual([2, 2]);
  });

  it('goes by the system where somebody switched it off', async () => {
    stored = 'no';
    const page = await shown();
    expect(asked).toBe(0);
    await act(async () => screenStaysOn.set(true));
    await settled();
    expect([asked, stored]).toEqual([1, 'yes']);
    await act(async () => page.unmount());
  });
});
