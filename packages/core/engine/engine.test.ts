import { changed } from '../programming/changes';
import { applyEdit, type Button, type Macro } from '../show/index';
import { compileProgram } from './program';
import { done, setUp } from './testEngine';
import { button, command, macro, programOf, step, testShow } from './testShow';

const recallThenCut = [
  command('recall', 'deskCam', 'recall', { position: 'inesClose' }),
  step({ kind: 'wait', id: 'arrive', until: 'deskCam.arrived == "inesClose"', timeoutMs: 6000 }),
  command('cut', 'switcher', 'cut'),
];

describe('a run', () => {
  it('cuts only after the head has arrived, though it stood there before', () => {
    const pressed = button(1, recallThenCut);
    const { engine, ports, press } = setUp([pressed]);
    engine.newsOf('deskCam').points({ arrived: 'inesClose' });
    press(pressed);
    // Sent and not answered: what was known of the place is not to be trusted any more.
    expect(ports.switcher.names()).toEqual([]);
    ports.deskCam.answer(0, { type: 'accepted' });
    engine.newsOf('deskCam').points({ travelling: true, arrived: '' });
    expect(ports.switcher.names()).toEqual([]);
    ports.deskCam.answer(0, done);
    engine.newsOf('deskCam').points({ arrived: 'inesClose' });
    expect(ports.switcher.names()).toEqual(['cut']);
  });

  it.each(['refused', 'lost', 'late'] as const)(
    'never cuts after a recall that was %s, even once accepted',
    (outcome) => {
      const pressed = button(1, recallThenCut);
      const { engine, ports, press, ends } = setUp([pressed]);
      press(pressed);
      ports.deskCam.answer(0, { type: 'accepted' }, { type: 'outcome', outcome, why: 'for a test' });
      engine.newsOf('deskCam').points({ arrived: 'inesClose' });
      expect(ports.switcher.names()).toEqual([]);
      expect(ends()).toEqual(['failed: for a test']);
    },
  );

  it('gives up a wait after its time-out and says what it waited for', () => {
    const pressed = button(1, recallThenCut);
    const { clock, ports, press, ends } = setUp([pressed]);
    press(pressed);
    ports.deskCam.answer(0, { type: 'accepted' });
    clock.runTo(5999);
    expect(ends()).toEqual([]);
    clock.runTo(6000);
    expect(ends()).toEqual(['failed: Timed out after 6 s: Desk cam has arrived at Ines close']);
  });

  it('counts pauses from when they were due, so that lateness does not add up', () => {
    const pause = (id: string, length: Record<string, number>) => step({ kind: 'pause', id, length });
    const pressed = button(1, [
      pause('a', { ms: 100 }),
      command('x', 'switcher', 'cut'),
      pause('b', { frames: 5 }),
      command('y', 'captions', 'nameOut'),
    ]);
    const { clock, ports, press } = setUp([pressed]);
    press(pressed);
    clock.runTo(100);
    expect(ports.switcher.names()).toEqual(['cut']);
    // The answer comes 70 ms late; 5 frames at 50 a second are 100 ms, and they still end at 200.
    clock.runTo(170);
    ports.switcher.answer(0, done);
    clock.runTo(199);
    expect(ports.captions.names()).toEqual([]);
    clock.runTo(200);
    expect(ports.captions.names()).toEqual(['nameOut']);
  });

  it('starts what stands together in one instant and goes on when each has ended', () => {
    const both = step({
      kind: 'together',
      id: 't',
      steps: [command('a', 'switcher', 'cut'), command('b', 'captions', 'nameOut')],
    });
    const pressed = button(1, [both, command('c', 'switcher', 'cut')]);
    const { ports, press } = setUp([pressed]);
    press(pressed);
    expect([ports.switcher.names(), ports.captions.names()]).toEqual([['cut'], ['nameOut']]);
    ports.switcher.answer(0, done);
    expect(ports.switcher.names()).toEqual(['cut']);
    ports.captions.answer(0, done);
    expect(ports.switcher.names()).toEqual(['cut', 'cut']);
  });

  it('keeps what stands together until all of it is there, then lets every device have its own at once', () => {
    const all = step({
      kind: 'together',
      id: 't',
      steps: [
        command('a', 'switcher', 'preview', { source: 'lawnCam' }),
        command('b', 'captions', 'nameOut'),
        command('c', 'switcher', 'keyer', { keyer: 2, on: true }),
        step({ kind: 'group', id: 'g', name: 'later', steps: [command('d', 'switcher', 'cut')] }),
      ],
    });
    const pressed = button(1, [all, command('e', 'captions', 'nameOut')]);
    const { engine, press } = setUp([pressed]);
    const commands: string[] = [];
    const ends: (() => void)[] = [];
    for (const device of ['switcher', 'captions'])
      engine.attach(device, {
        send: (_id, { command: name }, onEvent, together = false) => {
          commands.push(`${device} ${name}${together ? ', kept' : ''}`);
          ends.push(() => onEvent({ type: 'outcome', outcome: 'done' }));
          return () => undefined;
        },
        leave: () => void commands.push(`${device} leaves`),
      });
    for (const device of ['switcher', 'captions']) engine.newsOf(device).reached(true, '');
    press(pressed);
    expect(commands).toEqual([
      'switcher preview, kept',
      'captions nameOut, kept',
      'switcher keyer, kept',
      // A step in a group is one of a list: it may come later.
      'switcher cut',
      'switcher leaves',
      'captions leaves',
    ]);
    for (const done of ends.splice(0)) done();
    expect(commands.at(-1)).toBe('captions nameOut');
  });

  it('goes on after a failure where the step says so', () => {
    const pressed = button(1, [
      { ...command('a', 'switcher', 'cut'), onFail: 'goOn' },
      command('b', 'captions', 'nameOut'),
    ]);
    const { ports, press, ends } = setUp([pressed]);
    press(pressed);
    ports.switcher.answer(0, { type: 'outcome', outcome: 'refused', why: 'no' });
    expect(ports.captions.names()).toEqual(['nameOut']);
    ports.captions.answer(0, done);
    expect(ends()).toEqual(['done']);
  });

  it('hands parameters to the macro that it runs, sets values, and reads them', () => {
    const inner = macro(
      1,
      [step({ kind: 'set', id: 's', target: 'value.meteors', to: { cel: 'value.meteors + param.more' } })],
      { params: [{ key: 'more', start: 1 }] },
    );
    const pressed = button(1, [
      step({ kind: 'run', id: 'r', macro: inner.id, params: { more: 4 } }),
      step({ kind: 'run', id: 'q', macro: inner.id, params: {} }),
    ]);
    const { engine, press, ends } = setUp([pressed], [inner]);
    press(pressed);
    expect(engine.board.read('value.meteors')).toBe(5);
    expect(ends()).toEqual(['done']);
  });

  it('stops and says so when a condition cannot be worked out', () => {
    const pressed = button(1, [step({ kind: 'wait', id: 'w', until: 'captions.nameText > 3', timeoutMs: 1000 })]);
    const { engine, press, ends } = setUp([pressed]);
    engine.newsOf('captions').points({ nameText: 'Ines' });
    press(pressed);
    expect(ends()[0]).toMatch(/^failed: “Captions: name on the caption is over 3” cannot be worked out/);
  });

  it('runs its stop steps when it is stopped, once', () => {
    const long = macro(1, [step({ kind: 'pause', id: 'p', length: { ms: 5000 } })], {
      stopSteps: [command('out', 'captions', 'nameOut')],
    });
    const { engine, ports, clock, ends } = setUp([], [long]);
    engine.runMacro(long.id, {}, { kind: 'station', id: 'test' });
    clock.runTo(1000);
    expect(engine.stopAll('desk')).toEqual({ runs: 1, holds: 0 });
    expect(ports.captions.names()).toEqual(['nameOut']);
    ports.captions.answer(0, done);
    expect(ends()).toEqual(['stopped: Everything was stopped.']);
    clock.runTo(10_000);
    expect(ends()).toHaveLength(1);
  });

  it.each([
    ['startOver', ['stopped: Started over.'], 2],
    ['ignore', [], 1],
    ['end', ['stopped: Pressed again.'], 1],
    ['runAfterwards', [], 1],
  ] as const)('that is pressed again does what was chosen: %s', (again, ended, starts) => {
    const long = macro(1, [step({ kind: 'pause', id: 'p', length: { ms: 1000 } })], { again });
    const { engine, clock, entries, ends } = setUp([], [long]);
    engine.runMacro(long.id, {}, { kind: 'station', id: 'test' });
    clock.runTo(500);
    engine.runMacro(long.id, {}, { kind: 'station', id: 'test' });
    expect(ends()).toEqual(ended);
    expect(entries.filter((entry) => entry.kind === 'runStart')).toHaveLength(starts);
    clock.runTo(1200);
    expect(entries.filter((entry) => entry.kind === 'runStart')).toHaveLength(again === 'runAfterwards' ? 2 : starts);
  });

  it('loses a device to the run that takes it, and is stopped', () => {
    const owner = (number: number): Macro =>
      macro(number, [step({ kind: 'pause', id: 'p', length: { ms: 1000 } })], { owns: ['deskCam'] });
    const { engine, ends } = setUp([], [owner(1), owner(2)]);
    engine.runMacro(owner(1).id, {}, { kind: 'station', id: 'test' });
    engine.runMacro(owner(2).id, {}, { kind: 'station', id: 'test' });
    expect(ends()).toEqual(['stopped: Macro 2 took deskCam.']);
  });
});

describe('a press', () => {
  const nudge = button(1, [command('d', 'chosen.camera', 'drive', { pan: 5 })], {
    mode: 'hold',
    releaseSteps: [command('s', 'chosen.camera', 'stop')],
  });
  const cut = button(2, [command('c', 'switcher', 'cut')]);

  it('does each phase once and answers the same again', () => {
    const { ports, press } = setUp([cut]);
    expect(press(cut)).toEqual({ accepted: true, runId: 'n1' });
    expect(press(cut)).toEqual({ accepted: true, runId: 'n1' });
    expect(ports.switcher.names()).toEqual(['cut']);
  });

  it('that was released before it came is refused', () => {
    const { ports, press } = setUp([cut]);
    press(cut, 'up');
    expect(press(cut)).toMatchObject({ accepted: false, error: { code: 'released-before-press' } });
    expect(ports.switcher.names()).toEqual([]);
  });

  it('that is more than 2 s old is refused', () => {
    const { clock, press } = setUp([cut]);
    const now = clock.now();
    expect(press(cut, 'down', { at: now - 2001 })).toMatchObject({ accepted: false, error: { code: 'too-old' } });
    expect(press(cut, 'down', { pressId: 'p2', at: now - 2000 })).toMatchObject({ accepted: true });
  });

  it('is refused when the device of its first step is silent, or nothing is chosen', () => {
    const { engine, press } = setUp([cut, nudge]);
    expect(press(nudge, 'down', { pressId: 'p2' })).toMatchObject({
      accepted: false,
      error: { code: 'nothing-chosen' },
    });
    engine.newsOf('switcher').reached(false, 'gone');
    expect(press(cut)).toMatchObject({ accepted: false, error: { code: 'device-silent' } });
  });

  it('releases the camera that it moved, although another was chosen meanwhile', () => {
    const { engine, ports, press } = setUp([nudge]);
    engine.board.set('chosen@main.camera', 'deskCam');
    press(nudge);
    engine.board.set('chosen@main.camera', 'lawnCam');
    press(nudge, 'up');
    expect([ports.deskCam.names(), ports.lawnCam.names()]).toEqual([['drive', 'stop'], []]);
  });

  it('is released 400 ms after its last renewal, once', () => {
    const { clock, engine, ports, press } = setUp([nudge]);
    engine.board.set('chosen@main.camera', 'deskCam');
    press(nudge);
    clock.runTo(300);
    expect(press(nudge, 'hold')).toMatchObject({ accepted: true });
    clock.runTo(699);
    expect(ports.deskCam.names()).toEqual(['drive']);
    clock.runTo(700);
    expect(ports.deskCam.names()).toEqual(['drive', 'stop']);
    press(nudge, 'up');
    engine.stationLost('desk');
    expect(ports.deskCam.names()).toEqual(['drive', 'stop']);
    expect(press(nudge, 'hold')).toMatchObject({ accepted: false, error: { code: 'not-held' } });
  });

  it('is released when its station is lost', () => {
    const { engine, ports, press } = setUp([nudge]);
    engine.board.set('chosen@main.camera', 'deskCam');
    press(nudge);
    engine.stationLost('another');
    expect(ports.deskCam.names()).toEqual(['drive']);
    engine.stationLost('desk');
    expect(ports.deskCam.names()).toEqual(['drive', 'stop']);
  });

  it('finishes with the show that it began with', () => {
    const { engine, ports, press } = setUp([nudge]);
    engine.board.set('chosen@main.camera', 'deskCam');
    press(nudge);
    engine.setProgram(programOf(testShow([{ ...nudge, releaseSteps: [] }])));
    press(nudge, 'up');
    expect(ports.deskCam.names()).toEqual(['drive', 'stop']);
  });
});

describe('lamps', () => {
  const lit = button(1, [command('c', 'switcher', 'preview', { source: 'deskCam' })], {
    note: '{{ switcher.program }} on air',
    lamps: [
      { when: 'switcher.program == 1', show: 'onAir' },
      { when: 'switcher.preview == 1', show: 'onPreview' },
    ],
  });

  it('show the first rule that holds, from what the device says', () => {
    const { engine } = setUp([lit]);
    const lamps = engine.lamps('main');
    expect(lamps.get(lit.id)).toEqual({ sign: null, lost: false, note: 'Black on air' });
    lamps.takeChanges();
    engine.newsOf('switcher').points({ program: 1, preview: 1 });
    expect([...lamps.takeChanges().values()]).toEqual([{ sign: 'onAir', lost: false, note: 'Desk cam on air' }]);
    engine.newsOf('switcher').points({ program: 2 });
    expect(lamps.get(lit.id)).toEqual({ sign: 'onPreview', lost: false, note: 'Lawn cam on air' });
  });

  it('tell a timecode in a legend as one, at the rate of the show', () => {
    const shows = button(1, [], { legend: '{{ recorder1.timecode }}', note: 'at {{recorder1.timecode + 1}}' });
    const { engine } = setUp([shows]);
    engine.newsOf('recorder1').reached(true, 'here');
    engine.newsOf('recorder1').points({ timecode: 36_062.5 });
    // Half a second at 50 frames a second are 25 of them. What is worked out from it is a number.
    expect(engine.lamps('main').get(shows.id)).toMatchObject({ legend: '10:01:02:25', note: 'at 36063.5' });
  });

  it('tell sources, positions and cameras in a legend by their names, also when these change', () => {
    const shows = button(1, [], {
      legend: '{{ switcher.program }}, {{ switcher.preview }}',
      note: '{{ chosen.camera }}: {{ deskCam.arrived }}',
    });
    const { engine } = setUp([shows]);
    engine.newsOf('switcher').points({ program: 2, preview: 0 });
    engine.newsOf('deskCam').points({ arrived: 'inesClose' });
    engine.board.turn(() => engine.board.set('chosen@main.camera', 'deskCam'));
    const lamps = engine.lamps('main');
    expect(lamps.get(shows.id)).toMatchObject({ legend: 'Lawn cam, –', note: 'Desk cam: Ines close' });
    const { document } = engine.program;
    const named = {
      ...document,
      sources: document.sources.map((source) => (source.input === 2 ? { ...source, name: 'Garden' } : source)),
    };
    engine.setProgram(compileProgram(named, engine.program.revision + 1, engine.program));
    expect(lamps.get(shows.id)).toMatchObject({ legend: 'Garden, –', note: 'Desk cam: Ines close' });
  });

  it('go out where a device says "not a number": it is unknown, and no page is told otherwise than the engine', () => {
    const { engine } = setUp([lit]);
    engine.newsOf('switcher').points({ program: 1, preview: 1 });
    for (const nonsense of [Number.NaN, Number.POSITIVE_INFINITY]) {
      engine.newsOf('switcher').points({ program: nonsense });
      expect([typeof engine.board.read('switcher.program'), engine.board.read('switcher.preview')]).toEqual([
        'symbol',
        1,
      ]);
    }
  });

  it('go out and say lost when the device falls silent', () => {
    const { engine } = setUp([lit]);
    engine.newsOf('switcher').points({ program: 1 });
    const lamps = engine.lamps('main');
    engine.newsOf('switcher').reached(false, 'gone');
    expect(lamps.get(lit.id)).toEqual({ sign: null, lost: true, note: '– on air' });
  });

  it('follow a large edit fifty at a time; a press does not wait for the rest', () => {
    const many = Array.from({ length: 120 }, (_, at) => button(at + 1, [], { note: 'before' }));
    const { engine, clock } = setUp(many);
    const lamps = engine.lamps('main');
    const edited = applyEdit(engine.program.document, {
      changes: many.map((item) => changed('buttons', item, 'note', 'after')),
    });
    if (!edited.ok) throw new Error(edited.error[0]?.message);
    engine.setProgram(compileProgram(edited.value, 2, engine.program));
    const read = (): number => [...lamps.all()].filter(([, { note }]) => note === 'after').length;
    expect(read()).toBe(50);
    clock.runTo(clock.now());
    expect(read()).toBe(120);
  });

  it('differ between link groups that have chosen differently', () => {
    const chosen = button(2, [step({ kind: 'set', id: 's', target: 'chosen.camera', to: 'deskCam' })], {
      lamps: [{ when: 'chosen.camera == "deskCam"', show: 'chosen' }],
    });
    const { engine, press } = setUp([chosen]);
    const [left, right] = [engine.lamps('left'), engine.lamps('right')];
    press(chosen, 'down', { linkGroup: 'left' });
    expect([left.get(chosen.id)?.sign, right.get(chosen.id)?.sign]).toEqual(['chosen', null]);
  });
});

describe('stop-all', () => {
  it('stops heads and holds, and touches neither program nor captions', () => {
    const nudge = button(1, [command('d', 'deskCam', 'drive', { pan: 5 })], {
      mode: 'hold',
      releaseSteps: [command('s', 'deskCam', 'stop')],
    });
    const { engine, ports, press } = setUp([nudge]);
    press(nudge);
    expect(engine.stopAll('desk')).toMatchObject({ holds: 1 });
    expect([ports.deskCam.names(), ports.lawnCam.names(), ports.switcher.names(), ports.captions.names()]).toEqual([
      ['drive', 'stop', 'stop'],
      ['stop'],
      [],
      [],
    ]);
  });
});

describe('a second touch', () => {
  const guarded = button(1, [command('cut', 'switcher', 'cut')], { guard: 'secondTouch' });
  const swing = button(2, [command('recall', 'deskCam', 'recall', { position: 'inesClose' })]);
  const cutThenSwing = button(3, [
    command('cut', 'switcher', 'cut'),
    command('recall', 'deskCam', 'recall', { position: 'inesClose' }),
  ]);
  const touch = (set: ReturnType<typeof setUp>, item: Button, pressId: string, station = 'desk') =>
    set.press(item, 'down', { pressId, station });

  it('is asked for by a guarded button, counts within three seconds, and only from the same station', () => {
    const set = setUp([guarded]);
    expect(touch(set, guarded, 'a')).toMatchObject({
      accepted: false,
      error: { code: 'second-touch', message: 'Button 1 is guarded.' },
    });
    expect(touch(set, guarded, 'b', 'other')).toMatchObject({ accepted: false });
    // A trembling finger 50 ms later is no second touch; one after half a second is.
    set.clock.runTo(50);
    expect(touch(set, guarded, 'c')).toMatchObject({ accepted: false });
    set.clock.runTo(500);
    expect(touch(set, guarded, 'd')).toMatchObject({ accepted: true });
    expect(set.ports.switcher.names()).toEqual(['cut']);
    // The next press begins anew, and a second touch that comes too late asks again.
    expect(touch(set, guarded, 'e')).toMatchObject({ accepted: false });
    set.clock.runTo(3600);
    expect(touch(set, guarded, 'f')).toMatchObject({ accepted: false });
  });

  it('is asked for when a camera on air would move, and not once another picture was cut to', () => {
    const set = setUp([swing, cutThenSwing]);
    set.engine.newsOf('switcher').points({ program: 2 });
    expect(touch(set, swing, 'a')).toMatchObject({ accepted: true });
    set.engine.newsOf('switcher').points({ program: 1 });
    expect(touch(set, swing, 'b')).toMatchObject({
      accepted: false,
      error: { message: 'Desk cam is on air: the move would be seen.' },
    });
    expect(touch(set, cutThenSwing, 'c')).toMatchObject({ accepted: true });
  });

  const moving = (onAirMoves: string) => {
    const document = testShow([swing]);
    const allowed = {
      ...document,
      devices: document.devices.map((device) => ({
        ...device,
        settings: { ...device.settings, ...(device.kind === 'ptzHead' ? { onAirMoves, onAirSeconds: 5 } : {}) },
      })),
    };
    const set = setUp([swing]);
    set.engine.setProgram(programOf(allowed));
    return set;
  };

  it('is not asked for where the head allows moves on air', () => {
    const set = moving('allow');
    set.engine.newsOf('switcher').points({ program: 1 });
    expect(touch(set, swing, 'a')).toMatchObject({ accepted: true });
    expect(set.ports.deskCam.sent[0]?.command.params).not.toHaveProperty('seconds');
  });

  it('is asked for when the guest on a line that is on air would change, and not for another line', () => {
    const nameOn = (line: number, number: number) =>
      button(number, [command('put', 'lines', 'putOnLine', { guest: 'Obi Adeyemi', line })]);
    const [first, second] = [nameOn(1, 7), nameOn(2, 8)];
    const set = setUp([first, second]);
    // Line 1 is on input 7 of the demo's switcher.
    set.engine.newsOf('switcher').points({ program: 7 });
    expect(touch(set, first, 'a')).toMatchObject({
      accepted: false,
      error: { code: 'second-touch', message: 'Line 1 is on air: the change would be seen.' },
    });
    expect(touch(set, second, 'b')).not.toMatchObject({ error: { code: 'second-touch' } });
  });

  it('is not asked for where moves on air are made slowly: slow on air, at full speed off air', () => {
    const set = moving('slow');
    set.engine.newsOf('switcher').points({ program: 1 });
    expect(touch(set, swing, 'a')).toMatchObject({ accepted: true });
    set.engine.newsOf('switcher').points({ program: 2 });
    expect(touch(set, swing, 'b')).toMatchObject({ accepted: true });
    expect(set.ports.deskCam.sent.map(({ command }) => command.params.seconds)).toEqual([5, undefined]);
  });
});

describe('a macro that is tried', () => {
  const source = macro(
    1,
    [command('a', 'switcher', 'preview', { source: { cel: 'param.source' } }), command('b', 'captions', 'countOut')],
    { params: [{ key: 'source', start: 'slides' }] },
  );
  const tried = (more: Record<string, unknown> = {}) => {
    const set = setUp([], [source]);
    const answer = set.engine.press({ pressId: 'p', buttonId: source.id, phase: 'down', station: 'desk', ...more });
    set.ports.switcher.answer(0, done);
    set.ports.captions.answer(0, done);
    return { answer, ...set };
  };

  it('runs with the parameters that it begins with, and by its own rule for a second press', () => {
    const { answer, ports, ends } = tried();
    expect(answer).toMatchObject({ accepted: true });
    // Star charts are input 5 of the demo's switcher.
    expect(ports.switcher.sent.map(({ command: { command: name, params } }) => [name, params.source])).toEqual([
      ['preview', 5],
    ]);
    expect(ports.captions.names()).toEqual(['countOut']);
    expect(ends()).toEqual(['done']);
  });

  it('does one step alone, or from one on, with these parameters too', () => {
    expect(tried({ only: 'a' }).ports.switcher.sent[0]?.command.params.source).toBe(5);
    expect(tried({ only: 'a' }).ports.captions.names()).toEqual([]);
    expect(tried({ only: 'b', onward: true }).ports.captions.names()).toEqual(['countOut']);
    expect(tried({ only: 'nowhere' }).answer).toMatchObject({ error: { code: 'unknown-button' } });
  });

  it('is refused where it moves without an end', () => {
    const moves = macro(2, [command('n', 'deskCam', 'nudge', { pan: 1, tilt: 0 })]);
    const { engine, ports } = setUp([], [moves]);
    expect(engine.press({ pressId: 'p', buttonId: moves.id, phase: 'down', station: 'desk' })).toMatchObject({
      accepted: false,
      error: { code: 'broken-button' },
    });
    expect(ports.deskCam.sent).toEqual([]);
  });
});

describe('a part of a button', () => {
  const three = button(
    1,
    [
      command('a', 'switcher', 'preview', { source: 'slides' }),
      command('b', 'captions', 'countOut'),
      command('c', 'switcher', 'cut'),
    ],
    { mode: 'hold', releaseSteps: [command('r', 'deskCam', 'stop')] },
  );
  const part = (only: string, onward = false) => {
    const set = setUp([three]);
    const answer = set.press(three, 'down', { only, onward });
    set.ports.switcher.answer(0, done);
    set.ports.captions.answer(0, done);
    return {
      answer,
      sent: [...set.ports.switcher.names(), ...set.ports.captions.names(), ...set.ports.deskCam.names()],
      names: set.entries.flatMap((entry) => (entry.kind === 'runStart' ? [entry.name] : [])),
    };
  };

  it('is one step alone, also of those at release', () => {
    expect(part('b')).toMatchObject({ answer: { accepted: true }, sent: ['countOut'], names: ['Button 1 · one step'] });
    expect(part('r')).toMatchObject({ sent: ['stop'] });
  });

  it('is everything from one step on', () => {
    expect(part('b', true)).toMatchObject({ sent: ['cut', 'countOut'], names: ['Button 1 · from step 2'] });
  });

  it('is nothing where there is no such step', () => {
    expect(part('z').answer).toMatchObject({ accepted: false });
  });
});

describe('a command sent without a button', () => {
  const send = (
    set: ReturnType<typeof setUp>,
    phase: 'down' | 'hold' | 'up',
    command: string,
    params: Record<string, number> = {},
  ) =>
    set.engine.press({
      pressId: 'd1',
      buttonId: 'lawnCam.move',
      phase,
      station: 'rig',
      direct: { device: 'lawnCam', command, params },
    });

  it('is held, renewed and released like a button, with its own stop', () => {
    const set = setUp([]);
    expect(send(set, 'down', 'nudge', { x: 1 })).toMatchObject({ accepted: true });
    set.clock.runTo(300);
    send(set, 'hold', 'nudge');
    set.clock.runTo(600);
    expect(set.ports.lawnCam.names()).toEqual(['nudge']);
    // 400 ms after the last renewal, though nobody let go.
    set.clock.runTo(700);
    expect(set.ports.lawnCam.names()).toEqual(['nudge', 'stop']);
    expect(set.entries.filter((entry) => entry.kind === 'press').map((entry) => entry.buttonId)).toEqual([
      'lawnCam.move',
      'lawnCam.move',
    ]);
  });

  it('is refused where it does not fit what the device declares', () => {
    expect(send(setUp([]), 'down', 'nudge', { x: 3 })).toMatchObject({
      accepted: false,
      error: { code: 'bad-field', path: 'params.x' },
    });
    expect(send(setUp([]), 'down', 'jump')).toMatchObject({ accepted: false, error: { code: 'unknown-command' } });
  });
});
