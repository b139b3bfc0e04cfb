import type { ShowDocument, Step } from '../show/index';
import { compileProgram, MOST_STEPS_AN_INSTANT, type Program } from './index';
import { done, setUp } from './testEngine';
import { button, command, macro, programOf, step, testShow } from './testShow';

const refused = { type: 'outcome', outcome: 'refused', why: 'no' } as const;
const pause = (id: string, ms: number): Step => step({ kind: 'pause', id, length: { ms } });
const call = (id: string, macroId: string, params: Record<string, unknown> = {}): Step =>
  step({ kind: 'run', id, macro: macroId, params });
const compileAfter = (document: ShowDocument, before: Program): Program =>
  compileProgram(document, before.revision + 1, before);
const STATION = { kind: 'station', id: 'test' } as const;

describe('a lifted finger stops what it moved', () => {
  const drive = command('d', 'deskCam', 'drive', { pan: 5 });
  const held = (releaseSteps: Step[]) => button(1, [drive], { mode: 'hold', releaseSteps });

  it('also when a release step before it failed: the end of the move comes first of all', () => {
    const pressed = held([command('out', 'captions', 'nameOut'), command('stop', 'deskCam', 'stop')]);
    const { press, ports, ends } = setUp([pressed]);
    press(pressed);
    ports.deskCam.answer(0, done);
    press(pressed, 'up');
    expect(ports.deskCam.names()).toEqual(['drive', 'stop']);
    ports.deskCam.answer(1, done);
    ports.captions.answer(0, refused);
    // The refused caption is told, and its failure ends nothing.
    expect(ports.deskCam.names()).toEqual(['drive', 'stop', 'stop']);
    ports.deskCam.answer(2, done);
    expect(ends().at(-1)).toBe('failed: no');
  });

  it('also when it has no release steps at all', () => {
    const pressed = held([]);
    const { press, ports } = setUp([pressed]);
    press(pressed);
    press(pressed, 'up');
    expect(ports.deskCam.names()).toEqual(['drive', 'stop']);
  });

  it('also when the move stands in a macro that the button runs', () => {
    const moves = macro(1, [drive]);
    const pressed = button(1, [call('r', moves.id)], { mode: 'hold' });
    const { press, ports } = setUp([pressed], [moves]);
    press(pressed);
    press(pressed, 'up');
    expect(ports.deskCam.names()).toEqual(['drive', 'stop']);
  });

  it('and a device that answers nothing holds the next release step up no longer than 150 ms', () => {
    const pressed = held([command('a', 'captions', 'nameOut'), command('b', 'switcher', 'cut')]);
    const { press, ports, clock } = setUp([pressed]);
    press(pressed);
    press(pressed, 'up');
    clock.runTo(299);
    expect(ports.switcher.names()).toEqual([]);
    clock.runTo(300);
    expect(ports.switcher.names()).toEqual(['cut']);
  });

  it.each([
    ['a press button', button(1, [drive])],
    ['a press button that runs a macro', button(1, [call('r', macro(1, []).id)])],
    [
      'the release of a held button',
      button(1, [command('c', 'switcher', 'cut')], { mode: 'hold', releaseSteps: [drive] }),
    ],
  ])('a move without an end refuses its press in words: %s', (_name, item) => {
    const { press, ports } = setUp([item], [macro(1, [drive])]);
    expect(press(item)).toMatchObject({
      accepted: false,
      error: { code: 'broken-button', mend: expect.stringMatching(/length/) as string },
    });
    expect(ports.deskCam.names()).toEqual([]);
  });

  it('a stated length is an end', () => {
    const pressed = button(1, [command('d', 'deskCam', 'drive', { pan: 5, forSeconds: 2 })]);
    const { press, ports } = setUp([pressed]);
    expect(press(pressed)).toMatchObject({ accepted: true });
    expect(ports.deskCam.sent[0]?.command.params).toMatchObject({ pan: 5, forSeconds: 2 });
  });

  it('one step of a held button that is tried is held as well', () => {
    const pressed = held([command('s', 'deskCam', 'stop')]);
    const { press, ports, clock } = setUp([pressed]);
    expect(press(pressed, 'down', { only: 'd' })).toMatchObject({ accepted: true });
    clock.runTo(399);
    expect(ports.deskCam.names()).toEqual(['drive']);
    clock.runTo(400);
    expect(ports.deskCam.names()).toEqual(['drive', 'stop']);
  });

  it('a direct command to the chosen camera is leased like one to the camera itself', () => {
    const { engine, ports, clock } = setUp([]);
    engine.board.set('chosen@main.camera', 'lawnCam');
    const direct = { device: 'chosen.camera', command: 'nudge', params: { x: 1 } };
    expect(engine.press({ pressId: 'p', buttonId: 'x', phase: 'down', station: 'desk', direct })).toMatchObject({
      accepted: true,
    });
    engine.board.set('chosen@main.camera', 'deskCam');
    clock.runTo(400);
    expect([ports.lawnCam.names(), ports.deskCam.names()]).toEqual([['nudge', 'stop'], []]);
  });
});

describe('stop-all', () => {
  it('runs release and stop steps to their end, each tried, without their pauses and waits; the handle says so before', () => {
    const long = macro(1, [pause('p', 60_000)], {
      stopSteps: [
        command('out', 'captions', 'nameOut'),
        pause('q', 5000),
        step({ kind: 'wait', id: 'w', until: 'captions.nameUp == false', timeoutMs: 9000 }),
        command('cut', 'switcher', 'cut'),
      ],
    });
    const { engine, ports, ends } = setUp([], [long]);
    engine.runMacro(long.id, {}, STATION);
    expect(engine.stopAhead().runs).toEqual([{ name: 'Macro 1', steps: ['Take the name caption out', 'Cut'] }]);
    engine.stopAll('desk');
    ports.captions.answer(0, refused);
    expect(ports.switcher.names()).toEqual(['cut']);
    ports.switcher.answer(0, done);
    expect(ends()).toEqual(['stopped: Everything was stopped. Then: no']);
  });

  it('hurries what tidies up already', () => {
    const long = macro(1, [pause('p', 60_000)], { stopSteps: [pause('q', 5000), command('cut', 'switcher', 'cut')] });
    const { engine, ports, clock } = setUp([], [long]);
    const run = engine.runMacro(long.id, {}, STATION);
    engine.board.turn(() => engine.runner.stop(run.ok ? run.value : '', 'By hand.'));
    clock.runTo(1000);
    expect(ports.switcher.names()).toEqual([]);
    engine.stopAll('desk');
    expect(ports.switcher.names()).toEqual(['cut']);
  });
});

describe('a run is a tree', () => {
  it('a branch that fails and goes on does not end the others', () => {
    const both = step({
      kind: 'together',
      id: 't',
      steps: [{ ...command('a', 'switcher', 'cut'), onFail: 'goOn' }, command('b', 'captions', 'nameOut')],
    });
    const pressed = button(1, [both, command('c', 'switcher', 'cut')]);
    const { press, ports } = setUp([pressed]);
    press(pressed);
    ports.switcher.answer(0, refused);
    expect(ports.switcher.names()).toEqual(['cut']);
    ports.captions.answer(0, done);
    expect(ports.switcher.names()).toEqual(['cut', 'cut']);
  });

  it('a branch that fails ends the others, and nothing of theirs goes on afterwards', () => {
    const branch = macro(1, [pause('p', 100), command('late', 'captions', 'nameOut')]);
    const both = step({
      kind: 'together',
      id: 't',
      onFail: 'goOn',
      steps: [command('a', 'switcher', 'cut'), call('b', branch.id)],
    });
    const pressed = button(1, [both, pause('q', 1000)]);
    const { press, ports, clock, ends } = setUp([pressed], [branch]);
    press(pressed);
    ports.switcher.answer(0, refused);
    clock.runTo(2000);
    expect(ports.captions.names()).toEqual([]);
    expect(ends()).toEqual(['done']);
  });

  it('a late acceptance wakes nothing while stop steps run', () => {
    const long = macro(
      1,
      [command('a', 'deskCam', 'recall', { position: 'inesClose' }), command('b', 'switcher', 'cut')],
      {
        stopSteps: [pause('p', 500)],
      },
    );
    const { engine, ports, clock } = setUp([], [long]);
    const run = engine.runMacro(long.id, {}, STATION);
    engine.board.turn(() => engine.runner.stop(run.ok ? run.value : '', 'By hand.'));
    ports.deskCam.answer(0, { type: 'accepted' }, done);
    clock.runTo(1000);
    expect(ports.switcher.names()).toEqual([]);
  });

  it("a macro's stop steps run when the button that runs it is ended", () => {
    const opening = macro(1, [command('in', 'captions', 'nameIn', { name: 'Ines', title: 'Host' }), pause('p', 4000)], {
      stopSteps: [command('out', 'captions', 'nameOut')],
    });
    const pressed = button(1, [call('r', opening.id)]);
    const { engine, ports, press, ends } = setUp([pressed], [opening]);
    press(pressed);
    ports.captions.answer(0, done);
    engine.stopAll('desk');
    expect(ports.captions.names()).toEqual(['nameIn', 'nameOut']);
    ports.captions.answer(1, done);
    expect(ends()).toEqual(['stopped: Everything was stopped.']);
  });

  it.each([
    ['ignore', 1, []],
    ['end', 1, ['stopped: Pressed again.']],
    ['startOver', 2, ['stopped: Started over.']],
  ] as const)('the button of a macro meets its rule for a second press: %s', (again, starts, ended) => {
    const long = macro(1, [pause('p', 1000)], { again });
    const pressed = button(1, [step({ kind: 'note', id: 'n', text: 'the opening' }), call('r', long.id)]);
    const { press, entries, ends, clock } = setUp([pressed], [long]);
    press(pressed);
    clock.runTo(300);
    press(pressed, 'down', { pressId: 'p2' });
    expect(ends()).toEqual(ended);
    expect(entries.filter((entry) => entry.kind === 'runStart')).toHaveLength(starts);
  });

  it('a macro that another run has waits its turn where it is to run afterwards', () => {
    const long = macro(1, [pause('p', 1000), command('c', 'switcher', 'cut')], { again: 'runAfterwards' });
    const [item, two] = [
      button(1, [call('r', long.id)]),
      button(2, [call('r', long.id), command('n', 'captions', 'nameOut')]),
    ];
    const { press, ports, clock } = setUp([item, two], [long]);
    press(item);
    press(two, 'down', { pressId: 'p2' });
    clock.runTo(1000);
    ports.switcher.answer(0, done);
    clock.runTo(1999);
    expect(ports.switcher.names()).toEqual(['cut']);
    clock.runTo(2000);
    expect(ports.switcher.names()).toEqual(['cut', 'cut']);
    ports.switcher.answer(1, done);
    expect(ports.captions.names()).toEqual(['nameOut']);
  });

  it('the same macro with other arguments is another thing', () => {
    const long = macro(1, [pause('p', 1000)], { params: [{ key: 'n', start: 1 }] });
    const [item, two] = [button(1, [call('r', long.id, { n: 1 })]), button(2, [call('r', long.id, { n: 2 })])];
    const { press, ends } = setUp([item, two], [long]);
    press(item);
    press(two, 'down', { pressId: 'p2' });
    expect(ends()).toEqual([]);
  });

  it('an owned device is taken from a run that holds it, also when a button runs the macro', () => {
    const owner = (number: number) => macro(number, [pause('p', 1000)], { owns: ['deskCam'] });
    const [item, two] = [button(1, [call('r', owner(1).id)]), button(2, [call('r', owner(2).id)])];
    const { press, ends } = setUp([item, two], [owner(1), owner(2)]);
    press(item);
    press(two, 'down', { pressId: 'p2' });
    expect(ends()).toEqual(['failed: Macro 2 took deskCam.']);
  });

  it('what waited for the end of a run that lost its device does not get the device beside the one that took it', () => {
    const first = macro(1, [pause('p', 1000)], { owns: ['deskCam'], again: 'runAfterwards' });
    const second = macro(2, [pause('p', 1000)], { owns: ['deskCam'] });
    const [item, also, two] = [
      button(1, [call('r', first.id)]),
      button(2, [call('r', first.id)]),
      button(3, [call('r', second.id)]),
    ];
    const { press, ends, clock } = setUp([item, also, two], [first, second]);
    press(item);
    press(also, 'down', { pressId: 'p2' });
    press(two, 'down', { pressId: 'p3' });
    expect(ends()).toEqual(['failed: Macro 2 took deskCam.', 'failed: Macro 2 took deskCam.']);
    clock.runTo(1000);
    expect(ends().at(-1)).toBe('done');
  });
});

describe('the kinds of step', () => {
  const count = (id: string, to: string): Step => step({ kind: 'set', id, target: 'value.meteors', to: { cel: to } });

  it('if … otherwise takes one way, and fails where the condition is not known', () => {
    const choose = (when: string) =>
      button(1, [step({ kind: 'if', id: 'i', when, steps: [count('a', '10')], otherwise: [count('b', '20')] })]);
    const results = ['switcher.program == 16', 'switcher.program == 2', 'deskCam.pan > 3.0'].map((when) => {
      const pressed = choose(when);
      const { press, engine, ends } = setUp([pressed]);
      press(pressed);
      return [engine.board.read('value.meteors'), ends()[0]];
    });
    expect(results).toEqual([
      [10, 'done'],
      [20, 'done'],
      [0, 'failed: It is not known at present whether Desk cam: pan is over 3 °.'],
    ]);
  });

  it('repeat goes round so many times, for each of a list, or while a condition holds, at most once a frame', () => {
    const times = button(1, [
      step({ kind: 'repeat', id: 'r', over: { times: 3 }, steps: [count('a', 'value.meteors + 1')] }),
    ]);
    const each = button(2, [
      step({
        kind: 'repeat',
        id: 'r',
        over: { each: [5, 7], as: 'n' },
        steps: [count('a', 'value.meteors + param.n')],
      }),
    ]);
    const during = button(3, [
      step({
        kind: 'repeat',
        id: 'r',
        over: { while: 'value.meteors < 18' },
        steps: [count('a', 'value.meteors + 1')],
      }),
    ]);
    const { press, engine, clock, ends } = setUp([times, each, during]);
    press(times);
    expect(engine.board.read('value.meteors')).toBe(3);
    press(each, 'down', { pressId: 'p2' });
    expect(engine.board.read('value.meteors')).toBe(15);
    press(during, 'down', { pressId: 'p3' });
    // 50 frames a second: the rounds begin at 0, 20 and 40 ms.
    clock.runTo(39);
    expect(engine.board.read('value.meteors')).toBe(17);
    clock.runTo(60);
    expect([engine.board.read('value.meteors'), ends()]).toEqual([18, ['done', 'done', 'done']]);
  });

  it('press presses another button, and lets a held one go', () => {
    const nudge = button(1, [command('d', 'deskCam', 'drive', { pan: 5 })], {
      mode: 'hold',
      releaseSteps: [command('s', 'deskCam', 'stop')],
    });
    const pressed = button(2, [
      step({ kind: 'press', id: 'p', button: nudge.id, holdMs: 300 }),
      command('c', 'switcher', 'cut'),
    ]);
    const { press, ports, clock } = setUp([nudge, pressed]);
    press(pressed);
    ports.deskCam.answer(0, done);
    clock.runTo(299);
    expect(ports.deskCam.names()).toEqual(['drive']);
    clock.runTo(300);
    expect(ports.deskCam.names().filter((name) => name === 'stop').length).toBeGreaterThan(0);
    expect(ports.switcher.names()).toEqual(['cut']);
  });

  it('ask waits for the operator, who may end it; nobody answering ends it too', () => {
    const ask = step({ kind: 'ask', id: 'q', question: 'Is Obi ready?', timeoutMs: 2000, onTimeout: 'stop' });
    const pressed = button(1, [ask, command('c', 'switcher', 'cut')]);
    const { press, engine, ports, clock, ends } = setUp([pressed]);
    press(pressed);
    const [run] = engine.runner.list();
    expect(run?.ask).toEqual({ askId: 'steps.0', question: 'Is Obi ready?' });
    expect(engine.runner.answer(run?.runId ?? '', 'steps.0', 'goOn')).toBe(true);
    expect(ports.switcher.names()).toEqual(['cut']);
    ports.switcher.answer(0, done);
    press(pressed, 'down', { pressId: 'p2' });
    engine.runner.answer(engine.runner.list()[0]?.runId ?? '', 'steps.0', 'stop');
    press(pressed, 'down', { pressId: 'p3' });
    clock.runTo(2000);
    expect(ends()).toEqual([
      'done',
      'stopped: The operator stopped it.',
      'stopped: Nobody answered within 2 s: Is Obi ready?',
    ]);
  });

  it('a list that goes round without a pause is ended in words, and the engine goes on', () => {
    const loop = step({
      kind: 'repeat',
      id: 'r',
      over: { times: 10_000 },
      steps: [step({ kind: 'repeat', id: 's', over: { times: 10_000 }, steps: [count('a', 'value.meteors + 1')] })],
    });
    const [item, cut] = [button(1, [loop]), button(2, [command('c', 'switcher', 'cut')])];
    const { press, engine, ports, ends } = setUp([item, cut]);
    press(item);
    expect(ends()[0]).toMatch(/^failed: It (went round|did) more than 10000/);
    expect(Number(engine.board.read('value.meteors'))).toBeLessThan(MOST_STEPS_AN_INSTANT);
    press(cut, 'down', { pressId: 'p2' });
    expect(ports.switcher.names()).toEqual(['cut']);
  });
});

describe('what does not hold together', () => {
  it('refuses its own press in words, and no other', () => {
    const [bad, good] = [
      button(1, [command('c', 'switcher', 'preview', { source: 'nobody' })]),
      button(2, [command('c', 'switcher', 'cut')]),
    ];
    const { press } = setUp([bad, good]);
    expect(press(bad)).toMatchObject({
      accepted: false,
      error: { code: 'broken-button', message: 'There is no source nobody.' },
    });
    expect(press(good, 'down', { pressId: 'p2' })).toMatchObject({ accepted: true });
  });

  it('a command with the name of something that every object has is none', () => {
    const { engine, ports } = setUp([]);
    for (const name of ['constructor', '__proto__', 'toString', 'hasOwnProperty']) {
      const direct = { device: 'switcher', command: name, params: {} };
      expect(engine.press({ pressId: name, buttonId: 'x', phase: 'down', station: 'desk', direct })).toMatchObject({
        accepted: false,
        error: { code: 'unknown-command' },
      });
    }
    expect(ports.switcher.names()).toEqual([]);
  });

  it('a step whose driver throws fails in words, and the next press is served', () => {
    const cut = button(1, [command('c', 'switcher', 'cut')]);
    const { engine, press, ports, ends } = setUp([cut]);
    const thrower = {
      send: () => {
        throw new Error('a driver that throws');
      },
    };
    engine.attach('captions', thrower);
    engine.newsOf('captions').reached(true, 'here');
    const direct = { device: 'captions', command: 'nameOut', params: {} };
    engine.press({ pressId: 'x', buttonId: 'x', phase: 'down', station: 'desk', direct });
    expect(ends()).toEqual(['failed: It failed inside the engine; the log tells where.']);
    expect(press(cut)).toMatchObject({ accepted: true });
    expect(ports.switcher.names()).toEqual(['cut']);
  });
});

describe('an edit', () => {
  it('takes what it did not touch over, and reads only the caps anew that it changed', () => {
    const [item, two] = [
      button(1, [command('c', 'switcher', 'cut')]),
      button(2, [command('c', 'captions', 'nameOut')]),
    ];
    const before = programOf(testShow([item, two]));
    const after = { ...before.document, buttons: [{ ...item, legend: 'Other' }, two] };
    const next = compileAfter(after, before);
    expect([...(next.changedButtons ?? [])]).toEqual([item.id]);
    expect(next.macros).toBe(before.macros);
    const renamed = {
      ...after,
      devices: after.devices.map((device) => (device.key === 'captions' ? { ...device, name: 'Titles' } : device)),
    };
    expect([...(compileAfter(renamed, next).changedButtons ?? [])]).toEqual([two.id]);
  });

  it('reaches what names a macro through the macro', () => {
    const inner = macro(1, [command('c', 'switcher', 'cut')]);
    const pressed = button(1, [call('r', inner.id)]);
    const before = programOf(testShow([pressed], [inner]));
    const changed = { ...inner, steps: [command('c', 'captions', 'nameOut')] };
    const next = compileAfter({ ...before.document, macros: [changed] }, before);
    expect([[...before.devicesOf(pressed.id)], [...next.devicesOf(pressed.id)]]).toEqual([['switcher'], ['captions']]);
  });
});

describe('values', () => {
  it('stand as an engine before left them, until the show begins', () => {
    const { engine, entries } = setUp(
      [],
      [],
      new Map<string, number | string>([
        ['value.meteors', 240],
        ['value.client', 'Other'],
        ['chosen@left.camera', 'domeCam'],
      ]),
    );
    expect([engine.board.read('value.meteors'), engine.board.read('chosen@left.camera')]).toEqual([240, 'domeCam']);
    engine.beginShow('desk', 'Ines');
    // The count says that it begins anew; the client stays.
    expect([engine.board.read('value.meteors'), engine.board.read('value.client')]).toEqual([0, 'Other']);
    expect(entries.find((entry) => entry.kind === 'showBegin')).toMatchObject({ station: 'desk', person: 'Ines' });
  });
});
