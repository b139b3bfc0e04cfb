import { corvaneHill } from '@umbek/demo';
import { compileExpression } from '../expression/index';
import { occasionsFrom } from './occasionsFrom';

const show = corvaneHill();
const words = (from: string): string[] => occasionsFrom(from, show).map((occasionChoice) => occasionChoice.words);
const buttonNamed = (legend: string): string => show.buttons.find((button) => button.legend === legend)?.id ?? '';

describe('triggers made from the thing itself', () => {
  it('from a caption that is up or down', () => {
    expect(words('captions.countUp')).toEqual([
      'When Captions: count board is up',
      'When Captions: count board is not up',
      'While Captions: count board is up',
    ]);
  });

  it('from a level, over and under a limit that can be changed', () => {
    const found = occasionsFrom('sound.ch1Level', show);
    expect(found.map((occasionChoice) => occasionChoice.words)).toEqual([
      'When Sound: level of channel 1 is over -30 dB',
      'When Sound: level of channel 1 is under -30 dB',
      'While Sound: level of channel 1 is over -30 dB',
      'While Sound: level of channel 1 is under -30 dB',
    ]);
    expect(found[0]?.on).toEqual({ kind: 'turns', condition: 'sound.ch1Level > -30', to: true });
    // Not also from channel 10 to 19, whose names begin the same.
    expect(found.every(({ key }) => key.includes('ch1Level'))).toBe(true);
  });

  it('from the lamps of a button', () => {
    expect(words(buttonNamed('Roof cam'))).toEqual([
      'While Roof cam is on air',
      'When Roof cam comes on air',
      'When Roof cam leaves air',
      'While Roof cam is on preview',
      'When Roof cam comes on preview',
      'When Roof cam leaves preview',
    ]);
    expect(words(buttonNamed('Board out'))).toEqual([]);
  });

  it('from what changes, from a source, a device and a value', () => {
    expect(words('switcher.aux1').slice(0, 4)).toEqual([
      'When Switcher: input on auxiliary output 1 changes',
      'While Switcher: input on auxiliary output 1 is Desk cam',
      'When Switcher: input on auxiliary output 1 is Desk cam',
      'When Switcher: input on auxiliary output 1 is no longer Desk cam',
    ]);
    expect(words('roofCam')).toContain('While Roof cam gives no good picture');
    expect(words('captions')).toContain('When Captions no longer answers');
    expect(words('meteors')).toEqual(['When Meteor count changes']);
    expect(words('nothing')).toEqual([]);
    expect(words('captions.nothing')).toEqual([]);
    for (const odd of ['captions.(', 'captions.constructor', '(', '__proto__.x']) expect(words(odd)).toEqual([]);
    expect(words('captions.')).toEqual([]);
    expect(words('captions.reached')).toEqual(['When Captions no longer answers', 'When Captions is back']);
  });

  it('hold what an expression can read, whatever they are made from', () => {
    const from = [
      ...show.buttons.map(({ id }) => id),
      ...show.devices.flatMap(({ key }) =>
        ['reached', 'program', 'countUp', 'ch2Level'].map((item) => `${key}.${item}`),
      ),
    ];
    for (const { on } of from.flatMap((item) => occasionsFrom(item, show)))
      if (on.kind === 'turns') expect(compileExpression(on.condition)).toMatchObject({ ok: true });
  });
});
