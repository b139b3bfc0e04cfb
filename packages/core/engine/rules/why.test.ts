import { compileProgram } from '../program';
import { command } from '../testShow';
import { rule, ruled, turns } from './testRules';
import { whyOf } from './why';

describe('why something is as it is', () => {
  const roof = rule(1, {
    kind: 'while',
    name: 'Count board',
    on: turns('onAir("roofCam")'),
    steps: [command('a', 'captions', 'countIn', { count: 7 })],
  });

  it('goes from a caption over the rule and the switcher to the hand', () => {
    const { does, engine } = ruled([roof]);
    does('switcher', 'preview', { source: 'roofCam' });
    does('switcher', 'cut');
    expect(whyOf(engine, 'captions.countUp').map(({ kind, words }) => `${kind}: ${words}`)).toEqual([
      'point: Captions: count board is up: yes.',
      'command: Captions was told: bring the count board in.',
      'run: Count board ran.',
      'trigger: Count board began to hold: Roof cam is on air.',
      'point: Roof cam is on air.',
      'point: Switcher: input on program is Roof cam.',
      'command: Switcher was told: cut.',
      'press: Ines at Desk 1 pressed Switcher: cut.',
    ]);
  });

  it('tells what a device did by itself, and what was so before', () => {
    const { engine, pass } = ruled([roof]);
    engine.newsOf('switcher').points({ aux1: 3 });
    pass(10);
    expect(whyOf(engine, 'switcher.aux1').map(({ kind }) => kind)).toEqual(['point', 'device']);
    expect(whyOf(engine, 'switcher.aux1')[1]?.words).toBe('Switcher did so by itself, or somebody did it there.');
    expect(whyOf(engine, 'switcher.aux2')[1]?.words).toBe('Switcher said so when it was first heard.');
    expect(whyOf(engine, 'nothing.here')).toEqual([]);
  });

  it('tells of a value in the hand who turned it last', () => {
    const { engine, does } = ruled([]);
    const { document } = engine.program;
    const [first] = document.buttons;
    if (first === undefined) throw new Error('There is no button.');
    const dial = { reads: 'sound.ch1Fader', min: -60, max: 10, by: 0, unit: 'dB', curve: 'even' } as never;
    const level = { ...first, lamps: [], dial };
    engine.setProgram(compileProgram({ ...document, buttons: [level] }, 2, engine.program));
    does('sound', 'fader', { channel: 1, db: -12 });
    expect(whyOf(engine, first.id).map(({ words }) => words)).toEqual([
      'Sound: fader of channel 1 is -12 dB.',
      'Sound was told: move a fader.',
      'Ines at Desk 1 pressed Sound: move a fader.',
    ]);
  });

  it('of a rule that did not fire tells why', () => {
    const asleep = rule(2, { on: turns('onAir("lawnCam")'), atStart: 'disarmed', steps: [] });
    const { does, engine } = ruled([asleep]);
    does('switcher', 'program', { source: 'lawnCam' });
    expect(whyOf(engine, asleep.id)[0]?.words).toBe('Rule 2 did not fire: It is disarmed.');
    expect(whyOf(engine, asleep.id).at(-1)?.kind).toBe('press');
  });
});
