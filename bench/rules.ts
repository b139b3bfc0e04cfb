import { corvaneHill, demoId } from '@umbek/demo';
import { compileProgram, Engine } from '@umbek/core/engine';
import { rehearse, VirtualClock } from '@umbek/core/rehearse';
import type { ShowDocument, Trigger } from '@umbek/core/show';
import { type BenchRow, row } from './result';

const DEVICES = 100;
const CHANGES_A_SECOND = 50;
const CONDITIONS = 1000;
const SECONDS = 10;
const PRESSES = 10_000;
const EVENING_MS = 8 * 3_600_000;

const trigger = (number: number, partial: Pick<Trigger, 'on' | 'steps'>): Trigger => ({
  id: demoId('TRG', 1000 + number),
  name: `Rule ${number}`,
  group: '',
  kind: 'when',
  onlyIf: '',
  delayMs: 0,
  minGapMs: 0,
  again: 'startOver',
  atStart: 'armed',
  order: `a${String(number).padStart(6, '0')}`,
  ...partial,
});

/** A hundred sound mixers, and conditions on their levels that seldom turn. */
function busyShow(conditions: number): ShowDocument {
  const show = corvaneHill();
  const devices = Array.from({ length: DEVICES }, (_, at) => ({
    id: demoId('DEV', 2000 + at),
    key: `mixer${at}`,
    name: `Mixer ${at}`,
    kind: 'soundMixer',
    host: '127.0.0.1',
    port: 30_000 + at,
    room: '',
    settings: {},
    order: `z${String(at).padStart(4, '0')}`,
  }));
  const triggers = Array.from({ length: conditions }, (_, at) =>
    trigger(at, {
      on: {
        kind: 'turns',
        condition: `mixer${at % DEVICES}.ch${(Math.floor(at / DEVICES) % 4) + 1}Level > ${-5 + Math.floor(at / 400)}`,
        to: true,
      },
      steps: [{ id: 's', onFail: 'stop', kind: 'set', target: 'value.client', to: `rule ${at}` }],
    }),
  );
  return { ...show, devices: [...show.devices, ...devices], triggers };
}

/** Milliseconds of the thread for so many seconds of changes. */
function timeOf(conditions: number): number {
  const clock = new VirtualClock();
  const engine = new Engine({
    clock,
    journal: { append: () => undefined },
    program: compileProgram(busyShow(conditions), 1),
    newId: () => 'x',
  });
  const news = Array.from({ length: DEVICES }, (_, at) => engine.newsOf(`mixer${at}`));
  for (const deviceNews of news) deviceNews.reached(true, 'here');
  const play = (seconds: number): void => {
    for (let step = 0; step < seconds * CHANGES_A_SECOND; step += 1) {
      // Each device tells one of its points at a time, and stays below what the conditions ask but once in a thousand.
      for (const [at, deviceNews] of news.entries())
        deviceNews.points({
          [`ch${(step % 4) + 1}Level`]: (step * 7 + at) % 1000 === 0 ? -1 : -60 + ((step * 13 + at) % 50),
        });
      clock.runTo(clock.now() + 1000 / CHANGES_A_SECOND);
    }
  };
  play(2);
  const began = performance.now();
  play(SECONDS);
  return performance.now() - began;
}

/** What a show does by itself costs a share of a core, and an evening of it is rehearsed in a moment. */
export function benchRules(): BenchRow[] {
  const [without, withAll]: number[][] = [[], []];
  for (let round = 0; round < 5; round += 1) {
    without?.push(timeOf(0));
    withAll?.push(timeOf(CONDITIONS));
  }
  const share = (ms: number[] | undefined): number => (Math.min(...(ms ?? [])) / (SECONDS * 1000)) * 100;
  const show = corvaneHill();
  const program = compileProgram(show, 1);
  const pressed = show.buttons.filter(({ mode, id }) => mode === 'press' && program.faultOf(id) === undefined);
  const presses = Array.from({ length: PRESSES }, (_, at) => ({
    atMs: (EVENING_MS / PRESSES) * at,
    buttonId: pressed[(at * 7) % pressed.length]?.id ?? '',
  }));
  const began = performance.now();
  const evening = rehearse({ program, what: { presses, untilMs: EVENING_MS } });
  const took = (performance.now() - began) / 1000;
  if (!evening.ok || evening.value.durationMs < EVENING_MS * 0.9)
    throw new Error('The evening did not run to its end.');
  return [
    row(
      '1,000 conditions on 100 devices × 50 points a second, added: points of a core',
      '%',
      share(withAll) - share(without),
      10,
      1,
    ),
    row('the same, conditions and points in all: share of a core', '%', share(withAll), 25, 1),
    row('an evening of 8 hours and 10,000 presses, rehearsed', 's', took, 5, 1),
  ];
}
