import { corvaneHill } from '@umbek/demo';
import { command, step } from '../engine/testShow';
import { dialsOf, stepFor } from './dials';

const show = corvaneHill();

describe('what can be turned of a step', () => {
  it('is each parameter that counts and whose present value its device tells', () => {
    expect(dialsOf(command('f', 'sound', 'fader', { channel: 2, db: 0, ms: 0 }), show)).toEqual([
      {
        title: 'Level',
        dial: { param: 'db', by: 0, min: -60, max: 12, step: 1, unit: 'dB', reads: 'sound.ch2Fader' },
      },
    ]);
    expect(dialsOf(command('b', 'lawnScreen', 'brightness', { level: 30 }), show)).toMatchObject([
      { dial: { param: 'level', min: 0, max: 100, step: 1, unit: '%', reads: 'lawnScreen.brightness' } },
    ]);
    expect(dialsOf(command('f', 'chosen.camera', 'focus', { focus: 50 }), show)).toMatchObject([
      { dial: { reads: 'at(chosen.camera).focus' } },
    ]);
  });

  it('is a show value that counts', () => {
    expect(dialsOf(step({ kind: 'set', id: 's', target: 'value.meteors', to: 0 }), show)).toMatchObject([
      { dial: { param: 'to', reads: 'value.meteors' } },
    ]);
  });

  it('is nothing of a choice, a source, or what no device tells', () => {
    expect(dialsOf(command('p', 'switcher', 'preview', { source: 'lawnCam' }), show)).toEqual([]);
    expect(dialsOf(command('c', 'switcher', 'cut'), show)).toEqual([]);
    expect(dialsOf(undefined, show)).toEqual([]);
  });

  it('goes in steps of about a hundredth of the range', () => {
    expect([stepFor(0, 100, false), stepFor(-60, 12, false), stepFor(0, 1, false), stepFor(0, 20, true)]).toEqual([
      1, 1, 0.01, 1,
    ]);
    expect([stepFor(0, 36_000, false), stepFor(100, 100_000, false)]).toEqual([500, 1000]);
  });
});
