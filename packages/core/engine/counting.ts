import { type Expression, type ReadKey, UNKNOWN } from '../expression/index';
import { pointsOf } from '../devices/index';
import type { ShowDocument } from '../show/index';
import type { Cancel, Clock } from './clock';
import type { Program } from './program';
import type { StateBoard } from './stateBoard';

/** Behind a moment at which a limit is passed, so that it surely is, milliseconds. */
const AFTER_MS = 0.01;

/** Two numbers that are nearer than this are the same, seconds. */
const HAIR = 1e-6;

interface Counter {
  readonly by: 1 | -1;
  /** Board key of the switch that it counts under. */
  readonly runs: string;
}

/** What counts in a show, by board keys. */
interface Tables {
  readonly profiles: ShowDocument['profiles'];
  readonly counters: ReadonlyMap<string, Counter>;
  /** Counters by the switch that they count under. */
  readonly under: ReadonlyMap<string, readonly string[]>;
  /** Counters and their switches: of nearly everything that changes none is. */
  readonly watched: ReadonlySet<string>;
}

/** By the devices of a show: every rehearsal begins an engine, and devices change seldom. */
const tablesBefore = new WeakMap<ShowDocument['devices'], Tables>();

function tablesOf(document: ShowDocument): Tables {
  const { devices, profiles } = document;
  const known = tablesBefore.get(devices);
  if (known?.profiles === profiles) return known;
  const counters = new Map<string, Counter>();
  const under = new Map<string, string[]>();
  for (const device of devices)
    for (const [point, { ticks }] of Object.entries(pointsOf(device, document))) {
      if (ticks === undefined) continue;
      const [key, runs] = [`${device.key}.${point}`, `${device.key}.${ticks.while}`];
      counters.set(key, { by: ticks.by, runs });
      under.set(runs, [...(under.get(runs) ?? []), key]);
    }
  const tables: Tables = { profiles, counters, under, watched: new Set([...counters.keys(), ...under.keys()]) };
  tablesBefore.set(devices, tables);
  return tables;
}

interface Tick {
  readonly value: number;
  /** Engine time at which it became this by one second; null: it jumped there, or stood still since. */
  readonly t: number | null;
}

/**
 * Points that count whole seconds, such as what is left of a clip: value, rate and since when. At the moment at which such a point goes from one second
 * to the next it is exactly that second, and from there on it goes by the clock until it is told again. Conditions that ask for parts of a second
 * ("0.5 s left"), or for over and under, are worked out from that; all others go by what the device says alone.
 */
export class Counting {
  private tables: Tables;
  private readonly ticks = new Map<string, Tick>();

  constructor(
    private readonly clock: Clock,
    private readonly board: StateBoard,
    program: Program,
  ) {
    this.tables = tablesOf(program.document);
  }

  /** Goes over to an edited show. */
  follow({ document }: Program): void {
    this.tables = tablesOf(document);
  }

  /** Keys that changed in one instant. */
  published(keys: ReadonlySet<string>): void {
    const { watched, counters, under } = this.tables;
    if (watched.size === 0) return;
    for (const key of keys) {
      if (!watched.has(key)) continue;
      if (counters.has(key)) {
        const tick = this.tickOf(key);
        if (tick === null) this.ticks.delete(key);
        else this.ticks.set(key, tick);
      }
      // What stood still meanwhile is somewhere between two seconds.
      for (const other of under.get(key) ?? []) {
        const known = this.ticks.get(other);
        if (known !== undefined && !keys.has(other)) this.ticks.set(other, { ...known, t: null });
      }
    }
  }

  /** Whether a condition has to be worked out between the seconds as well. */
  concerns(expression: Expression): boolean {
    return expression.limits.length > 0 && expression.reads.some((key) => this.tables.counters.has(key));
  }

  /** Reads counters as they are at this moment, between two seconds too. */
  reader(read: ReadKey): ReadKey {
    return (key) => {
      const counter = this.tables.counters.get(key);
      if (counter === undefined) return read(key);
      const tick = this.tickOf(key);
      if (tick === null || tick.t === null || this.board.read(counter.runs) !== true) return read(key);
      // It is told again within a second: what comes late is not run ahead of.
      const gone = Math.min(1, Math.max(0, (this.clock.now() - tick.t) / 1000));
      return tick.value + counter.by * gone;
    };
  }

  /** Looks again at the next moment at which one of the counters passes a number that the condition names. */
  wakeAtNext(expression: Expression, wake: () => void): Cancel {
    const now = this.clock.now();
    let next = Infinity;
    for (const key of expression.reads) {
      const counter = this.tables.counters.get(key);
      const tick = counter === undefined ? null : this.tickOf(key);
      if (counter === undefined || tick === null || tick.t === null || this.board.read(counter.runs) !== true) continue;
      for (const limit of expression.limits) {
        const passed = (limit - tick.value) * counter.by;
        const at = tick.t + passed * 1000 + AFTER_MS;
        if (passed >= 0 && passed < 1 && at > now && at < next) next = at;
      }
    }
    return next === Infinity ? () => undefined : this.clock.at(next, wake);
  }

  /** The last tick of a counter; what the board has just been told may not be written down yet. */
  private tickOf(key: string): Tick | null {
    const value = this.board.read(key);
    const known = this.ticks.get(key);
    if (value === UNKNOWN || typeof value !== 'number') return null;
    if (known?.value === value) return known;
    const by = this.tables.counters.get(key)?.by ?? 0;
    // Seconds that stand beside a fraction are no whole numbers.
    const stepped = known !== undefined && Math.abs(value - known.value - by) < HAIR;
    return { value, t: stepped ? this.clock.now() : null };
  }
}
