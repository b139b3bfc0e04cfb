import type { AppError, PlainValue, Step } from '../show/index';
import type { DeviceCommand } from '../devices/index';

/** How a command to a device ended. `lost` and `late` mean: effect unknown until the device's points are read back. */
export type Outcome = 'done' | 'sent' | 'refused' | 'lost' | 'late';

/** What made a thing happen. `id` names the press, run, trigger or station; fields, so that nothing has to read prose. */
export interface Cause {
  readonly kind: 'press' | 'release' | 'steer' | 'run' | 'trigger' | 'station' | 'engine' | 'rehearsal';
  readonly id: string;
}

export type RunEnding = 'done' | 'failed' | 'stopped' | 'interrupted';

interface Common {
  /** Milliseconds of the engine's clock. */
  readonly t: number;
  readonly runId?: string;
}

interface PressEvent extends Common {
  readonly kind: 'press';
  readonly pressId: string;
  readonly phase: 'down' | 'up';
  readonly buttonId: string;
  readonly station: string;
  readonly person?: string | undefined;
  /** The shortcut that made it, by its id. */
  readonly shortcut?: string | undefined;
  /** For a release that nobody made: what ended the press. */
  readonly why?: string | undefined;
}

interface RefusalEvent extends Common {
  readonly kind: 'refusal';
  readonly pressId: string;
  readonly phase: string;
  readonly buttonId: string;
  readonly station: string;
  readonly error: AppError;
}

interface RunStartEvent extends Common {
  readonly kind: 'runStart';
  readonly runId: string;
  readonly name: string;
  readonly buttonId?: string | undefined;
  readonly macroId?: string | undefined;
  readonly cause: Cause;
}

interface StepEvent extends Common {
  readonly kind: 'step';
  readonly runId: string;
  readonly stepId: string;
  readonly path: string;
  readonly words: string;
}

interface StepEndEvent extends Common {
  readonly kind: 'stepEnd';
  readonly runId: string;
  readonly stepId: string;
  readonly path: string;
  readonly ok: boolean;
  readonly why?: string;
}

interface CommandEventEntry extends Common {
  readonly kind: 'command';
  readonly commandId: string;
  readonly device: string;
  readonly command: DeviceCommand;
}

interface OutcomeEvent extends Common {
  readonly kind: 'outcome';
  readonly commandId: string;
  readonly device: string;
  readonly outcome: Outcome;
  readonly why?: string;
}

/** What a *while* rule holds, as the next engine is told of it. */
export interface ClaimRecord {
  readonly trigger: string;
  /** Name of the rule. */
  readonly name: string;
  /** The rule has left; what it kept is still to be taken out. */
  readonly leaving?: true | undefined;
  readonly parts: readonly {
    readonly step: Step;
    /** Board keys with what they become by it. */
    readonly made: readonly (readonly [key: string, value: PlainValue])[];
    readonly device: string | null;
    /** What brings back what stood there before. */
    readonly base: readonly Step[];
    /** What rules had put there before and may still stand there; left out: nothing. */
    readonly over?: readonly (readonly (readonly [key: string, value: PlainValue])[])[] | undefined;
    /** Somebody put something else there, which stands. */
    readonly changed: boolean;
    /** What its expressions said when it was sent last, as JSON; left out where it has none. */
    readonly given?: string | undefined;
  }[];
}

interface TriggerEvent extends Common {
  readonly kind: 'trigger';
  /** Id of the rule. */
  readonly trigger: string;
  readonly name: string;
  /** `notFired`: its event came, and something spoke against it. `holds`, `left`, `changed`: of a *while* rule. */
  readonly what: 'fired' | 'notFired' | 'holds' | 'left' | 'changed' | 'armed' | 'disarmed';
  readonly words: string;
  /** Board key whose change was the event. */
  readonly key?: string | undefined;
  /** Who armed, disarmed or fired it by hand. */
  readonly station?: string | undefined;
  readonly person?: string | undefined;
}

interface RunEndEvent extends Common {
  readonly kind: 'runEnd';
  readonly runId: string;
  readonly how: RunEnding;
  readonly why?: string | undefined;
}

/** One line of the as-run, or of a rehearsal's predicted timeline: they are the same type, so that they can be held side by side. */
export type JournalEvent =
  | PressEvent
  | RefusalEvent
  | RunStartEvent
  | StepEvent
  | StepEndEvent
  | CommandEventEntry
  | (Common & { readonly kind: 'accepted'; readonly commandId: string; readonly device: string })
  | OutcomeEvent
  | (Common & { readonly kind: 'settled'; readonly commandId: string; readonly device: string; readonly words: string })
  /** A show value or a selection of a link group got another content; null: it has none any more. */
  | (Common & { readonly kind: 'set'; readonly key: string; readonly value: PlainValue | null })
  | TriggerEvent
  /** What a *while* rule holds from now on; null: nothing any more. */
  | (Common & { readonly kind: 'claim'; readonly trigger: string; readonly claim: ClaimRecord | null })
  | RunEndEvent
  | (Common & { readonly kind: 'device'; readonly device: string; readonly state: string; readonly words: string })
  | (Common & { readonly kind: 'stopAll'; readonly station: string; readonly runs: number; readonly holds: number })
  /** An act of the engineer: values that go back to their start do so. */
  | (Common & { readonly kind: 'showBegin'; readonly station: string; readonly person?: string | undefined })
  /** Who was let in, sent away, or may do something else now; `station` is who did it. */
  | (Common & {
      readonly kind: 'access';
      readonly station: string;
      readonly person?: string | undefined;
      readonly words: string;
    })
  | (Common & { readonly kind: 'engine'; readonly words: string });

/** Where the engine tells what happened. An event is given away: whoever takes it may write number and time of day into it. */
export interface Journal {
  append(event: JournalEvent): void;
}
