import {
  FEWEST_RUNS,
  type Learned,
  type LearnedLimits,
  plausibleRun,
  PtzSettings,
  type TravelRun,
  travelMs,
} from '@umbek/core/devices';
import type { Device } from '@umbek/core/show';
import type { Helper } from '../helper/helper';
import type { KeptRun, TravelStore } from './travelStore';

/** From so many of the latest recalls of a head it is learned. */
const RUNS_KEPT = 40;

/** One recall beside what was predicted of it. */
export interface TravelLine {
  readonly at: string;
  readonly from: TravelRun['from'];
  readonly to: TravelRun['to'];
  readonly measuredMs: number;
  readonly declaredMs: number;
  /** Null while too little is known. */
  readonly learnedMs: number | null;
}

interface Head {
  runs: KeptRun[];
  /** Recalls that cannot have gone as the head told them: nothing is learned from those. */
  unbelieved: number;
  /** What the stored runs were learned with; another setting needs another fit. */
  settings: Record<string, unknown>;
  learned: Learned | null;
  /** The device's settings with the learned limits in them; one object as long as nothing changes. */
  merged: Record<string, unknown> | null;
}

/** Keeps the real recalls of every head, here and in the store, and what they teach about its limits. The fitting itself is the helper's. */
export class TravelKeeper {
  private readonly heads = new Map<string, Head>();

  constructor(
    private readonly store: TravelStore,
    private readonly helper: Helper,
    private readonly now: () => Date,
    /** Rehearsals may count with something else from here on. */
    private readonly onLearned: () => void,
  ) {}

  /** Reads what earlier days have left. A store that is away leaves nothing to begin with. */
  async follow(devices: readonly Device[]): Promise<void> {
    for (const device of devices) {
      if (device.kind !== 'ptzHead') continue;
      const head = this.heads.get(device.key);
      if (head) {
        if (JSON.stringify(head.settings) !== JSON.stringify(device.settings)) {
          head.settings = device.settings;
          this.learn(device.key, head);
        }
        continue;
      }
      const fresh: Head = { runs: [], unbelieved: 0, settings: device.settings, learned: null, merged: null };
      this.heads.set(device.key, fresh);
      const stored = await this.store.latest(device.key, RUNS_KEPT).catch(() => []);
      const believed = stored.filter(({ run }) => plausibleRun(run));
      fresh.unbelieved += stored.length - believed.length;
      fresh.runs = [...believed, ...fresh.runs].slice(-RUNS_KEPT);
      this.learn(device.key, fresh);
    }
  }

  /** A recall that really happened, with every reply heard. */
  add(device: string, run: TravelRun): void {
    const head = this.heads.get(device);
    if (!head) return;
    if (!plausibleRun(run)) {
      head.unbelieved += 1;
      return;
    }
    const at = this.now();
    head.runs = [...head.runs, { at, run }].slice(-RUNS_KEPT);
    // A lost row teaches a little less, no more.
    void this.store.add(device, at, run).catch(() => undefined);
    this.learn(device, head);
  }

  /** Forgets what was learned of a head: it was replaced, or mended. */
  async forget(device: string): Promise<void> {
    const head = this.heads.get(device);
    if (head) Object.assign(head, { runs: [], unbelieved: 0, learned: null, merged: null });
    this.onLearned();
    await this.store.forget(device);
  }

  /** Every head that is known better than declared, for rehearsals. */
  all(): ReadonlyMap<string, Record<string, unknown>> {
    return new Map([...this.heads].flatMap(([key, { merged }]) => (merged === null ? [] : [[key, merged]])));
  }

  report(device: Device): {
    learned: Learned | null;
    limits: LearnedLimits | null;
    lines: TravelLine[];
    unbelieved: number;
  } {
    const declared = PtzSettings.safeParse(device.settings);
    const head = this.heads.get(device.key);
    if (!declared.success || !head) return { learned: null, limits: null, lines: [], unbelieved: 0 };
    const { learned, unbelieved } = head;
    const better = learned === null ? null : { ...declared.data, ...learned.limits };
    const lines = head.runs.map(({ at, run }): TravelLine => {
      const { from, to, doneMs } = run;
      return {
        at: at.toISOString(),
        from,
        to,
        measuredMs: Math.round(doneMs),
        declaredMs: Math.round(travelMs(from, to, declared.data)),
        learnedMs: better === null ? null : Math.round(travelMs(from, to, better)),
      };
    });
    return { learned, limits: learned?.limits ?? null, lines, unbelieved };
  }

  private learn(device: string, head: Head): void {
    if (head.runs.length < FEWEST_RUNS) return;
    const { settings } = head;
    this.helper.ask('learn', { runs: head.runs.map(({ run }) => run), settings }).then(
      (learned) => {
        // The head may have been set up otherwise meanwhile, and is then learned anew.
        if (this.heads.get(device) !== head || head.settings !== settings) return;
        const merged = learned === null ? null : { ...settings, ...learned.limits };
        head.learned = learned;
        head.merged = merged !== null && PtzSettings.safeParse(merged).success ? merged : null;
        this.onLearned();
      },
      // What cannot be learned leaves what is declared.
      () => undefined,
    );
  }
}
