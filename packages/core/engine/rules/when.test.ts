import { UNKNOWN } from '../../expression/index';
import { compileProgram } from '../program';
import { command } from '../testShow';
import { setValue, rule, ruled, turns } from './testRules';

const ON_ROOF = 'switcher.program == input("roofCam")';

describe('a when rule', () => {
  it('fires when its condition turns true, and not while it stays so', () => {
    const up = rule(1, { on: turns(ON_ROOF), steps: [command('a', 'captions', 'countIn', { count: 7 })] });
    const { does, sent, wordsOf, view } = ruled([up]);
    does('switcher', 'program', { source: 'roofCam' });
    does('switcher', 'preview', { source: 'lawnCam' });
    expect(sent('captions')).toEqual(['countIn']);
    expect(wordsOf(up)).toEqual(['fired: Switcher: input on program is Roof cam.']);
    expect(view(up)?.lastFired).toBeLessThan(100);
  });

  it('fires when its condition turns false, where it is made so', () => {
    const off = rule(1, { on: turns(ON_ROOF, false), steps: [command('a', 'captions', 'nameOut')] });
    const { does, sent } = ruled([off]);
    does('switcher', 'program', { source: 'roofCam' });
    expect(sent('captions')).toEqual([]);
    does('switcher', 'program', { source: 'lawnCam' });
    expect(sent('captions')).toEqual(['nameOut']);
  });

  it('mixes to a camera when a clip has ended, after its delay', () => {
    const ends = rule(1, {
      on: turns('spool.ch1Layer1Ended'),
      delayMs: 500,
      steps: [command('a', 'switcher', 'preview', { source: 'deskCam' })],
    });
    const { does, pass, sent, entries } = ruled([ends]);
    const clip = 'Opening film';
    does('spool', 'cue', { channel: 1, layer: 1, clip });
    does('spool', 'play', { channel: 1, layer: 1 });
    pass(600_000);
    expect(sent('switcher')).toEqual(['preview']);
    const edge = entries.find((entry) => entry.kind === 'trigger');
    const preview = entries.find((entry) => entry.kind === 'command' && entry.device === 'switcher');
    expect((preview?.t ?? 0) - (edge?.t ?? 0)).toBe(500);
  });

  it('does nothing when what it reads becomes known, and tells nothing of it', () => {
    const up = rule(1, { on: turns(ON_ROOF), steps: [command('a', 'captions', 'countIn')] });
    const { engine, pass, sent, wordsOf } = ruled([up], { from: { switcher: { program: 4, preview: 2 } } });
    engine.newsOf('switcher').reached(false, 'silent');
    pass(10);
    engine.newsOf('switcher').reached(true, 'back');
    engine.newsOf('switcher').points({ program: 4 });
    pass(10);
    expect([sent('captions'), wordsOf(up)]).toEqual([[], []]);
  });

  it('fires by a cut of its own program, although a cut makes the program unknown for a moment', () => {
    const up = rule(1, { on: turns(ON_ROOF), steps: [setValue('value.meteors', 3)] });
    const { does, wordsOf } = ruled([up]);
    does('switcher', 'preview', { source: 'roofCam' });
    does('switcher', 'cut');
    expect(wordsOf(up)).toHaveLength(1);
  });

  it('fires when a value becomes another, with what it became', () => {
    const counts = rule(1, {
      on: { kind: 'changes', of: 'value.meteors' },
      steps: [command('a', 'captions', 'countSet', { count: { cel: 'value.meteors' } })],
    });
    const { engine, pass, sent, wordsOf } = ruled([counts]);
    engine.board.set('value.meteors', 41);
    pass(50);
    engine.board.set('value.meteors', 41);
    pass(50);
    expect(sent('captions')).toEqual(['countSet']);
    expect(wordsOf(counts)[0]).toBe('fired: Meteor count is 41.');
  });

  it('does not fire disarmed, in its gap, or where its "only if" does not hold, and tells why', () => {
    const on = { kind: 'changes', of: 'value.meteors' } as const;
    const gap = rule(1, { on, minGapMs: 5000, steps: [setValue('value.client', 'a')] });
    const only = rule(2, { on, onlyIf: 'value.meteors > 50', steps: [setValue('value.client', 'b')] });
    const asleep = rule(3, { on, atStart: 'disarmed', steps: [setValue('value.client', 'c')] });
    const { engine, pass, wordsOf } = ruled([gap, only, asleep]);
    engine.board.set('value.meteors', 30);
    pass(1000);
    engine.board.set('value.meteors', 60);
    pass(1000);
    expect(wordsOf(gap).map((item) => item.split(':')[0])).toEqual(['fired', 'notFired']);
    expect(wordsOf(gap)[1]).toBe('notFired: It had fired 1 s before; 5 s have to pass.');
    expect(wordsOf(only)[0]).toBe('notFired: Its "only if" did not hold.');
    expect(wordsOf(only)[1]).toBe('fired: Meteor count is 60.');
    expect(wordsOf(asleep)).toEqual(['notFired: It is disarmed.', 'notFired: It is disarmed.']);
  });

  it('that leads to itself over another is stopped in the first round', () => {
    const first = rule(1, {
      on: { kind: 'changes', of: 'value.client' },
      steps: [setValue('value.showName', { cel: 'value.client + "!"' })],
    });
    const second = rule(2, {
      on: { kind: 'changes', of: 'value.showName' },
      steps: [setValue('value.client', { cel: 'value.showName + "?"' })],
    });
    const { engine, pass, wordsOf, entries } = ruled([first, second]);
    engine.board.set('value.client', 'Corvane');
    pass(60_000);
    expect(wordsOf(first).map((item) => item.split(':')[0])).toEqual(['fired', 'notFired']);
    expect(wordsOf(first)[1]).toBe(
      'notFired: It led to itself: Rule 1, then Rule 2, then Rule 1. It was stopped there.',
    );
    expect(entries.filter((entry) => entry.kind === 'runStart')).toHaveLength(2);
  });

  it('fires twenty times a second at most, and tells what was left out', () => {
    const on = { kind: 'changes', of: 'value.meteors' } as const;
    const busy = rule(1, { on, steps: [setValue('value.client', 'a')] });
    const { engine, pass, wordsOf } = ruled([busy]);
    for (let at = 1; at <= 1000; at += 1) {
      engine.board.set('value.meteors', at);
      pass(1);
    }
    pass(2000);
    engine.board.set('value.meteors', 5000);
    pass(10);
    const fired = wordsOf(busy);
    expect(fired).toHaveLength(21);
    expect(fired.at(-1)).toContain('980 more came too fast and were left out.');
  });

  it('is fired by hand, also disarmed, and says who did it', () => {
    const up = rule(1, { on: turns(ON_ROOF), atStart: 'disarmed', steps: [command('a', 'captions', 'countIn')] });
    const { engine, pass, sent, wordsOf, entries } = ruled([up]);
    const answer = engine.rules?.fire(up.id, { station: 'Desk 1', person: 'Ines' });
    pass(50);
    expect([answer?.ok, sent('captions')]).toEqual([true, ['countIn']]);
    expect(wordsOf(up)).toEqual(['fired: Fired by Ines at Desk 1.']);
    const start = entries.find((entry) => entry.kind === 'runStart');
    expect(start?.kind === 'runStart' && start.cause).toEqual({ kind: 'trigger', id: up.id });
  });

  it('disarmed while it waits for its delay does not begin any more', () => {
    const late = rule(1, { on: turns(ON_ROOF), delayMs: 5000, steps: [command('a', 'captions', 'countIn')] });
    const { engine, does, pass, sent } = ruled([late]);
    does('switcher', 'program', { source: 'roofCam' });
    engine.rules?.arm(late.id, false, { station: 'Desk 1' });
    pass(10_000);
    expect([sent('captions'), engine.runner.list()]).toEqual([[], []]);
  });

  it('fired by hand moves no head that somebody with more right has reserved', () => {
    const moves = rule(1, {
      on: turns(ON_ROOF),
      steps: [command('a', 'lawnCam', 'recall', { position: 'bigScreen' })],
    });
    const { engine, pass, sent } = ruled([moves]);
    engine.reserve('lawnCam', { station: 'Gallery', person: '', rank: 3 });
    engine.rules?.fire(moves.id, { station: 'Tablet', rank: 1 });
    pass(50);
    expect(sent('lawnCam')).toEqual([]);
    engine.rules?.fire(moves.id, { station: 'Gallery', rank: 3 });
    pass(50);
    expect(sent('lawnCam')).toEqual(['recall']);
  });

  it('with a fault in it does not fire, and its view says the fault', () => {
    const broken = rule(1, { on: turns(ON_ROOF), steps: [command('a', 'nobody', 'countIn')] });
    const { does, view, wordsOf } = ruled([broken]);
    does('switcher', 'program', { source: 'roofCam' });
    expect(view(broken)?.lastWords).toBe('There is no device nobody.');
    expect(wordsOf(broken)).toEqual(['notFired: There is no device nobody.']);
  });

  it('at a time of day fires once, also when the clock is set back', () => {
    const clockRule = rule(1, {
      on: { kind: 'time', at: '18:00:30', date: '' },
      steps: [setValue('value.client', 'a')],
    });
    const { pass, wordsOf } = ruled([clockRule]);
    pass(29_000);
    expect(wordsOf(clockRule)).toEqual([]);
    pass(2000);
    expect(wordsOf(clockRule)).toEqual(['fired: It was 18:00:30.']);
    pass(3_600_000 * 24);
    expect(wordsOf(clockRule)).toHaveLength(2);
  });

  it('as another camera is chosen, and as one of them is', () => {
    const another = rule(1, { on: { kind: 'changes', of: 'chosen.camera' }, steps: [setValue('value.client', 'a')] });
    const dome = rule(2, { on: turns('chosen.camera == "domeCam"'), steps: [] });
    const { engine, pass, wordsOf } = ruled([another, dome], {
      restored: new Map([['chosen@main.camera', 'deskCam']]),
    });
    const choose = (camera: string): void => {
      engine.board.turn(() => engine.board.set('chosen@main.camera', camera));
      pass(50);
    };
    choose('deskCam');
    expect(wordsOf(another)).toEqual([]);
    choose('domeCam');
    choose('lawnCam');
    expect([wordsOf(another).length, wordsOf(dome)]).toEqual([2, ['fired: chosen camera is Dome cam.']]);
  });

  it('at a timecode of a recorder, to the frame, and not while the timecode stands', () => {
    // 10:00:02:24 at 50 frames a second are 36,002.48 s.
    const at = rule(1, { on: turns('recorder1.timecode >= 36002.48'), steps: [setValue('value.client', 'a')] });
    const { engine, entries, does, pass, wordsOf, view } = ruled([at]);
    pass(10_000);
    expect([engine.board.read('recorder1.timecode'), view(at)?.lastWords]).toEqual([36_000, '']);
    does('recorder1', 'start', { file: 'night' });
    const began = entries.find((entry) => entry.kind === 'command')?.t ?? 0;
    pass(2600);
    expect(wordsOf(at)).toEqual([]);
    pass(400);
    expect(wordsOf(at)).toEqual(['fired: Dome room 1: timecode is 10:00:02:24.']);
    // Told to record it takes 0.3 s to begin.
    const fired = entries.find((entry) => entry.kind === 'trigger')?.t ?? 0;
    expect(fired - began).toBeGreaterThanOrEqual(300 + 2480);
    expect(fired - began).toBeLessThan(300 + 2480 + 10);
    // It stops and goes on: the same timecode does not come again.
    does('recorder1', 'stop');
    pass(5000);
    does('recorder1', 'start', { file: 'night-2' });
    pass(5000);
    expect(wordsOf(at)).toHaveLength(1);
  });

  it('is disarmed by a stop of everything, and can be armed again with the others', () => {
    const up = rule(1, { on: turns(ON_ROOF), steps: [command('a', 'captions', 'countIn')] });
    const { engine, does, sent, view } = ruled([up]);
    expect(engine.stopAhead().triggers).toEqual(['Rule 1']);
    engine.stopAll('Desk 1');
    does('switcher', 'program', { source: 'roofCam' });
    expect([sent('captions'), view(up)?.armed]).toEqual([[], false]);
    expect(engine.rules?.armableAgain).toEqual([up.id]);
  });

  it('is armed as it is set when the show begins', () => {
    const on = turns(ON_ROOF);
    const rules = (['armed', 'disarmed', 'asLeft'] as const).map((atStart, at) => rule(at, { on, atStart, steps: [] }));
    const { engine } = ruled(rules);
    for (const { id } of rules) engine.rules?.arm(id, id !== rules[0]?.id, { station: 'Desk 1' });
    engine.beginShow('Desk 1');
    expect(rules.map(({ id }) => engine.rules?.isArmed(id))).toEqual([true, false, true]);
  });
});

describe('what a when rule missed while the engine was away', () => {
  const up = rule(1, { on: turns(ON_ROOF), steps: [command('a', 'captions', 'countIn')] });
  const ON_AIR = { switcher: { program: 4, preview: 2 } };
  const OFF_AIR = { switcher: { program: 1, preview: 2 } };
  /** What the journal leaves to the next engine. */
  const left = ({ entries }: ReturnType<typeof ruled>) =>
    new Map(
      entries.flatMap((entry) => (entry.kind === 'set' && entry.value !== null ? [[entry.key, entry.value]] : [])),
    );

  it('is told once, and not done', () => {
    const first = ruled([up], { from: OFF_AIR });
    first.pass(2000);
    const second = ruled([up], { from: ON_AIR, restored: left(first) });
    second.pass(2000);
    expect([second.sent('captions'), second.wordsOf(up)]).toEqual([
      [],
      ['notFired: Its condition turned while the engine was away: nothing was done.'],
    ]);
    const third = ruled([up], { from: ON_AIR, restored: new Map([...left(first), ...left(second)]) });
    third.pass(2000);
    expect(third.wordsOf(up)).toEqual([]);
  });

  it('is nothing where it had been so before, turned the other way, or was disarmed', () => {
    const on = ruled([up], { from: ON_AIR });
    on.pass(2000);
    for (const from of [ON_AIR, OFF_AIR]) {
      const next = ruled([up], { from, restored: left(on) });
      next.pass(2000);
      expect(next.wordsOf(up)).toEqual([]);
    }
    const off = ruled([up], { from: OFF_AIR });
    off.pass(2000);
    const asleep = ruled([up], { from: ON_AIR, restored: new Map([...left(off), [`armed@${up.id}`, false]]) });
    asleep.pass(2000);
    expect(asleep.wordsOf(up)).toEqual([]);
  });

  it('is known also where it only just came: the last of many turns', () => {
    const first = ruled([up], { from: OFF_AIR });
    first.pass(2000);
    first.does('switcher', 'program', { source: 'roofCam' });
    first.does('switcher', 'program', { source: 'deskCam' });
    first.does('switcher', 'program', { source: 'roofCam' });
    first.pass(2000);
    const next = ruled([up], { from: ON_AIR, restored: left(first) });
    next.pass(2000);
    expect(next.wordsOf(up)).toEqual([]);
    // Not more often than once in a second.
    expect(first.entries.filter((entry) => entry.kind === 'set' && entry.key === `was@${up.id}`).length).toBeLessThan(
      4,
    );
  });

  it('is a time of day as well', () => {
    const at = rule(2, { on: { kind: 'time', at: '20:15:00', date: '' }, steps: [setValue('value.meteors', 3)] });
    const first = ruled([at], { wall: new Date('2026-08-12T18:00:00Z') });
    const second = ruled([at], { wall: new Date('2026-08-12T21:00:00Z'), restored: left(first) });
    second.pass(100);
    expect(second.wordsOf(at)).toEqual(['notFired: It was 20:15:00 while the engine was away: nothing was done.']);
    expect(second.engine.board.read('value.meteors')).not.toBe(3);
    const third = ruled([at], { wall: new Date('2026-08-12T22:00:00Z'), restored: left(second) });
    third.pass(100);
    expect(third.wordsOf(at)).toEqual([]);
  });
});

describe('a picture that is lost', () => {
  const frozen = rule(1, { on: turns('picture("roofCam") == "frozen"'), steps: [setValue('value.client', 'frozen')] });
  const lost = rule(2, {
    kind: 'while',
    on: turns('picture("roofCam") != "good"'),
    steps: [command('a', 'captions', 'countIn', { count: 1, label: 'no picture' })],
  });
  const input = (engine: ReturnType<typeof ruled>['engine'], key: string): number =>
    engine.program.sources.get(key)?.input ?? 0;

  it('is asked for by its source, and goes with it to another input', () => {
    const { engine, pass, wordsOf } = ruled([frozen, lost]);
    const news = engine.newsOf('switcher');
    const point = `input${input(engine, 'roofCam')}Picture`;
    news.points({ [point]: 'good', input9Picture: 'good' });
    pass(50);
    expect(wordsOf(frozen)).toEqual([]);
    news.points({ [point]: 'frozen' });
    pass(200);
    expect(wordsOf(frozen)).toEqual(['fired: the picture of Roof cam is frozen.']);
    expect(engine.board.read('captions.countUp')).toBe(true);
    // It is plugged in elsewhere, where there is a picture.
    const { document } = engine.program;
    const sources = document.sources.map((source) =>
      source.key === 'roofCam' ? { ...source, input: 9 } : source.input === 9 ? { ...source, input: null } : source,
    );
    engine.setProgram(compileProgram({ ...document, sources }, 2, engine.program));
    pass(200);
    expect([engine.board.read('picture@roofCam'), engine.board.read('captions.countUp')]).toEqual(['good', false]);
    news.points({ [point]: 'black' });
    pass(200);
    expect(engine.board.read('picture@roofCam')).toBe('good');
  });

  it('is not known while the switcher is silent, and coming back frozen is no event', () => {
    const { engine, pass, wordsOf } = ruled([frozen]);
    const news = engine.newsOf('switcher');
    const point = `input${input(engine, 'roofCam')}Picture`;
    news.points({ [point]: 'good' });
    news.reached(false, 'Switcher does not answer.');
    pass(50);
    expect(engine.board.read('picture@roofCam')).toBe(UNKNOWN);
    news.reached(true, 'Switcher answers.');
    news.points({ [point]: 'frozen' });
    pass(50);
    expect([engine.board.read('picture@roofCam'), wordsOf(frozen)]).toEqual(['frozen', []]);
  });
});
