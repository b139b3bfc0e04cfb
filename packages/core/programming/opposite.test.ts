import { corvaneHill } from '@umbek/demo';
import { command, step } from '../engine/testShow';
import { oppositesOf } from './opposite';

const show = corvaneHill();
const words = (...steps: Parameters<typeof oppositesOf>[0]) =>
  oppositesOf(steps, show).map((opposite) => opposite.words);

describe('what takes steps back, said beforehand', () => {
  it('is the other way of a switch, with its sentence', () => {
    const [out, off] = oppositesOf(
      [
        command('k', 'switcher', 'keyer', { keyer: 2, on: true }),
        command('n', 'captions', 'nameIn', { name: 'Wen Zhao', title: 'Cape Bright', ms: 400 }),
      ],
      show,
    );
    // The last one first.
    expect(out).toMatchObject({
      words: 'Take the name caption out',
      step: { command: 'nameOut', params: { ms: 400 } },
    });
    expect(off).toMatchObject({ words: 'Keyer 2 off', step: { command: 'keyer', params: { keyer: 2, on: false } } });
  });

  it('ends what moves until it is told to end', () => {
    expect(oppositesOf([command('d', 'deskCam', 'drive', { pan: 5 })], show)).toMatchObject([
      { step: { device: 'deskCam', command: 'stop', params: {} } },
    ]);
    expect(words(command('d', 'chosen.camera', 'nudge', { x: 1 }))).toEqual(['Stop the chosen camera']);
  });

  it('depends on what stands before, for a source, a level or a place', () => {
    expect(
      words(
        command('p', 'switcher', 'preview', { source: 'lawnCam' }),
        command('r', 'deskCam', 'recall', { position: 'deskInes' }),
      ).every((candidate) => candidate.endsWith('back to what was there before')),
    ).toBe(true);
  });

  it('is nothing for what cannot come back, and for what only waits', () => {
    expect(words(command('s', 'recorder1', 'split'), step({ kind: 'pause', id: 'w', length: { ms: 100 } }))).toEqual([
      expect.stringMatching(/it cannot be taken back$/),
    ]);
  });
});
