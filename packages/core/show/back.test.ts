import { corvaneHill } from '@umbek/demo';
import { changesBack } from './back';
import { changesBetween } from './versions';
import { applyEdit, type Change } from './edits';
import type { ShowDocument } from './entities';

const show = corvaneHill();
const [first, second] = show.buttons;
if (!first || !second) throw new Error('The demo has too few buttons.');
const NEW = '01J0C0RVANEH1NEW0000000001';
const field = (id: string, name: string, from: unknown, to: unknown): Change => ({
  entity: 'buttons',
  id,
  field: name,
  from,
  to,
});
const whole = (id: string, from: unknown, to: unknown): Change => field(id, '*', from, to);
const after = (document: ShowDocument, ...edits: readonly (readonly Change[])[]): ShowDocument =>
  edits.reduce((now, changes) => {
    const applied = applyEdit(now, { changes });
    if (!applied.ok) throw new Error(JSON.stringify(applied.error[0]));
    return applied.value;
  }, document);
/** What is left of a difference after going back. */
const left = (...edits: readonly (readonly Change[])[]): Change[] => {
  const now = after(show, ...edits);
  return changesBetween(show, after(now, changesBack(now, edits)));
};

describe('going back to a row of the history', () => {
  it('takes back a field that was changed twice, once', () => {
    const edits = [
      [field(first.id, 'legend', first.legend, 'One')],
      [field(first.id, 'legend', 'One', 'Two'), field(second.id, 'note', second.note, 'other')],
    ];
    const now = after(show, ...edits);
    expect(changesBack(now, edits)).toEqual([
      field(first.id, 'legend', 'Two', first.legend),
      field(second.id, 'note', 'other', second.note),
    ]);
    expect(left(...edits)).toEqual([]);
  });

  it('takes away what was made, also when it was changed afterwards', () => {
    const made = { ...first, id: NEW, order: 'zz' };
    expect(left([whole(NEW, null, made)], [field(NEW, 'legend', made.legend, 'Made')])).toEqual([]);
  });

  it('brings back what was changed and then removed, as it was before', () => {
    const changedOne = { ...first, legend: 'Changed' };
    expect(left([field(first.id, 'legend', first.legend, 'Changed')], [whole(first.id, changedOne, null)])).toEqual([]);
  });

  it('leaves alone what was made and removed again, and what an undo has brought back', () => {
    const made = { ...first, id: NEW, order: 'zz' };
    const edits = [
      [whole(NEW, null, made)],
      [whole(NEW, made, null)],
      [field(first.id, 'legend', first.legend, 'One')],
      [field(first.id, 'legend', 'One', first.legend)],
    ];
    expect(changesBack(after(show, ...edits), edits)).toEqual([]);
  });

  it('brings back what went and came again as another', () => {
    const other = { ...first, legend: 'Another' };
    expect(left([whole(first.id, first, null)], [whole(first.id, null, other)])).toEqual([]);
  });
});
