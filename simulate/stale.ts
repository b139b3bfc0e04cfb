import { corvaneHill, memoriesOf } from '@umbek/demo';
import { DEVICE_KINDS, type DeviceCommand, switcher } from '@umbek/core/devices';
import { VirtualClock } from '@umbek/core/rehearse';
import type { PlainValue } from '@umbek/core/show';
import { HttpDevice, OscStandin, PtzHeadStandin } from '@umbek/standins';
import type { Driver, DriverContext } from '../apps/server/drivers/context';
import { HttpDriver } from '../apps/server/drivers/httpDriver';
import { OscDriver } from '../apps/server/drivers/oscDriver';
import { ViscaDriver } from '../apps/server/drivers/viscaDriver';
import type { Chance } from './chance';

/** What happens to one message: lost, doubled, or delayed past so many later ones of its direction. */
export type Fate = 'lose' | 'double' | number;
export type Schedule = ReadonlyMap<number, Fate>;

const FATES: readonly Fate[] = ['lose', 'double', 1, 2, 3, 4];
/** Messages after the command that a schedule may meet. */
const MESSAGES = 14;
/** One that is delayed goes at the latest after so long: nothing may follow it. */
const LATEST_MS = 700;
const PLAYED_MS = 4000;

/** One wire with a command that makes a point unknown, and the truth about that point. */
export interface StaleCase {
  readonly name: string;
  readonly command: DeviceCommand;
  readonly point: string;
  /** Plant: the value from before is told again, 5 ms after the command. */
  readonly trusting?: boolean;
  open(clock: VirtualClock, carry: Carry, context: DriverContext): Opened;
}

interface Opened {
  readonly driver: Driver;
  /** The point as the device itself has it, and whether it has carried the command out. */
  truth(): { readonly value: unknown; readonly taken: boolean };
}
type Carry = (to: 'device' | 'engine', deliver: () => void, lost?: () => void) => void;

const osc: StaleCase = {
  name: 'OSC: mix, mixing',
  command: { command: 'mix', params: { frames: 25 } },
  point: 'mixing',
  open(clock, carry, context) {
    const device = new OscStandin(
      switcher,
      { frameRate: 50 },
      {
        clock,
        refusing: () => false,
        send: (bytes) => carry('engine', () => driver.receive(bytes)),
      },
    );
    const driver = new OscDriver(
      switcher,
      { ...context, transmit: (bytes) => carry('device', () => device.receive(bytes, 'engine')) },
      'e1',
    );
    return { driver, truth: () => taken(device.report(), 'mix', 'mixing') };
  },
};

const http: StaleCase = {
  name: 'HTTP: start, streaming',
  command: { command: 'start', params: {} },
  point: 'streaming',
  open(clock, carry, context) {
    const kind = DEVICE_KINDS.streamEncoder ?? switcher;
    let stream: ((data: string) => void) | null = null;
    const device = new HttpDevice(
      kind,
      {},
      clock,
      () => false,
      (data) => carry('engine', () => stream?.(data)),
    );
    const driver = new HttpDriver(
      kind,
      {
        ...context,
        ask: ({ method, path, body, limitMs }, then) => {
          let over = false;
          const answer: typeof then = (httpAnswer) => {
            if (over) return;
            over = true;
            then(httpAnswer);
          };
          clock.at(clock.now() + limitMs, () => answer({ failed: 'lost' }));
          carry('device', () =>
            device.ask(method, path, JSON.stringify(body ?? {}), 'engine', ({ status, body: said }) =>
              carry('engine', () => answer({ status, body: JSON.parse(String(said)) as unknown })),
            ),
          );
        },
        listen: (_path, events) => {
          stream = (data) => events.event(data);
          clock.at(clock.now(), () => events.opened());
          return () => {
            stream = null;
          };
        },
      },
      'e1',
    );
    return { driver, truth: () => taken(device.report(), 'start', 'streaming') };
  },
};

const head = { ...corvaneHill().devices[0]?.settings, memories: memoriesOf('deskCam') };
const visca = (repeats: boolean): StaleCase => ({
  name: `VISCA: recall, travelling${repeats ? ', a head that answers again' : ''}`,
  command: { command: 'recall', params: { position: 'inesClose', number: 1, pan: -12.45, tilt: 3, zoom: 4.2 } },
  point: 'travelling',
  open(clock, carry, context) {
    const device = new PtzHeadStandin(head, repeats, {
      clock,
      refusing: () => false,
      send: (bytes) => carry('engine', () => driver.receive(bytes)),
    });
    const driver = new ViscaDriver(head, {
      ...context,
      transmit: (bytes) => carry('device', () => device.receive(bytes, 'engine')),
    });
    return { driver, truth: () => taken(device.report(), 'recall', 'travelling') };
  },
});

function taken(
  report: { points: Readonly<Record<string, unknown>>; effects: readonly { command: string }[] },
  command: string,
  point: string,
) {
  return { value: report.points[point], taken: report.effects.some((effect) => effect.command === command) };
}

export const WIRES: readonly StaleCase[] = [osc, http, visca(false), visca(true)];

/** Plays one schedule. @returns what was told too soon, or null */
export function playSchedule(staleCase: StaleCase, schedule: Schedule): string | null {
  const clock = new VirtualClock();
  let armed = false;
  let count = 0;
  const held: { to: string; after: number; release: () => void }[] = [];
  const carry: Carry = (to, deliver) => {
    const fate = armed ? schedule.get(count) : undefined;
    if (armed) count += 1;
    if (typeof fate === 'number') {
      let gone = false;
      const release = (): void => {
        if (gone) return;
        gone = true;
        clock.at(clock.now() + 0.1, deliver);
      };
      held.push({ to, after: fate, release });
      clock.at(clock.now() + LATEST_MS, release);
    } else if (fate !== 'lose') {
      clock.at(clock.now() + 0.5, deliver);
      if (fate === 'double') clock.at(clock.now() + 1.5, deliver);
    }
    if (typeof fate === 'number') return;
    for (const waiting of held) {
      if (waiting.to !== to || waiting.after < 0) continue;
      waiting.after -= 1;
      if (waiting.after < 0) waiting.release();
    }
  };
  let unknown = false;
  let early: string | null = null;
  /** Every value that the device itself has had since it took the command. */
  const true_ = new Set<unknown>();
  const sample = (): void => {
    const { value, taken: done } = opened.truth();
    if (done) true_.add(value);
  };
  let before: PlainValue | undefined;
  const news = {
    points: (changes: Readonly<Record<string, PlainValue>>) => {
      const value = changes[staleCase.point];
      if (value === undefined) return;
      if (!armed) before = value;
      if (!unknown) return;
      sample();
      if (!true_.has(value))
        early ??= `${staleCase.point} was told as ${String(value)} at ${clock.now().toFixed(1)} ms, and had not been so since the command`;
    },
    reached: (yes: boolean) => {
      if (!yes) unknown = false;
    },
  };
  const opened: Opened = staleCase.open(clock, carry, {
    clock,
    title: 'It',
    news,
    guard: () => undefined,
    placeAt: () => '',
  });
  opened.driver.open();
  clock.runTo(1000);
  armed = true;
  unknown = true;
  opened.driver.send('c1', staleCase.command, () => undefined);
  if (staleCase.trusting === true)
    clock.at(clock.now() + 5, () => before !== undefined && news.points({ [staleCase.point]: before }));
  for (const end = clock.now() + PLAYED_MS; clock.now() < end;) {
    clock.runTo(clock.now() + 2);
    sample();
  }
  // One that the device never took changed nothing: whatever it says of itself is true.
  return opened.truth().taken ? early : null;
}

/** Every message with every fate, and pairs of them. @param all every pair, in place of each third one */
export function exhaustive(
  staleCase: StaleCase,
  all = false,
): { readonly played: number; readonly early: readonly string[] } {
  const early: string[] = [];
  let played = 0;
  const singles = Array.from({ length: MESSAGES }, (_, index) => FATES.map((fate) => [index, fate] as const)).flat();
  const play = (...faults: (readonly [number, Fate])[]): void => {
    played += 1;
    const found = playSchedule(staleCase, new Map(faults));
    if (found !== null && early.length < 5) early.push(`${JSON.stringify(faults)}: ${found}`);
  };
  for (const single of singles) play(single);
  // Pairs among the first messages, where the command, its answer and the first question stand.
  const first = singles.filter(([index]) => index < 7);
  for (const [at, single] of first.entries())
    for (const other of first.slice(at + 1))
      if (other[0] !== single[0] && (all || (at + other[0]) % 3 === 0)) play(single, other);
  return { played, early };
}

/** Draws schedules of three to five faults. */
export const random =
  (_one: StaleCase) =>
  (chance: Chance): Schedule =>
    new Map(
      Array.from({ length: chance.whole(3, 5) }, () => [chance.whole(0, MESSAGES + 6), chance.pick(FATES)] as const),
    );

export function schedules(
  chance: Chance,
  draw: (chance: Chance) => Schedule,
  count: number,
  staleCase: StaleCase,
): string[] {
  const early: string[] = [];
  for (let index = 0; index < count; index += 1) {
    const schedule = draw(chance);
    const found = playSchedule(staleCase, schedule);
    if (found !== null && early.length < 5) early.push(`${JSON.stringify([...schedule])}: ${found}`);
  }
  return early;
}
