import fc from 'fast-check';
import type { Trigger, Voices } from '../../show/index';
import { compileProgram } from '../program';
import { rule, ruled } from './testRules';

type Shot = { readonly source: string; readonly position?: string };

const voices = (
  more: Partial<Voices> = {},
  shots: readonly Shot[] = [{ source: 'deskCam' }, { source: 'lawnCam' }],
): Trigger =>
  rule(1, {
    name: 'Who talks',
    kind: 'follow',
    steps: [],
    on: {
      kind: 'voices',
      switcher: 'switcher',
      mics: shots.map(({ source, position = '' }, at) => ({
        name: ['Ines', 'Tomasz', 'Della'][at] ?? '',
        level: `sound.ch${at + 1}Level`,
        source,
        position,
      })),
      wide: { source: 'slides', position: '' },
      talksDb: -30,
      hysteresisDb: 6,
      attackMs: 200,
      releaseMs: 400,
      togetherMs: 1000,
      nobodyMs: 60_000,
      shortestMs: 3000,
      holdOffMs: 10_000,
      mixFrames: 0,
      returns: false,
      ...more,
    },
  });

/** An engine that hears: who talks from now on, by the numbers of their channels. Desk cam is on air. */
function heard(trigger: Trigger, more: Parameters<typeof ruled>[1] = {}) {
  const test = ruled([trigger], { from: { switcher: { program: 1, preview: 2 } }, ...more });
  let who: readonly number[] = [];
  let wobble = 0;
  const tell = (): void =>
    test.engine
      .newsOf('sound')
      .points(Object.fromEntries([1, 2, 3].map((item) => [`ch${item}Level`, who.includes(item) ? -20 + wobble : -60])));
  const talk = (...channels: number[]): void => {
    who = channels;
    tell();
    test.pass(1);
  };
  /** Time passes, and a voice never holds one level for long. */
  const pass = (ms: number): void => {
    for (let left = ms; left > 0; left -= 500) {
      test.pass(Math.min(left, 500));
      wobble = 0.1 - wobble;
      if (left >= 500 && who.length > 0 && test.engine.board.read('sound.reached') === true) tell();
    }
  };
  const program = (): unknown => test.engine.board.read('switcher.program');
  /** What was done to the switcher, with the engine's time in milliseconds. */
  const cuts = (): [number, string][] =>
    test.entries.flatMap((entry): [number, string][] =>
      entry.kind === 'command' && entry.device === 'switcher'
        ? [
            [
              entry.t,
              `${entry.command.command} ${String(entry.command.params.source ?? entry.command.params.frames ?? '')}`,
            ],
          ]
        : [],
    );
  return { ...test, pass, hang: test.pass, talk, program, cuts };
}

describe('a follow rule', () => {
  it('takes the shot of the one who talks, after the attack time', () => {
    const trigger = voices();
    const { talk, pass, cuts, wordsOf, view, program } = heard(trigger);
    pass(5000);
    talk(2);
    pass(198);
    expect(cuts()).toEqual([]);
    pass(50);
    expect(cuts().map(([, words]) => words)).toEqual(['program 2']);
    expect(program()).toBe(2);
    expect(wordsOf(trigger)).toEqual(['fired: Tomasz talks: Lawn cam.']);
    expect(view(trigger)?.state).toBe('holds');
  });

  it('does nothing when the shot is on air already', () => {
    const { talk, pass, cuts } = heard(voices());
    pass(5000);
    talk(1);
    pass(5000);
    expect(cuts()).toEqual([]);
  });

  it('makes no shot shorter than the shortest', () => {
    const { talk, pass, cuts } = heard(voices());
    pass(5000);
    talk(2);
    pass(1000);
    talk(1);
    pass(5000);
    const [first, second] = cuts();
    expect(cuts().map(([, words]) => words)).toEqual(['program 2', 'program 1']);
    expect((second?.[0] ?? 0) - (first?.[0] ?? 0)).toBeGreaterThanOrEqual(3000);
    expect((second?.[0] ?? 0) - (first?.[0] ?? 0)).toBeLessThan(3060);
  });

  it('takes the wide shot when two talk together, and when nobody does', () => {
    const trigger = voices({ nobodyMs: 2000, shortestMs: 500 });
    const { talk, pass, cuts, wordsOf } = heard(trigger);
    pass(1000);
    talk(1, 2);
    pass(1300);
    expect(cuts().map(([, words]) => words)).toEqual(['program 5']);
    talk(2);
    pass(1000);
    talk();
    pass(2500);
    expect(cuts().map(([, words]) => words)).toEqual(['program 5', 'program 2', 'program 5']);
    expect(wordsOf(trigger).map((line) => line.replace('fired: ', ''))).toEqual([
      'Several talk together: Star charts.',
      'Tomasz talks: Lawn cam.',
      'Nobody talks: Star charts.',
    ]);
  });

  it('is kept off by a cut by hand to one of its shots, and goes on after the set time', () => {
    const trigger = voices();
    const { talk, pass, does, cuts, view, wordsOf, program } = heard(trigger);
    pass(5000);
    talk(1);
    pass(1000);
    does('switcher', 'program', { source: 'lawnCam' });
    expect(wordsOf(trigger)).toEqual(['changed: Somebody took Lawn cam. It follows again in 10 s.']);
    expect(view(trigger)?.state).toBe('changed');
    pass(9800);
    expect(program()).toBe(2);
    pass(300);
    expect(program()).toBe(1);
    expect(cuts().map(([, words]) => words)).toEqual(['program 2', 'program 1']);
  });

  it('waits at a picture that is none of its shots, for as long as that is on air', () => {
    const trigger = voices();
    const { talk, pass, does, view, program } = heard(trigger);
    pass(5000);
    talk(2);
    does('switcher', 'program', { source: 'roofCam' });
    pass(60_000);
    expect(program()).toBe(4);
    expect([view(trigger)?.state, view(trigger)?.lastWords]).toEqual([
      'changed',
      'None of its shots is on air. It follows again when one of them is.',
    ]);
    does('switcher', 'program', { source: 'deskCam' });
    pass(9900);
    expect(program()).toBe(1);
    pass(200);
    expect(program()).toBe(2);
  });

  it('comes back from any picture after the set time, where it is told to', () => {
    const { talk, pass, does, program } = heard(voices({ returns: true }));
    pass(5000);
    talk(2);
    does('switcher', 'program', { source: 'roofCam' });
    pass(9700);
    expect(program()).toBe(4);
    pass(400);
    expect(program()).toBe(2);
  });

  it('does not hear who is muted, also where the mixer measures before the mute', () => {
    const { engine, talk, pass, cuts } = heard(voices({ nobodyMs: 3000 }));
    talk(1);
    pass(5000);
    engine.newsOf('sound').points({ ch2Mute: true });
    // Together they would bring the wide shot after a second.
    talk(1, 2);
    pass(1500);
    expect(cuts()).toEqual([]);
    engine.newsOf('sound').points({ ch2Mute: false });
    talk(2);
    pass(450);
    expect(cuts().map(([, words]) => words)).toEqual(['program 2']);
    // Muted while on air: after its release of 0.4 s nobody talks, and after 3 s more the wide shot comes.
    engine.newsOf('sound').points({ ch2Mute: true });
    pass(3300);
    expect(cuts().map(([, words]) => words)).toEqual(['program 2']);
    pass(200);
    expect(cuts().map(([, words]) => words)).toEqual(['program 2', 'program 5']);
  });

  it('takes the silence of the mixer for no silence in the room', () => {
    const trigger = voices({ nobodyMs: 2000 });
    const { engine, talk, pass, cuts, view } = heard(trigger);
    pass(1000);
    talk(1);
    pass(1000);
    engine.newsOf('sound').reached(false, 'silent');
    pass(10_000);
    expect(cuts()).toEqual([]);
    expect([view(trigger)?.state, view(trigger)?.lastWords]).toEqual(['waiting', 'Sound does not answer.']);
    // Back: it hears anew, and the shot on air is as long as any at least.
    engine.newsOf('sound').reached(true, 'back');
    talk(2);
    pass(2900);
    expect(cuts()).toEqual([]);
    pass(150);
    expect(cuts().map(([, words]) => words)).toEqual(['program 2']);
  });

  it('does nothing while the switcher is silent, and nothing out of memory when it is back', () => {
    const trigger = voices();
    const { engine, talk, pass, cuts, view } = heard(trigger);
    pass(5000);
    engine.newsOf('switcher').reached(false, 'silent');
    talk(2);
    pass(5000);
    expect(view(trigger)?.lastWords).toBe('Switcher does not answer.');
    talk();
    pass(1000);
    engine.newsOf('switcher').reached(true, 'back');
    engine.newsOf('switcher').points({ program: 1, preview: 2, mixing: false });
    pass(10_000);
    expect(cuts()).toEqual([]);
  });

  it('mixes where it is told to, and takes its own mix for no hand', () => {
    const trigger = voices({ mixFrames: 25 });
    const { talk, pass, cuts, wordsOf, program } = heard(trigger);
    pass(5000);
    talk(2);
    pass(2000);
    expect(cuts().map(([, words]) => words)).toEqual(['preview 2', 'mix 25']);
    expect(program()).toBe(2);
    expect(wordsOf(trigger)).toEqual(['fired: Tomasz talks: Lawn cam.']);
  });

  it('leaves a mix of somebody else to its end', () => {
    const { talk, pass, does, cuts } = heard(voices({ holdOffMs: 0, shortestMs: 500 }));
    pass(5000);
    does('switcher', 'preview', { source: 'slides' });
    talk(2);
    does('switcher', 'mix', { frames: 100 });
    pass(1500);
    expect(cuts().map(([, words]) => words)).toEqual(['preview 5', 'mix 100']);
    pass(1500);
    expect(cuts().map(([, words]) => words)).toEqual(['preview 5', 'mix 100', 'program 2']);
  });

  it('sends a camera that is off air to its position ahead, and waits for it before the cut', () => {
    const trigger = voices({}, [{ source: 'deskCam' }, { source: 'lawnCam', position: 'visitors' }]);
    const { talk, pass, sent, cuts, engine } = heard(trigger, {
      from: { switcher: { program: 1, preview: 2 }, lawnCam: { pan: -30, tilt: 4.5, zoom: 3 } },
    });
    pass(100);
    expect(sent('lawnCam')).toEqual(['recall']);
    // It talks while the camera still moves: the cut waits.
    pass(400);
    talk(2);
    pass(300);
    expect(cuts()).toEqual([]);
    pass(6000);
    expect(engine.board.read('lawnCam.arrived')).toBe('visitors');
    expect(cuts().map(([, words]) => words)).toEqual(['program 2']);
    // It stands there when its turn comes again: it is cut at once, and not sent a third time.
    talk(1);
    pass(4000);
    talk(2);
    pass(4000);
    expect(cuts().map(([, words]) => words)).toEqual(['program 2', 'program 1', 'program 2']);
    expect(sent('lawnCam').filter((candidate) => candidate === 'recall').length).toBeLessThanOrEqual(2);
  });

  it('does not move a camera that somebody turned away until it follows again', () => {
    const trigger = voices({}, [{ source: 'deskCam', position: 'inesClose' }, { source: 'lawnCam' }]);
    const { pass, does, sent } = heard(trigger);
    pass(5000);
    does('switcher', 'program', { source: 'roofCam' });
    pass(20_000);
    expect(sent('deskCam')).toEqual([]);
    does('switcher', 'program', { source: 'lawnCam' });
    pass(9000);
    expect(sent('deskCam')).toEqual([]);
    pass(2000);
    expect(sent('deskCam')).toEqual(['recall']);
  });

  it('leaves a mix to its end that a hand began while the camera travelled', () => {
    const trigger = voices({}, [{ source: 'deskCam' }, { source: 'lawnCam', position: 'visitors' }]);
    const { talk, pass, cuts, does, wordsOf, clock } = heard(trigger, {
      from: { switcher: { program: 1, preview: 1 }, lawnCam: { pan: -170, tilt: 4.5, zoom: 3 } },
    });
    talk(2);
    pass(3050);
    // It waits for the camera.
    expect([wordsOf(trigger), cuts()]).toEqual([['fired: Tomasz talks: Lawn cam.'], []]);
    does('switcher', 'mix', { frames: 250 });
    const began = clock.now();
    pass(15_000);
    const [mix, take] = cuts();
    expect([mix?.[1], take?.[1]]).toEqual(['mix 250', 'program 2']);
    // 250 frames of 50 a second.
    expect((take?.[0] ?? 0) - began).toBeGreaterThanOrEqual(4900);
  });

  it('takes a hand for a hand where its own shot of that source has failed before', () => {
    const trigger = voices({}, [{ source: 'deskCam' }, { source: 'lawnCam', position: 'visitors' }]);
    const { talk, pass, does, refusing, wordsOf, cuts } = heard(trigger, {
      from: { switcher: { program: 1, preview: 2 }, lawnCam: { pan: -60, tilt: 4.5, zoom: 3 } },
    });
    refusing.add('switcher');
    talk(2);
    pass(6000);
    expect(wordsOf(trigger)).toEqual(['fired: Tomasz talks: Lawn cam.']);
    refusing.clear();
    does('switcher', 'program', { source: 'lawnCam' });
    expect(wordsOf(trigger).at(-1)).toBe('changed: Somebody took Lawn cam. It follows again in 10 s.');
    talk(1);
    pass(9000);
    expect(cuts()).toHaveLength(2);
    pass(1500);
    expect(cuts().at(-1)?.[1]).toBe('program 1');
  });

  it('is kept off by a hand also while a device gets another address, and the rule another name', () => {
    const trigger = voices();
    const { talk, pass, does, cuts, engine, program } = heard(trigger);
    pass(5000);
    talk(1);
    pass(1000);
    does('switcher', 'program', { source: 'lawnCam' });
    pass(3000);
    const { document } = engine.program;
    const devices = document.devices.map((device) =>
      device.key === 'tally' ? { ...device, port: device.port + 1 } : device,
    );
    engine.setProgram(compileProgram({ ...document, devices }, 2, engine.program));
    // And while the rule itself is edited.
    const triggers = document.triggers.map((item) => ({ ...item, name: 'Renamed' }));
    engine.setProgram(compileProgram({ ...document, devices, triggers }, 3, engine.program));
    pass(6500);
    expect(program()).toBe(2);
    pass(1000);
    expect(cuts().map(([, words]) => words)).toEqual(['program 2', 'program 1']);
  });

  it('is kept off by a hand also by the engine that begins after one that was killed', () => {
    const trigger = voices();
    const first = heard(trigger);
    first.pass(5000);
    first.talk(1);
    first.pass(1000);
    first.does('switcher', 'program', { source: 'lawnCam' });
    first.pass(3000);
    const restored = new Map(
      first.entries.flatMap((entry) =>
        entry.kind === 'set' && entry.value !== null ? [[entry.key, entry.value] as const] : [],
      ),
    );
    // The hand cut at 18:00:06; the next engine begins at 18:00:10.
    const next = (wall: string) =>
      heard(trigger, { from: { switcher: { program: 2, preview: 1 } }, restored, wall: new Date(wall) });
    const soon = next('2026-08-12T18:00:10Z');
    soon.talk(1);
    soon.pass(5900);
    expect([soon.program(), soon.view(trigger)?.state]).toEqual([2, 'changed']);
    soon.pass(300);
    expect(soon.program()).toBe(1);
    // A clock that is behind by a day keeps it off no longer than the rule says.
    const behind = next('2026-08-11T18:00:10Z');
    behind.talk(1);
    behind.pass(9900);
    expect(behind.program()).toBe(2);
    behind.pass(300);
    expect(behind.program()).toBe(1);
    // Disarmed and armed again is no more kept off, for whatever engine comes.
    first.engine.board.turn(() => first.engine.rules?.arm(trigger.id, false, { station: 'Desk 1' }));
    first.pass(50);
    expect(first.entries.filter((entry) => entry.kind === 'set').at(-1)).toMatchObject({
      key: `keptOff@${trigger.id}`,
      value: 0,
    });
  });

  it('takes the end of a mix that it finds under way for no hand', () => {
    const trigger = voices();
    const { talk, pass, engine, wordsOf } = heard(trigger);
    const arm = (armed: boolean): void => {
      engine.board.turn(() => engine.rules?.arm(trigger.id, armed, { station: 'Desk 1' }));
      pass(50);
    };
    arm(false);
    engine.newsOf('switcher').points({ program: 1, preview: 2, mixing: true });
    talk(2);
    arm(true);
    pass(1000);
    engine.newsOf('switcher').points({ program: 2, preview: 1, mixing: false });
    pass(500);
    expect(wordsOf(trigger)).toEqual([]);
    // The next change is one.
    engine.newsOf('switcher').points({ program: 1, preview: 2, mixing: false });
    pass(500);
    expect(wordsOf(trigger)).toEqual(['changed: Somebody took Desk cam. It follows again in 10 s.']);
  });

  it('does not cut any more once it is disarmed, also where it waited for a camera', () => {
    const trigger = voices({}, [{ source: 'deskCam' }, { source: 'lawnCam', position: 'visitors' }]);
    const { talk, pass, cuts, engine, view } = heard(trigger, {
      from: { switcher: { program: 1, preview: 2 }, lawnCam: { pan: -30, tilt: 4.5, zoom: 3 } },
    });
    pass(4);
    talk(2);
    pass(400);
    engine.board.turn(() => engine.rules?.arm(trigger.id, false, { station: 'Desk 1' }));
    pass(20_000);
    expect(cuts()).toEqual([]);
    expect([view(trigger)?.state, view(trigger)?.lastWords]).toEqual(['rests', 'Disarmed by Desk 1.']);
  });

  it('is refused by hand, and told what is wrong with it', () => {
    const two = voices({}, [
      { source: 'deskCam', position: 'inesClose' },
      { source: 'deskCam', position: 'tomaszClose' },
    ]);
    const { engine, view, talk, pass, cuts } = heard(two);
    const answer = engine.rules?.fire(two.id, { station: 'Desk 1' });
    expect(answer?.ok === false && answer.error.code).toBe('follow-rule');
    pass(5000);
    talk(2);
    pass(5000);
    expect(cuts()).toEqual([]);
    expect(view(two)?.lastWords).toBe('Desk cam would have to be at two positions: it cannot move while it is on air.');
  });

  it('goes by no level that is loud and stands still: the mixer hangs; and follows again when it moves', () => {
    const trigger = voices({ shortestMs: 500 });
    const { talk, hang, pass, cuts, view } = heard(trigger);
    pass(1000);
    talk(2);
    hang(500);
    expect(cuts().map(([, words]) => words)).toEqual(['program 2']);
    // Three seconds of one level to a tenth of a decibel are no voice.
    hang(2400);
    expect(view(trigger)?.state).toBe('holds');
    hang(200);
    expect([view(trigger)?.state, view(trigger)?.lastWords]).toEqual([
      'waiting',
      'The level of Tomasz stands still: its mixer seems to hang. Mute it, or start the mixer anew.',
    ]);
    // Whatever the others are said to do meanwhile comes from the same mixer.
    hang(60_000);
    expect(cuts()).toHaveLength(1);
    talk(1);
    pass(1000);
    expect([view(trigger)?.state, cuts().map(([, words]) => words)]).toEqual(['holds', ['program 2', 'program 1']]);
  });

  it('sees what a hand does also while it hears nothing', () => {
    const trigger = voices();
    const { engine, talk, pass, does, program, wordsOf } = heard(trigger);
    pass(5000);
    engine.newsOf('sound').reached(false, '');
    does('switcher', 'program', { source: 'lawnCam' });
    expect(wordsOf(trigger).at(-1)).toBe('changed: Somebody took Lawn cam. It follows again in 10 s.');
    pass(1000);
    engine.newsOf('sound').reached(true, '');
    talk(1);
    pass(8500);
    expect(program()).toBe(2);
    pass(1000);
    expect(program()).toBe(1);
  });

  it('holds through a second of chatter: levels of 25 a second from sixteen microphones', () => {
    const { engine, pass, cuts, troubles } = heard(
      voices({ shortestMs: 500, attackMs: 0, releaseMs: 0, togetherMs: 0 }),
    );
    pass(1000);
    for (let at = 0; at < 250; at += 1) {
      engine.newsOf('sound').points({ ch1Level: at % 2 === 0 ? -20 : -60, ch2Level: at % 2 === 0 ? -60 : -20 });
      pass(40);
    }
    // Ten seconds with shots of half a second: never more than twenty.
    expect(cuts().length).toBeGreaterThan(10);
    expect(cuts().length).toBeLessThanOrEqual(20);
    expect(troubles).toEqual([]);
  });
});

describe('whatever happens to a follow rule', () => {
  const happens = fc.oneof(
    { weight: 6, arbitrary: fc.record({ what: fc.constant('talk' as const), who: fc.subarray([1, 2]) }) },
    {
      weight: 2,
      arbitrary: fc.record({
        what: fc.constant('cut' as const),
        source: fc.constantFrom('deskCam', 'lawnCam', 'roofCam', 'slides'),
      }),
    },
    {
      weight: 1,
      arbitrary: fc.record({
        what: fc.constant('silent' as const),
        device: fc.constantFrom('sound', 'switcher', 'lawnCam'),
        silent: fc.boolean(),
      }),
    },
    { weight: 1, arbitrary: fc.record({ what: fc.constant('arm' as const), armed: fc.boolean() }) },
  );
  const HELD_OFF_MS = 5000;
  const INPUTS: Readonly<Record<string, number>> = { deskCam: 1, lawnCam: 2, roofCam: 4, slides: 5 };

  it('it never cuts within the shortest shot, after a hand, disarmed, or without hearing and seeing', () => {
    let cutsAtAll = 0;
    fc.assert(
      fc.property(
        fc.array(fc.tuple(happens, fc.integer({ min: 40, max: 4000 })), { minLength: 5, maxLength: 40 }),
        fc.boolean(),
        (story, returns) => {
          const trigger = voices({ shortestMs: 2000, holdOffMs: HELD_OFF_MS, nobodyMs: 3000, returns }, [
            { source: 'deskCam' },
            { source: 'lawnCam', position: 'visitors' },
          ]);
          const { clock, engine, entries, talk, pass, does, program, troubles } = heard(trigger);
          let byHand = -Infinity;
          let armed = true;
          const silent = new Set<string>();
          let shown = entries.length;
          let cutAt = -Infinity;
          const look = (): void => {
            for (const entry of entries.slice(shown)) {
              if (entry.kind !== 'command' || entry.device !== 'switcher') continue;
              const run = entries.find(
                (journalEvent) => journalEvent.kind === 'runStart' && journalEvent.runId === entry.runId,
              );
              if (run?.kind !== 'runStart' || run.cause.kind !== 'trigger') continue;
              expect([armed, silent.has('sound'), silent.has('switcher')]).toEqual([true, false, false]);
              expect(entry.t - cutAt).toBeGreaterThanOrEqual(2000);
              expect(entry.t - byHand).toBeGreaterThanOrEqual(HELD_OFF_MS - 100);
              cutAt = entry.t;
              cutsAtAll += 1;
            }
            shown = entries.length;
          };
          for (const [item, ms] of story) {
            switch (item.what) {
              case 'talk':
                if (!silent.has('sound')) talk(...item.who);
                break;
              case 'cut': {
                const before = program();
                if (silent.has('switcher')) break;
                does('switcher', 'program', { source: item.source });
                if (before !== INPUTS[item.source] && program() === INPUTS[item.source]) byHand = clock.now();
                break;
              }
              case 'silent':
                if (item.silent === silent.has(item.device)) break;
                if (item.silent) silent.add(item.device);
                else silent.delete(item.device);
                engine.newsOf(item.device).reached(!item.silent, '');
                if (!item.silent && item.device === 'switcher')
                  engine
                    .newsOf('switcher')
                    .points({ program: 1, preview: 2, mixing: false, keyer1: false, keyer2: false });
                if (!item.silent && item.device === 'sound') talk();
                break;
              case 'arm':
                if (item.armed !== armed) byHand = -Infinity;
                armed = item.armed;
                engine.board.turn(() => engine.rules?.arm(trigger.id, armed, { station: 'Desk 1' }));
            }
            look();
            pass(ms);
            look();
          }
          expect(troubles).toEqual([]);
        },
      ),
      { numRuns: 60, seed: 7 },
    );
    expect(cutsAtAll).toBeGreaterThan(40);
  });
});
