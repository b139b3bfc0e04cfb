import { windowMoved, windowTold } from '../picture/window';
import { selectionKey } from './scope';
import { done, setUp } from './testEngine';
import { button, command } from './testShow';

const nudge = (x: number, more: Record<string, number> = {}) =>
  button(1, [command('n', 'chosen.camera', 'nudge', { x, ...more })], {
    mode: 'hold',
    releaseSteps: [command('s', 'chosen.camera', 'stop')],
  });

function room(chosen = 'roofCam', input = 4) {
  const right = nudge(1);
  const home = button(2, [command('h', 'chosen.camera', 'home')]);
  const recall = button(3, [command('r', 'chosen.camera', 'recall', { position: 'twoShot' })]);
  const all = setUp([right, home, recall]);
  all.engine.board.set(selectionKey('main', 'camera'), chosen);
  all.engine.newsOf('switcher').points({ [`input${input}Window`]: '0.5 0.5 2' });
  const windows = () => all.ports.switcher.sent.map(({ command: { params } }) => [params.x, params.y, params.scale]);
  return { ...all, right, home, recall, windows };
}

describe('a window under a hand', () => {
  it('moves as far as it is told to, closer and wider, and stays in the frame', () => {
    const from = { x: 0.5, y: 0.5, scale: 2 };
    // 0.3 widths of what is seen a second: at scale 2 that is 0.15 of the frame.
    expect(windowMoved(from, 1, 0, 0, 1)).toEqual({ x: 0.65, y: 0.5, scale: 2 });
    expect(windowMoved(from, 0, 1, 0, 0.2)).toEqual({ x: 0.5, y: 0.47, scale: 2 });
    expect(windowMoved(from, 0, 0, 1, 1)).toEqual({ x: 0.5, y: 0.5, scale: 3.2 });
    expect(windowMoved(from, 1, 0, -1, 10)).toEqual({ x: 0.5, y: 0.5, scale: 1 });
    expect(windowMoved({ ...from, x: 0.74 }, 1, 0, 0, 1)).toEqual({ x: 0.75, y: 0.5, scale: 2 });
    expect(windowTold('0.35 0.3 2.2')).toEqual({ x: 0.35, y: 0.3, scale: 2.2 });
    expect([windowTold('none'), windowTold(4), windowTold('0.1 0.2')]).toEqual([null, null, null]);
  });

  it('goes on while it is held, a step every 100 ms, and rests where the hand let go', () => {
    const { press, clock, right, windows, ports, entries } = room();
    expect(press(right, 'down')).toMatchObject({ accepted: true });
    for (let at = 100; at <= 300; at += 100) {
      clock.runTo(at);
      press(right, 'hold');
    }
    expect(windows()).toEqual([
      [0.515, 0.5, 2],
      [0.53, 0.5, 2],
      [0.545, 0.5, 2],
      [0.56, 0.5, 2],
    ]);
    expect(ports.switcher.sent[0]?.command).toMatchObject({ command: 'reframe', params: { source: 4, frames: 5 } });
    press(right, 'up');
    clock.runTo(5000);
    // Told once more where it rests, and no step after it.
    expect(windows().slice(4)).toEqual([[0.56, 0.5, 2]]);
    // Only its first and its last step stand in the as-run.
    expect(entries.filter(({ kind }) => kind === 'command')).toHaveLength(2);
  });

  it('ends by the lease of its press when nothing is heard of the hand any more', () => {
    const { press, clock, right, windows } = room();
    press(right, 'down');
    clock.runTo(10_000);
    // The lease is 400 ms: steps at 0, 100, 200, 300, and its end.
    expect(windows().length).toBeLessThanOrEqual(6);
    expect(windows().at(-1)).toEqual(windows().at(-2));
  });

  it('ends when everything is stopped, which says beforehand that it moves', () => {
    const { press, clock, right, windows, engine } = room();
    press(right, 'down');
    expect(engine.stopAhead().moving).toEqual(['Roof cam']);
    engine.stopAll('desk');
    const { length } = windows();
    clock.runTo(3000);
    expect([windows().length, engine.stopAhead().moving]).toEqual([length, []]);
  });

  it('asks for a second touch where the source is on air', () => {
    const { press, clock, right, engine, windows } = room();
    engine.newsOf('switcher').points({ program: 4 });
    expect(press(right, 'down', { pressId: 'a' })).toMatchObject({
      accepted: false,
      error: { code: 'second-touch', message: 'Roof cam is on air: the move would be seen.' },
    });
    press(right, 'up', { pressId: 'a' });
    clock.runTo(500);
    expect(press(right, 'down', { pressId: 'b' })).toMatchObject({ accepted: true });
    expect(windows()).toHaveLength(1);
    press(right, 'up', { pressId: 'b' });
  });

  it('comes back to the full view, and has neither positions nor a lens', () => {
    const { press, home, recall, windows, ends, ports } = room();
    press(home, 'down', { pressId: 'a' });
    ports.switcher.answer(0, done);
    expect(windows()).toEqual([[0.5, 0.5, 1]]);
    press(recall, 'down', { pressId: 'b' });
    expect(ends()).toEqual(['done', 'failed: Roof cam has no motors: it has no camera positions.']);
  });

  it('is steered by a stick as one press, from where it is', () => {
    const { press, clock, right, windows } = room();
    const direct = (x: number) => ({
      direct: { device: 'chosen.camera', command: 'nudge', params: { x, y: 0, zoom: 0 } },
    });
    expect(press(right, 'down', direct(1))).toMatchObject({ accepted: true });
    clock.runTo(100);
    press(right, 'hold', direct(-1));
    clock.runTo(150);
    press(right, 'up', direct(-1));
    clock.runTo(3000);
    expect(windows().map(([x]) => x)).toEqual([0.515, 0.53, 0.515, 0.515]);
  });

  it('says what is in the way: a source on no input, or a switcher that is silent', () => {
    const { press, right, engine } = room();
    engine.newsOf('switcher').reached(false, 'nothing heard');
    expect(press(right, 'down', { pressId: 'a' })).toMatchObject({ accepted: false, error: { code: 'device-silent' } });
    engine.board.set(selectionKey('main', 'camera'), 'line9');
    expect(press(right, 'down', { pressId: 'b' })).toMatchObject({
      accepted: false,
      error: { code: 'nothing-chosen' },
    });
  });
});
