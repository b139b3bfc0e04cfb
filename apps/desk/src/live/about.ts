import type { LiveAbout } from '@umbek/protocol';
import { canFillScreen, runsByItself } from './fullScreen';
import type { LiveStore } from './liveStore';
import { canKeepScreenOn } from './screenOn';

/** What of the Battery Status API is used here; some browsers tell nothing. */
interface Battery extends EventTarget {
  readonly level: number;
  readonly charging: boolean;
}
interface BatteryNavigator {
  getBattery?(): Promise<Battery>;
}

function lacksNow(): LiveAbout['lacks'] {
  const touched = window.matchMedia('(pointer: coarse)').matches;
  return [
    ...(canKeepScreenOn() ? [] : (['screenOn'] as const)),
    // What is pointed at with a mouse needs no tick.
    ...(touched && typeof navigator.vibrate !== 'function' ? (['touch'] as const) : []),
    ...(canFillScreen() || runsByItself() ? [] : (['fullScreen'] as const)),
    ...('requestMIDIAccess' in navigator ? [] : (['midi'] as const)),
  ];
}

/** Tells the engine what the machine of this page is like, each time that it changes: whoever looks after the stations sees an empty battery in time. */
export function followAbout(store: Pick<LiveStore, 'tellAbout'>): () => void {
  const ending = new AbortController();
  const { signal } = ending;
  store.tellAbout({ type: 'about', lacks: lacksNow() });
  const { getBattery } = navigator as BatteryNavigator;
  void getBattery?.call(navigator).then(
    (battery) => {
      let lastSent = '';
      const tell = (): void => {
        if (signal.aborted) return;
        const now = { percent: Math.round(battery.level * 100), charging: battery.charging };
        if (JSON.stringify(now) === lastSent) return;
        lastSent = JSON.stringify(now);
        store.tellAbout({ type: 'about', battery: now, lacks: lacksNow() });
      };
      tell();
      for (const what of ['levelchange', 'chargingchange']) battery.addEventListener(what, tell, { signal });
    },
    () => undefined,
  );
  return () => ending.abort();
}
