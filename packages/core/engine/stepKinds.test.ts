import { airEffect, oppositesOf } from '../programming/index';
import { rehearse } from '../rehearse/index';
import type { Step } from '../show/index';
import { compileProgram } from './index';
import { done, setUp } from './testEngine';
import { button, command, macro, programOf, step, testShow } from './testShow';

const pause = (id: string, ms: number): Step => step({ kind: 'pause', id, length: { ms } });
const refused = { type: 'outcome', outcome: 'refused', why: 'no' } as const;
const nameIn = (id: string): Step => command(id, 'captions', 'nameIn', { name: 'Ines' });
const off = (item: Step): Step => ({ ...item, off: true });

describe('a step that is switched off', () => {
  it('is not done, wherever it stands, and nothing that is said beforehand counts it', () => {
    const pressed = button(1, [
      off(command('a', 'switcher', 'cut')),
      step({ kind: 'together', id: 't', steps: [off(command('b', 'switcher', 'cut')), nameIn('c')] }),
    ]);
    const { press, ports, entries } = setUp([pressed]);
    press(pressed);
    expect(ports.switcher.names()).toEqual([]);
    expect(ports.captions.names()).toEqual(['nameIn']);
    expect(entries.flatMap((entry) => (entry.kind === 'step' ? [entry.stepId] : []))).toEqual(['t', 'c']);
    const { document } = programOf(testShow([pressed]));
    expect(airEffect(pressed.steps, document, () => undefined)).toEqual(
      airEffect([nameIn('c')], document, () => undefined),
    );
    expect(oppositesOf(pressed.steps, document)).toHaveLength(1);
  });

  it('lights no lamp, and what stands behind it is told by its place in the list', () => {
    const pressed = button(1, [
      off(command('a', 'switcher', 'preview', { source: 'roofCam' })),
      step({
        kind: 'group',
        id: 'g',
        name: 'G',
        steps: [off(command('n', 'captions', 'nameOut')), command('b', 'gone', 'cut')],
      }),
    ]);
    const lamps = [{ when: 'button.isSo', show: 'up' as const }];
    const preview = command('a', 'switcher', 'preview', { source: 'roofCam' });
    const [lit, dark] = [button(2, [preview], { lamps }), button(3, [off(preview)], { lamps })];
    const { engine } = setUp([lit, dark]);
    engine.newsOf('switcher').points({ preview: 4 });
    // Roof cam, input 4, is on preview: that is what the switched-off step would make.
    const faces = engine.lamps('main');
    expect([lit, dark].map(({ id }) => faces.get(id)?.sign)).toEqual(['up', null]);
    expect(programOf(testShow([pressed])).faultOf(pressed.id)?.path).toBe('steps.1.steps.1.device');
  });

  it('refuses no press for what it names, and is there again when it is switched on', () => {
    const pressed = button(1, [off(command('a', 'gone', 'cut'))]);
    const show = testShow([pressed]);
    const program = programOf(show);
    expect(program.faultOf(pressed.id)).toBeUndefined();
    const on = { ...pressed, steps: [command('a', 'gone', 'cut')] };
    const next = compileProgram({ ...show, buttons: [on] }, 2, program);
    expect(next.faultOf(pressed.id)?.message).toContain('gone');
    const again = compileProgram({ ...show, buttons: [pressed] }, 3, next);
    expect(again.faultOf(pressed.id)).toBeUndefined();
  });
});

describe('a group', () => {
  it('does its steps one after the other, and what fails in it ends the list as its failure says', () => {
    const steps = (onFail: 'stop' | 'goOn'): Step[] => [
      step({ kind: 'group', id: 'g', name: 'Caption', onFail, steps: [nameIn('a'), command('b', 'switcher', 'cut')] }),
      command('c', 'captions', 'nameOut'),
    ];
    for (const [onFail, then] of [
      ['stop', ['nameIn']],
      ['goOn', ['nameIn', 'nameOut']],
    ] as const) {
      const pressed = button(1, steps(onFail));
      const { press, ports } = setUp([pressed]);
      press(pressed);
      expect(ports.switcher.names()).toEqual([]);
      ports.captions.answer(0, refused);
      expect(ports.switcher.names()).toEqual([]);
      expect(ports.captions.names()).toEqual(then);
    }
  });
});

describe('restore what was there before', () => {
  const restore = (devices: string[] = []): Step => step({ kind: 'restore', id: 'r', devices });

  it('brings back what the macro found, and not what its caller did', () => {
    const inner = macro(1, [command('p', 'switcher', 'preview', { source: 'roofCam' }), restore()]);
    const pressed = button(1, [nameIn('n'), step({ kind: 'run', id: 'c', macro: inner.id, params: {} })]);
    const { press, ports, engine, ends } = setUp([pressed], [inner]);
    engine.newsOf('captions').points({ nameUp: false, nameText: '', nameTitle: '' });
    press(pressed);
    ports.captions.answer(0, done);
    engine.newsOf('captions').points({ nameUp: true, nameText: 'Ines', nameTitle: '' });
    const roof = Number(ports.switcher.sent[0]?.command.params.source);
    ports.switcher.answer(0, done);
    engine.newsOf('switcher').points({ preview: roof });
    // The test switcher begins with input 15 on preview.
    expect(ports.switcher.sent[1]?.command).toMatchObject({ command: 'preview', params: { source: 15 } });
    ports.switcher.answer(1, done);
    expect(ports.captions.names()).toEqual(['nameIn']);
    expect(ends()).toEqual(['done']);
  });

  it('leaves what somebody changed since, and tells it', () => {
    const pressed = button(1, [
      command('p', 'switcher', 'preview', { source: 'roofCam' }),
      pause('w', 1000),
      restore(),
    ]);
    const { press, ports, engine, clock, entries } = setUp([pressed]);
    press(pressed);
    ports.switcher.answer(0, done);
    engine.newsOf('switcher').points({ preview: Number(ports.switcher.sent[0]?.command.params.source) });
    engine.newsOf('switcher').points({ preview: 3 });
    clock.runTo(1000);
    expect(ports.switcher.sent).toHaveLength(1);
    expect(entries.flatMap((entry) => (entry.kind === 'step' ? [entry.words] : [])).at(-1)).toMatch(
      /^Left as it is: .*Roof cam.*: it was changed since\.$/,
    );
  });

  it('of some devices only, and one that refuses does not keep the others', () => {
    const steps = [nameIn('n'), command('p', 'switcher', 'preview', { source: 'roofCam' })];
    for (const [devices, wordsOf] of [
      [['switcher'], ['nameIn']],
      [[], ['nameIn', 'nameOut']],
    ] as const) {
      const pressed = button(1, [...steps, restore([...devices])]);
      const { press, ports, engine, ends } = setUp([pressed]);
      engine.newsOf('captions').points({ nameUp: false, nameText: '', nameTitle: '' });
      press(pressed);
      ports.captions.answer(0, done);
      engine.newsOf('captions').points({ nameUp: true, nameText: 'Ines', nameTitle: '' });
      ports.switcher.answer(0, done);
      engine.newsOf('switcher').points({ preview: Number(ports.switcher.sent[0]?.command.params.source) });
      // The latest comes back first.
      ports.switcher.answer(1, refused);
      if (devices.length === 0) ports.captions.answer(1, done);
      expect(ports.captions.names()).toEqual(wordsOf);
      expect(ends()).toEqual(['failed: no']);
    }
  });

  it('is what follows a macro that is stopped, where it says so', () => {
    const inner = macro(1, [command('p', 'switcher', 'preview', { source: 'roofCam' }), pause('w', 60_000)], {
      atStop: 'asBefore',
      stopSteps: [nameIn('never')],
    });
    const { engine, ports, ends } = setUp([], [inner]);
    const started = engine.runMacro(inner.id, {}, { kind: 'station', id: 'test' });
    if (!started.ok) throw new Error(started.error.message);
    ports.switcher.answer(0, done);
    engine.newsOf('switcher').points({ preview: Number(ports.switcher.sent[0]?.command.params.source) });
    expect(engine.stopAhead().runs.flatMap(({ steps }) => steps)).toEqual(['Preview input 15']);
    engine.board.turn(() => engine.runner.stop(started.value, 'Stopped by test.'));
    ports.switcher.answer(1, done);
    expect(ports.switcher.names()).toEqual(['preview', 'preview']);
    expect(ports.captions.names()).toEqual([]);
    expect(ends()).toEqual(['stopped: Stopped by test.']);
  });

  it('is foreseen by a rehearsal', () => {
    const pressed = button(1, [command('p', 'switcher', 'preview', { source: 'roofCam' }), restore()]);
    const rehearsed = rehearse({ program: programOf(testShow([pressed])), what: { buttonId: pressed.id } });
    const commands = rehearsed.ok
      ? rehearsed.value.entries.flatMap((entry) => (entry.kind === 'command' ? [entry.command.command] : []))
      : [];
    expect(commands).toEqual(['preview', 'preview']);
  });
});

describe('stepping through', () => {
  const steps = [
    nameIn('a'),
    pause('b', 2000),
    step({ kind: 'together', id: 't', steps: [command('c', 'switcher', 'cut'), command('d', 'captions', 'nameOut')] }),
    step({ kind: 'repeat', id: 'e', over: { times: 2 }, steps: [pause('f', 1000)] }),
  ];
  const inner = macro(1, steps);
  const begun = () => {
    const set = setUp([], [inner]);
    const answer = set.engine.press({
      pressId: 'p1',
      buttonId: inner.id,
      phase: 'down',
      station: 'desk',
      stepped: true,
    });
    if (!answer.accepted || answer.runId === null) throw new Error('refused');
    const { runId } = answer;
    const view = () => set.engine.runner.list()[0];
    return { ...set, runId, view, next: () => set.engine.runner.next(runId, view()?.next?.path ?? 'none') };
  };

  it('waits for a touch before each step, of a macro as of lists inside, and takes what starts at once as one', () => {
    const { view, next, ports, clock, ends } = begun();
    const at: string[] = [];
    const touch = (): void => {
      at.push(view()?.next?.path.replace('steps.0.macro.', '') ?? 'none');
      next();
    };
    expect(ports.captions.names()).toEqual([]);
    touch();
    expect(ports.captions.names()).toEqual(['nameIn']);
    expect(view()?.next).toBeNull();
    ports.captions.answer(0, done);
    clock.runTo(10_000);
    touch();
    expect(view()?.next).toBeNull();
    // A pause takes its time from the touch on, not from when it would have been due.
    clock.runTo(11_999);
    expect(view()?.next).toBeNull();
    clock.runTo(12_000);
    touch();
    expect([ports.switcher.names(), ports.captions.names()]).toEqual([['cut'], ['nameIn', 'nameOut']]);
    ports.switcher.answer(0, done);
    ports.captions.answer(1, done);
    touch();
    touch();
    clock.runTo(13_000);
    touch();
    clock.runTo(14_000);
    expect(at).toEqual(['0', '1', '2', '3', '3.0.0', '3.1.0']);
    expect(ends()).toEqual(['done']);
  });

  it('takes a touch that comes twice once, and a stop at any time', () => {
    const { view, next, engine, runId, ports, ends } = begun();
    const path = view()?.next?.path ?? '';
    expect(next()).toBe(true);
    expect(engine.runner.next(runId, path)).toBe(false);
    ports.captions.answer(0, done);
    expect(engine.stopAll('desk').runs).toBe(1);
    expect(engine.runner.next(runId, 'steps.0.macro.1')).toBe(false);
    expect(ends()).toEqual(['stopped: Everything was stopped.']);
  });

  it('tries one step that stands inside another', () => {
    const pressed = button(1, [step({ kind: 'group', id: 'g', name: 'G', steps: [nameIn('x'), nameIn('y')] })]);
    const { press, ports } = setUp([pressed]);
    press(pressed, 'down', { only: 'y' });
    expect(ports.captions.names()).toEqual(['nameIn']);
  });
});
