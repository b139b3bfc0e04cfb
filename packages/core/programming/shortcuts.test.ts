import { corvaneHill, demoId } from '@umbek/demo';
import { dialled, shortcutOn } from '../shortcut/index';
import { runsDeed } from '../show/index';
import type { KeyOn, Shortcut, ShortcutOn, ShowDocument } from '../show/index';
import { newShortcut, shortcutCsv, shortcutRows, shortcutSheet, shortcutsFound, shortcutsTo } from './shortcuts';

const key = (code: string, held: Partial<KeyOn> = {}): KeyOn => ({
  kind: 'key',
  code,
  shift: false,
  ctrl: false,
  alt: false,
  meta: false,
  ...held,
});
const show = corvaneHill();
const CUT = { button: demoId('BTN', 1) };
const name = ({ button }: { button: string }): string => show.buttons.find(({ id }) => id === button)?.legend ?? '';
const macro = show.macros[0];
if (macro === undefined) throw new Error('The demo has no macro.');

const withShortcuts = (...all: [on: ShortcutOn, runs: Shortcut['runs']][]): ShowDocument =>
  all.reduce<ShowDocument>(
    (document, [on, runs], at) => ({
      ...document,
      shortcuts: [...document.shortcuts, newShortcut(document, `s${at + 1}`, on, runs)],
    }),
    { ...show, shortcuts: [] },
  );

describe('the shortcuts of a show', () => {
  it('are told by their keys, with where what they run stands', () => {
    const document = withShortcuts(
      [key('F10'), { macro: macro.id }],
      [key('F2'), CUT],
      [key('KeyA', { ctrl: true }), CUT],
    );
    expect(shortcutRows(document).map(({ words, fault, clashes }) => [words, fault, clashes])).toEqual([
      ['Ctrl + A', '', []],
      ['F2', '', []],
      ['F10', '', []],
    ]);
    expect(shortcutRows(document)[2]?.runs).toBe(`Macro ${macro.number} · ${macro.name}`);
    expect(shortcutRows(document)[1]?.runs.endsWith(` · ${name(CUT)}`)).toBe(true);
    expect(shortcutsTo(document, CUT).map(({ id }) => id)).toEqual(['s2', 's3']);
    expect(shortcutsFound(shortcutRows(document), 'macro f1').map(({ shortcut }) => shortcut.id)).toEqual(['s1']);
  });

  it('of two on one key the first counts, and the other one says so', () => {
    const document = withShortcuts([key('F2'), CUT], [key('F2'), { macro: macro.id }]);
    const rows = shortcutRows(document);
    expect(shortcutOn(document.shortcuts, key('F2'))?.id).toBe('s1');
    expect(rows.map(({ clashes }) => clashes)).toEqual([['s2'], ['s1']]);
    expect(rows[0]?.fault).toBe('');
    expect(rows[1]?.fault).toMatch(/^F2 presses .* already\. Choose another one\.$/);
  });

  it('say when what they ran is gone, when the page needs the key, and when a button is turned', () => {
    const [first] = show.buttons;
    if (first === undefined) throw new Error('The demo has no button.');
    const dial = { param: 'x', by: 0, min: 0, max: 1, step: 0.1, unit: '', reads: 'value.meteors' };
    const document = {
      ...withShortcuts(
        [key('F2'), { button: '01J0C0RVANEH1BTN0000009999' }],
        [key('Enter'), CUT],
        [key('F4'), { button: first.id }],
        [{ kind: 'midi', message: 'control', channel: 1, number: 7 }, { button: first.id }],
        [{ kind: 'axis', axis: 3 }, { macro: macro.id }],
      ),
      buttons: [{ ...first, dial }, ...show.buttons.slice(1)],
    };
    const faults = new Map(shortcutRows(document).map(({ shortcut, fault }) => [shortcut.id, fault]));
    expect(faults.get('s1')).toBe('What it ran is gone. Remove the shortcut, or undo the removal.');
    expect(faults.get('s2')).toBe('Enter presses the cap that has the focus. Choose another one.');
    expect(faults.get('s3')).toBe(
      'This value is dragged, and a key cannot drag. Use a MIDI controller or a lever, or choose another button.',
    );
    expect(faults.get('s4')).toBe('');
    expect(faults.get('s5')).toBe(
      'A lever can only turn a value that is dragged. Choose such a value, or press this button with something else.',
    );
    // One that goes step by step is pressed like any other.
    const stepped = { ...document, buttons: [{ ...first, dial: { ...dial, by: 1 } }, ...show.buttons.slice(1)] };
    expect(shortcutRows(stepped).find(({ shortcut }) => shortcut.id === 's3')?.fault).toBe('');
  });

  it('fire, arm and disarm triggers; one that goes by its condition cannot be fired', () => {
    const [when, follow] = ['when', 'follow'].map((kind) => show.triggers.find((trigger) => trigger.kind === kind));
    if (when === undefined || follow === undefined) throw new Error('The demo has no such triggers.');
    const document = withShortcuts(
      [
        { kind: 'code', code: '91' },
        { trigger: when.id, does: 'fire' },
      ],
      [
        { kind: 'code', code: '92' },
        { trigger: when.id, does: 'disarm' },
      ],
      [key('F7'), { trigger: follow.id, does: 'fire' }],
      [key('F8'), { trigger: follow.id, does: 'arm' }],
      [key('F8'), CUT],
    );
    expect(shortcutRows(document).map(({ words, runs, fault }) => [words, runs, fault])).toEqual([
      ['Dial 91', `Fire trigger ${when.name}`, ''],
      ['Dial 92', `Disarm trigger ${when.name}`, ''],
      [
        'F7',
        `Fire trigger ${follow.name}`,
        'This trigger goes by its condition or by who talks, and nobody fires it. Let the shortcut arm or disarm it.',
      ],
      ['F8', `Arm trigger ${follow.name}`, ''],
      ['F8', expect.any(String), `F8 arms trigger ${follow.name} already. Choose another one.`],
    ]);
    expect(shortcutsTo(document, { trigger: when.id, does: 'disarm' }).map(({ id }) => id)).toEqual(['s2']);
    expect(dialled(document, '91', null)).toEqual({ runs: { trigger: when.id, does: 'fire' }, shortcut: 's1' });
    expect(runsDeed(document, { trigger: when.id, does: 'fire' }, true)).toBe(`fire trigger ${when.name}`);
    expect(runsDeed(document, { macro: macro.id })).toBe(`presses Macro ${macro.number} · ${macro.name}`);
  });

  it('go out as CSV and as a sheet that runs nothing', () => {
    const document = {
      ...withShortcuts([key('Equal'), { macro: macro.id }]),
      macros: [{ ...macro, number: 7, name: 'Star, <b>"rise"' }],
    };
    expect(shortcutCsv(document)).toBe(
      'Pressed,Runs,Station,Note\r\n\'=,"Macro 7 · Star, <b>""rise""",everywhere,\r\n',
    );
    expect(shortcutSheet(document)).toContain('<td>Macro 7 · Star, &lt;b&gt;&quot;rise&quot;<td>');
  });
});
