import { StateBoard } from '@umbek/core/engine';
import { VirtualClock } from '@umbek/core/rehearse';
import { HeadTally } from './headTally';

function setUp(sources: readonly string[] = ['roof', 'roofWide']) {
  const clock = new VirtualClock();
  const board = new StateBoard();
  const sent: boolean[] = [];
  const answers: ((taken: boolean) => void)[] = [];
  let now = sources;
  board.set('roofCam.reached', true);
  board.set('onAir@roof', false);
  board.set('onAir@roofWide', false);
  const tally = new HeadTally({
    board,
    clock,
    camera: 'roofCam',
    sources: () => now,
    send: (on, then) => {
      sent.push(on);
      answers.push(then);
    },
    inTurn: (work) => board.turn(work),
  });
  const pass = (ms: number): void => {
    clock.runTo(clock.now() + ms);
  };
  const answer = (taken = true): void => {
    answers.shift()?.(taken);
    pass(1);
  };
  pass(1);
  return { board, sent, tally, pass, answer, setSources: (to: readonly string[]) => (now = to) };
}

describe("a head's own tally lamp", () => {
  it('is red while one of its sources is seen, and told once for each change', () => {
    const { board, sent, answer, pass } = setUp();
    answer();
    board.set('onAir@roofWide', true);
    pass(1);
    answer();
    board.set('onAir@roof', true);
    board.set('onAir@roofWide', false);
    pass(1);
    board.set('onAir@roof', false);
    pass(1);
    answer();
    expect(sent).toEqual([false, true, false]);
  });

  it('goes on to what holds by then when the air changes while the head is being told', () => {
    const { board, sent, answer, pass } = setUp();
    answer();
    board.set('onAir@roof', true);
    pass(1);
    board.set('onAir@roof', false);
    pass(1);
    expect(sent).toEqual([false, true]);
    answer();
    expect(sent).toEqual([false, true, false]);
  });

  it('is tried again a second after the head refused, and told anew when the head comes back', () => {
    const { board, sent, answer, pass } = setUp();
    answer(false);
    expect(sent).toEqual([false]);
    pass(1000);
    answer();
    expect(sent).toEqual([false, false]);
    board.set('roofCam.reached', false);
    pass(1);
    board.set('roofCam.reached', true);
    pass(1);
    expect(sent).toEqual([false, false, false]);
  });

  it('stays as it is while the switcher is silent, or the lamp is switched by hand', () => {
    const { board, sent, answer, pass, tally, setSources } = setUp();
    answer();
    board.forget('onAir@roof');
    pass(1);
    expect(sent).toEqual([false]);
    setSources([]);
    tally.follow();
    board.set('onAir@roofWide', true);
    pass(1);
    expect(sent).toEqual([false]);
    tally.close();
  });
});
