import type { DeviceCommand } from '../devices/index';
import type { PlainValue } from '../show/index';
import type { Cancel } from './clock';
import type { Outcome } from './journal';

/** What becomes of a command: the device took it, then how it ended. `accepted` may be left out; an outcome comes exactly once. */
export type CommandEvent =
  | { readonly type: 'accepted' }
  | { readonly type: 'outcome'; readonly outcome: Outcome; readonly why?: string }
  /** After `lost` or `late`: what reading the device back has shown. */
  | { readonly type: 'settled'; readonly words: string };

/** One device as the engine sees it: a real driver, or a model in rehearsal. Never calls back from inside `send`. */
export interface DevicePort {
  /** @param together others of this instant follow: a wire that can keeps it until `leave`, and sends all as one */
  send(commandId: string, command: DeviceCommand, onEvent: (event: CommandEvent) => void, together?: boolean): Cancel;
  /** What was kept goes out. What nobody lets go out goes at the end of the instant. */
  leave?(): void;
}

/** What a port tells the engine without being asked. */
export interface DeviceNews {
  /** Points as the device reports them. */
  points(changes: Readonly<Record<string, PlainValue>>): void;
  /** The device is heard again, or has fallen silent (its points are then unknown). */
  reached(yes: boolean, words: string): void;
}
