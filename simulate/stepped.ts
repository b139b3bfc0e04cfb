import type { RunView } from '@umbek/core/engine';
import type { FileEntry } from '../apps/server/journal/entry';
import type { Chance } from './chance';
import type { SimMachine } from './machine';
import type { SimClock } from './processes';

/** It happens in two of seven shows. */
export const isStepped = (seed: number): boolean => seed % 7 < 2;

const RUNS = 4;
/** Who steps; no client of this name connects. */
const STATION = 'bench';

/**
 * Somebody steps through a macro at the Bench: each step waits for a touch. Now and then a touch comes twice, or for a step that has begun already;
 * engines die meanwhile. No step ever begins that nobody touched.
 */
export class Stepping {
  private readonly runs = new Set<string>();
  /** Steps that were touched, by run and path. */
  private readonly touched = new Set<string>();
  private readonly began = new Map<string, number>();
  /** So many steps began by a touch. */
  steps = 0;

  constructor(
    private readonly clock: SimClock,
    private readonly machine: SimMachine,
    private readonly macroId: string,
    private readonly say: (what: string) => void,
  ) {}

  play(chance: Chance, end: number, tell: (words: string) => void): void {
    for (let count = 0; count < RUNS; count += 1)
      this.clock.at(this.clock.now() + 2000 + chance.next() * (end - this.clock.now() - 40_000), () => {
        const { process, host } = this.machine;
        const pressId = chance.ulid();
        process?.reach(() => {
          const answer = host?.press({
            pressId,
            buttonId: this.macroId,
            phase: 'down',
            station: STATION,
            stepped: true,
          });
          if (answer?.accepted !== true || answer.runId === null) return;
          tell(`somebody steps through ${answer.runId}`);
          this.runs.add(answer.runId);
          this.goOn(answer.runId, chance);
        });
      });
  }

  private goOn(runId: string, chance: Chance): void {
    this.clock.at(this.clock.now() + chance.whole(80, 2500), () => {
      const { host, process } = this.machine;
      // It ended with its engine, or by itself.
      if (host === null || process?.alive !== true) return;
      const run: RunView | undefined = host.engine.runner.list().find((candidate) => candidate.runId === runId);
      if (run === undefined) return;
      const path = run.next?.path;
      if (path !== undefined) {
        this.touched.add(`${runId} ${path}`);
        for (let copy = chance.is(0.3) ? 2 : 1; copy > 0; copy -= 1)
          process.reach(() => void host.engine.runner.next(runId, path));
      }
      this.goOn(runId, chance);
    });
  }

  /** What the engine tells of itself, as it leaves it. */
  record(entry: FileEntry): void {
    if (entry.kind !== 'step' || !this.runs.has(entry.runId)) return;
    const key = `${entry.runId} ${entry.path}`;
    // The line that runs the macro itself, and what only tidies up, wait for nobody.
    if (!entry.path.includes('.macro.') || entry.path.includes('stopSteps')) return;
    if (!this.touched.has(key)) this.say(`step ${entry.path} of ${entry.runId} began, and nobody had touched it`);
    const times = (this.began.get(key) ?? 0) + 1;
    this.began.set(key, times);
    this.steps += 1;
    if (times > 1) this.say(`step ${entry.path} of ${entry.runId} began ${times} times`);
  }
}
