import { type ClaimRecord, type JournalEvent, leavingOf, type PressAnswer } from '@umbek/core/engine';
import type { PlainValue } from '@umbek/core/show';
import type { CheckpointEvent, FileEntry } from './entry';

/** Answers are kept for so long: a client that asks again does so within seconds. */
const ANSWERS_MS = 60_000;
const MOST_ANSWERS = 5000;
const MOST_INTERRUPTED = 50;

/** A press that was answered, so that it is not served twice. */
export interface KeptAnswer {
  readonly pressId: string;
  readonly buttonId: string;
  readonly station: string;
  readonly phase: 'down' | 'up';
  readonly answer: PressAnswer;
}

/** What the next engine is given of the ones before it. */
export interface LeftBehind {
  readonly values: readonly (readonly [key: string, value: PlainValue])[];
  readonly answers: readonly KeptAnswer[];
  /** Runs that were going on when it died. */
  readonly interrupted: readonly OpenRun[];
  /** What *while* rules held. */
  readonly claims: readonly ClaimRecord[];
}

export const NOTHING_LEFT: LeftBehind = { values: [], answers: [], interrupted: [], claims: [] };

/** A run that has begun and not ended. */
export interface OpenRun {
  readonly runId: string;
  readonly name: string;
  readonly buttonId?: string | undefined;
}

interface OpenCommand {
  readonly commandId: string;
  readonly device: string;
  readonly runId?: string;
}

/** What the as-run comes to: values, what is open, who was answered. Fed with every entry in order; the next engine begins with it. */
export class Fold {
  private readonly values = new Map<string, PlainValue>();
  private readonly runs = new Map<string, OpenRun>();
  /** Runs that the engine before left open. */
  private interrupted: OpenRun[] = [];
  private readonly commands = new Map<string, OpenCommand>();
  private readonly answers = new Map<string, { readonly at: number; readonly kept: KeptAnswer }>();
  private readonly claims = new Map<string, ClaimRecord>();
  private readonly runOfPress = new Map<string, string>();
  /** The engine's time in the latest entry. */
  private t = 0;

  add(entry: FileEntry, now: number): void {
    this.t = entry.t;
    switch (entry.kind) {
      case 'checkpoint':
        this.values.clear();
        for (const [key, value] of entry.values) this.values.set(key, value);
        this.claims.clear();
        for (const claim of entry.claims ?? [])
          this.claims.set(claim.leaving === true ? leavingOf(claim.trigger) : claim.trigger, claim);
        this.runs.clear();
        for (const run of entry.openRuns) this.runs.set(...openRun(run));
        this.commands.clear();
        for (const command of entry.openCommands) this.commands.set(command.commandId, command);
        break;
      case 'set':
        if (entry.value === null) this.values.delete(entry.key);
        else this.values.set(entry.key, entry.value);
        break;
      case 'claim':
        if (entry.claim === null) this.claims.delete(entry.trigger);
        else this.claims.set(entry.trigger, entry.claim);
        break;
      case 'runStart':
        // An engine that ran something has told its pages of what was left before.
        this.interrupted = [];
        this.runs.set(entry.runId, { runId: entry.runId, name: entry.name, buttonId: entry.buttonId });
        if (entry.cause.kind === 'press') this.pressRan(entry.cause.id, entry.runId);
        break;
      case 'runEnd': {
        const open = this.runs.get(entry.runId);
        if (entry.how === 'interrupted' && open !== undefined && this.interrupted.length < MOST_INTERRUPTED)
          this.interrupted.push(open);
        this.runs.delete(entry.runId);
        break;
      }
      case 'command': {
        const { commandId, device, runId } = entry;
        this.commands.set(commandId, { commandId, device, ...(runId === undefined ? {} : { runId }) });
        break;
      }
      case 'outcome':
        this.commands.delete(entry.commandId);
        break;
      case 'refusal':
        if (entry.phase === 'down')
          this.keep({ ...pick(entry), phase: 'down', answer: { accepted: false, error: entry.error } }, now);
        break;
      case 'press': {
        const runId = this.runOfPress.get(entry.pressId) ?? null;
        this.keep({ ...pick(entry), phase: entry.phase, answer: { accepted: true, runId } }, now);
        break;
      }
      default:
    }
  }

  leftBehind(): LeftBehind {
    return {
      values: [...this.values],
      answers: [...this.answers.values()].map(({ kept }) => kept),
      interrupted: this.interrupted,
      claims: [...this.claims.values()],
    };
  }

  checkpoint(): CheckpointEvent {
    return {
      kind: 'checkpoint',
      t: this.t,
      values: [...this.values],
      claims: [...this.claims.values()],
      openRuns: [...this.runs.values()],
      openCommands: [...this.commands.values()],
    };
  }

  /** Entries that close what an engine that died left open: commands of unknown effect, interrupted runs. They are never sent or begun again. */
  closings(): JournalEvent[] {
    const lost = [...this.commands.values()].map(({ commandId, device, runId }): JournalEvent => ({
      kind: 'outcome',
      t: this.t,
      commandId,
      device,
      ...(runId === undefined ? {} : { runId }),
      outcome: 'lost',
      why: 'The engine ended before an answer came; its effect is unknown.',
    }));
    const interrupted = [...this.runs.keys()].map((runId): JournalEvent => ({
      kind: 'runEnd',
      t: this.t,
      runId,
      how: 'interrupted',
      why: 'The engine ended before it was over.',
    }));
    return [...lost, ...interrupted];
  }

  private pressRan(pressId: string, runId: string): void {
    this.runOfPress.set(pressId, runId);
    const known = this.answers.get(`${pressId} down`);
    if (known)
      this.answers.set(`${pressId} down`, { ...known, kept: { ...known.kept, answer: { accepted: true, runId } } });
  }

  private keep(kept: KeptAnswer, now: number): void {
    this.answers.set(`${kept.pressId} ${kept.phase}`, { at: now, kept });
    for (const [key, { at }] of this.answers) {
      if (now - at <= ANSWERS_MS && this.answers.size <= MOST_ANSWERS) break;
      this.answers.delete(key);
    }
    for (const id of this.runOfPress.keys()) {
      if (this.runOfPress.size <= MOST_ANSWERS) break;
      this.runOfPress.delete(id);
    }
  }
}

const pick = (entry: { readonly pressId: string; readonly buttonId: string; readonly station: string }) => ({
  pressId: entry.pressId,
  buttonId: entry.buttonId,
  station: entry.station,
});

/** Checkpoints of older files name their open runs by id alone. */
const openRun = (run: string | OpenRun): [string, OpenRun] =>
  typeof run === 'string' ? [run, { runId: run, name: 'A run' }] : [run.runId, run];
