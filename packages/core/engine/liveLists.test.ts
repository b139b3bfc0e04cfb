import { changed, removed } from '../programming/changes';
import { applyEdit, type Change, type Person } from '../show/index';
import { isPeoplePlace } from './liveLists';
import { compileProgram } from './program';
import { HandPort, setUp } from './testEngine';
import { button, command } from './testShow';

function room(...args: Parameters<typeof setUp>) {
  const all = setUp(...args);
  const spool = new HandPort();
  all.engine.attach('spool', spool);
  all.engine.newsOf('spool').reached(true, 'here');
  const clips = (...names: string[]) => all.engine.newsOf('spool').points({ clips: names.join('\n') });
  const at = () => [1, 2, 3, 4].map((place) => all.engine.board.read(`spool.clipsAt${place}`));
  return { ...all, spool, clips, at };
}

const clip = (place: number) =>
  button(place, [command('c', 'spool', 'cue', { clip: { cel: `spool.clipsAt${place}` }, loop: false })], {
    legend: `{{ spool.clipsAt${place} }}`,
    there: `spool.clipsAt${place} != ""`,
    lamps: [{ when: `spool.ch1Layer1Clip == spool.clipsAt${place}`, show: 'armed' }],
  });

describe('what a device lists', () => {
  it('keeps its place while it is there, whatever comes before it and goes', () => {
    const { clips, at } = room([]);
    clips('Film', 'Loop');
    expect(at()).toEqual(['Film', 'Loop', '', '']);
    clips('Opening', 'Loop');
    // Film has just gone: its place rests, and the new one takes the next that is free.
    expect(at()).toEqual(['', 'Loop', 'Opening', '']);
    clips('Film', 'Opening', 'Loop');
    expect(at()).toEqual(['Film', 'Loop', 'Opening', '']);
  });

  it('gives a place to something else only after three seconds, and then by itself', () => {
    const { clips, at, clock } = room([]);
    const all = Array.from({ length: 24 }, (_, index) => `Clip ${index + 1}`);
    clips(...all);
    clips(...all.slice(1), 'Late');
    expect(at()).toEqual(['', 'Clip 2', 'Clip 3', 'Clip 4']);
    clock.runTo(2999);
    expect(at()[0]).toBe('');
    clock.runTo(3000);
    expect(at()).toEqual(['Late', 'Clip 2', 'Clip 3', 'Clip 4']);
  });

  it('is unknown while the device is silent, and stands where it stood when it answers again', () => {
    const { clips, at, engine } = room([clip(1)]);
    const lamps = engine.lamps('main');
    clips('Film', 'Loop');
    clips('Loop');
    engine.newsOf('spool').reached(false, 'nothing heard');
    expect(at().every((verdict) => typeof verdict === 'symbol')).toBe(true);
    expect(lamps.get(clip(1).id)).toMatchObject({ away: true, lost: true });
    engine.newsOf('spool').reached(true, 'here');
    clips('Loop');
    expect(at()).toEqual(['', 'Loop', '', '']);
  });

  it('says so on its cap, and a finger that was on its way to something that went does nothing', () => {
    const { clips, press, engine, spool } = room([clip(1), clip(2)]);
    const lamps = engine.lamps('main');
    clips('Film', 'Loop');
    expect([lamps.get(clip(1).id)?.legend, lamps.get(clip(1).id)?.away]).toEqual(['Film', undefined]);
    engine.newsOf('spool').points({ ch1Layer1Clip: 'Film' });
    expect(lamps.get(clip(1).id)?.sign).toBe('armed');
    // Nothing is cued, and nothing stands here: the two are equal, and no lamp says so.
    engine.newsOf('spool').points({ ch1Layer1Clip: '' });
    clips('Loop');
    expect(lamps.get(clip(1).id)).toMatchObject({ away: true, sign: null });
    expect(press(clip(1), 'down', { pressId: 'a' })).toMatchObject({
      accepted: false,
      error: { code: 'not-there', message: 'What this cap stood for is gone.' },
    });
    expect(press(clip(2), 'down', { pressId: 'b' })).toMatchObject({ accepted: true });
    expect(spool.sent.map((item) => item.command.params.clip)).toEqual(['Loop']);
  });

  it('holds no place twice for what a device tells twice', () => {
    const { clips, at } = room([]);
    clips('Film', 'Film', '', 'Loop');
    expect(at()).toEqual(['Film', 'Loop', '', '']);
  });
});

describe('marks, which are told by number', () => {
  it('stand by their number; a line that has none stands nowhere', () => {
    const all = setUp([]);
    all.engine.attach('secondLook', new HandPort());
    all.engine.newsOf('secondLook').reached(true, 'here');
    all.engine.newsOf('secondLook').points({ marks: '3 41.2\nnonsense\n\n2 12' });
    expect([1, 2, 3].map((place) => all.engine.board.read(`secondLook.marksAt${place}`))).toEqual([3, 2, 0]);
  });
});

describe('the places of the people list', () => {
  const edit = (all: ReturnType<typeof setUp>, make: (people: readonly Person[]) => Change[]): void => {
    const document = all.engine.program.document;
    const after = applyEdit(document, { changes: make(document.people) });
    if (!after.ok) throw new Error('The edit was refused.');
    all.engine.setProgram(compileProgram(after.value, 2, all.engine.program));
  };

  it('hold name and title, follow a correction, and nobody moves when somebody before them goes', () => {
    const all = setUp([]);
    const read = (key: string) => all.engine.board.read(`people.${key}`);
    expect(String(read('names')).split('\n')).toHaveLength(7);
    expect([read('at1'), read('at1Name'), read('at2Title'), read('at8')]).toEqual([
      'inesHalloran',
      'Ines Halloran',
      'Astronomer',
      '',
    ]);
    edit(all, (people) => people.slice(0, 1).map((person) => removed('people', person)));
    edit(all, (people) => people.slice(0, 1).map((person) => changed('people', person, 'title', 'Professor')));
    expect([read('at1'), read('at1Name'), read('at2'), read('at2Title')]).toEqual(['', '', 'tomaszReke', 'Professor']);
  });

  it('are named in conditions from 1 to 24', () => {
    expect(['at1', 'at24Name', 'at3Title', 'at0', 'at25', 'at1Place', 'name'].map(isPeoplePlace)).toEqual([
      true,
      true,
      true,
      false,
      false,
      false,
      false,
    ]);
  });
});
