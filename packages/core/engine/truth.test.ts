import type { PlainValue, Step } from '../show/index';
import { sentKey } from './truth';
import { done, setUp } from './testEngine';
import { button, command, macro, step } from './testShow';

const nameIn = command('n', 'captions', 'nameIn', { name: 'Wen Zhao', ms: 400 });
const nameOut = command('o', 'captions', 'nameOut', { ms: 300 });
const set = (id: string, legend: string, steps: Step[], so = '') => ({ id, legend, steps, so });
const caption = button(1, [nameIn], { legend: 'Wen', sets: [set('out', 'Wen out', [nameOut])] });

function room(...args: Parameters<typeof setUp>) {
  const all = setUp(...args);
  const lamps = all.engine.lamps('main');
  let presses = 0;
  return {
    ...all,
    face: (item: { id: string }) => lamps.get(item.id),
    tell: (device: string, points: Record<string, PlainValue>): void => all.engine.newsOf(device).points(points),
    touch: (item: Parameters<typeof all.press>[0]) => {
      const pressId = `t${(presses += 1)}`;
      const answer = all.press(item, 'down', { pressId });
      all.press(item, 'up', { pressId });
      return answer;
    },
  };
}

describe('an alternating button', () => {
  it('does and says what is next, by what the device tells, also when it was changed elsewhere', () => {
    const { touch, tell, face, ports } = room([caption]);
    tell('captions', { nameUp: false, nameText: '', nameTitle: '' });
    expect(face(caption)?.legend).toBeUndefined();
    touch(caption);
    ports.captions.answer(0, done);
    tell('captions', { nameUp: true, nameText: 'Wen Zhao', nameTitle: '' });
    expect(face(caption)?.legend).toBe('Wen out');
    touch(caption);
    expect(ports.captions.names()).toEqual(['nameIn', 'nameOut']);
    // Taken out by somebody else before it was answered: the next press brings it in again.
    tell('captions', { nameUp: false });
    expect(face(caption)?.legend).toBeUndefined();
    // Another name is up: it is none of both, and the first is next.
    tell('captions', { nameUp: true, nameText: 'Obi Adeyemi' });
    expect(face(caption)?.legend).toBeUndefined();
  });

  it('goes round three sets', () => {
    const to = (source: string) => [command('p', 'switcher', 'aux', { output: 1, source })];
    const pressed = button(1, to('deskCam'), {
      sets: [set('b', 'Lawn', to('lawnCam')), set('c', 'Dome', to('domeCam'))],
    });
    const { tell, face, touch, ports } = room([pressed]);
    const shown = (input: number) => {
      tell('switcher', { aux1: input });
      return face(pressed)?.legend ?? pressed.legend;
    };
    expect([shown(1), shown(2), shown(3), shown(9)]).toEqual(['Lawn', 'Dome', 'Button 1', 'Button 1']);
    tell('switcher', { aux1: 2 });
    touch(pressed);
    expect(ports.switcher.sent[0]?.command.params).toMatchObject({ source: 3 });
  });

  it('goes by what was sent last where the device tells nothing, says so, and remembers it after a new start', () => {
    const store = (number: number) => [command('s', 'deskCam', 'store', { number })];
    const pressed = button(1, store(1), { sets: [set('b', 'Second', store(2))] });
    const { touch, face, ports, engine } = room([pressed]);
    expect(face(pressed)).toMatchObject({ asSent: true });
    expect(face(pressed)?.legend).toBeUndefined();
    touch(pressed);
    expect(face(pressed)).toMatchObject({ asSent: true, legend: 'Second' });
    expect(engine.board.read(sentKey(pressed.id))).toBe(0);
    touch(pressed);
    expect(ports.deskCam.sent.map(({ command: states }) => states.params.number)).toEqual([1, 2]);
    expect(face(pressed)?.legend).toBeUndefined();
    const after = room([pressed], [], new Map([[sentKey(pressed.id), 0]]));
    expect(after.face(pressed)).toMatchObject({ legend: 'Second', asSent: true });
  });

  it('asks a condition where one is given', () => {
    const store = (number: number) => [command('s', 'deskCam', 'store', { number })];
    const pressed = button(1, store(1), { sets: [set('b', 'Second', store(2), 'value.meteors > 10')] });
    const { engine, face } = room([pressed]);
    engine.board.turn(() => engine.board.set('value.meteors', 11));
    expect(face(pressed)?.legend).toBeUndefined();
    // The second is not so: of the first nothing is known, so that it counts as so.
    engine.board.turn(() => engine.board.set('value.meteors', 3));
    expect(face(pressed)?.legend).toBe('Second');
    expect(face(pressed)?.asSent).toBeUndefined();
  });
});

describe('a lamp that asks whether what its button does is so', () => {
  it('follows every point that its steps would put', () => {
    const pressed = button(1, [nameIn, command('k', 'switcher', 'keyer', { keyer: 1, on: true })], {
      lamps: [{ when: 'button.isSo', show: 'up' }],
    });
    const { tell, face } = room([pressed]);
    tell('captions', { nameUp: true, nameText: 'Wen Zhao', nameTitle: '' });
    tell('switcher', { keyer1: false });
    expect(face(pressed)?.sign).toBeNull();
    tell('switcher', { keyer1: true });
    expect(face(pressed)?.sign).toBe('up');
    tell('captions', { nameText: 'Obi Adeyemi' });
    expect(face(pressed)?.sign).toBeNull();
  });

  it('follows a macro with what the button gives it, and a device that falls silent', () => {
    const pressed = button(1, [command('a', 'switcher', 'aux', { output: 2, source: 'lawnCam' })], {
      lamps: [{ when: 'button.isSo', show: 'onPreview' }],
    });
    const { tell, face, engine } = room([pressed]);
    tell('switcher', { aux2: 2 });
    expect(face(pressed)?.sign).toBe('onPreview');
    engine.newsOf('switcher').reached(false, 'gone');
    expect(face(pressed)).toMatchObject({ sign: null, lost: true });
  });

  it('is nothing that a step can ask', () => {
    const pressed = button(1, [step({ kind: 'wait', id: 'w', until: 'button.isSo', timeoutMs: 10 })]);
    const { press } = room([pressed]);
    expect(press(pressed)).toMatchObject({
      accepted: false,
      error: { message: expect.stringMatching(/Only a lamp/) as string },
    });
  });
});

describe('what a button does beside its press', () => {
  const preview = command('p', 'switcher', 'preview', { source: 'lawnCam' });
  const adds = (at: 'release' | 'held' | 'again', ms = 600) => ({
    at,
    ms,
    steps: [command('x', 'captions', 'nameOut')],
  });

  it('at release: its steps come on top, and the press goes on', () => {
    const pressed = button(
      1,
      [preview, step({ kind: 'pause', id: 'w', length: { ms: 1000 } }), command('c', 'switcher', 'cut')],
      {
        additions: [adds('release')],
      },
    );
    const { press, ports, clock } = room([pressed]);
    press(pressed);
    ports.switcher.answer(0, done);
    clock.runTo(100);
    press(pressed, 'up');
    expect(ports.captions.names()).toEqual(['nameOut']);
    clock.runTo(1100);
    expect(ports.switcher.names()).toEqual(['preview', 'cut']);
  });

  it('after being held: once, and not when the finger was lifted before', () => {
    const pressed = button(1, [preview], { additions: [adds('held', 500)] });
    for (const [lifted, expected] of [
      [400, []],
      [600, ['nameOut']],
    ] as const) {
      const { press, ports, clock } = room([pressed]);
      press(pressed);
      for (let t = 100; t < lifted; t += 100) clock.at(t, () => press(pressed, 'hold'));
      clock.runTo(lifted);
      press(pressed, 'up');
      clock.runTo(2000);
      expect(ports.captions.names()).toEqual(expected);
      expect(ports.switcher.names()).toEqual(['preview']);
    }
  });

  it('at a second press within its time: that in place of the press; a third is a first again', () => {
    const pressed = button(1, [preview], { additions: [adds('again', 400)] });
    const { touch, ports, clock } = room([pressed]);
    touch(pressed);
    clock.runTo(400);
    touch(pressed);
    expect([ports.switcher.names(), ports.captions.names()]).toEqual([['preview'], ['nameOut']]);
    clock.runTo(500);
    touch(pressed);
    clock.runTo(901);
    touch(pressed);
    expect([ports.switcher.names(), ports.captions.names()]).toEqual([['preview', 'preview', 'preview'], ['nameOut']]);
  });

  it('a guarded button has no second press: its second touch is the press', () => {
    const pressed = button(1, [preview], { guard: 'secondTouch', additions: [adds('again', 400)] });
    const { touch, ports, clock } = room([pressed]);
    touch(pressed);
    clock.runTo(300);
    touch(pressed);
    expect([ports.switcher.names(), ports.captions.names()]).toEqual([['preview'], []]);
  });

  it('a move without an end refuses the press in words', () => {
    const pressed = button(1, [preview], {
      additions: [{ at: 'held', ms: 500, steps: [command('d', 'deskCam', 'drive', { pan: 5 })] }],
    });
    const { press } = room([pressed]);
    expect(press(pressed)).toMatchObject({ accepted: false, error: { code: 'broken-button' } });
  });
});

describe('the cap of a source', () => {
  it('says when its picture is lost, black or frozen', () => {
    const lawn = button(1, [command('p', 'switcher', 'preview', { source: 'lawnCam' })]);
    const { tell, face } = room([lawn]);
    const states = ['good', 'none', 'black', 'frozen', 'good'].map((input2Picture) => {
      tell('switcher', { input2Picture });
      return face(lawn)?.picture;
    });
    expect(states).toEqual([undefined, 'none', 'black', 'frozen', undefined]);
  });

  it('says it also where buttons share a macro and each gives its own source', () => {
    const shared = macro(1, [command('p', 'switcher', 'preview', { source: { cel: 'param.source' } })], {
      params: [{ key: 'source', start: 'deskCam' }],
    });
    const of = (number: number, source: string) =>
      button(number, [step({ kind: 'run', id: 'r', macro: shared.id, params: { source } })]);
    const [desk, lawn] = [of(1, 'deskCam'), of(2, 'lawnCam')];
    const { tell, face } = room([desk, lawn], [shared]);
    tell('switcher', { input1Picture: 'good', input2Picture: 'frozen' });
    expect([face(desk)?.picture, face(lawn)?.picture]).toEqual([undefined, 'frozen']);
  });
});
