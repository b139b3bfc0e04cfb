import { useEffect } from 'react';
import { keptSwitch } from './kept';
import { listen } from './listen';

/** Whether this browser can be kept from letting the screen go dark; on a page that is not served securely it cannot (W3C Screen Wake Lock). */
export const canKeepScreenOn = (): boolean => 'wakeLock' in navigator;

/** Whether the screen is to stay on while this page is in sight. */
export const screenStaysOn = keptSwitch('umbek.screenOn');

/** Keeps the screen on while the page is in sight: a phone that goes dark in the middle of a show is one touch too late. */
export function useScreenOn(): void {
  useEffect(() => {
    if (!canKeepScreenOn()) return undefined;
    let lock: WakeLockSentinel | null = null;
    let over = false;
    const follow = async (): Promise<void> => {
      const wanted = !over && screenStaysOn.isOn() && document.visibilityState === 'visible';
      if (!wanted) {
        const held = lock;
        lock = null;
        await held?.release().catch(() => undefined);
      } else if (lock === null || lock.released) {
        // Refused on an empty battery: then the screen goes by the system's own setting.
        lock = await navigator.wakeLock.request('screen').catch(() => null);
        // Meanwhile it may no longer be wanted.
        if (lock !== null) await follow();
      }
    };
    const again = (): void => void follow();
    again();
    // The browser lets go of it whenever the page goes out of sight.
    const stops = [listen(document, { visibilitychange: again }), listen(screenStaysOn.changed, { changed: again })];
    return () => {
      over = true;
      for (const stop of stops) stop();
      again();
    };
  }, []);
}
