/** A switch that the browser keeps: on, until somebody says otherwise. */
export interface KeptSwitch {
  isOn(): boolean;
  set(on: boolean): void;
  /** Told when it changes in this page. */
  readonly changed: EventTarget;
}

/** @param key under which the browser keeps it */
export function keptSwitch(key: string): KeptSwitch {
  const changed = new EventTarget();
  return {
    changed,
    isOn: () => {
      try {
        return window.localStorage.getItem(key) !== 'no';
      } catch {
        return true;
      }
    },
    set: (on) => {
      try {
        window.localStorage.setItem(key, on ? 'yes' : 'no');
      } catch {
        // A browser that keeps nothing asks anew at the next start.
      }
      changed.dispatchEvent(new Event('changed'));
    },
  };
}
