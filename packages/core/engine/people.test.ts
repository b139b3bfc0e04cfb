import { applyEdit } from '../show/index';
import { changed } from '../programming/changes';
import { compileProgram } from './program';
import { selectionKey } from './scope';
import { done, setUp } from './testEngine';
import { button, command, step } from './testShow';

const by = (id: string, to: number) => step({ kind: 'set', id, target: 'chosen.person', to: '', by: to });
const choose = (id: string, to: string) => step({ kind: 'set', id, target: 'chosen.person', to });
const inFor = (id: string, person: unknown) => command(id, 'captions', 'personIn', { person, ms: 400 });
const CHOSEN = { cel: 'chosen.person' };

function room(...args: Parameters<typeof setUp>) {
  const all = setUp(...args);
  let presses = 0;
  const read = (name: string) => all.engine.board.read(selectionKey('main', name));
  return {
    ...all,
    read,
    touch: (item: Parameters<typeof all.press>[0], more: Record<string, unknown> = {}) => {
      const pressId = `t${(presses += 1)}`;
      const answer = all.press(item, 'down', { pressId, ...more });
      all.press(item, 'up', { pressId, ...more });
      return answer;
    },
  };
}

describe('the chosen person', () => {
  const next = button(1, [by('n', 1)]);
  const back = button(2, [by('b', -1)]);
  const into = button(3, [inFor('i', CHOSEN)], { legend: '{{ chosen.personName }}', note: '{{ chosen.personTitle }}' });

  it('goes through the list in its order, and says at its ends that there is nobody more', () => {
    const { touch, read, ends } = room([next, back]);
    touch(next);
    expect([read('person'), read('personName'), read('personTitle'), read('personPlace')]).toEqual([
      'inesHalloran',
      'Ines Halloran',
      'Host',
      'Corvane Hill',
    ]);
    touch(next);
    expect(read('personName')).toBe('Tomasz Reke');
    touch(back);
    touch(back);
    expect(read('person')).toBe('inesHalloran');
    expect(ends().at(-1)).toBe('failed: Ines Halloran is the first of the people list.');
  });

  it('begins at the last where nobody is chosen and it goes back', () => {
    const { touch, read } = room([back]);
    touch(back);
    expect(read('person')).toBe('wenZhao');
  });

  it('is captioned with name and title as the list has them, and lights when exactly that is up', () => {
    const pressed = button(4, [inFor('i', 'wenZhao')], { lamps: [{ when: 'button.isSo', show: 'up' }] });
    const { touch, ports, engine } = room([pressed]);
    const lamps = engine.lamps('main');
    touch(pressed);
    expect(ports.captions.sent[0]?.command).toEqual({
      command: 'nameIn',
      params: { ms: 400, name: 'Wen Zhao', title: 'Observer' },
    });
    ports.captions.answer(0, done);
    engine.newsOf('captions').points({ nameUp: true, nameText: 'Wen Zhao', nameTitle: 'Observer' });
    expect(lamps.get(pressed.id)?.sign).toBe('up');
    engine.newsOf('captions').points({ nameText: 'Obi Adeyemi' });
    expect(lamps.get(pressed.id)?.sign).toBe(null);
  });

  it('refuses a caption of the chosen one in words while nobody is chosen', () => {
    const { touch, ends } = room([into]);
    touch(into);
    expect(ends()).toEqual(['failed: Nobody of the people list is chosen.']);
  });

  it('is meant by the later steps of the press that chose them, whoever was chosen before', () => {
    const both = button(5, [by('n', 1), inFor('i', CHOSEN)]);
    const { touch, ports } = room([next, both]);
    touch(next);
    touch(both);
    expect(ports.captions.sent[0]?.command.params).toMatchObject({ name: 'Tomasz Reke' });
  });

  it('stands in legends, and is followed when the list is corrected', () => {
    const { touch, engine, read } = room([next, into]);
    const lamps = engine.lamps('main');
    touch(next);
    expect(lamps.get(into.id)).toMatchObject({ legend: 'Ines Halloran', note: 'Host' });
    const [ines] = engine.program.document.people;
    if (ines === undefined) throw new Error('The list is empty.');
    const edited = applyEdit(engine.program.document, { changes: [changed('people', ines, 'name', 'Inés Halloran')] });
    if (!edited.ok) throw new Error('The edit was refused.');
    engine.setProgram(compileProgram(edited.value, 2, engine.program));
    expect([read('personName'), lamps.get(into.id)?.legend]).toEqual(['Inés Halloran', 'Inés Halloran']);
  });

  it('has a destination beside it that a station chooses by number, where a router has it', () => {
    const { press, engine } = room([next]);
    const direct = (to: number | string, pressId: string) =>
      press(next, 'down', { pressId, direct: { device: 'chosen', command: 'destination', params: { to } } });
    expect(direct(32, 'd1')).toMatchObject({ accepted: true });
    expect(engine.board.read('chosen@main.destination')).toBe(32);
    // A destination is a number: as text, nothing could be routed to it.
    for (const [at, to] of [0, 33, 'x', '4', -1].entries())
      expect(direct(to, `d2${at}`)).toMatchObject({ accepted: false, error: { code: 'unknown-choice' } });
    expect(engine.board.read('chosen@main.destination')).toBe(32);
  });

  it('is chosen from a station without a button, and only when the list has them', () => {
    const { press, read, touch } = room([next]);
    const direct = (to: string, pressId: string) =>
      press(next, 'down', { pressId, direct: { device: 'chosen', command: 'person', params: { to } } });
    expect(direct('obiAdeyemi', 'x1')).toMatchObject({ accepted: true });
    expect(read('personName')).toBe('Obi Adeyemi');
    expect(direct('nobody', 'x2')).toMatchObject({
      accepted: false,
      error: { message: 'There is no person nobody to choose.' },
    });
    expect(read('personName')).toBe('Obi Adeyemi');
    // What a page chose can be taken back like any press.
    touch(next, { takeBack: 'x1' });
    expect(read('person')).toBe('obiAdeyemi');
  });

  it('who is not in the list refuses a press before anything is sent', () => {
    const gone = button(6, [inFor('i', 'nobody')]);
    const stranger = button(7, [choose('c', 'nobody')]);
    const { touch } = room([gone, stranger]);
    expect(touch(gone)).toMatchObject({ accepted: false, error: { message: 'There is no person nobody.' } });
    expect(touch(stranger)).toMatchObject({ accepted: false, error: { message: 'There is no person nobody.' } });
    // What an expression makes of it is known only then.
    const worked = {
      ...stranger,
      steps: [step({ kind: 'set', id: 'c', target: 'chosen.person', to: { cel: '"nobody"' } })],
    };
    const other = room([worked]);
    other.touch(worked);
    expect(other.ends()).toEqual(['failed: There is nobody called nobody in the people list.']);
  });
});
