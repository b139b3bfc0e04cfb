import { UNKNOWN } from '../../expression/index';
import type { Trigger } from '../../show/index';
import { command } from '../testShow';
import { setValue, rule, ruled, turns } from './testRules';

const on = (source: string): Trigger['on'] => turns(`switcher.program == input("${source}")`);
const board = (number: number, source: string, label = source): Trigger =>
  rule(number, { kind: 'while', on: on(source), steps: [command('a', 'captions', 'countIn', { count: 7, label })] });
const name = (number: number, source: string, who: string): Trigger =>
  rule(number, { kind: 'while', on: on(source), steps: [command('a', 'captions', 'nameIn', { name: who })] });

describe('a while rule', () => {
  it('puts up what it keeps and takes it out again', () => {
    const roof = board(1, 'roofCam');
    const { does, engine, sent, wordsOf, view } = ruled([roof]);
    does('switcher', 'program', { source: 'roofCam' });
    expect([engine.board.read('captions.countUp'), view(roof)?.state]).toEqual([true, 'holds']);
    does('switcher', 'program', { source: 'lawnCam' });
    expect([engine.board.read('captions.countUp'), view(roof)?.state]).toEqual([false, 'rests']);
    expect(sent('captions')).toEqual(['countIn', 'countOut']);
    expect(wordsOf(roof)).toEqual([
      'holds: Switcher: input on program is Roof cam.',
      'left: It ended: Take the count board out.',
    ]);
  });

  it('holds from the beginning where its condition holds when its devices are known', () => {
    const roof = board(1, 'roofCam');
    const { pass, sent } = ruled([roof], { from: { switcher: { program: 4, preview: 2 } } });
    pass(100);
    expect(sent('captions')).toEqual(['countIn']);
  });

  it('leaves alone what somebody else had put up', () => {
    const roof = board(1, 'roofCam');
    const { does, engine } = ruled([roof]);
    does('captions', 'countIn', { count: 7, label: 'roofCam' });
    does('switcher', 'program', { source: 'roofCam' });
    does('switcher', 'program', { source: 'lawnCam' });
    expect(engine.board.read('captions.countUp')).toBe(true);
  });

  it('hands over on one place: the other one is put up, and nothing goes out between', () => {
    const [desk, lawn] = [name(1, 'deskCam', 'Ines Halloran'), name(2, 'lawnCam', 'Tomasz Reke')];
    const { does, engine, sent } = ruled([desk, lawn]);
    does('switcher', 'program', { source: 'deskCam' });
    does('switcher', 'program', { source: 'lawnCam' });
    expect(sent('captions')).toEqual(['nameIn', 'nameIn']);
    expect(engine.board.read('captions.nameText')).toBe('Tomasz Reke');
    does('switcher', 'program', { source: 'black' });
    expect(sent('captions')).toEqual(['nameIn', 'nameIn', 'nameOut']);
  });

  it('gives its place back to the one below it', () => {
    const below = name(1, 'deskCam', 'Ines Halloran');
    const above = rule(2, {
      kind: 'while',
      on: turns('value.meteors > 100'),
      steps: [command('a', 'captions', 'nameIn', { name: 'The peak' })],
    });
    const { does, engine, pass, sent } = ruled([below, above]);
    does('switcher', 'program', { source: 'deskCam' });
    engine.board.set('value.meteors', 120);
    pass(100);
    expect(engine.board.read('captions.nameText')).toBe('The peak');
    engine.board.set('value.meteors', 20);
    pass(100);
    expect(engine.board.read('captions.nameText')).toBe('Ines Halloran');
    // The one below may go first: then the one above leaves to nothing.
    engine.board.set('value.meteors', 120);
    pass(100);
    does('switcher', 'program', { source: 'lawnCam' });
    expect(engine.board.read('captions.nameText')).toBe('The peak');
    engine.board.set('value.meteors', 20);
    pass(100);
    expect(engine.board.read('captions.nameUp')).toBe(false);
    expect(sent('captions')).toEqual(['nameIn', 'nameIn', 'nameIn', 'nameIn', 'nameOut']);
  });

  it("lets a person's change stand until its condition has left and come back", () => {
    const roof = name(1, 'roofCam', 'Roof');
    const { does, engine, pass, sent, wordsOf, view } = ruled([roof]);
    does('switcher', 'program', { source: 'roofCam' });
    does('captions', 'nameIn', { name: 'Della Quist' });
    pass(10_000);
    expect([engine.board.read('captions.nameText'), view(roof)?.state]).toEqual(['Della Quist', 'changed']);
    does('switcher', 'program', { source: 'lawnCam' });
    expect(engine.board.read('captions.nameText')).toBe('Della Quist');
    expect(wordsOf(roof).at(-1)).toBe('left: It ended: nothing was sent: somebody had changed it meanwhile.');
    does('switcher', 'program', { source: 'roofCam' });
    expect(engine.board.read('captions.nameText')).toBe('Roof');
    expect(sent('captions')).toEqual(['nameIn', 'nameIn', 'nameIn']);
  });

  it('lets a running number go on: the count board is still its own', () => {
    const roof = board(1, 'roofCam');
    const { does, engine } = ruled([roof]);
    does('switcher', 'program', { source: 'roofCam' });
    does('captions', 'countSet', { count: 8 });
    does('switcher', 'program', { source: 'lawnCam' });
    expect(engine.board.read('captions.countUp')).toBe(false);
  });

  it('takes back what it holds when it is disarmed, deleted or edited, and says beforehand what that is', () => {
    const roof = board(1, 'roofCam');
    const { does, engine, edit, pass, sent } = ruled([roof]);
    does('switcher', 'program', { source: 'roofCam' });
    expect(engine.rules?.leavingAhead(roof.id).map((step) => engine.program.sentence(step))).toEqual([
      'Take the count board out',
    ]);
    engine.rules?.arm(roof.id, false, { station: 'Desk 1' });
    pass(50);
    engine.rules?.arm(roof.id, true, { station: 'Desk 1' });
    pass(50);
    edit([]);
    expect(sent('captions')).toEqual(['countIn', 'countOut', 'countIn', 'countOut']);
    edit([roof]);
    // Another text on the same place: it takes over without a gap.
    edit([{ ...board(1, 'roofCam', 'Perseids') }]);
    expect(sent('captions').slice(4)).toEqual(['countIn', 'countIn']);
    expect(engine.board.read('captions.countLabel')).toBe('Perseids');
    does('switcher', 'program', { source: 'lawnCam' });
    expect(engine.board.read('captions.countUp')).toBe(false);
  });

  it('sends nothing when everything is stopped: what it held stays without it', () => {
    const roof = board(1, 'roofCam');
    const { does, engine, sent, claims } = ruled([roof]);
    does('switcher', 'program', { source: 'roofCam' });
    engine.stopAll('Desk 1');
    does('switcher', 'program', { source: 'lawnCam' });
    expect([sent('captions'), claims()]).toEqual([['countIn'], []]);
  });

  it('waits for a device that does not answer, says so, and holds as soon as it is back', () => {
    const roof = board(1, 'roofCam');
    const { does, engine, pass, sent, view } = ruled([roof]);
    engine.newsOf('captions').reached(false, 'silent');
    does('switcher', 'program', { source: 'roofCam' });
    expect([view(roof)?.state, view(roof)?.lastWords]).toEqual(['waiting', 'Captions does not answer.']);
    engine.newsOf('captions').reached(true, 'back');
    engine.newsOf('captions').points({ countUp: false, count: 0, countLabel: '' });
    pass(600);
    expect([view(roof)?.state, sent('captions')]).toEqual(['holds', ['countIn']]);
  });

  it('whose device falls silent just as it begins says so, and holds when the device is back', () => {
    const roof = board(1, 'roofCam');
    const { does, engine, pass, sent, view } = ruled([roof]);
    engine.attach('captions', { send: () => () => undefined });
    engine.newsOf('captions').reached(true, 'here, and deaf');
    does('switcher', 'program', { source: 'roofCam' });
    pass(1700);
    engine.newsOf('captions').reached(false, 'silent');
    pass(3000);
    expect([view(roof)?.state, view(roof)?.lastWords]).toEqual(['waiting', 'Captions does not answer.']);
    expect(engine.board.read(`rule@${roof.id}`)).toMatch(/^waiting /);
    engine.newsOf('captions').reached(true, 'back');
    engine.newsOf('captions').points({ countUp: false, count: 0, countLabel: '' });
    pass(100);
    expect(sent('captions').length).toBeGreaterThan(1);
  });

  it('puts up again what a device has lost that was away', () => {
    const roof = board(1, 'roofCam');
    const { does, engine, pass, sent } = ruled([roof]);
    does('switcher', 'program', { source: 'roofCam' });
    engine.newsOf('captions').reached(false, 'silent');
    pass(5000);
    engine.newsOf('captions').reached(true, 'back');
    engine.newsOf('captions').points({ countUp: false, count: 0, countLabel: '' });
    pass(100);
    expect(sent('captions')).toEqual(['countIn', 'countIn']);
  });

  it('leaves a silent device when it is back, not before', () => {
    const roof = board(1, 'roofCam');
    const { does, engine, pass, sent } = ruled([roof]);
    does('switcher', 'program', { source: 'roofCam' });
    engine.newsOf('captions').reached(false, 'silent');
    does('switcher', 'program', { source: 'lawnCam' });
    pass(3000);
    expect(sent('captions')).toEqual(['countIn']);
    engine.newsOf('captions').reached(true, 'back');
    engine.newsOf('captions').points({ countUp: true, count: 7, countLabel: 'roofCam' });
    pass(100);
    expect(sent('captions')).toEqual(['countIn', 'countOut']);
  });

  describe('after the engine died', () => {
    const roof = board(1, 'roofCam');
    const before = ruled([roof]);
    before.does('switcher', 'program', { source: 'roofCam' });
    const claims = before.claims();
    const armed = new Map([[`armed@${roof.id}`, true]]);
    const up = { countUp: true, count: 7, countLabel: 'roofCam' };

    it('holds on to what its device still shows, and sends nothing twice', () => {
      const { does, pass, sent, view } = ruled([roof], {
        restored: armed,
        claims,
        from: { switcher: { program: 4, preview: 2 }, captions: up },
      });
      pass(2000);
      expect([sent('captions'), view(roof)?.state]).toEqual([[], 'holds']);
      does('switcher', 'program', { source: 'lawnCam' });
      expect(sent('captions')).toEqual(['countOut']);
    });

    it('puts up anew what its device does not show any more', () => {
      const { pass, sent } = ruled([roof], { restored: armed, claims, from: { switcher: { program: 4, preview: 2 } } });
      pass(1000);
      expect(sent('captions')).toEqual(['countIn']);
    });

    it('takes out what its condition no longer holds for', () => {
      const { pass, sent } = ruled([roof], {
        restored: armed,
        claims,
        from: { switcher: { program: 2, preview: 4 }, captions: up },
      });
      pass(1000);
      expect(sent('captions')).toEqual(['countOut']);
    });

    it('takes out what a rule held that was deleted meanwhile', () => {
      const { pass, sent } = ruled([], { claims, from: { captions: up } });
      pass(1000);
      expect(sent('captions')).toEqual(['countOut']);
    });
  });

  describe('that names a value', () => {
    const counted = (steps: Trigger['steps']): Trigger => rule(1, { kind: 'while', on: on('roofCam'), steps });
    const roof = counted([
      command('a', 'captions', 'countIn', { count: { cel: 'value.meteors' }, label: { cel: 'value.client' } }),
    ]);
    const label = (engine: { board: { read: (key: string) => unknown } }): unknown[] =>
      ['count', 'countLabel', 'countUp'].map((point) => engine.board.read(`captions.${point}`));

    it('goes with it for as long as it holds, and no longer', () => {
      const { does, engine, pass, sent, view } = ruled([roof]);
      engine.board.set('value.meteors', 7);
      engine.board.set('value.client', 'Night');
      does('switcher', 'program', { source: 'roofCam' });
      expect(label(engine)).toEqual([7, 'Night', true]);
      engine.board.set('value.meteors', 8);
      pass(300);
      engine.board.set('value.client', 'Morning');
      pass(500);
      expect([label(engine), view(roof)?.state]).toEqual([[8, 'Morning', true], 'holds']);
      does('switcher', 'program', { source: 'lawnCam' });
      engine.board.set('value.meteors', 9);
      pass(2000);
      expect(sent('captions')).toEqual(['countIn', 'countIn', 'countIn', 'countOut']);
      expect(label(engine)[2]).toBe(false);
    });

    it('is told no faster than five times a second, and the last of many values', () => {
      const { does, engine, pass, sent } = ruled([roof]);
      does('switcher', 'program', { source: 'roofCam' });
      for (let count = 1; count <= 50; count += 1) {
        engine.board.set('value.meteors', count);
        pass(20);
      }
      pass(1000);
      expect(label(engine)[0]).toBe(50);
      expect(sent('captions').length).toBeLessThanOrEqual(8);
    });

    it('leaves alone what somebody put there meanwhile', () => {
      const { does, engine, pass, sent } = ruled([roof]);
      does('switcher', 'program', { source: 'roofCam' });
      does('captions', 'countOut', { ms: 100 });
      const before = sent('captions').length;
      engine.board.set('value.meteors', 12);
      pass(2000);
      expect([sent('captions').length - before, label(engine)[2]]).toEqual([0, false]);
    });

    it('comes through a restart: the same value sends nothing, another one is told once', () => {
      const { does, engine, claims } = ruled([roof]);
      engine.board.set('value.meteors', 7);
      does('switcher', 'program', { source: 'roofCam' });
      const from = {
        switcher: { program: 4, preview: 2 },
        captions: { countUp: true, count: 7, countLabel: label(engine)[1] as string },
      };
      const same = ruled([roof], { claims: claims(), restored: new Map([['value.meteors', 7]]), from });
      same.pass(3000);
      expect(same.sent('captions')).toEqual([]);
      const other = ruled([roof], { claims: claims(), restored: new Map([['value.meteors', 11]]), from });
      other.pass(3000);
      expect([other.sent('captions'), label(other.engine)[0]]).toEqual([['countIn'], 11]);
    });

    it('does not drive itself: a value that a rule keeps is not followed by it', () => {
      const up = counted([setValue('value.meteors', { cel: 'value.meteors + 1' })]);
      const { does, engine, pass } = ruled([up]);
      engine.board.set('value.meteors', 1);
      does('switcher', 'program', { source: 'roofCam' });
      pass(5000);
      expect(engine.board.read('value.meteors')).toBe(2);
    });
  });

  it('keeps a show value, and gives it back', () => {
    const quiet = rule(1, { kind: 'while', on: on('roofCam'), steps: [setValue('value.client', 'Roof')] });
    const { does, engine } = ruled([quiet]);
    const before = engine.board.read('value.client');
    does('switcher', 'program', { source: 'roofCam' });
    expect(engine.board.read('value.client')).toBe('Roof');
    does('switcher', 'program', { source: 'lawnCam' });
    expect(engine.board.read('value.client')).toBe(before);
  });

  it('refuses what nothing can take back, in words', () => {
    const cut = rule(1, { kind: 'while', on: on('roofCam'), steps: [command('a', 'switcher', 'cut')] });
    const recall = rule(2, {
      kind: 'while',
      on: on('roofCam'),
      steps: [command('a', 'deskCam', 'recall', { position: 'inesClose' })],
    });
    const { view } = ruled([cut, recall]);
    expect(view(cut)?.lastWords).toContain('a while rule cannot take this back by itself');
    expect(view(recall)?.lastWords).toContain('a while rule cannot take this back by itself');
  });

  it('that comes and goes ten times a second is slowed down and ends as it should', () => {
    const loud = rule(1, {
      kind: 'while',
      on: turns('value.meteors > 10'),
      steps: [command('a', 'captions', 'countIn', { count: 1 })],
    });
    const { engine, pass, sent } = ruled([loud]);
    for (let round = 0; round < 50; round += 1) {
      engine.board.set('value.meteors', round % 2 === 0 ? 20 : 0);
      pass(100);
    }
    expect(sent('captions').length).toBeLessThan(36);
    engine.board.set('value.meteors', 20);
    pass(1100);
    expect(engine.board.read('captions.countUp')).toBe(true);
    engine.board.set('value.meteors', 0);
    pass(1100);
    expect(engine.board.read('captions.countUp')).toBe(false);
  });

  it('that puts out its own condition does not go round for ever', () => {
    const odd = rule(1, { kind: 'while', on: turns('value.meteors < 10'), steps: [setValue('value.meteors', 50)] });
    const { pass, entries, view } = ruled([odd]);
    pass(60_000);
    expect(view(odd)?.armed).toBe(false);
    expect(view(odd)?.lastWords).toContain('It went in a circle with itself: Rule 1.');
    expect(entries.filter((entry) => entry.kind === 'runStart').length).toBeLessThan(10);
  });
});

describe('what a while rule leaves', () => {
  const roof = board(1, 'roofCam');
  const shown = ({ engine }: ReturnType<typeof ruled>) => engine.board.read('captions.countUp');

  it('is taken out as soon as its device does it again, however long that refused; and it is told', () => {
    const test = ruled([roof]);
    const { does, pass, refusing, view } = test;
    does('switcher', 'program', { source: 'roofCam' });
    refusing.add('captions');
    does('switcher', 'program', { source: 'lawnCam' });
    pass(6000);
    expect([shown(test), view(roof)?.lastWords]).toEqual([true, 'Captions still shows what was to go.']);
    pass(60_000);
    expect(shown(test)).toBe(true);
    refusing.clear();
    pass(5000);
    expect([shown(test), view(roof)?.lastWords]).toEqual([false, 'It ended: Take the count board out.']);
    // Nothing is left to be told.
    const { length } = test.sent('captions');
    pass(120_000);
    expect(test.sent('captions')).toHaveLength(length);
  });

  it('is not taken for what stood there before, when it comes again before that', () => {
    const test = ruled([roof]);
    const { does, pass, refusing } = test;
    does('switcher', 'program', { source: 'roofCam' });
    refusing.add('captions');
    does('switcher', 'program', { source: 'lawnCam' });
    pass(15_000);
    refusing.clear();
    // Before it is tried again.
    does('switcher', 'program', { source: 'roofCam' });
    pass(10_000);
    expect(shown(test)).toBe(true);
    does('switcher', 'program', { source: 'lawnCam' });
    pass(5000);
    expect(shown(test)).toBe(false);
  });

  it('is taken out of a device that died on the way and is back', () => {
    const test = ruled([roof]);
    const { does, pass, refusing, engine } = test;
    does('switcher', 'program', { source: 'roofCam' });
    refusing.add('captions');
    does('switcher', 'program', { source: 'lawnCam' });
    engine.newsOf('captions').reached(false, 'Captions does not answer.');
    pass(20_000);
    refusing.clear();
    engine.newsOf('captions').reached(true, 'Captions answers.');
    engine.newsOf('captions').points({ countUp: true, count: 7, countLabel: 'roofCam' });
    pass(5000);
    expect(shown(test)).toBe(false);
  });

  it('is taken out by the next engine when this one dies before it is gone', () => {
    const first = ruled([roof]);
    first.does('switcher', 'program', { source: 'roofCam' });
    first.refusing.add('captions');
    first.does('switcher', 'program', { source: 'lawnCam' });
    const left = first.claims();
    expect(left.map(({ leaving, parts }) => [leaving, parts.length])).toEqual([[true, 1]]);
    const from = {
      switcher: { program: 2, preview: 1 },
      captions: { countUp: true, count: 7, countLabel: 'roofCam' },
    };
    const next = ruled([roof], { claims: left, from });
    next.pass(3000);
    expect([shown(next), next.claims()]).toEqual([false, []]);
    // Where somebody has put up something else meanwhile, it stands.
    const other = ruled([roof], {
      claims: left,
      from: { ...from, captions: { ...from.captions, countLabel: 'stars' } },
    });
    other.pass(60_000);
    expect([shown(other), other.sent('captions')]).toEqual([true, []]);
  });

  it('is given up with everything else when all is stopped', () => {
    const test = ruled([roof]);
    const { does, pass, refusing, engine } = test;
    does('switcher', 'program', { source: 'roofCam' });
    refusing.add('captions');
    does('switcher', 'program', { source: 'lawnCam' });
    pass(2000);
    engine.stopAll('Desk 1');
    refusing.clear();
    const { length } = test.sent('captions');
    pass(120_000);
    expect([shown(test), test.sent('captions').length, test.claims()]).toEqual([true, length, []]);
  });

  it('a device that refuses for a minute shows what a rule keeps once it is ready', () => {
    const test = ruled([roof]);
    const { does, pass, refusing, view } = test;
    refusing.add('captions');
    does('switcher', 'program', { source: 'roofCam' });
    pass(60_000);
    expect([shown(test), view(roof)?.lastWords]).toEqual([false, 'Captions does not show it.']);
    refusing.clear();
    pass(5000);
    expect(shown(test)).toBe(true);
  });
});

it('what one rule handed to another that never came through is taken out with the other one', () => {
  const [desk, lawn] = [name(1, 'deskCam', 'Ines Halloran'), name(2, 'lawnCam', 'Tomasz Reke')];
  const { does, engine, pass, refusing, claims, sent } = ruled([desk, lawn]);
  const before = Object.fromEntries(
    [...engine.board.entries()].flatMap(([key, value]) =>
      key.startsWith('captions.name') ? [[key.slice(9), value]] : [],
    ),
  );
  does('switcher', 'program', { source: 'deskCam' });
  const shown = { ...before, nameUp: true, nameText: 'Ines Halloran' };
  // The name of the other one gets lost on the way to a device that dies.
  refusing.add('captions');
  does('switcher', 'program', { source: 'lawnCam' });
  engine.newsOf('captions').reached(false, 'Captions does not answer.');
  pass(5000);
  refusing.clear();
  engine.newsOf('captions').reached(true, 'Captions answers.');
  engine.newsOf('captions').points(shown);
  pass(500);
  expect(engine.board.read('captions.nameText')).toBe('Tomasz Reke');
  does('switcher', 'program', { source: 'black' });
  pass(3000);
  expect([engine.board.read('captions.nameUp'), claims()]).toEqual([false, []]);
  expect(sent('captions').at(-1)).toBe('nameOut');
});

it('a while rule that comes back while what it left still goes out takes that for nobody’s change', () => {
  const roof = board(1, 'roofCam');
  const { engine, pass, slow, wordsOf, view } = ruled([roof]);
  slow.set('captions', 20);
  const shown = (): unknown => engine.board.read('captions.countUp');
  engine.board.set('switcher.program', 4);
  pass(200);
  engine.board.set('switcher.program', 2);
  pass(3);
  engine.board.set('switcher.program', 4);
  pass(2000);
  expect([shown(), view(roof)?.state]).toEqual([true, 'holds']);
  engine.board.set('switcher.program', 2);
  pass(2000);
  expect(shown()).toBe(false);
  expect(wordsOf(roof).map((item) => item.split(':')[0])).toEqual(['holds', 'left', 'holds', 'left']);
});

it('a while rule whose turn comes just while a command has made its condition unknown is looked at again', () => {
  const roof = board(1, 'roofCam');
  const { engine, pass, does } = ruled([roof]);
  const { board: points } = engine;
  // In one instant: it turns true, and a command makes it unknown before its rule has had its turn.
  points.set('switcher.program', 4);
  points.forget('switcher.program');
  pass(50);
  expect(points.read('captions.countUp')).toBe(false);
  points.set('switcher.program', 4);
  pass(500);
  expect(points.read('captions.countUp')).toBe(true);
  // And as it leaves.
  points.set('switcher.program', 2);
  points.forget('switcher.program');
  pass(50);
  points.set('switcher.program', 2);
  pass(500);
  expect(points.read('captions.countUp')).toBe(false);
  does('switcher', 'cut');
});

it('a device that says a word where a switch belongs has said nothing: nobody has changed what a while rule keeps', () => {
  const roof = board(1, 'roofCam');
  const { does, engine, view, pass } = ruled([roof]);
  does('switcher', 'program', { source: 'roofCam' });
  const news = engine.newsOf('captions');
  for (const lie of ['', 'yes', 1]) {
    news.points({ countUp: lie });
    expect([engine.board.read('captions.countUp'), view(roof)?.state]).toEqual([UNKNOWN, 'holds']);
  }
  news.points({ countUp: true });
  pass(100);
  expect([engine.board.read('captions.countUp'), view(roof)?.state]).toEqual([true, 'holds']);
  news.points({ count: '7' });
  expect(engine.board.read('captions.count')).toBe(UNKNOWN);
});

it('what a device said wrongly for a moment is nobody’s change; what stays for longer is', () => {
  const roof = board(1, 'roofCam');
  const { does, engine, view, pass } = ruled([roof]);
  const news = engine.newsOf('captions');
  does('switcher', 'program', { source: 'roofCam' });
  news.points({ countLabel: '__proto__' });
  expect(view(roof)?.state).toBe('changed');
  pass(3000);
  news.points({ countLabel: 'roofCam' });
  expect(view(roof)?.state).toBe('holds');
  news.points({ countLabel: 'stars' });
  pass(6000);
  news.points({ countLabel: 'roofCam' });
  expect(view(roof)?.state).toBe('changed');
  does('switcher', 'program', { source: 'lawnCam' });
  pass(5000);
  expect(engine.board.read('captions.countUp')).toBe(true);
});

it('what somebody had put up before, just as a while rule keeps it, stays when that leaves, and nothing is sent again', () => {
  const roof = board(1, 'roofCam');
  const { does, engine, pass, sent, claims, view } = ruled([roof]);
  does('captions', 'countIn', { count: 7, label: 'roofCam' });
  does('switcher', 'program', { source: 'roofCam' });
  does('switcher', 'program', { source: 'lawnCam' });
  pass(3000);
  const { length } = sent('captions');
  pass(600_000);
  expect([engine.board.read('captions.countUp'), sent('captions').length, claims()]).toEqual([true, length, []]);
  expect(view(roof)?.lastWords).toMatch(/^It ended: /);
});

it('what a person had put up, a rule kept and another one took over that was never seen, comes to rest', () => {
  const [desk, lawn] = [name(1, 'deskCam', 'Ines Halloran'), name(2, 'lawnCam', 'Tomasz Reke')];
  const { does, engine, pass, refusing, claims, sent } = ruled([desk, lawn]);
  does('captions', 'nameIn', { name: 'Ines Halloran' });
  does('switcher', 'program', { source: 'deskCam' });
  refusing.add('captions');
  does('switcher', 'program', { source: 'lawnCam' });
  does('switcher', 'program', { source: 'black' });
  pass(3000);
  refusing.clear();
  pass(30_000);
  const { length } = sent('captions');
  pass(600_000);
  expect([engine.board.read('captions.nameText'), sent('captions').length, claims()]).toEqual([
    'Ines Halloran',
    length,
    [],
  ]);
});
