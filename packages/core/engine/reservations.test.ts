import { reservedKey } from './reservations';
import { setUp } from './testEngine';
import { button, command, step } from './testShow';

const recall = button(1, [command('r', 'deskCam', 'recall', { position: 'inesClose' })]);
const nudge = button(2, [command('l', 'deskCam', 'nudge', { x: -1, y: 0, zoom: 0 })], { mode: 'hold' });
const other = button(3, [command('o', 'lawnCam', 'nudge', { x: 1, y: 0, zoom: 0 })], { mode: 'hold' });
const later = button(4, [
  step({ kind: 'pause', id: 'w', length: { ms: 500 } }),
  command('n', 'deskCam', 'recall', { position: 'inesClose' }),
]);
const stop = button(5, [command('s', 'deskCam', 'stop')]);
const INES = { station: 'Desk', person: 'Ines', rank: 2 };

function room() {
  const all = setUp([recall, nudge, other, later, stop]);
  let presses = 0;
  const press = (item: typeof recall, rank: number | undefined, phase: 'down' | 'hold' | 'up' = 'down', pressId = '') =>
    all.engine.press({
      pressId: pressId === '' ? `p${(presses += 1)}` : pressId,
      buttonId: item.id,
      phase,
      station: 'Dome#2',
      ...(rank === undefined ? {} : { rank }),
    });
  return { ...all, press };
}

describe('a reserved head', () => {
  it('is moved by nobody with less right, by whoever has as much, and by what nobody pressed', () => {
    const { engine, press, ports } = room();
    expect(engine.reserve('deskCam', INES)).toBe(true);
    expect(engine.board.read(reservedKey('deskCam'))).toBe('Ines at Desk');
    expect(press(nudge, 1)).toMatchObject({
      accepted: false,
      error: {
        code: 'reserved',
        message: 'Desk cam is reserved by Ines at Desk.',
        mend: 'Ask them to free it: Rig, the camera.',
      },
    });
    expect(ports.deskCam.names()).toEqual([]);
    expect(press(other, 1)).toMatchObject({ accepted: true });
    // A stop is never in anybody's way.
    expect(press(stop, 1)).toMatchObject({ accepted: true });
    expect(press(nudge, 2)).toMatchObject({ accepted: true });
    expect(press(recall, undefined)).toMatchObject({ accepted: true });
  });

  it('fails the later step of a run in words when it was reserved meanwhile', () => {
    const { engine, press, clock, ports, entries } = room();
    expect(press(later, 1)).toMatchObject({ accepted: true });
    clock.runTo(200);
    engine.reserve('deskCam', INES);
    clock.runTo(2000);
    expect(ports.deskCam.names()).toEqual([]);
    expect(entries.find((entry) => entry.kind === 'runEnd')).toMatchObject({
      how: 'failed',
      why: expect.stringContaining('Desk cam is reserved by Ines at Desk.'),
    });
  });

  it('is let go of at once by the hand of less right that moves it, and stands', () => {
    const { engine, press, ports, entries } = room();
    press(nudge, 1, 'down', 'held');
    engine.reserve('deskCam', INES);
    expect(ports.deskCam.names()).toEqual(['nudge', 'stop']);
    expect(press(nudge, 1, 'hold', 'held')).toMatchObject({ accepted: false, error: { code: 'not-held' } });
    expect(entries.flatMap((entry) => (entry.kind === 'press' ? [entry.why] : []))).toEqual([
      undefined,
      'Desk cam is reserved by Ines at Desk.',
    ]);
  });

  it('is reserved for the next engine too, until it is free', () => {
    const { engine, entries } = room();
    const next = () =>
      setUp(
        [nudge],
        [],
        new Map(
          entries.flatMap((entry) =>
            entry.kind === 'set' && entry.value !== null ? [[entry.key, entry.value] as const] : [],
          ),
        ),
      );
    engine.reserve('deskCam', INES, 'k1');
    const { engine: second, press } = next();
    expect(second.reservations()).toEqual([{ device: 'deskCam', owner: 'k1' }]);
    expect(press(nudge, 'down', { rank: 1 })).toMatchObject({ accepted: false, error: { code: 'reserved' } });
    engine.free('deskCam', INES);
    const left = entries.filter((entry) => entry.kind === 'set').slice(-3);
    expect(left.map((item) => item.kind === 'set' && [item.key, item.value])).toEqual([
      ['reserved@deskCam', null],
      ['reservedRank@deskCam', null],
      ['reservedOwner@deskCam', null],
    ]);
  });

  it('stays in the hand of whoever has as much right', () => {
    const { engine, press, ports } = room();
    press(nudge, 3, 'down', 'held');
    engine.reserve('deskCam', INES);
    expect(ports.deskCam.names()).toEqual(['nudge']);
  });

  it('is freed and taken over by as much right or more, not by less; the as-run tells each', () => {
    const { engine, press, entries } = room();
    const della = { station: 'Wall', person: '', rank: 3 };
    engine.reserve('deskCam', INES);
    expect(engine.reserve('deskCam', della)).toBe(true);
    expect(engine.board.read(reservedKey('deskCam'))).toBe('Wall');
    expect(engine.reserve('deskCam', INES)).toBe(false);
    expect(engine.free('deskCam', INES)).toBe(false);
    expect(press(nudge, 2)).toMatchObject({ accepted: false });
    expect(engine.free('deskCam', della)).toBe(true);
    expect(engine.free('deskCam', della)).toBe(true);
    expect(press(nudge, 1)).toMatchObject({ accepted: true });
    expect(entries.flatMap((entry) => (entry.kind === 'access' ? [entry.words] : []))).toEqual([
      'Desk cam is reserved by Ines at Desk.',
      'Desk cam is reserved by Wall.',
      'Desk cam is free again.',
    ]);
  });
});
