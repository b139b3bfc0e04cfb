import { UNKNOWN } from '../expression/index';
import { boardKey, pinsOf, readerFor, readerOf, selectionKey } from './scope';
import { StateBoard } from './stateBoard';

function board(): StateBoard {
  const state = new StateBoard();
  state.turn(() => {
    state.set('switcher.program', 4);
    state.set(selectionKey('left', 'camera'), 'deskCam');
    state.set(selectionKey('right', 'camera'), 'lawnCam');
    state.set(selectionKey('left', 'destination'), 3);
  });
  return state;
}

describe('what a key means', () => {
  it('is the selection of one link group, and the same for everybody else otherwise', () => {
    expect([boardKey('chosen.camera', 'left'), boardKey('switcher.program', 'left')]).toEqual([
      'chosen@left.camera',
      'switcher.program',
    ]);
    expect([
      readerFor(board(), 'left')('chosen.camera'),
      readerFor(board(), 'right')('chosen.camera'),
      readerFor(board(), 'third')('chosen.camera'),
    ]).toEqual(['deskCam', 'lawnCam', UNKNOWN]);
  });

  it('is for a run what was chosen when its press came in, whatever is chosen since', () => {
    const state = board();
    const read = readerOf(state, {
      linkGroup: 'left',
      params: { seconds: 2 },
      pins: pinsOf(state, 'left'),
      sure: null,
    });
    state.turn(() => {
      state.set(selectionKey('left', 'camera'), 'domeCam');
      state.set('switcher.program', 1);
    });
    expect([
      read('chosen.camera'),
      read('chosen.destination'),
      read('switcher.program'),
      read('param.seconds'),
      read('param.frames'),
    ]).toEqual(['deskCam', 3, 1, 2, UNKNOWN]);
  });

  it('pins the selections of its own link group only', () => {
    expect([...pinsOf(board(), 'right')]).toEqual([['chosen.camera', 'lawnCam']]);
  });
});
