import type { AppError, PlainValue } from '../show/index';
import type { DeviceCommand } from '../devices/index';

/** How a command to a device ended. `lost` and `late` mean: effect unknown until the device's points are read back. */
export type Outcome = 'done' | 'sent' | 'refused' | 'lost' | 'late';

interface Common {
  /** Milliseconds of the engine's clock. */
  readonly t: number;
  readonly runId?: string;
}

/**
 * One line of the as-run, or of a rehearsal's predicted timeline: they are the same type, so that they can be held side by side.
 */
export type JournalEvent =
  | (Common & {
      readonly kind: 'press';
      readonly pressId: string;
      readonly phase: 'down' | 'up';
      readonly buttonId: string;
      readonly station: string;
      readonly person?: string | undefined;
      /** For a release that nobody made: what ended the press. */
      readonly why?: string | undefined;
    })
  | (Common & {
      readonly kind: 'refusal';
      readonly pressId: string;
      readonly phase: string;
      readonly buttonId: string;
      readonly station: string;
      readonly error: AppError;
    })
  | (Common & {
      readonly kind: 'runStart';
      readonly runId: string;
      readonly name: string;
      readonly buttonId?: string | undefined;
      readonly macroId?: string | undefined;
      readonly cause: string;
    })
  | (Common & {
      readonly kind: 'step';
      readonly runId: string;
      readonly stepId: string;
      readonly path: string;
      readonly words: string;
    })
  | (Common & {
      readonly kind: 'stepEnd';
      readonly runId: string;
      readonly stepId: string;
      readonly path: string;
      readonly ok: boolean;
      readonly why?: string;
    })
  | (Common & {
      readonly kind: 'command';
      readonly commandId: string;
      readonly device: string;
      readonly command: DeviceCommand;
    })
  | (Common & { readonly kind: 'accepted'; readonly commandId: string; readonly device: string })
  | (Common & {
      readonly kind: 'outcome';
      readonly commandId: string;
      readonly device: string;
      readonly outcome: Outcome;
      readonly why?: string;
    })
  | (Common & { readonly kind: 'settled'; readonly commandId: string; readonly device: string; readonly words: string })
  | (Common & { readonly kind: 'set'; readonly key: string; readonly value: PlainValue })
  | (Common & {
      readonly kind: 'runEnd';
      readonly runId: string;
      readonly how: 'done' | 'failed' | 'stopped' | 'interrupted';
      readonly why?: string | undefined;
    })
  | (Common & { readonly kind: 'device'; readonly device: string; readonly state: string; readonly words: string })
  | (Common & { readonly kind: 'stopAll'; readonly station: string; readonly runs: number; readonly holds: number })
  | (Common & { readonly kind: 'engine'; readonly words: string });

/** Where the engine tells what happened. An event is given away: whoever takes it may write number and time of day into it. */
export interface Journal {
  append(event: JournalEvent): void;
}
