import { corvaneHill } from '@umbek/demo';
import { setUp } from '../engine/testEngine';
import { button, command, programOf, testShow } from '../engine/testShow';
import { sentenceOf } from '../engine/sentence';
import type { ShowDocument, ShowValue } from '../show/index';
import { fieldsOf } from './fields';
import { newValue } from './newEntries';
import { fieldOfValue, typeOfValue, valueNamed, valuesFor, valueWords } from './valueFields';
import { kindOf } from '../devices/index';

const show = corvaneHill();
const ID = '01J0C0RVANEH1NEW0000000001';
const value = (type: ShowValue['type'], more: Partial<ShowValue> = {}): ShowValue => ({
  ...newValue(show, ID, `Own ${type}`, type),
  ...more,
});
const field = (device: string, name: string, key: string) => {
  const definition = kindOf(
    show.devices.find((candidate) => candidate.key === device),
    show,
  )?.commands[name];
  const found = definition && fieldsOf(definition).find((candidate) => candidate.key === key);
  if (!found) throw new Error(`${device} has no ${name}.${key}.`);
  return found;
};

describe('a show value', () => {
  it('is edited by its type, or by what it begins with', () => {
    expect((['plain', 'text', 'duration'] as const).map((type) => typeOfValue({ type, start: 3 }))).toEqual([
      'number',
      'text',
      'duration',
    ]);
    expect([typeOfValue({ type: 'plain', start: true }), typeOfValue({ type: 'plain', start: '' })]).toEqual([
      'switch',
      'text',
    ]);
  });

  it('is made under a key of its name that stays, and begins with what its type can hold', () => {
    expect(newValue(show, ID, 'Client of tonight', 'text')).toMatchObject({ key: 'clientOfTonight', start: '' });
    expect(newValue(show, ID, 'Client', 'number')).toMatchObject({ key: 'client2', start: 0 });
    expect(newValue(show, ID, 'Guests in', 'switch').start).toBe(false);
  });

  it('offers things by name: cameras and roles of this show, destinations as many as its router has', () => {
    expect(fieldOfValue(show, value('camera'), '').things?.map(({ name }) => name)).toEqual([
      'Desk cam',
      'Lawn cam',
      'Dome cam',
    ]);
    expect(fieldOfValue(show, value('role'), '').things?.map(({ name }) => name)).toEqual(['Host', 'Expert']);
    expect(fieldOfValue(show, value('destination'), '')).toMatchObject({ type: 'number', min: 1, max: 32 });
    expect(fieldOfValue(show, value('choice', { choices: ['Red', 'Blue'] }), '').things).toHaveLength(2);
  });

  it('is told in people’s words', () => {
    const words = (type: ShowValue['type'], content: ShowValue['start'] | undefined) =>
      valueWords(show, value(type), content);
    expect([words('source', 'roofCam'), words('source', ''), words('source', 'away')]).toEqual([
      'Roof cam',
      'nothing chosen',
      'away is gone',
    ]);
    expect([words('switch', true), words('duration', 2.5), words('text', ''), words('number', undefined)]).toEqual([
      'on',
      '2.5 s',
      'empty',
      'not known',
    ]);
  });

  it('is offered where its content fits', () => {
    const document: ShowDocument = {
      ...show,
      values: [value('source', { key: 'shot' }), value('number', { key: 'count' }), value('text', { key: 'line' })],
    };
    const offered = (device: string, name: string, key: string) =>
      valuesFor(document, field(device, name, key)).map((item) => item.key);
    expect(offered('switcher', 'preview', 'source')).toEqual(['shot']);
    expect(offered('switcher', 'mix', 'frames')).toEqual(['count']);
    expect(offered('captions', 'nameIn', 'name')).toEqual(['line']);
    expect([valueNamed(' value.shot '), valueNamed('value.shot + 1')]).toEqual(['shot', null]);
  });
});

describe('a press that is given a show value', () => {
  const shot = value('source', { key: 'shot', name: 'Shot of tonight' });
  const tested = button(1, [command('p', 'switcher', 'preview', { source: { cel: 'value.shot' } })]);
  const pressed = (content: string) => {
    const set = setUp([tested], [], new Map([['value.shot', content]]));
    set.engine.setProgram(programOf({ ...testShow([tested]), values: [{ ...shot, start: content }] }));
    set.press(tested);
    return set;
  };

  it('does it with what the value holds now', () => {
    // Roof cam is input 4 of the demo's switcher.
    expect(pressed('roofCam').ports.switcher.sent[0]?.command.params.source).toBe(4);
  });

  it('says which choice nobody has made', () => {
    const { ports, ends } = pressed('');
    expect(ports.switcher.sent).toEqual([]);
    expect(ends()).toEqual(['failed: Nothing is chosen as Shot of tonight.']);
  });

  it('says so in its sentence by the name of the value', () => {
    const document = { ...testShow([tested]), values: [shot] };
    expect(tested.steps.map((step) => sentenceOf(step, document))).toEqual(['Preview the Shot of tonight']);
  });
});
