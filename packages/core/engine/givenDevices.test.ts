import { circlesOf } from './rules/circles';
import { done, setUp } from './testEngine';
import { button, command, macro, programOf, step, testShow } from './testShow';
import { switcher } from '../devices/index';
import { sentenceOf } from './sentence';
import type { Step, Trigger } from '../show/index';

/** A command to whichever camera the macro is given; it is written with the desk camera. */
const given = (id: string, name: string, params: Record<string, unknown> = {}): Step => ({
  ...command(id, 'deskCam', name, params),
  ...{ deviceFrom: 'camera' },
});
const params = [{ key: 'camera', start: 'deskCam' }];
const run = (macroId: string, more: Record<string, unknown> = {}): Step =>
  step({ kind: 'run', id: 'r', macro: macroId, params: more });

describe('a macro that is given a device', () => {
  const home = macro(1, [given('h', 'home')], { params });
  const own = button(1, [run(home.id)]);
  const lawn = button(2, [run(home.id, { camera: 'lawnCam' })]);

  it('tells that device, and the one that it begins with where none is given', () => {
    const { press, ports } = setUp([own, lawn], [home]);
    press(own);
    expect([ports.deskCam.names(), ports.lawnCam.names()]).toEqual([['home'], []]);
    ports.deskCam.answer(0, done);
    press(lawn, 'down', { pressId: 'p2' });
    expect([ports.deskCam.names(), ports.lawnCam.names()]).toEqual([['home'], ['home']]);
  });

  it('refuses the press when the one that is given does not answer, and only that press', () => {
    const { engine, press, ports } = setUp([own, lawn], [home]);
    engine.newsOf('lawnCam').reached(false, 'gone');
    expect(press(lawn)).toMatchObject({ accepted: false, error: { code: 'device-silent' } });
    expect(press(own, 'down', { pressId: 'p2' })).toMatchObject({ accepted: true });
    expect([ports.deskCam.names(), ports.lawnCam.names()]).toEqual([['home'], []]);
  });

  it('counts for the lamps of its button in place of the one that it was written with', () => {
    const program = programOf(testShow([own, lawn], [home]));
    expect([[...program.devicesOf(own.id)], [...program.devicesOf(lawn.id)]]).toEqual([['deskCam'], ['lawnCam']]);
  });

  it('counts also where the macro hands it on to another one, under another name', () => {
    const outer = macro(6, [run(home.id, { camera: { cel: 'param.which' } })], {
      params: [{ key: 'which', start: 'deskCam' }],
    });
    const [handed, usual] = [button(3, [run(outer.id, { which: 'lawnCam' })]), button(4, [run(outer.id)])];
    const show = testShow([handed, usual], [home, outer]);
    const program = programOf(show);
    expect([[...program.devicesOf(handed.id)], [...program.devicesOf(usual.id)]]).toEqual([['lawnCam'], ['deskCam']]);
    // It is told where it cannot do what the inner macro asks of it.
    const wrong = programOf(testShow([button(3, [run(outer.id, { which: 'switcher' })])], [home, outer]));
    expect(wrong.faults().map(({ code }) => code)).toEqual(['unknown-command']);
    // A circle of macros that hand it to each other ends.
    const round = { ...outer, steps: [run(outer.id, { which: { cel: 'param.which' } })] };
    expect([
      ...programOf(testShow([button(3, [run(round.id, { which: 'lawnCam' })])], [round])).devicesOf(button(3, []).id),
    ]).toEqual([]);
  });

  it('asks for a second touch where the camera that is given is on air', () => {
    const { engine, press, ports } = setUp([own, lawn], [home]);
    const input = testShow([]).sources.find(({ camera }) => camera === 'lawnCam')?.input ?? 0;
    engine
      .newsOf('switcher')
      .points(switcher.startModel({ startProgram: input, startPreview: 15 }, 0).step({ type: 'read', now: 0 }).points);
    expect(press(lawn)).toMatchObject({ accepted: false, error: { code: 'second-touch' } });
    press(own, 'down', { pressId: 'p2' });
    expect([ports.deskCam.names(), ports.lawnCam.names()]).toEqual([['home'], []]);
  });

  it('ends a move of the device that it was given when the finger is lifted', () => {
    const drive = macro(2, [given('d', 'drive', { pan: 5 })], { params });
    const held = button(3, [run(drive.id, { camera: 'lawnCam' })], { mode: 'hold' });
    const { press, ports } = setUp([held], [drive]);
    press(held);
    press(held, 'up');
    expect([ports.deskCam.names(), ports.lawnCam.names()]).toEqual([[], ['drive', 'stop']]);
  });

  it('holds a step that moves when it is tried alone, and ends it with the finger', () => {
    const drive = macro(2, [given('d', 'drive', { pan: 5 })], { params });
    const { engine, ports } = setUp([], [drive]);
    const tried = { pressId: 'p1', buttonId: drive.id, only: 'd', station: 'desk' };
    expect(engine.press({ ...tried, phase: 'down' })).toMatchObject({ accepted: true });
    engine.press({ ...tried, phase: 'up' });
    expect(ports.deskCam.names()).toEqual(['drive', 'stop']);
  });

  it('leaves with all that is meant for it at once', () => {
    const both = macro(4, [step({ kind: 'together', id: 't', steps: [given('a', 'home'), given('b', 'home')] })], {
      params,
    });
    const pressed = button(5, [run(both.id, { camera: 'lawnCam' })]);
    const { press, ports } = setUp([pressed], [both]);
    const left: string[] = [];
    for (const [key, port] of Object.entries(ports)) Object.assign(port, { leave: () => void left.push(key) });
    press(pressed);
    expect([ports.lawnCam.names(), left]).toEqual([['home', 'home'], ['lawnCam']]);
  });

  it('goes through a list of devices', () => {
    const each = macro(3, [
      step({
        kind: 'repeat',
        id: 'e',
        over: { each: ['deskCam', 'lawnCam'], as: 'camera' },
        steps: [given('h', 'home')],
      }),
    ]);
    const all = button(4, [run(each.id)]);
    const { press, ports } = setUp([all], [each]);
    press(all);
    ports.deskCam.answer(0, { type: 'accepted' });
    expect([ports.deskCam.names(), ports.lawnCam.names()]).toEqual([['home'], ['home']]);
  });
});

describe('what is given and does not fit', () => {
  const home = macro(1, [given('h', 'home')], { params });
  const faultOf = (more: Record<string, unknown>, called = home) => {
    const pressed = button(1, [run(called.id, more)]);
    return programOf(testShow([pressed], [called])).faultOf(pressed.id)?.message;
  };

  it('is told beforehand, and refuses the press', () => {
    expect(faultOf({ camera: 'garden' })).toBe('There is no device garden.');
    expect(faultOf({ camera: 'captions' })).toBe(
      'Captions cannot do this: the macro is written for devices like Desk cam.',
    );
    expect(faultOf({ camera: 'lawnCam' })).toBeUndefined();
  });

  it('or is no parameter of the macro', () => {
    const without = macro(1, [given('h', 'home')]);
    expect(faultOf({}, without)).toBe('Nothing gives this step its camera.');
  });

  it('or comes from a value that names no device: that step fails in words', () => {
    const pressed = button(1, [command('c', 'captions', 'nameOut'), run(home.id, { camera: { cel: '"nobody"' } })]);
    const { press, ports, ends } = setUp([pressed], [home]);
    press(pressed);
    ports.captions.answer(0, done);
    expect(ends()).toEqual(['failed: There is no device nobody.']);
    expect(ports.deskCam.names()).toEqual([]);
  });

  it('or is a position of another camera', () => {
    const [position] = testShow([]).positions.filter(({ camera }) => camera === 'deskCam');
    const recall = macro(1, [given('h', 'recall', { position: position?.key })], { params });
    const pressed = button(1, [run(recall.id, { camera: 'lawnCam' })]);
    const { press, ports, ends } = setUp([pressed], [recall]);
    press(pressed);
    expect(ends()).toEqual([`failed: ${position?.name} is a position of Desk cam, not of Lawn cam.`]);
    expect(ports.lawnCam.names()).toEqual([]);
  });
});

it('is told in words as what is given', () => {
  const document = testShow([]);
  expect(sentenceOf(given('h', 'home'), document)).toContain('the camera given');
  expect(sentenceOf(given('h', 'home'), document)).not.toContain('Desk cam');
});

it('a circle goes through the device that is given, not the one that the macro was written with', () => {
  const record = macro(
    1,
    [{ ...command('s', 'recorder1', 'start', { file: 'x' }), ...{ deviceFrom: 'recorder' } } as Step],
    { params: [{ key: 'recorder', start: 'recorder1' }] },
  );
  const trigger = (recorder: string): Trigger => ({
    ...(testShow([]).triggers[0] as Trigger),
    id: '01J0C0RVANEH1R0000000009AA',
    kind: 'when',
    on: { kind: 'turns', condition: 'recorder2.recording', to: true } as Trigger['on'],
    onlyIf: '',
    steps: [run(record.id, { recorder })],
  });
  const circles = (recorder: string) => circlesOf({ ...testShow([], [record]), triggers: [trigger(recorder)] }).length;
  expect([circles('recorder1'), circles('recorder2')]).toEqual([0, 1]);
});
