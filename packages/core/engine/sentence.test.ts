import { corvaneHill, demoId } from '@umbek/demo';
import { commandWords, sentenceOf } from './sentence';
import { command, step } from './testShow';

const show = corvaneHill();
const words = (item: Parameters<typeof sentenceOf>[0]): string => sentenceOf(item, show);

describe('a step as a sentence', () => {
  it('has the names of today', () => {
    expect(words(command('a', 'deskCam', 'recall', { position: 'inesClose' }))).toBe('Recall Ines close on Desk cam');
    expect(words(command('a', 'chosen.camera', 'home'))).toBe('Bring the chosen camera to the middle');
    expect(words(command('a', 'switcher', 'preview', { source: 'host' }))).toBe('Preview Host');
    const renamed = {
      ...show,
      positions: show.positions.map((position) =>
        position.key === 'inesClose' ? { ...position, name: 'The host' } : position,
      ),
    };
    expect(sentenceOf(command('a', 'deskCam', 'recall', { position: 'inesClose' }), renamed)).toBe(
      'Recall The host on Desk cam',
    );
  });

  it('reads what is put together as it will stand there, and a sum as it is written', () => {
    const record = (cel: string) => words(command('a', 'recorder1', 'start', { file: { cel } }));
    expect(record('"night-" + string(value.night) + "-" + param.tapeName')).toBe(
      `Record night-[${show.values.find(({ key }) => key === 'night')?.name}]-[tape name] on Dome room 1`,
    );
    expect(record('value.night + value.meteors')).toBe('Record value.night + value.meteors on Dome room 1');
    expect(record('"a" + (value.night > 1 ? "b" : "c")')).toBe(
      'Record "a" + (value.night > 1 ? "b" : "c") on Dome room 1',
    );
  });

  it('says yes and no, and what may be left out only where it is not', () => {
    expect(words(command('a', 'switcher', 'fadeToBlack', { on: false, frames: 50 }))).toBe(
      'Fade up from black over 50 f',
    );
    expect(words(command('a', 'deskCam', 'recall', { position: 'inesClose', seconds: 4 }))).toBe(
      'Recall Ines close on Desk cam, slowly, over about 4 s',
    );
  });

  it('says what a number stands for where it alone says nothing', () => {
    const replay = show.devices.find(({ kind }) => kind === 'replayServer')?.key ?? '';
    const cue = (mark: number): string => words(command('a', replay, 'cue', { mark, angle: 2, channel: 1 }));
    expect([cue(0), cue(34)]).toEqual([
      'Cue the latest mark, angle 2, on channel 1',
      'Cue mark 34, angle 2, on channel 1',
    ]);
  });

  it('tells a selection as what is chosen', () => {
    const route = command('r', 'exchange', 'connect', { destination: { cel: 'chosen.destination' }, source: 3 });
    expect(sentenceOf(route, corvaneHill())).toBe('Route source 3 to destination as chosen');
  });

  it('tells commands without a phrase by their words, what they are given, and their device', () => {
    expect(words(command('a', 'deskCam', 'goTo', { pan: 10, tilt: 5 }))).toBe(
      'Go to pan, tilt and zoom: 10, 5 · Desk cam',
    );
    expect(commandWords({ device: 'deskCam', command: 'goTo', params: { pan: 10, tilt: 5 } }, show)).toBe(
      'Go to pan, tilt and zoom: 10, 5',
    );
    expect(words(command('a', 'gone', 'blink', {}))).toBe('blink · gone');
  });

  it('tells waits, pauses, values, choices and what happens at once', () => {
    expect(words(step({ kind: 'wait', id: 'w', until: 'deskCam.arrived == "inesClose"', timeoutMs: 6000 }))).toBe(
      'Wait until Desk cam has arrived at Ines close, at most 6 s',
    );
    expect(words(step({ kind: 'wait', id: 'w', until: 'switcher.program == 4', timeoutMs: 1500 }))).toBe(
      'Wait until Switcher: input on program is Roof cam, at most 1.5 s',
    );
    expect(words(step({ kind: 'pause', id: 'p', length: { frames: 12 } }))).toBe('Pause 12 f');
    expect(words(step({ kind: 'set', id: 's', target: 'chosen.camera', to: 'lawnCam' }))).toBe(
      'Choose Lawn cam as the camera',
    );
    expect(words(step({ kind: 'set', id: 's', target: 'value.meteors', to: { cel: 'value.meteors + 1.0' } }))).toBe(
      'Count Meteor count up by 1',
    );
    expect(words(step({ kind: 'run', id: 'r', macro: demoId('MAC', 1), params: {} }))).toBe('Run Opening');
    expect(
      words(
        step({
          kind: 'together',
          id: 't',
          steps: [command('a', 'switcher', 'cut'), step({ kind: 'pause', id: 'p', length: { ms: 200 } })],
        }),
      ),
    ).toBe('At once: Cut + Pause 0.2 s');
  });
});
