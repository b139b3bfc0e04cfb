import { corvaneHill, demoId } from '@umbek/demo';
import { compileProgram } from '@umbek/core/engine';
import { rehearse, VirtualClock } from '@umbek/core/rehearse';
import type { Macro, ShowDocument, Step } from '@umbek/core/show';
import { type BenchRow, quantile, row } from './result';

const STEPS = 2000;
const HOUR_MS = 3_600_000;
const ROUNDS = 160;
/** As many first rounds are left out: what is measured is the code, not its being compiled by the machine. */
const WARMING = 80;

function longMacro(): Macro {
  // 1,200 pauses of 3 s make the hour; 800 commands stand between them.
  const steps: Step[] = Array.from({ length: STEPS }, (_, index): Step => {
    const id = `s${index}`;
    if (index % 5 < 3) return { id, onFail: 'stop', kind: 'pause', length: { ms: 3000 } };
    if (index % 5 === 3)
      return {
        id,
        onFail: 'stop',
        kind: 'command',
        device: 'switcher',
        command: 'preview',
        params: { source: index % 2 === 0 ? 'lawnCam' : 'domeCam' },
      };
    return {
      id,
      onFail: 'stop',
      kind: 'command',
      device: 'captions',
      command: 'nameIn',
      params: { name: 'Ines Halloran', title: 'Host', ms: 400 },
    };
  });
  return {
    id: demoId('MAC', 99),
    number: 99,
    name: 'An hour',
    folder: '',
    params: [],
    steps,
    stopSteps: [],
    atStop: 'steps',
    again: 'ignore',
    owns: [],
  };
}

/** Rehearsing a macro of an hour and 2,000 steps, beside as many empty events on the same virtual clock. */
export function benchRehearsal(): BenchRow[] {
  const show: ShowDocument = { ...corvaneHill(), macros: [longMacro()] };
  const compiled = compileProgram(show, 1);
  const [real, empty]: number[][] = [[], []];
  let events = 0;
  for (let round = 0; round < ROUNDS; round += 1) {
    const began = performance.now();
    const result = rehearse({ program: compiled, what: { macroId: demoId('MAC', 99) } });
    const middle = performance.now();
    if (!result.ok || result.value.durationMs < HOUR_MS) throw new Error('The rehearsal did not run to its end.');
    events = result.value.events;
    const clock = new VirtualClock();
    let left = events;
    const next = (): void => {
      left -= 1;
      if (left > 0) clock.at(clock.now() + 1, next);
    };
    clock.at(0, next);
    while (clock.runNext());
    const end = performance.now();
    if (round < WARMING) continue;
    real?.push(middle - began);
    empty?.push(end - middle);
  }
  const [took, bare] = [quantile(real ?? [], 0.5), quantile(empty ?? [], 0.5)];
  return [
    row('Rehearsal of a 60-minute, 2,000-step macro', 's', took / 1000, 0.5, 1),
    row(
      `The same, for one of its ${events} events, beside an empty event`,
      'µs',
      (took * 1000) / events,
      (bare * 1000) / events,
      60,
    ),
  ];
}
