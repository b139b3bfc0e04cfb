import fc from 'fast-check';
import { ModelPort, VirtualClock } from '../rehearse/index';
import type { Button, PlainValue, Step } from '../show/index';
import { Engine } from './engine';
import { button, command, programOf, testShow } from './testShow';

const DEVICES = ['switcher', 'captions', 'sound', 'lawnScreen', 'exchange'] as const;
/** Points that tell of the way, and texts of what is not up. */
const ASIDE = /setUp$|Stage$|Level$|Open$|transition|nameText|nameTitle|countLabel|\.count$|input\d+Name/;
const SOURCES = ['deskCam', 'lawnCam', 'domeCam', 'roofCam', 'slides'];

const source = fc.constantFrom(...SOURCES);
const step: fc.Arbitrary<(id: string) => Step> = fc.oneof(
  source.map((of) => (id: string) => command(id, 'switcher', 'preview', { source: of })),
  source.map((of) => (id: string) => command(id, 'switcher', 'program', { source: of })),
  fc.constant((id: string) => command(id, 'switcher', 'cut')),
  fc.constant((id: string) => command(id, 'switcher', 'mix', { frames: 10 })),
  fc.boolean().map((on) => (id: string) => command(id, 'switcher', 'keyer', { keyer: 2, on })),
  source.map((of) => (id: string) => command(id, 'switcher', 'aux', { output: 1, source: of })),
  fc
    .constantFrom('Wen Zhao', 'Obi Adeyemi')
    .map((name) => (id: string) => command(id, 'captions', 'nameIn', { name, ms: 100 })),
  fc.constant((id: string) => command(id, 'captions', 'nameOut', { ms: 100 })),
  fc
    .integer({ min: -40, max: 10 })
    .map((db) => (id: string) => command(id, 'sound', 'fader', { channel: 1, db, ms: 0 })),
  fc.integer({ min: 0, max: 100 }).map((level) => (id: string) => command(id, 'lawnScreen', 'brightness', { level })),
  fc.tuple(fc.integer({ min: 1, max: 4 }), fc.integer({ min: 1, max: 8 })).map(
    ([destination, of]) =>
      (id: string) =>
        command(id, 'exchange', 'connect', { destination, source: of }),
  ),
);
const steps = fc.array(step, { minLength: 1, maxLength: 5 }).map((made) => made.map((item, at) => item(`s${at}`)));

/** An engine over devices that behave as their models do, on virtual time. */
function room(buttons: Button[]) {
  const clock = new VirtualClock(0, new Date('2026-08-12T20:00:00Z'));
  let ids = 0;
  const program = programOf(testShow(buttons));
  const engine = new Engine({ clock, program, journal: { append: () => undefined }, newId: () => `n${(ids += 1)}` });
  for (const key of DEVICES) {
    const device = program.devices.get(key);
    const kind = program.kindOf(key);
    if (device === undefined || kind === undefined) throw new Error(key);
    const port = new ModelPort(kind, device.settings, clock, engine.newsOf(key), {});
    engine.attach(key, port);
    port.begin();
  }
  const settle = (): void => void clock.runTo(clock.now() + 1500);
  const points = (): Record<string, PlainValue> =>
    Object.fromEntries(
      [...engine.board.entries()].filter(
        ([key]) => DEVICES.some((candidate) => key.startsWith(`${candidate}.`)) && !ASIDE.test(key),
      ),
    );
  let presses = 0;
  const press = (item: Button, more: Record<string, unknown> = {}) => {
    const pressId = `p${(presses += 1)}`;
    const answer = engine.press({ pressId, buttonId: item.id, phase: 'down', station: 'desk', sure: true, ...more });
    engine.press({ pressId, buttonId: item.id, phase: 'up', station: 'desk', ...more });
    return { pressId, answer };
  };
  settle();
  return { engine, clock, settle, points, press };
}

/** The same shows each time: a test that fails now and then says nothing of the change before it. */
const SEED = 20_260_812;

describe('whatever a press did', () => {
  const comesBack = fc.property(steps, steps, fc.integer({ min: 0, max: 1200 }), (earlier, done, after) => {
    const [first, second] = [button(1, earlier), button(2, done)];
    const { press, settle, points, engine, clock } = room([first, second]);
    press(first);
    settle();
    const before = points();
    const { pressId } = press(second);
    clock.runTo(clock.now() + after);
    const way = engine.takeBack('desk');
    if (way === null || way.steps.length === 0) {
      // A list that has more to do is stopped, not taken back.
      if (engine.runner.busy) return;
      settle();
      // Where nothing is to be sent, nothing had changed, but for what a mix still brings in.
      if (!done.some((candidate) => candidate.kind === 'command' && candidate.command === 'mix'))
        expect(points()).toEqual(before);
      return;
    }
    expect(way.stays).toEqual([]);
    expect(press(second, { takeBack: pressId }).answer).toMatchObject({ accepted: true });
    settle();
    expect(points()).toEqual(before);
    // And never a second time.
    expect(press(second, { takeBack: pressId }).answer).toMatchObject({ accepted: false });
  });

  it('is as before once it is taken back, also while it still goes on', () => {
    fc.assert(comesBack, { numRuns: 150, seed: SEED });
  });

  // Found by another seed: the mix ended between the two steps that brought preview and program back.
  it('is as before also when it is taken back in the millisecond in which a mix ends', () => {
    fc.assert(comesBack, { seed: 398_962_640, path: '134:0:5:4:5:3:10', endOnFailure: true });
  });

  it('leaves what another station did since', () => {
    fc.assert(
      fc.property(fc.integer({ min: -40, max: -20 }), fc.integer({ min: 0, max: 10 }), steps, (theirs, mine, done) => {
        const quiet = done.filter((candidate) => candidate.kind === 'command' && candidate.device !== 'sound');
        const own = button(1, [command('f', 'sound', 'fader', { channel: 1, db: mine, ms: 0 }), ...quiet]);
        const other = button(2, [command('f', 'sound', 'fader', { channel: 1, db: theirs, ms: 0 })]);
        const { press, settle, points, engine } = room([own, other]);
        const { pressId } = press(own);
        settle();
        press(other, { station: 'roof' });
        settle();
        const level = points()['sound.ch1Fader'];
        expect(level).toBe(theirs);
        const way = engine.takeBack('desk');
        if (mine !== 0) expect(way?.stays).toEqual([expect.stringMatching(/changed since/)]);
        press(own, { takeBack: pressId });
        settle();
        expect(points()['sound.ch1Fader']).toBe(theirs);
      }),
      { numRuns: 60, seed: SEED },
    );
  });
});
