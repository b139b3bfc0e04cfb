import type { MidiOn } from '@umbek/core/show';

/** What comes back this soon after it was sent is an echo of a port that is looped through, and no finger. Milliseconds. */
const ECHO_MS = 10;
/** Names of devices on which something was pressed. */
const KEY = 'umbek.midiLamps';
const MOST_NAMES = 20;

/**
 * How bright the lamp of a key shines, as the velocity of its note or the value of its controller, 0 to 127. Keys with colours tell these steps
 * apart; those without are lit by any of them.
 */
export function lampValue(sign: string | null | undefined, lost: boolean): number {
  if (lost || sign === null || sign === undefined) return 0;
  return sign === 'onAir' ? 127 : sign === 'onPreview' ? 96 : 64;
}

const bytesOf = ({ message, channel, number }: MidiOn, value: number): number[] => [
  (message === 'note' ? 0x90 : 0xb0) | (channel - 1),
  number,
  value,
];

/** The lamps of MIDI keys: each is told when it changes, and all of them when a device comes. */
export class MidiLamps {
  private readonly shown = new Map<string, { readonly on: MidiOn; value: number }>();
  private readonly sentAt = new Map<string, number>();

  constructor(
    private readonly send: (bytes: readonly number[]) => void,
    private readonly now: () => number,
  ) {}

  set(on: MidiOn, value: number): void {
    const key = keyOf(on);
    if (this.shown.get(key)?.value === value) return;
    this.shown.set(key, { on, value });
    this.tell(on, value);
  }

  /** Whatever is not among these has no button any more, and goes dark. */
  only(keys: readonly MidiOn[]): void {
    const kept = new Set(keys.map(keyOf));
    for (const [key, { on, value }] of this.shown)
      if (!kept.has(key)) {
        this.shown.delete(key);
        if (value !== 0) this.tell(on, 0);
      }
  }

  /** A device was plugged in: it knows nothing yet. */
  again(): void {
    for (const { on, value } of this.shown.values()) this.tell(on, value);
  }

  /** Nobody tells these keys any more: none shows what may not be true. */
  dark(): void {
    for (const { on, value } of this.shown.values()) if (value !== 0) this.tell(on, 0);
    this.shown.clear();
  }

  /** Whether what was heard as pressed is what was just sent, come back through a loop. */
  isEcho(on: MidiOn): boolean {
    return this.now() - (this.sentAt.get(keyOf(on)) ?? -Infinity) < ECHO_MS;
  }

  private tell(on: MidiOn, value: number): void {
    if (value > 0) this.sentAt.set(keyOf(on), this.now());
    this.send(bytesOf(on, value));
  }
}

const keyOf = ({ message, channel, number }: MidiOn): string => `${message} ${channel} ${number}`;

/** Devices on which something was pressed here, also before a restart: only they are told of lamps. Whatever else is plugged in is not ours. */
export class PressedDevices {
  readonly names: Set<string>;

  constructor() {
    let kept: unknown = [];
    try {
      kept = JSON.parse(window.localStorage.getItem(KEY) ?? '[]');
    } catch {
      // A browser that keeps nothing learns it anew.
    }
    this.names = new Set(
      Array.isArray(kept) ? kept.filter((candidate) => typeof candidate === 'string').slice(0, MOST_NAMES) : [],
    );
  }

  /** @returns whether it is a new one */
  add(name: string): boolean {
    if (this.names.has(name) || this.names.size >= MOST_NAMES) return false;
    this.names.add(name);
    try {
      window.localStorage.setItem(KEY, JSON.stringify([...this.names]));
    } catch {
      // Then it is learned anew after a restart.
    }
    return true;
  }
}
