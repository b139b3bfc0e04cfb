import { switcher } from '../devices/index';
import { UNKNOWN, type ReadKey } from '../expression/index';
import type { PlainValue, ShowDocument } from '../show/index';
import { airOf, cameraSeen, seenOf } from './air';
import { airTouches, guardedOnAir } from './onAir';
import { done, setUp } from './testEngine';
import { button, command, macro, programOf, step, testShow } from './testShow';

/** Inputs of the demo: Desk cam 1, Lawn cam 2, Dome cam 3, Roof cam 4; layout 1 is 17, layout 2 is 18, bank 2 is 19. */
const START = switcher.startModel({ startProgram: 16, startPreview: 15 }, 0).step({ type: 'read', now: 0 }).points;
const known = (changes: Record<string, PlainValue>): ReadKey => {
  const points: Record<string, PlainValue> = { ...START, ...changes };
  return (key) => (key.startsWith('switcher.') ? (points[key.slice('switcher.'.length)] ?? UNKNOWN) : UNKNOWN);
};
const nothing: ReadKey = () => UNKNOWN;
const program = programOf(testShow([]));
const withAir = (airOutputs: string[]) => programOf({ ...testShow([]), show: { ...testShow([]).show, airOutputs } });
const where = (changes: Record<string, PlainValue>, input: number, show = program) =>
  airOf(show, known(changes)).seen.get(input);

describe('what is seen on air', () => {
  it.each([
    ['on program', { program: 1 }, 'on program'],
    ['the incoming half of a mix', { preview: 1, mixing: true }, 'coming in on program'],
    ['preview while nothing mixes', { preview: 1 }, undefined],
    [
      'in a box of a layout on program',
      { program: 17, layout1Box2Occupant: 1, layout1Box2On: true },
      'in box 2 of layout 1',
    ],
    ['in a box that is hidden', { program: 17, layout1Box2Occupant: 1, layout1Box2On: false }, undefined],
    ['behind a layout', { program: 17, layout1Background: 1 }, 'behind layout 1'],
    [
      'in a layout in a layout',
      { program: 17, layout1Box1Occupant: 18, layout1Box1On: true, layout2Background: 1 },
      'behind layout 2',
    ],
    ['in a layout that is not seen', { program: 3, layout1Background: 1 }, undefined],
    ['the fill of a keyer that is on', { keyer2: true, keyer2Fill: 1 }, 'in keyer 2'],
    ['the fill of a keyer that is off', { keyer2: false, keyer2Fill: 1 }, undefined],
    ['on the second bank while that is on program', { program: 19, bank2Program: 1 }, 'on mix bank 2'],
    ['on the second bank while that feeds nothing', { bank2Program: 1 }, undefined],
    ['on an auxiliary output', { aux1: 1 }, undefined],
  ])('%s', (_name, points, found) => {
    expect(where(points as Record<string, PlainValue>, 1)).toBe(found);
  });

  it('counts outputs as air that the show says so of', () => {
    expect(where({ aux1: 1 }, 1, withAir(['aux1']))).toBe('on auxiliary output 1');
    expect(where({ aux2: 17, layout1Background: 1 }, 1, withAir(['aux2']))).toBe('behind layout 1');
  });

  it('layouts that show each other come to an end', () => {
    const circle = {
      program: 17,
      layout1Background: 18,
      layout2Background: 17,
      layout2Box1Occupant: 1,
      layout2Box1On: true,
    };
    expect(where(circle, 1)).toBe('in box 1 of layout 2');
  });

  it('a silent switcher leaves every camera possibly seen, and one on no input known unseen', () => {
    const air = airOf(program, nothing);
    expect([seenOf(1, air), seenOf(null, air)]).toEqual(['possibly', 'unseen']);
    const document: ShowDocument = {
      ...testShow([]),
      sources: testShow([]).sources.map((source) => (source.key === 'deskCam' ? { ...source, input: null } : source)),
    };
    expect(cameraSeen('deskCam', programOf(document), air).seen).toBe('unseen');
    expect(cameraSeen('lawnCam', programOf(document), air).seen).toBe('possibly');
  });

  it('one unknown point makes only the rest possibly seen', () => {
    const read = known({ program: 2 });
    const air = airOf(program, (key) => (key === 'switcher.keyer1' ? UNKNOWN : read(key)));
    expect([seenOf(2, air), seenOf(1, air)]).toEqual(['seen', 'possibly']);
  });
});

describe('the guard of what is seen', () => {
  const recall = (camera: string, position: string) => command(`r-${camera}`, camera, 'recall', { position });
  const steps = [recall('deskCam', 'inesClose'), recall('lawnCam', 'lawnWide')];

  it('names each camera once, with where it is seen, and asks no more after a cut', () => {
    const read = known({ program: 17, layout1Box1Occupant: 1, layout1Box1On: true });
    expect(airTouches([...steps, ...steps], program, read)).toEqual([
      { what: 'deskCam', words: 'Desk cam is on air (in box 1 of layout 1): the move would be seen.' },
    ]);
    expect(airTouches([command('c', 'switcher', 'cut'), ...steps], program, read)).toEqual([]);
  });

  it('asks again at each step: a hand allows the cameras that it was told of, and no others', () => {
    const read = known({ program: 1 });
    const [first] = steps;
    if (first?.kind !== 'command') throw new Error('no step');
    expect(guardedOnAir(first, program, read, null)).toMatch(/^Desk cam is on air.*Nobody allowed it/);
    expect(guardedOnAir(first, program, read, new Set(['lawnCam']))).not.toBeNull();
    expect(guardedOnAir(first, program, read, new Set(['deskCam']))).toBeNull();
    expect(guardedOnAir({ ...first, moveOnAir: true }, program, read, null)).toBeNull();
  });

  it('asks nothing of a recall to where the head stands, and asks as soon as nobody can say that it does', () => {
    const recall = command('r', 'deskCam', 'recall', { position: 'inesClose' });
    const asked = (arrived: PlainValue | undefined, travelling: PlainValue | undefined): boolean => {
      const air = known({ program: 1 });
      const read: ReadKey = (key) =>
        key === 'deskCam.arrived'
          ? (arrived ?? UNKNOWN)
          : key === 'deskCam.travelling'
            ? (travelling ?? UNKNOWN)
            : air(key);
      return airTouches([recall], program, read).length > 0;
    };
    expect(asked('inesClose', false)).toBe(false);
    expect([asked('tomaszClose', false), asked('', false), asked('inesClose', true)]).toEqual([true, true, true]);
    // A nudge that is on its way makes unknown where it stands.
    expect([asked(undefined, false), asked('inesClose', undefined)]).toEqual([true, true]);
  });

  it('fails the step of a run that reaches a move on air, where nobody touched twice', () => {
    // The camera is off air when the press comes, and has been cut to when its step is reached.
    const pressed = button(1, [step({ kind: 'pause', id: 'p', length: { ms: 1000 } }), recall('deskCam', 'inesClose')]);
    const { engine, press, ports, clock, ends } = setUp([pressed]);
    expect(press(pressed)).toMatchObject({ accepted: true });
    engine.newsOf('switcher').points({ program: 1 });
    clock.runTo(1000);
    expect(ports.deskCam.names()).toEqual([]);
    expect(ends()[0]).toMatch(/^failed: Desk cam is on air/);
  });

  it('asks for what a macro is given, with the parameters of this button, and then lets it go', () => {
    const stored = macro(
      1,
      [command('put', 'lines', 'putOnLine', { guest: 'Obi Adeyemi', line: { cel: 'param.line' } })],
      {
        params: [{ key: 'line', start: 2 }],
      },
    );
    const runs = (number: number, line?: number) =>
      button(number, [step({ kind: 'run', id: 'run', macro: stored.id, params: line === undefined ? {} : { line } })]);
    const [first, second, usual] = [runs(1, 1), runs(2, 2), runs(3)];
    const { engine, press, ports, clock, ends } = setUp([first, second, usual], [stored]);
    // Line 1 is on input 7 of the demo's switcher.
    engine.newsOf('switcher').points({ program: 7 });
    expect(press(second, 'down', { pressId: 'b' })).toMatchObject({ accepted: true });
    expect(press(usual, 'down', { pressId: 'c' })).toMatchObject({ accepted: true });
    expect(press(first, 'down', { pressId: 'd' })).toMatchObject({
      error: { code: 'second-touch', message: 'Line 1 is on air: the change would be seen.' },
    });
    clock.runTo(500);
    expect(press(first, 'down', { pressId: 'e' })).toMatchObject({ accepted: true });
    expect(ports.lines.sent.map((item) => item.command.params.line)).toEqual([2, 2, 1]);
    ports.lines.answer(2, done);
    expect(ends().at(-1)).toBe('done');
  });

  it('a macro that runs itself with ever other parameters is looked through to an end', () => {
    const round = macro(2, [], { params: [{ key: 'n', start: 1 }] });
    const whole = {
      ...round,
      steps: [step({ kind: 'run', id: 'run', macro: round.id, params: { n: { cel: 'param.n + 1' } } })],
    };
    const pressed = button(1, whole.steps);
    expect(airTouches(pressed.steps, programOf(testShow([pressed], [whole])), nothing)).toEqual([]);
  });

  it('a second touch holds for the whole run', () => {
    const pressed = button(1, [recall('deskCam', 'inesClose'), recall('deskCam', 'tomaszClose')]);
    const { engine, press, ports, clock } = setUp([pressed]);
    engine.newsOf('switcher').points({ program: 1 });
    expect(press(pressed)).toMatchObject({ error: { code: 'second-touch' } });
    clock.runTo(500);
    expect(press(pressed, 'down', { pressId: 'p2' })).toMatchObject({ accepted: true });
    ports.deskCam.answer(0, { type: 'accepted' }, done);
    expect(ports.deskCam.names()).toEqual(['recall', 'recall']);
  });

  it('guards a camera of a silent switcher as if it were on air', () => {
    const pressed = button(1, [recall('deskCam', 'inesClose')]);
    const { engine, press } = setUp([pressed]);
    engine.newsOf('switcher').reached(false, 'gone');
    expect(press(pressed)).toMatchObject({
      error: {
        code: 'second-touch',
        message: expect.stringMatching(/^Whether Desk cam is on air is not known/) as string,
      },
    });
  });
});

describe('lamps and conditions that name sources', () => {
  const lit = button(1, [command('c', 'switcher', 'preview', { source: 'roofCam' })], {
    lamps: [
      { when: 'onAir("roofCam")', show: 'onAir' },
      { when: 'onPreview("roofCam")', show: 'onPreview' },
      { when: 'switcher.aux1 == input("roofCam")', show: 'up' },
    ],
  });

  it('follow the source through boxes, and through a renumbering', () => {
    const { engine } = setUp([lit]);
    const sign = () => engine.lamps('main').get(lit.id)?.sign;
    const points = engine.newsOf('switcher').points;
    points({ program: 17, layout1Background: 4 });
    expect(sign()).toBe('onAir');
    points({ program: 3, preview: 4 });
    expect(sign()).toBe('onPreview');
    points({ preview: 9, aux1: 9 });
    expect(sign()).toBeNull();
    const document = testShow([lit]);
    engine.setProgram(
      programOf({
        ...document,
        sources: document.sources.map((source) =>
          source.key === 'roofCam' ? { ...source, input: 9 } : source.input === 9 ? { ...source, input: null } : source,
        ),
      }),
    );
    expect(sign()).toBe('onPreview');
    points({ preview: 2 });
    expect(sign()).toBe('up');
  });

  it('light nothing while nobody knows', () => {
    const { engine } = setUp([lit]);
    engine.newsOf('switcher').points({ program: 4 });
    expect(engine.lamps('main').get(lit.id)?.sign).toBe('onAir');
    engine.newsOf('switcher').reached(false, 'gone');
    expect(engine.lamps('main').get(lit.id)).toMatchObject({ sign: null, lost: true });
  });
});
