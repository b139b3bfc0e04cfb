import type { PlainValue, Step } from '../show/index';
import { done, setUp } from './testEngine';
import { button, command, macro, step } from './testShow';
import { TAKE_BACK_MS } from './pressIntake';

const refused = { type: 'outcome', outcome: 'refused', why: 'no' } as const;
const preview = (source: string): Step => command('p', 'switcher', 'preview', { source });
const cut = command('c', 'switcher', 'cut');
const nameIn = (name: string): Step => command('n', 'captions', 'nameIn', { name, ms: 400 });
const takesBack = { takeBack: 'p1', pressId: 'p2', buttonId: 'takeBack' };

/** An engine whose switcher and captions tell their points at the start: input 1 on program, 5 on preview, no caption. */
function room(...args: Parameters<typeof setUp>) {
  const all = setUp(...args);
  const tell = (device: string, points: Record<string, PlainValue>): void => all.engine.newsOf(device).points(points);
  tell('switcher', { program: 1, preview: 5 });
  tell('captions', { nameUp: false, nameText: '', nameTitle: '' });
  tell('deskCam', { pan: 10, tilt: 2, zoom: 1, travelling: false });
  const sent = (device: keyof typeof all.ports) =>
    all.ports[device].sent.map(({ command: { command: name, params } }) => [
      name,
      params.source ?? params.name ?? null,
    ]);
  return { ...all, tell, sent };
}

describe('taking back what the last press did', () => {
  it('is told before it happens, the latest first, and brings back what stood before', () => {
    const pressed = button(1, [preview('lawnCam'), cut]);
    const { press, ports, tell, engine, sent } = room([pressed]);
    press(pressed);
    ports.switcher.answer(0, done);
    tell('switcher', { preview: 2 });
    ports.switcher.answer(1, done);
    tell('switcher', { program: 2, preview: 1 });
    const back = engine.takeBack('desk');
    expect(back).toMatchObject({ pressId: 'p1', legend: 'Button 1', leftMs: TAKE_BACK_MS, stays: [] });
    // Program as before the cut; preview as before the press, and not first as before the cut.
    expect(back?.steps).toMatchObject([
      { command: 'program', params: { source: 'input:1' } },
      { command: 'preview', params: { source: 'input:5' } },
    ]);
    expect(press(pressed, 'down', takesBack)).toMatchObject({ accepted: true });
    ports.switcher.answer(2, done);
    ports.switcher.answer(3, done);
    expect(sent('switcher').slice(2)).toEqual([
      ['program', 1],
      ['preview', 5],
    ]);
  });

  it('is over after ten seconds, after it was done, and for another station', () => {
    const pressed = button(1, [preview('lawnCam')]);
    const { press, clock, engine, tell } = room([pressed]);
    press(pressed);
    tell('switcher', { preview: 2 });
    expect(engine.takeBack('roof')).toBeNull();
    expect(press(pressed, 'down', { ...takesBack, station: 'roof' })).toMatchObject({
      error: { code: 'nothing-to-take-back' },
    });
    clock.runTo(TAKE_BACK_MS - 1);
    expect(engine.takeBack('desk')?.leftMs).toBe(1);
    clock.runTo(TAKE_BACK_MS);
    expect(engine.takeBack('desk')).toBeNull();
    expect(press(pressed, 'down', { ...takesBack, pressId: 'p3' })).toMatchObject({
      error: { code: 'nothing-to-take-back' },
    });
  });

  it('goes once, whatever asks for it twice', () => {
    const pressed = button(1, [preview('lawnCam')]);
    const { press, tell, sent } = room([pressed]);
    press(pressed);
    tell('switcher', { preview: 2 });
    const first = press(pressed, 'down', takesBack);
    expect(press(pressed, 'down', takesBack)).toEqual(first);
    expect(press(pressed, 'down', { ...takesBack, pressId: 'p3' })).toMatchObject({ accepted: false });
    expect(sent('switcher')).toEqual([
      ['preview', 2],
      ['preview', 5],
    ]);
  });

  it('leaves alone what somebody changed since, and what nothing brings back, and says so', () => {
    const pressed = button(1, [
      command('s', 'switcher', 'program', { source: 'lawnCam' }),
      nameIn('Wen Zhao'),
      command('m', 'deskCam', 'store', { number: 3 }),
    ]);
    const { press, ports, tell, engine } = room([pressed]);
    press(pressed);
    ports.switcher.answer(0, done);
    ports.captions.answer(0, done);
    tell('switcher', { program: 5 });
    tell('captions', { nameUp: true, nameText: 'Wen Zhao' });
    const back = engine.takeBack('desk');
    expect(back?.steps).toMatchObject([{ command: 'nameOut' }]);
    expect(back?.stays).toEqual([
      expect.stringMatching(/cannot be taken back/),
      expect.stringMatching(/^Put Lawn cam on air: it was changed since/),
    ]);
  });

  it('brings back nothing of what a device refused', () => {
    const pressed = button(1, [
      step({ ...preview('lawnCam'), kind: 'command', id: 'p', onFail: 'goOn' }),
      nameIn('Wen Zhao'),
    ]);
    const { press, ports, tell, engine } = room([pressed]);
    press(pressed);
    ports.switcher.answer(0, refused);
    ports.captions.answer(0, done);
    tell('captions', { nameUp: true, nameText: 'Wen Zhao' });
    expect(engine.takeBack('desk')?.steps).toMatchObject([{ command: 'nameOut' }]);
  });

  it('ends what the press still does, and takes back what its macro did and the values it set', () => {
    const script = macro(1, [
      step({ kind: 'set', id: 'v', target: 'value.meteors', to: 12 }),
      nameIn('Wen Zhao'),
      step({ kind: 'pause', id: 'w', length: { ms: 5000 } }),
      cut,
    ]);
    const pressed = button(1, [step({ kind: 'run', id: 'r', macro: script.id, params: {} })]);
    const { press, ports, engine, clock, ends, sent } = room([pressed], [script]);
    const before = engine.board.read('value.meteors');
    press(pressed);
    ports.captions.answer(0, done);
    engine.newsOf('captions').points({ nameUp: true, nameText: 'Wen Zhao' });
    clock.runTo(1000);
    expect(press(pressed, 'down', takesBack)).toMatchObject({ accepted: true });
    ports.captions.answer(1, done);
    clock.runTo(20_000);
    expect(sent('switcher')).toEqual([]);
    expect(ports.captions.names()).toEqual(['nameIn', 'nameOut']);
    expect(engine.board.read('value.meteors')).toBe(before);
    expect(ends()).toContain('stopped: Taken back.');
  });

  it('asks for a second touch where a camera on air would be seen to move back', () => {
    const pressed = button(1, [command('r', 'deskCam', 'goTo', { pan: 30 })]);
    const { press, ports, tell, clock } = room([pressed]);
    press(pressed, 'down', { sure: true });
    ports.deskCam.answer(0, done);
    // Desk cam is the source on input 1: the switcher has it on program.
    const first = press(pressed, 'down', takesBack);
    expect(first).toMatchObject({ accepted: false, error: { code: 'second-touch' } });
    tell('deskCam', { pan: 30 });
    clock.runTo(500);
    expect(press(pressed, 'down', { ...takesBack, pressId: 'p3' })).toMatchObject({ accepted: true });
    expect(ports.deskCam.sent.at(-1)?.command).toMatchObject({
      command: 'goTo',
      params: { pan: 10, tilt: 2, zoom: 1 },
    });
  });

  it('of a held press takes back what the hold and its release did together', () => {
    const pressed = button(1, [nameIn('Wen Zhao')], {
      mode: 'hold',
      releaseSteps: [command('o', 'captions', 'nameOut')],
    });
    const { press, ports, tell, engine } = room([pressed]);
    press(pressed);
    ports.captions.answer(0, done);
    tell('captions', { nameUp: true, nameText: 'Wen Zhao' });
    press(pressed, 'up');
    ports.captions.answer(1, done);
    tell('captions', { nameUp: false });
    // All is as it was: there is nothing to send.
    expect(engine.takeBack('desk')?.steps).toEqual([
      { id: 'back-1', kind: 'command', onFail: 'goOn', device: 'captions', command: 'nameOut', params: { ms: 400 } },
    ]);
  });
});

describe('a hold that brings back what stood before', () => {
  const held = (steps: Step[]) => button(1, steps, { mode: 'hold', atRelease: 'asBefore' });

  it('takes the caption out, and brings back the one that was up before it', () => {
    const pressed = held([nameIn('Wen Zhao')]);
    const { press, ports, tell, sent } = room([pressed]);
    tell('captions', { nameUp: true, nameText: 'Obi Adeyemi', nameTitle: 'Dune Camp' });
    press(pressed);
    ports.captions.answer(0, done);
    tell('captions', { nameUp: true, nameText: 'Wen Zhao', nameTitle: '' });
    press(pressed, 'up');
    expect(sent('captions')).toEqual([
      ['nameIn', 'Wen Zhao'],
      ['nameIn', 'Obi Adeyemi'],
    ]);
  });

  it('leaves a caption that somebody else brought in meanwhile', () => {
    const pressed = held([nameIn('Wen Zhao')]);
    const { press, ports, tell, sent } = room([pressed]);
    press(pressed);
    ports.captions.answer(0, done);
    tell('captions', { nameUp: true, nameText: 'Ines Halloran', nameTitle: '' });
    press(pressed, 'up');
    expect(sent('captions')).toEqual([['nameIn', 'Wen Zhao']]);
  });

  it('stops a camera that it drove, and does not swing it back', () => {
    const pressed = held([command('d', 'deskCam', 'drive', { pan: 5 })]);
    const { press, ports } = room([pressed]);
    press(pressed, 'down', { sure: true });
    ports.deskCam.answer(0, done);
    press(pressed, 'up');
    expect(ports.deskCam.names()).toEqual(['drive', 'stop']);
  });

  it('goes also where the station is lost, everything is stopped, or a step presses it', () => {
    const pressed = held([nameIn('Wen Zhao')]);
    const two = button(2, [step({ kind: 'press', id: 'b', button: pressed.id, holdMs: 300 })]);
    for (const end of ['lease', 'stopAll', 'step'] as const) {
      const { press, ports, tell, engine, clock } = room([pressed, two]);
      press(end === 'step' ? two : pressed);
      ports.captions.answer(0, done);
      tell('captions', { nameUp: true, nameText: 'Wen Zhao' });
      if (end === 'stopAll') {
        expect(engine.stopAhead().holds).toMatchObject([{ steps: ['Take the name caption out'] }]);
        engine.stopAll('desk');
      } else clock.runTo(600);
      expect([end, ports.captions.names()]).toEqual([end, ['nameIn', 'nameOut']]);
    }
  });
});
