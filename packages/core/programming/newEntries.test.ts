import { corvaneHill, demoId } from '@umbek/demo';
import { applyEdit, type Change, type ShowDocument } from '../show/index';
import { made } from './changes';
import { newButton, newPanel, newPosition, newReframe, newRole, newSource, newStrip } from './newEntries';
import { panelRemoved } from './removals';

const show = corvaneHill();
const ID = '01J0C0RVANEH1NEW0000000001';
const edited = (changes: readonly Change[], from: ShowDocument = show): ShowDocument => {
  const applied = applyEdit(from, { changes });
  if (!applied.ok) throw new Error(applied.error.map(({ message }) => message).join(' '));
  return applied.value;
};

describe('a new entry', () => {
  it('of every kind is a valid edit of the show, and stands at the end of its list', () => {
    const place = { pan: 1, tilt: 2, zoom: 3, focus: null, iris: null };
    const after = edited([
      made('panels', newPanel(show, ID)),
      made('strips', newStrip(show, ID, demoId('PAN', 1))),
      made('buttons', newButton(show, ID, demoId('STR', 1))),
      made('sources', newSource(show, ID)),
      made('roles', newRole(show, ID)),
      made('positions', newPosition(show, ID, 'lawnCam', 'Far left', place)),
      made('reframes', newReframe(show, ID, 'roofCam', 'Roof 3', { x: 0.5, y: 0.5, scale: 2 })),
    ]);
    for (const list of ['panels', 'strips', 'buttons', 'sources', 'roles', 'positions', 'reframes'] as const)
      expect(after[list].at(-1)?.id).toBe(ID);
  });

  it('has a name and a key of its own, and takes the first input that is free', () => {
    expect(newPanel(show, ID).name).toBe('Panel 7');
    const source = newSource(show, ID);
    expect(show.sources.map((item) => item.input)).not.toContain(source.input);
    expect(show.sources.map((item) => item.key)).not.toContain(source.key);
    const place = { pan: 0, tilt: 0, zoom: 1, focus: null, iris: null };
    const first = newPosition(show, ID, 'lawnCam', 'Far left', place);
    const then = edited([made('positions', first)]);
    expect([first.key, newPosition(then, ID, 'lawnCam', 'Far left', place).key]).toEqual([
      'lawnCamFarLeft',
      'lawnCamFarLeft2',
    ]);
  });
});

describe('a panel that goes', () => {
  it('takes its strips and their buttons along, and nothing else', () => {
    const [panel] = show.panels;
    if (!panel) throw new Error('no panel');
    const strips = show.strips.filter((strip) => strip.panelId === panel.id).map((strip) => strip.id);
    const after = edited(panelRemoved(show, panel));
    expect(after.panels.length).toBe(show.panels.length - 1);
    expect(after.strips.length).toBe(show.strips.length - strips.length);
    expect(after.buttons.some((button) => strips.includes(button.stripId))).toBe(false);
    expect(after.buttons.length).toBe(show.buttons.filter((button) => !strips.includes(button.stripId)).length);
  });
});
