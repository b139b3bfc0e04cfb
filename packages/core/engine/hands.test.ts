import { setUp } from './testEngine';
import { button, command } from './testShow';

const left = button(1, [command('l', 'deskCam', 'nudge', { x: -1, y: 0, zoom: 0 })], {
  mode: 'hold',
  releaseSteps: [command('s', 'deskCam', 'stop')],
});
const right = button(2, [command('r', 'deskCam', 'nudge', { x: 1, y: 0, zoom: 0 })], { mode: 'hold' });
const other = button(3, [command('o', 'lawnCam', 'nudge', { x: 1, y: 0, zoom: 0 })], { mode: 'hold' });

function room() {
  const all = setUp([left, right, other]);
  const hand =
    (station: string, pressId: string) =>
    (item: typeof left, phase: 'down' | 'hold' | 'up' = 'down') =>
      all.engine.press({ pressId, buttonId: item.id, phase, station, person: station === 'Dome#2' ? 'Ada' : '' });
  return { ...all, desk: hand('Desk#1', 'p1'), dome: hand('Dome#2', 'p2'), hand };
}

describe('two hands on one head', () => {
  it('the later one has it: what the earlier one began is stopped before, and its finger moves nothing any more', () => {
    const { desk, dome, ports, taken, clock, entries } = room();
    desk(left);
    clock.runTo(100);
    expect(dome(right)).toMatchObject({ accepted: true });
    expect(ports.deskCam.names()).toEqual(['nudge', 'stop', 'nudge']);
    expect(taken).toEqual([
      {
        device: 'deskCam',
        from: { pressId: 'p1', station: 'Desk#1', person: '' },
        by: { pressId: 'p2', station: 'Dome#2', person: 'Ada' },
      },
    ]);
    expect(desk(left, 'hold')).toMatchObject({ accepted: false, error: { code: 'not-held' } });
    desk(left, 'up');
    expect(ports.deskCam.names()).toEqual(['nudge', 'stop', 'nudge']);
    dome(right, 'up');
    expect(ports.deskCam.names()).toEqual(['nudge', 'stop', 'nudge', 'stop']);
    // The as-run tells who took it, and in the order in which it went out.
    const handWords = entries.flatMap((entry) =>
      entry.kind === 'press' && entry.phase === 'up'
        ? [entry.why ?? 'let go']
        : entry.kind === 'command'
          ? [entry.command.command]
          : [],
    );
    expect(handWords).toEqual(['nudge', 'Dome took Desk cam.', 'stop', 'nudge', 'let go', 'stop']);
  });

  it('goes to and fro as often as hands do', () => {
    const { hand, ports, taken } = room();
    hand('Desk#1', 'p1')(left);
    hand('Dome#2', 'p2')(right);
    hand('Desk#1', 'p3')(left);
    expect(ports.deskCam.names()).toEqual(['nudge', 'stop', 'nudge', 'stop', 'nudge']);
    expect(taken.map(({ by }) => by.station)).toEqual(['Dome#2', 'Desk#1']);
  });

  it('leaves another head, and another finger of the same station, alone', () => {
    const { desk, dome, hand, ports, taken } = room();
    desk(left);
    dome(other);
    hand('Desk#1', 'p3')(right);
    expect(taken).toEqual([]);
    expect(ports.deskCam.names()).toEqual(['nudge', 'nudge']);
    expect(desk(left, 'hold')).toMatchObject({ accepted: true });
  });

  it('is nobody’s once it was let go', () => {
    const { desk, dome, taken } = room();
    desk(left);
    desk(left, 'up');
    dome(right);
    expect(taken).toEqual([]);
  });
});
