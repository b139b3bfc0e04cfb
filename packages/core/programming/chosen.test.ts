import { corvaneHill, demoId } from '@umbek/demo';
import { applyEdit, type Button, type ShowDocument } from '../show/index';
import { inParts } from './changes';
import { alike, changedInAll, chosenButtons, copiedText, pasted, readCopied, removedAll } from './chosen';
import { compileProgram } from '../engine/index';

const show = corvaneHill();
const ids = () => {
  let count = 0;
  return () => `01J0C0RVANEH1NEW${String((count += 1)).padStart(10, '0')}`;
};
const after = (document: ShowDocument, changes: Parameters<typeof applyEdit>[1]['changes']): ShowDocument => {
  const applied = applyEdit(document, { changes });
  if (!applied.ok) throw new Error(JSON.stringify(applied.error[0]));
  return applied.value;
};
const inStrip = (document: ShowDocument, name: string): Button[] => {
  const strip = document.strips.find((candidate) => candidate.name === name);
  return document.buttons.filter(({ stripId }) => stripId === strip?.id);
};
const names = inStrip(show, 'Names');
const sources = inStrip(show, 'Sources');
const set = (...buttons: readonly Button[]) => new Set(buttons.map(({ id }) => id));
const copiedOf = (text: string) => {
  const read = readCopied(text);
  if ('words' in read) throw new Error(read.words);
  return read.copied;
};

describe('many buttons at once', () => {
  it('stand in the order of the panel, however they were chosen', () => {
    const [first, second] = sources;
    const [name] = names;
    if (!first || !second || !name) throw new Error('The demo has too few buttons.');
    expect(chosenButtons(show, set(name, second, first)).map(({ legend }) => legend)).toEqual([
      'Desk cam',
      'Lawn cam',
      'Ines Halloran',
    ]);
  });

  it('take one change; those that have it already are left alone', () => {
    const [first] = names;
    const tested = after(show, changedInAll(first ? [first] : [], 'family', 'moss'));
    const rest = changedInAll(inStrip(tested, 'Names'), 'family', 'moss');
    expect(rest.map(({ id }) => id)).toEqual(names.slice(1).map(({ id }) => id));
    const all = after(tested, rest);
    expect(new Set(inStrip(all, 'Names').map(({ family }) => family))).toEqual(new Set(['moss']));
    expect(inStrip(after(show, removedAll(names)), 'Names')).toEqual([]);
  });

  it('are alike when they do the same, whatever they are called', () => {
    const positions = show.buttons.filter(({ legend }) => legend === 'Two shot');
    expect(positions.length).toBe(2);
    expect(alike(show, positions[0] as Button).map(({ id }) => id)).toEqual(positions.map(({ id }) => id));
    expect(alike(show, names[0] as Button)).toHaveLength(1);
  });
});

describe('buttons as text', () => {
  it('go into another panel: a whole strip as a strip, single ones into the strip that is meant', () => {
    const text = copiedText(show, set(...names, sources[1] as Button));
    const { changes, buttons } = pasted(show, demoId('PAN', 2), copiedOf(text), ids(), demoId('STR', 8));
    const next = after(show, changes);
    const copies = buttons.map((id) => next.buttons.find((button) => button.id === id));
    expect(copies.map((copy) => copy?.legend)).toEqual(['Lawn cam', ...names.map(({ legend }) => legend)]);
    expect(copies[0]?.stripId).toBe(demoId('STR', 8));
    const strip = next.strips.find(({ id }) => id === copies[1]?.stripId);
    expect([strip?.panelId, strip?.name, strip?.family]).toEqual([demoId('PAN', 2), 'Names', 'clay']);
    expect(copies[1]?.steps).toEqual(names[0]?.steps);
    // At the end of the strip that was meant.
    const there = next.buttons.filter(({ stripId }) => stripId === demoId('STR', 8));
    expect(there.sort((a, b) => (a.order < b.order ? -1 : 1)).at(-1)?.id).toBe(copies[0]?.id);
  });

  it('go into a strip of their own where none is meant, and into an empty show, where they tell what they miss', () => {
    const empty: ShowDocument = { ...show, devices: [], sources: [], strips: [], buttons: [], macros: [] };
    const { changes, buttons } = pasted(
      empty,
      demoId('PAN', 1),
      copiedOf(copiedText(show, set(sources[0] as Button))),
      ids(),
    );
    const next = after(empty, changes);
    expect(next.strips.map(({ name }) => name)).toEqual(['Copied']);
    expect(compileProgram(next, 1).faultOf(buttons[0] ?? '')?.message).toBe('There is no device switcher.');
  });

  it('that are none of ours, newer or damaged say so in words', () => {
    const words = (text: string) => (readCopied(text) as { words: string }).words;
    const copied = JSON.parse(copiedText(show, set(names[0] as Button))) as Record<string, unknown>;
    expect(words('')).toBe('Nothing was copied.');
    expect(words('Hello')).toBe('What was copied is not Umbek buttons.');
    expect(words('{"format":"umbek-show"}')).toBe('This is a whole show. Import it in the Rig, under Show.');
    expect((readCopied('[]', 'file') as { words: string }).words).toBe(
      'The file holds no Umbek buttons, strips or panel.',
    );
    const deep = `${'{"kind":"together","id":"a","steps":['.repeat(20_000)}${']}'.repeat(20_000)}`;
    expect(
      words(`{"format":"umbek-buttons","version":2,"strips":[{"buttons":[{"legend":"x","steps":[${deep}]}]}]}`),
    ).toMatch(/^These buttons are damaged at /);
    expect(words(JSON.stringify({ ...copied, version: 3 }))).toBe(
      'These buttons were copied in a newer Umbek. Copy them from this one.',
    );
    expect(words(JSON.stringify({ ...copied, strips: [{ buttons: [{ legend: 5 }] }] }))).toMatch(
      /^These buttons are damaged at strips\.0\.buttons\.0\./,
    );
    expect(words('[]')).toBe('What was copied is not Umbek buttons.');
  });
});

describe('more changes than an edit holds', () => {
  it('are several edits, each of which says which it is', () => {
    const changes = Array.from({ length: 2001 }, (_, at) => ({
      entity: 'buttons' as const,
      id: String(at),
      field: 'legend',
      from: '',
      to: 'x',
    }));
    expect(inParts('Legend', changes).map(({ label, part }) => [label, part.length])).toEqual([
      ['Legend (1 of 3)', 1000],
      ['Legend (2 of 3)', 1000],
      ['Legend (3 of 3)', 1],
    ]);
    expect(inParts('Legend', changes.slice(0, 3)).map(({ label }) => label)).toEqual(['Legend']);
    expect(inParts('Legend', [])).toEqual([]);
  });
});
