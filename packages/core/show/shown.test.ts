import { corvaneHill, demoId } from '@umbek/demo';
import type { Station } from './entities';
import { linkGroupOn, pageOf, setOf, stripsOn } from './shown';

const demo = corvaneHill();
const panelId = demo.panels[0]?.id ?? '';
const [first, second, third] = demo.strips.filter((strip) => strip.panelId === panelId).map(({ id }) => id);
const show = {
  ...demo,
  panels: demo.panels.map((panel) =>
    panel.id === panelId
      ? {
          ...panel,
          pages: [
            { id: 'a', name: 'Sources', covers: [] },
            { id: 'b', name: 'Names', covers: [third ?? ''] },
          ],
        }
      : panel,
  ),
  strips: demo.strips.map((strip) => ({
    ...strip,
    page: strip.id === first ? 'a' : strip.id === second ? 'b' : strip.id === third ? '' : 'gone',
  })),
};
const on = (page: string | null) =>
  stripsOn(show, panelId, page)
    .map(({ id }) => id)
    .filter((id) => [first, second, third].includes(id));

describe('what a page shows', () => {
  it('is its own strips and those that stay, unless it covers them', () => {
    expect(on('a')).toEqual([first, third]);
    expect(on('b')).toEqual([second]);
  });

  it('is the first page where none is asked for, or one that is gone', () => {
    expect(on(null)).toEqual(on('a'));
    expect(on('gone')).toEqual(on('a'));
    expect(pageOf(show.panels[0], 'gone')?.id).toBe('a');
  });

  it('has a strip whose page is gone, so that it is not lost from sight', () => {
    const rest = demo.strips.filter((strip) => strip.panelId === panelId).length - 3;
    expect(stripsOn(show, panelId, 'b')).toHaveLength(1 + rest);
  });

  it('is all strips where a panel has no pages', () => {
    const other = demo.panels[1]?.id ?? '';
    expect(stripsOn(demo, other, null)).toHaveLength(demo.strips.filter((strip) => strip.panelId === other).length);
    expect(stripsOn(demo, demoId('PAN', 999), null)).toEqual([]);
  });
});

describe('the second set of a strip', () => {
  const buttons = [
    { id: 1, shift: false },
    { id: 2, shift: true },
  ];
  it('takes the place of the first while Shift is held, where there is one', () => {
    expect(setOf(buttons, false)).toEqual([buttons[0]]);
    expect(setOf(buttons, true)).toEqual([buttons[1]]);
    expect(setOf([{ shift: false }], true)).toEqual([{ shift: false }]);
  });
});

describe('a station', () => {
  const station: Station = {
    id: demoId('STA', 1),
    name: 'Left',
    place: '',
    panels: [],
    opensOn: null,
    linkGroup: 'dome',
    loose: [],
    parts: [],
    placed: [],
    order: 'a',
  };
  const other = demo.panels[1]?.id ?? '';

  it('shows a part of a panel, page by page, and all of the others', () => {
    const left = { ...station, parts: [{ panel: panelId, strips: [first ?? '', third ?? ''] }] };
    const shown = (page: string) => stripsOn(show, panelId, page, left).map(({ id }) => id);
    expect(shown('a')).toEqual([first, third]);
    expect(shown('b')).toEqual([]);
    expect(stripsOn(show, other, null, left)).toEqual(stripsOn(show, other, null));
  });

  it('shows all of a panel where nothing of its part is left', () => {
    const left = { ...station, parts: [{ panel: panelId, strips: [demoId('STR', 999)] }] };
    expect(stripsOn(show, panelId, 'a', left)).toEqual(stripsOn(show, panelId, 'a'));
  });

  it('counts on a panel that is cut loose by a link group that no other station and no other panel has', () => {
    const loose = { ...station, loose: [panelId] };
    expect([linkGroupOn(loose, other), linkGroupOn(loose, null), linkGroupOn(station, panelId)]).toEqual([
      'dome',
      'dome',
      'dome',
    ]);
    const groups = [
      linkGroupOn(loose, panelId),
      linkGroupOn({ ...loose, id: demoId('STA', 2) }, panelId),
      linkGroupOn({ ...loose, loose: [other] }, other),
    ];
    expect(new Set(groups).size).toBe(3);
    for (const group of groups) expect(group).toMatch(/^[a-zA-Z0-9-]{1,40}$/);
  });
});
