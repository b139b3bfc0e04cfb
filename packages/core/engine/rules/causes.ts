import type { CommandDefinition, DeviceKind, Params } from '../../devices/index';
import { UNKNOWN } from '../../expression/index';
import { frameMs, type PlainValue } from '../../show/index';
import type { Cause, Journal, JournalEvent } from '../journal';
import type { Program } from '../program';
import type { StateBoard } from '../stateBoard';

/** So many runs, presses and edges are remembered; what is older stands in the as-run. */
const MOST_REMEMBERED = 5000;
/** Of each device so many commands. */
const MOST_SENT = 16;
/** A point that changes so long after a command that writes it, milliseconds, beside the length of what the command does, was changed by it. */
const ANSWERS_WITHIN_MS = 1500;

/** A trigger that fired on the way to something, and when: milliseconds of the engine's clock. */
export interface Fired {
  readonly trigger: string;
  readonly t: number;
}

/** What is known of a run once it has begun. */
export interface KnownRun {
  readonly runId: string;
  readonly name: string;
  readonly t: number;
  readonly cause: Cause;
  readonly buttonId: string | undefined;
  readonly macroId: string | undefined;
  /** Triggers that led to it, the first one first. */
  readonly chain: readonly Fired[];
}

/** What is known of a press. */
export interface KnownPress {
  readonly pressId: string;
  readonly t: number;
  readonly buttonId: string;
  readonly station: string;
  readonly person: string;
}

interface Sent {
  readonly commandId: string;
  readonly runId: string | undefined;
  readonly command: string;
  readonly params: Params;
  readonly t: number;
  /** Points that it may still change, with what they become by it, or null where that depends on what stood before; worked out when it is first asked. */
  writes: Map<string, PlainValue | null> | null;
  /** Until when what changes may be its doing, milliseconds. */
  readonly until: number;
}

/** What wrote a key: a command of a run, or a run itself; null: the device by itself, or somebody at it. */
export interface Writer {
  readonly runId: string | undefined;
  /** Undefined where a step set the value. */
  readonly command?: { readonly device: string; readonly command: string; readonly t: number };
}

/** The last change of a key. */
export interface KeyChange {
  readonly t: number;
  readonly value: PlainValue;
  readonly writer: Writer | null;
  /** It was not known before: what it is may have been so for long. */
  readonly first: boolean;
}

const NO_CHAIN: readonly Fired[] = [];

/**
 * Who caused what, from what stands in the journal anyway: press → run → command → point → trigger → run. A journal that writes down for itself
 * and passes everything on.
 */
export class Causes implements Journal {
  private readonly runs = new Map<string, KnownRun>();
  private readonly presses = new Map<string, KnownPress>();
  private readonly sent = new Map<string, Sent[]>();
  private readonly sets = new Map<string, { readonly runId: string | undefined; readonly t: number }>();
  private readonly changes = new Map<string, KeyChange>();
  /** The last run of each button and macro. */
  private readonly lastOf = new Map<string, string>();
  /** What led to the runs that a trigger starts now. */
  private readonly chains = new Map<string, readonly Fired[]>();

  constructor(
    private readonly journal: Journal,
    private readonly program: () => Program,
  ) {}

  append(event: JournalEvent): void {
    switch (event.kind) {
      case 'runStart': {
        const { runId, name, t, cause, buttonId, macroId } = event;
        remember(this.runs, runId, { runId, name, t, cause, buttonId, macroId, chain: this.chainOfCause(cause) });
        const of = buttonId ?? macroId;
        if (of !== undefined) this.lastOf.set(of, runId);
        break;
      }
      case 'press':
        if (event.phase === 'down') {
          const { pressId, t, buttonId, station, person } = event;
          remember(this.presses, pressId, { pressId, t, buttonId, station, person: person ?? '' });
        }
        break;
      case 'command': {
        const { commandId, runId, device, command, t } = event;
        const list = this.sent.get(device);
        const until = t + ANSWERS_WITHIN_MS + lastsFor(command.params, this.program().document.show.frameRate);
        const sent: Sent = { commandId, runId, ...command, t, writes: null, until };
        if (list === undefined) this.sent.set(device, [sent]);
        else if (list.push(sent) > MOST_SENT) list.shift();
        break;
      }
      case 'set':
        this.sets.set(event.key, { runId: event.runId, t: event.t });
        break;
      default:
    }
    this.journal.append(event);
  }

  /** What leads to the runs that a trigger is about to start. */
  fires(trigger: string, chain: readonly Fired[]): void {
    this.chains.set(trigger, chain);
  }

  /** Keys of the board that changed in one instant. */
  published(keys: ReadonlySet<string>, board: StateBoard, now: number): void {
    for (const key of keys) {
      const value = board.read(key);
      if (value === UNKNOWN || this.changes.get(key)?.value === value) continue;
      this.changes.set(key, {
        t: now,
        value,
        writer: this.writerOf(key, value, board, now),
        first: !this.changes.has(key),
      });
    }
  }

  run(runId: string): KnownRun | undefined {
    return this.runs.get(runId);
  }

  press(pressId: string): KnownPress | undefined {
    return this.presses.get(pressId);
  }

  /** The last run of a button or macro. */
  lastRun(id: string): KnownRun | undefined {
    return this.runs.get(this.lastOf.get(id) ?? '');
  }

  change(key: string): KeyChange | undefined {
    return this.changes.get(key);
  }

  /**
   * The point that a key is worked out from and that changed with it: whether a source is on air goes by what the switcher shows.
   * @returns the key itself where it is a point, and where nothing behind it is known
   */
  behind(key: string): string {
    if (!key.startsWith('onAir@') && !key.startsWith('onPreview@')) return key;
    const at = this.changes.get(key)?.t;
    if (at === undefined) return key;
    const program = this.program();
    for (const device of program.devices.values()) {
      const air = program.kindOf(device.key)?.airOf?.(device.settings);
      const point = air?.reads.find((name) => this.changes.get(`${device.key}.${name}`)?.t === at);
      if (point !== undefined) return `${device.key}.${point}`;
    }
    return key;
  }

  /** Triggers that led to what a key is now. A device that ends something by itself, or somebody at it, begins a chain anew. */
  chainTo(key: string): readonly Fired[] {
    const writer = this.changes.get(this.behind(key))?.writer;
    return writer?.runId === undefined ? NO_CHAIN : (this.runs.get(writer.runId)?.chain ?? NO_CHAIN);
  }

  private chainOfCause({ kind, id }: Cause): readonly Fired[] {
    switch (kind) {
      case 'trigger':
        return this.chains.get(id) ?? NO_CHAIN;
      case 'run':
      case 'steer':
        return this.runs.get(id)?.chain ?? NO_CHAIN;
      default:
        return NO_CHAIN;
    }
  }

  private writerOf(key: string, value: PlainValue, board: StateBoard, now: number): Writer | null {
    const set = this.sets.get(key);
    if (set !== undefined && set.t === now) return { runId: set.runId };
    const dot = key.indexOf('.');
    const device = key.slice(0, dot);
    const list = this.sent.get(device);
    if (dot < 0 || list === undefined) return null;
    const point = key.slice(dot + 1);
    for (let at = list.length - 1; at >= 0; at -= 1) {
      const sent = list[at];
      if (sent === undefined || now > sent.until) continue;
      sent.writes ??= this.writesOf(device, sent, board);
      const made = sent.writes.get(point);
      if (made === undefined || (made !== null && made !== value)) continue;
      // It changes each point once.
      sent.writes.delete(point);
      return { runId: sent.runId, command: { device, command: sent.command, t: sent.t } };
    }
    return null;
  }

  /** Points that a command can put to something. */
  private writesOf(device: string, { command, params }: Sent, board: StateBoard): Sent['writes'] & object {
    const kind = this.program().kindOf(device);
    const definition = kind === undefined ? undefined : definitionOf(kind, command);
    const writes = new Map<string, PlainValue | null>();
    const { effect, unsettles = [] } = definition ?? {};
    const made = effect?.makes(params, (name) => {
      const now = board.read(`${device}.${name}`);
      return now === UNKNOWN ? undefined : now;
    });
    // What a cut or a mix makes depends on what stood before: it is enough that it writes this point.
    for (const [point, value] of Object.entries(made ?? {}))
      writes.set(point, effect?.relative === true ? null : value);
    for (const point of unsettles) writes.set(point, null);
    return writes;
  }
}

function remember<T>(into: Map<string, T>, key: string, value: T): void {
  into.set(key, value);
  if (into.size <= MOST_REMEMBERED) return;
  for (const oldest of into.keys()) {
    into.delete(oldest);
    break;
  }
}

const definitionOf = (kind: DeviceKind, command: string): CommandDefinition | undefined =>
  kind.commands[command] ?? Object.values(kind.commands).find(({ sentAs }) => sentAs === command);

/** How long what a command does goes on, milliseconds: a mix, a caption that comes in. */
const lastsFor = ({ ms, frames }: Params, frameRate: number): number =>
  (typeof ms === 'number' ? ms : 0) + (typeof frames === 'number' ? frames * frameMs(frameRate) : 0);
