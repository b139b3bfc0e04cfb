import { corvaneHill, demoId } from '@umbek/demo';
import { applyEdit, type Change } from './edits';
import type { Button } from './entities';
import { viewAfter, viewOf } from './view';

const show = corvaneHill();
const main = new Set([demoId('PAN', 1)]);
const view = viewOf(show, main);
const panelOf = (button: Button): string => show.strips.find((strip) => strip.id === button.stripId)?.panelId ?? '';
const [here] = show.buttons.filter((button) => main.has(panelOf(button)));
const elsewhere = show.buttons.find((button) => button.stripId !== here?.stripId && !main.has(panelOf(button)));
if (here === undefined || elsewhere === undefined) throw new Error('The demo has too few panels.');

/** The view after an edit is what it would be if it were made anew. */
const follows = (changes: Change[]): boolean | null => {
  const after = viewAfter(view, main, changes);
  if (after === null) return null;
  const whole = applyEdit(show, { changes });
  expect(whole.ok && viewOf(whole.value, main)).toEqual(after);
  return true;
};
const field = (button: Button, name: keyof Button, to: unknown): Change => ({
  entity: 'buttons',
  id: button.id,
  field: name,
  from: button[name],
  to,
});

describe('the show as a station sees it', () => {
  it('holds the buttons of its panel and of the take strip, without what they do', () => {
    const take = show.strips.filter((strip) => strip.name === 'Take').map(({ id }) => id);
    expect(new Set(view.buttons.map(({ id }) => id))).toEqual(
      new Set(
        show.buttons.filter((button) => main.has(panelOf(button)) || take.includes(button.stripId)).map(({ id }) => id),
      ),
    );
    const whole = view.buttons.filter(({ steps, lamps }) => steps.length > 0 || lamps.length > 0);
    expect(whole.length).toBeGreaterThan(0);
    expect(whole.every(({ stripId }) => take.includes(stripId))).toBe(true);
    expect([view.macros, view.devices]).toEqual([[], show.devices]);
  });

  it('follows edits of what it holds, and passes over the others', () => {
    expect(follows([field(here, 'legend', 'Another')])).toBe(true);
    const cut = show.buttons.find(({ stripId }) => show.strips.find(({ id }) => id === stripId)?.name === 'Take');
    if (cut) expect(follows([field(cut, 'steps', [])])).toBe(true);
    expect(follows([field(here, 'steps', []), field(elsewhere, 'legend', 'Not seen')])).toBe(true);
    expect(follows([{ entity: 'buttons', id: here.id, field: '*', from: here, to: null }])).toBe(true);
    const id = demoId('BTN', 9001);
    expect(follows([{ entity: 'buttons', id, field: '*', from: null, to: { ...here, id } }])).toBe(true);
    expect(follows([{ entity: 'buttons', id, field: '*', from: null, to: { ...elsewhere, id } }])).toBe(true);
    const [macro] = show.macros;
    expect(follows([{ entity: 'macros', id: macro?.id ?? '', field: 'name', from: macro?.name, to: 'Renamed' }])).toBe(
      true,
    );
  });

  it('takes strips in that are made with their buttons in one edit, on its panel alone', () => {
    const whole = (entity: 'strips' | 'buttons', to: { id: string }): Change => ({
      entity,
      id: to.id,
      field: '*',
      from: null,
      to,
    });
    for (const [number, panelId, name] of [
      [901, demoId('PAN', 1), 'Levels'],
      [902, demoId('PAN', 2), 'Levels'],
      [903, demoId('PAN', 2), 'Take'],
    ] as const) {
      const strip = { id: demoId('STR', number), panelId, name, family: 'moss' as const, page: '', order: 'z' };
      const button = { ...here, id: demoId('BTN', number), stripId: strip.id };
      expect([number, follows([whole('strips', strip), whole('buttons', button)])]).toEqual([number, true]);
    }
  });

  it('is loaded anew where an edit brings in what it does not hold', () => {
    expect(follows([field(elsewhere, 'stripId', here.stripId)])).toBeNull();
    const strip = show.strips.find((candidate) => candidate.id === elsewhere.stripId);
    expect(
      follows([
        { entity: 'strips', id: strip?.id ?? '', field: 'panelId', from: strip?.panelId, to: demoId('PAN', 1) },
      ]),
    ).toBeNull();
  });

  it('is loaded anew when a button is made and changed on in one edit', () => {
    const made = { ...here, id: demoId('BTN', 990), legend: 'New' };
    const making: Change = { entity: 'buttons', id: made.id, field: '*', from: null, to: made };
    expect(follows([making])).toBe(true);
    expect(follows([making, field(made, 'legend', 'Newer')])).toBeNull();
  });
});
