import { corvaneHill, demoId } from '@umbek/demo';
import { applyEdit, type Macro, type ShowDocument, type Step } from '../show/index';
import { matchedTo } from './exchange/index';
import { macroFile, macroMatches, macrosBrought, readMacroFile } from './macroFile';

const show = corvaneHill();
const METEOR = demoId('MAC', 2);
const meteor = show.macros.find(({ id }) => id === METEOR);
if (meteor === undefined) throw new Error('The demo has no such macro.');
const file = macroFile(show, [meteor]);
let ids = 0;
const newId = (): string => `01J0C0RVANEH1NEW00000000${String((ids += 1)).padStart(2, '0')}`;
const into = (other: ShowDocument, matches = macroMatches(file, other)) => {
  const brought = macrosBrought(other, file, matches, newId);
  const next = applyEdit(other, { changes: brought.changes });
  if (!next.ok) throw new Error(JSON.stringify(next.error));
  return { ...brought, show: next.value, macro: next.value.macros.find(({ id }) => id === brought.first) };
};
const find = (macro: Macro | undefined, id: string): Step | undefined =>
  macro?.steps.flatMap((step) => [step, ...('steps' in step ? step.steps : [])]).find((step) => step.id === id);

describe('macros as a file', () => {
  it('tell what they name, and come back from their text', () => {
    const read = readMacroFile(JSON.stringify(file));
    expect(read).toEqual({ file });
    expect(file.needs.devices.map(({ key }) => key).sort()).toEqual(['captions', 'secondLook', 'switcher']);
    expect(file.needs.values.map(({ key }) => key)).toEqual(['meteors']);
  });

  it('come into a show that has them already as copies under the next number', () => {
    const { macro, show: next } = into(show);
    expect(next.macros).toHaveLength(show.macros.length + 1);
    expect(macro).toMatchObject({ name: 'Meteor!', number: 6, atStop: 'asBefore', owns: ['secondLook'] });
    expect(macro?.id).not.toBe(METEOR);
  });

  it('name what stands for it in another show, inside other steps as well, and bring along what is missing', () => {
    const devices = show.devices.map((device) =>
      device.key === 'switcher' ? { ...device, key: 'vision', name: 'Vision' } : device,
    );
    const other: ShowDocument = { ...show, devices, macros: [], values: [], buttons: [], triggers: [] };
    const matches = macroMatches(file, other);
    // The only switcher that there is stands for it, but somebody should look.
    const guessed = matches.find(({ key }) => key === 'switcher');
    expect(guessed).toMatchObject({ to: { here: 'vision' }, sure: false });
    const { macro, show: next } = into(other, guessed === undefined ? matches : matchedTo(matches, guessed, 'vision'));
    expect(find(macro, 'roof')).toMatchObject({ device: 'vision', command: 'program', params: { source: 'roofCam' } });
    expect(find(macro, 'back')).toMatchObject({ kind: 'restore', devices: ['vision'] });
    expect(next.values.map(({ key }) => key)).toEqual(['meteors']);
    expect(macro?.number).toBe(2);
  });

  it.each([
    ['', 'The file is empty.'],
    ['{', 'The file holds no Umbek macros.'],
    ['{"format":"umbek-show"}', 'This is a whole show. Import it in the Rig, under Show.'],
    ['{"format":"umbek-buttons"}', 'These are buttons. Put them in under Panels.'],
    ['{"format":"umbek-macros","version":9}', 'The file comes from a newer Umbek. Save it from this one.'],
    ['{"format":"umbek-macros","version":1,"macros":[]}', 'The file is damaged at macros. Save it again.'],
  ])('say of %s what is wrong', (text, words) => expect(readMacroFile(text)).toEqual({ words }));
});
