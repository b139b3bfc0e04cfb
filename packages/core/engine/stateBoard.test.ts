import { UNKNOWN } from '../expression/index';
import { StateBoard } from './stateBoard';

const counting = () => {
  const reader = { woken: 0, wake: () => void (reader.woken += 1) };
  return reader;
};

describe('a snapshot of the board', () => {
  it('stays as it was', () => {
    const board = new StateBoard();
    board.set('switcher.program', 1);
    board.set('captions.nameText', '');
    const then = board.snapshot();
    board.set('switcher.program', 2);
    board.forget('captions.nameText');
    expect([...then]).toEqual([
      ['switcher.program', 1],
      ['captions.nameText', ''],
    ]);
    expect([...then]).toHaveLength(2);
  });
});

describe('the state board', () => {
  it('wakes only who reads a changed key, once for all changes of an instant', () => {
    const board = new StateBoard();
    const [both, other] = [counting(), counting()];
    board.subscribe(['switcher.program', 'switcher.preview'], both);
    board.subscribe(['captions.nameUp'], other);
    board.turn(() => {
      board.set('switcher.program', 1);
      board.set('switcher.preview', 2);
    });
    expect([both.woken, other.woken]).toEqual([1, 0]);
  });

  it('wakes nobody for a value that stays the same', () => {
    const board = new StateBoard();
    board.set('switcher.program', 1);
    const reader = counting();
    board.subscribe(['switcher.program'], reader);
    board.set('switcher.program', 1);
    expect(reader.woken).toBe(0);
  });

  it('serves changes that a reader makes in its turn before it tells the keys', () => {
    const published: string[][] = [];
    const board = new StateBoard((keys) => published.push([...keys]));
    board.subscribe(['a.x'], { wake: () => board.set('b.y', 2) });
    const last = counting();
    board.subscribe(['b.y'], last);
    board.set('a.x', 1);
    expect(last.woken).toBe(1);
    expect(published).toEqual([['a.x', 'b.y']]);
  });

  it('makes the points of a silent device unknown, but not that it is silent', () => {
    const board = new StateBoard();
    board.set('deskCam.reached', true);
    board.set('deskCam.pan', 3);
    board.set('deskCamera.pan', 4);
    board.forgetScope('deskCam', new Set(['deskCam.reached']));
    expect([board.read('deskCam.reached'), board.read('deskCam.pan'), board.read('deskCamera.pan')]).toEqual([
      true,
      UNKNOWN,
      4,
    ]);
  });
});
