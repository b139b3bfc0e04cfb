import { corvaneHill, demoId } from '@umbek/demo';
import { saidOf, toldOf } from '../../engine/conditions';
import { compileProgram, Engine } from '../../engine/index';
import type { JournalEvent } from '../../engine/journal';
import { sentenceOf } from '../../engine/sentence';
import { HandPort } from '../../engine/testEngine';
import { VirtualClock } from '../../rehearse/index';
import { applyEdit, type Button, type Device, type ShowDocument, type Step } from '../../show/index';
import { lampChoices } from '../lampChoices';
import { stepChoices } from '../stepChoices';
import { choiceOf, fieldOfChoice, selectionFor } from '../selectionFields';
import { textField } from '../fields';
import { usesOf } from '../uses';
import { stripOffers, stripsMade } from './index';

const demo = corvaneHill();
const bare: ShowDocument = { ...demo, strips: [], buttons: [], macros: [] };

/** The demo's rig with one ready-made offer, its devices answered for by hand. */
function made(key: string, show: ShowDocument = bare) {
  const offer = stripOffers(show).filter((candidate) => candidate.key === key);
  let count = 0;
  const id = () => `01J0C0RVANEH1NEW${String((count += 1)).padStart(10, '0')}`;
  const applied = applyEdit(show, { changes: stripsMade(show, demoId('PAN', 1), offer, id).changes });
  if (!applied.ok) throw new Error(JSON.stringify(applied.error[0]));
  const program = compileProgram(applied.value, 1);
  const clock = new VirtualClock(0, new Date('2026-08-12T20:00:00Z'));
  const entries: JournalEvent[] = [];
  const engine = new Engine({
    clock,
    program,
    journal: { append: (entry) => entries.push(entry) },
    newId: () => `n${(count += 1)}`,
  });
  const ports = new Map<string, HandPort>();
  for (const device of show.devices) {
    const port = new HandPort();
    ports.set(device.key, port);
    engine.attach(device.key, port);
    engine.newsOf(device.key).reached(true, 'here');
  }
  engine.newsOf('switcher').points({ program: 16, preview: 15 });
  const buttonOf = (strip: string, legend: string): Button => {
    const stripId = applied.value.strips.find(({ name }) => name === strip)?.id;
    const found = applied.value.buttons.find((button) => button.stripId === stripId && button.legend === legend);
    if (found === undefined) throw new Error(`${strip} has no ${legend}.`);
    return found;
  };
  const press = (strip: string, legend: string, linkGroup = 'main') => {
    const button = { pressId: `p${(count += 1)}`, buttonId: buttonOf(strip, legend).id, station: 'desk', linkGroup };
    const answer = engine.press({ ...button, phase: 'down' });
    engine.press({ ...button, phase: 'up' });
    return answer;
  };
  const sent = (device: string) => ports.get(device)?.sent.map(({ command }) => command) ?? [];
  const ends = () => entries.flatMap((entry) => (entry.kind === 'runEnd' ? [entry.why ?? entry.how] : []));
  return { program, document: applied.value, engine, press, sent, ends };
}

describe('what is chosen first, and then goes somewhere', () => {
  it('a destination of a router of 150 by 150, by a cap for each', () => {
    const like = demo.devices.find(({ key }) => key === 'exchange') as Device;
    const large = {
      ...like,
      settings: {
        ...like.settings,
        destinations: 150,
        sources: 150,
        destinationLabels: [...Array<string>(148).fill(''), 'North wall'],
      },
    };
    const show = { ...bare, devices: bare.devices.map((device) => (device.key === 'exchange' ? large : device)) };
    const { press, sent, ends, document, program } = made('exchange/chosen', show);
    expect(document.strips.map(({ id }) => document.buttons.filter(({ stripId }) => stripId === id).length)).toEqual([
      150, 150,
    ]);
    expect(program.faults()).toEqual([]);
    // Nobody has chosen yet, and it is said what is missing.
    press('Goes there', 'Source 140');
    expect(ends()).toEqual([expect.stringContaining('Nothing is chosen as destination.')]);
    press('Destination', 'North wall');
    expect(press('Goes there', 'Source 140')).toMatchObject({ accepted: true });
    expect(sent('exchange')).toEqual([{ command: 'connect', params: { destination: 149, source: 140 } }]);
    // Another link group has a choice of its own.
    press('Goes there', 'Source 141', 'dome');
    expect(sent('exchange')).toHaveLength(1);
  });

  it('a source goes to preview, to air and to auxiliaries', () => {
    const { press, sent, ends } = made('switcher/chosenSource');
    press('Goes to', 'Preview');
    expect(ends()).toEqual([expect.stringContaining('Nothing is chosen as source.')]);
    press('Source', 'Roof cam');
    press('Goes to', 'Preview');
    press('Goes to', 'Auxiliary 2');
    const input = demo.sources.find(({ key }) => key === 'roofCam')?.input;
    expect(sent('switcher')).toEqual([
      { command: 'preview', params: { source: input } },
      { command: 'aux', params: { output: 2, source: input } },
    ]);
  });

  it('a source stands in the chosen box of the chosen layout', () => {
    const { press, sent, ends } = made('switcher/chosenPlace');
    press('Layout', 'Layout 2');
    press('In the box', 'Roof cam');
    expect(ends().at(-1)).toContain('Nothing is chosen as box.');
    press('Box', 'Box 3');
    press('In the box', 'Roof cam');
    const source = demo.sources.find(({ key }) => key === 'roofCam')?.input;
    expect(sent('switcher')).toEqual([{ command: 'boxOccupant', params: { source, layout: 2, box: 3 } }]);
  });

  it('the recorders of the chosen room start and stop, and those of no other', () => {
    const { press, sent, ends } = made('recorders/chosen');
    press('Recorders of the room', 'Record');
    expect(ends()).toEqual(['Nothing is chosen as recorder group. Choose the recorder group first, then press again.']);
    press('Room', 'Gate room');
    press('Recorders of the room', 'Record');
    const began = demo.devices.flatMap(({ key, kind, room }) =>
      kind === 'recorder' && sent(key).length > 0 ? [room] : [],
    );
    expect(began).toEqual(['Gate room', 'Gate room', 'Gate room']);
  });
});

describe('a selection', () => {
  const set = (target: string, to: unknown): Step =>
    ({ id: 's', onFail: 'stop', kind: 'set', target, to }) as unknown as Step;

  it('is listed by the names of what is chosen', () => {
    expect(
      [
        set('chosen.source', 'roofCam'),
        set('chosen.destination', 4),
        set('chosen.layout', 2),
        set('chosen.place', 3),
        set('chosen.recorderGroup', 'Gate room'),
        set('chosen.camera', 'deskCam'),
      ].map((step) => sentenceOf(step, demo)),
    ).toEqual([
      'Choose Roof cam as the source',
      'Choose Destination 4 as the destination',
      'Choose Layout 2 as the layout',
      'Choose Box 3 as the box',
      'Choose Gate room as the recorder group',
      'Choose Desk cam as the camera',
    ]);
    const { document } = made('switcher/chosenSource');
    const goes = document.buttons.find(({ legend }) => legend === 'Auxiliary 2');
    expect(goes?.steps.map((step) => sentenceOf(step, document))).toEqual([
      'Put the chosen source on auxiliary output 2',
    ]);
    expect(saidOf('chosen.source == "roofCam"', demo)).toBe('The chosen source is Roof cam');
    expect(saidOf('chosen.destination == 4', demo)).toBe('The chosen destination is Destination 4');
    expect(toldOf('chosen.destination', 4, demo)).toEqual({ about: 'Chosen destination', is: 'Destination 4' });
  });

  it('is offered as a step and for lamps, and counts as a use of what is chosen', () => {
    const words = stepChoices(demo, []).map((choice) => choice.words);
    expect(words).toEqual(
      expect.arrayContaining(['Choose Roof cam as the source', 'Choose Destination 4 as the destination']),
    );
    expect(
      lampChoices(demo).find((choice) => choice.words === 'Destination 4 is the chosen destination')?.rule,
    ).toEqual({
      when: 'chosen.destination == 4',
      show: 'chosen',
    });
    const { document } = made('switcher/chosenSource');
    const uses = usesOf({ ...document, macros: [] }, { kind: 'source', key: 'roofCam' });
    const chooser = document.buttons.find(({ legend }) => legend === 'Roof cam');
    expect(uses.map(({ at }) => at.id)).toContain(chooser?.id);
  });

  it('is what a parameter can be taken from, where it holds what the parameter wants', () => {
    const of = (key: string, more: object) => selectionFor(demo, { ...textField(key, key, ''), ...more })?.cel ?? null;
    expect([
      of('source', { reference: 'source' }),
      of('person', { reference: 'person' }),
      of('destination', { type: 'number' }),
      of('box', { type: 'number' }),
      of('position', { reference: 'position' }),
      of('frames', { type: 'number' }),
    ]).toEqual(['chosen.source', 'chosen.person', 'chosen.destination', 'chosen.place', null, null]);
    // A rig without a router has no destination to choose.
    const without = { ...demo, devices: demo.devices.filter(({ kind }) => kind !== 'router') };
    expect(selectionFor(without, { ...textField('destination', '', 0), type: 'number' })).toBe(null);
    expect(fieldOfChoice(demo, 'chosen.place')?.things?.map(({ name }) => name)).toEqual([
      'Box 1',
      'Box 2',
      'Box 3',
      'Box 4',
      'Box 5',
      'Box 6',
    ]);
    expect([choiceOf('chosen.place', '3'), choiceOf('chosen.source', 'roofCam')]).toEqual([3, 'roofCam']);
  });

  it('of something that is gone refuses its press, and one that does not exist is listed', () => {
    const { document } = made('switcher/chosenSource');
    const without = compileProgram(
      { ...document, sources: document.sources.filter(({ key }) => key !== 'roofCam') },
      2,
    );
    const gone = document.buttons.find(({ legend }) => legend === 'Roof cam');
    expect(without.faultOf(gone?.id ?? '')).toMatchObject({ message: 'There is no source roofCam.' });
    const [first] = document.buttons;
    if (first === undefined) throw new Error('Nothing was made.');
    const strange = { ...first, steps: [set('chosen.weather', 'rain')] };
    const listed = compileProgram({ ...document, buttons: [strange] }, 3).faults();
    expect(listed.map(({ message }) => message)).toEqual([
      'There is no selection called weather, so nothing follows it.',
    ]);
  });
});
