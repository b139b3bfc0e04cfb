import { corvaneHill } from '@umbek/demo';
import { applyEdit, type Person } from '../show/index';
import { inOrder } from './order';
import { newPerson, stripOffers } from './index';
import { peopleFound, personMoved } from './people';

const show = corvaneHill();
const names = (people: readonly Person[]) => people.map(({ name }) => name);

describe('the people list', () => {
  it('finds words in name, title and place, whatever their case and accents, in the order of the list', () => {
    expect(names(peopleFound(show.people, 'lucia'))).toEqual(['Lucía Ferrán']);
    expect(names(peopleFound(show.people, 'OBSERVER camp'))).toEqual(['Obi Adeyemi']);
    expect(names(peopleFound(show.people, 'corvane'))).toEqual(['Ines Halloran', 'Tomasz Reke', 'Della Quist']);
    expect(peopleFound(show.people, '  ')).toHaveLength(7);
    expect(peopleFound(show.people, 'x.*')).toEqual([]);
  });

  it('puts a new person at its end, under a key that nobody has', () => {
    const again = newPerson(show, '01J0C0RVANEH1PER0000000099', { name: 'Wen Zhao' });
    expect([again.key, inOrder([...show.people, again]).at(-1)?.id]).toEqual(['wenZhao2', again.id]);
  });

  it('moves somebody one place, and at its ends nobody', () => {
    const [first, second, ...rest] = inOrder(show.people);
    if (first === undefined || second === undefined) throw new Error('The list is too short.');
    expect(personMoved(show, first, 'earlier')).toEqual([]);
    const after = applyEdit(show, { changes: personMoved(show, first, 'later') });
    expect(after.ok && names(inOrder(after.value.people))).toEqual(names([second, first, ...rest]));
    const back = applyEdit(show, { changes: personMoved(show, second, 'earlier') });
    expect(back.ok && names(inOrder(back.value.people))).toEqual(names([second, first, ...rest]));
  });

  it('is offered as strips: one to go through it, one with a button for each', () => {
    const offers = stripOffers(show).filter(({ key }) => key === 'captions/chosenName' || key === 'captions/names');
    expect(offers.flatMap(({ strips }) => strips.map(({ buttons }) => buttons.map(({ legend }) => legend)))).toEqual([
      ['Previous', '{{ chosen.personName }}', 'Next', 'Find', 'Name out'],
      [...names(show.people), 'Name out'],
    ]);
    expect(stripOffers({ ...show, people: [] }).some(({ key }) => key.startsWith('captions/chosen'))).toBe(false);
  });
});
