import { corvaneHill } from '@umbek/demo';
import { compileProgram } from '../../engine/index';
import { applyEdit, type Button, type Change, type ShowDocument, type Step } from '../../show/index';
import { inOrder } from '../order';
import { stripOffers, stripsMade } from '../strips/index';
import { counted, countedChanges, countersOf, type CountPlan, renumbered } from './index';

const show = corvaneHill();
const panel = show.panels[0]?.id ?? '';
const newId = (from = 0) => {
  let count = from;
  return () => `01J0C0RVANEH1NEW${String((count += 1)).padStart(10, '0')}`;
};
const after = (document: ShowDocument, changes: readonly Change[]): ShowDocument => {
  const applied = applyEdit(document, { changes });
  if (!applied.ok) throw new Error(JSON.stringify(applied.error[0]));
  return applied.value;
};
const PLAN: CountPlan = { across: [], step: 1, more: 0, down: null, strips: 0, colour: 'same' };

/** The first buttons of a ready-made strip, in the show that then has it. */
function offered(words: string, count = 1): { document: ShowDocument; buttons: Button[] } {
  const offer = stripOffers(show).find((stripOffer) => stripOffer.words === words);
  if (!offer)
    throw new Error(
      `${words} is not offered: ${stripOffers(show)
        .map((stripOffer) => stripOffer.words)
        .join(', ')}`,
    );
  const id = newId();
  const { changes, strips } = stripsMade(show, panel, [offer], id);
  const whole = after(show, changes);
  const all = inOrder(whole.buttons.filter(({ stripId }) => stripId === strips[0]));
  const buttons = all.slice(0, count);
  // Only these stay, so that what is counted can be told from what was there.
  const document = {
    ...whole,
    buttons: whole.buttons.filter((button) => !all.includes(button) || buttons.includes(button)),
  };
  return { document, buttons };
}
const params = (step: Step | undefined) => (step?.kind === 'command' ? step.params : {});
const keys = (document: ShowDocument, buttons: readonly Button[]) =>
  countersOf(document, buttons).map(({ key, now }) => [key, now]);

describe('a count from one button', () => {
  it('goes through the sources in the order of the rig: what it does, says, lights for and the colour it has', () => {
    const { document, buttons } = offered('Auxiliary 1 from every source');
    expect(keys(document, buttons)).toEqual([
      ['source', 'Desk cam'],
      ['number.output', '1'],
    ]);
    // Twelve sources have an input, so eleven follow.
    expect(countersOf(document, buttons)[0]).toMatchObject({ words: 'Source', step: 1, most: 11 });
    const { across, end } = counted(document, buttons, { ...PLAN, across: ['source'], more: 6, colour: 'source' });
    expect(end).toBeNull();
    expect(across.map(({ legend, note }) => `${legend}, ${note}`)).toEqual([
      'Lawn cam, to auxiliary 1',
      'Dome cam, to auxiliary 1',
      'Roof cam, to auxiliary 1',
      'Star charts, to auxiliary 1',
      'Black, to auxiliary 1',
      'Spool, to auxiliary 1',
    ]);
    expect(across.map(({ steps }) => params(steps[0]).source)).toEqual([
      'lawnCam',
      'domeCam',
      'roofCam',
      'slides',
      'black',
      'spool',
    ]);
    expect(across[0]?.lamps).toEqual([{ when: 'switcher.aux1 == input("lawnCam")', show: 'chosen' }]);
    expect(across.map(({ family }) => family)).toEqual(['slate', 'slate', 'slate', 'plum', 'stone', 'plum']);
  });

  it('fills strips below, counting another parameter, with their own names and lamps', () => {
    const { document, buttons } = offered('Auxiliary 1 from every source');
    const plan: CountPlan = { ...PLAN, across: ['source'], more: 2, down: 'number.output', strips: 1 };
    const { strips, end } = counted(document, buttons, plan);
    expect(end).toBeNull();
    expect(strips.map(({ name }) => name)).toEqual(['Auxiliary 2']);
    expect(strips[0]?.buttons.map(({ legend, note }) => `${legend}, ${note}`)).toEqual([
      'Desk cam, to auxiliary 2',
      'Lawn cam, to auxiliary 2',
      'Dome cam, to auxiliary 2',
    ]);
    expect(strips[0]?.buttons[1]?.steps.map(params)).toEqual([{ output: 2, source: 'lawnCam' }]);
    expect(strips[0]?.buttons[1]?.lamps[0]?.when).toBe('switcher.aux2 == input("lawnCam")');
    // The switcher has two auxiliaries.
    const three = counted(document, buttons, { ...plan, strips: 3 });
    expect(three.strips).toHaveLength(1);
    expect(three.end).toBe('The device counts to 2.');
  });

  it('puts the number of a channel where it belongs: parameter, live state, lamps and the name that the device has for it', () => {
    const { document, buttons } = offered('Mutes of the channels');
    const { across } = counted(document, buttons, { ...PLAN, across: ['number.channel'], more: 2 });
    expect(across.map(({ steps }) => params(steps[0]))).toEqual([
      { channel: 2, on: { cel: '!sound.ch2Mute' } },
      { channel: 3, on: { cel: '!sound.ch3Mute' } },
    ]);
    expect(across[1]?.lamps.map(({ when }) => when)).toEqual(['sound.ch3Mute', 'sound.ch3Open']);
    const names = show.devices.find(({ key }) => key === 'sound')?.settings.names as string[];
    expect(across.map(({ legend }) => legend)).toEqual(names.slice(1, 3));
  });

  it('tells the number of a destination from that of a source, by what the router does', () => {
    const first = stripOffers(show).find(({ key }) => key.endsWith('destination1'))?.words ?? '';
    const { document, buttons } = offered(first);
    const source = counted(document, buttons, { ...PLAN, across: ['number.source'], more: 2 }).across;
    expect(source.map(({ steps }) => params(steps[0]))).toEqual([
      { destination: 1, source: 2 },
      { destination: 1, source: 3 },
    ]);
    expect(source.map(({ lamps }) => lamps[0]?.when)).toEqual(['exchange.out1 == 2', 'exchange.out1 == 3']);
    const destination = counted(document, buttons, { ...PLAN, across: ['number.destination'], more: 2 }).across;
    expect(destination.map(({ lamps }) => lamps[0]?.when)).toEqual(['exchange.out2 == 1', 'exchange.out3 == 1']);
  });

  it('goes to another camera with its positions and its source, and ends where one is missing', () => {
    const [model] = show.buttons.filter(({ steps }) =>
      steps.some((step) => step.kind === 'command' && step.command === 'recall' && step.device === 'deskCam'),
    );
    if (!model) throw new Error('No recall in the demo.');
    const recalled = params(model.steps[0]).position;
    const position = show.positions.find(({ key }) => key === recalled);
    if (!position) throw new Error('No position.');
    const lacking = counted(show, [model], { ...PLAN, across: ['device'], more: 1 });
    expect(lacking).toEqual({ across: [], strips: [], end: `Lawn cam has no position called ${position.name}.` });
    const document = {
      ...show,
      positions: [...show.positions, { ...position, id: newId()(), key: 'likewise', camera: 'lawnCam' }],
    };
    const { across, end } = counted(document, [model], { ...PLAN, across: ['device'], more: 2 });
    expect(end).toBe(`Dome cam has no position called ${position.name}.`);
    expect(across).toHaveLength(1);
    expect(across[0]?.steps[0]).toMatchObject({ device: 'lawnCam', params: { position: 'likewise' } });
    expect(JSON.stringify(across[0])).not.toContain('deskCam');
  });

  it('counts the number of a legend where nothing else counts, leading zeros kept', () => {
    const [button] = show.buttons;
    if (!button) throw new Error('No button.');
    const plain = { ...button, legend: 'Clip 08', note: '', steps: [], releaseSteps: [], lamps: [] };
    expect(keys(show, [plain])).toEqual([['text', '8']]);
    const { across } = counted(show, [plain], { ...PLAN, across: ['text'], more: 3, step: 2 });
    expect(across.map(({ legend }) => legend)).toEqual(['Clip 10', 'Clip 12', 'Clip 14']);
  });

  it('makes what there is and says so when the rig ends before', () => {
    const { document, buttons } = offered('Auxiliary 1 from every source');
    const { across, end } = counted(document, buttons, { ...PLAN, across: ['source'], more: 200 });
    expect(across).toHaveLength(11);
    expect(end).toBe('The rig has no more sources.');
    expect(counted(document, buttons, { ...PLAN, across: ['number.output'], more: 5 })).toMatchObject({
      across: [{ note: 'to auxiliary 2' }],
      end: 'The device counts to 2.',
    });
  });
});

describe('a count that is far too large', () => {
  it('makes no more than a thousand, and says so', () => {
    const [button] = show.buttons;
    if (!button) throw new Error('No button.');
    const mute: Step = {
      id: 'm',
      onFail: 'stop',
      kind: 'command',
      device: 'exchange',
      command: 'connect',
      params: { destination: 1, source: 1 },
    };
    const tested = { ...button, legend: 'Plain', note: '', steps: [mute], releaseSteps: [], lamps: [] };
    const plan: CountPlan = { ...PLAN, across: ['text'], more: 200, down: 'number.destination', strips: 200 };
    const { across, strips, end } = counted(show, [{ ...tested, legend: 'Take 100' }], plan);
    // 200 beside the first, then whole rows of 201, and a last one that is cut off; the first one counts along.
    expect([across.length, strips.map(({ buttons }) => buttons.length)]).toEqual([200, [201, 201, 201, 196]]);
    expect(end).toBe('At most 1000 buttons are made in one go.');
  });
});

describe('a count from several buttons', () => {
  it('goes on behind the last of them', () => {
    const { document, buttons } = offered('Sources to preview', 2);
    expect(countersOf(document, buttons)[0]).toMatchObject({ key: 'source', step: 2, most: 5 });
    const { across } = counted(document, buttons, { ...PLAN, across: ['source'], more: 2, step: 2 });
    expect(across.map(({ legend }) => legend)).toEqual(['Dome cam', 'Roof cam', 'Star charts', 'Black']);
  });

  it('offers nothing that one of them lacks', () => {
    const sources = offered('Sources to preview').buttons;
    expect(keys(show, [...sources, ...show.buttons.filter(({ legend }) => legend === 'Cut').slice(0, 1)])).toEqual([]);
  });
});

describe('what a count makes', () => {
  it('stands behind its buttons and before what came after them; its strips stand below theirs', () => {
    const { document, buttons } = offered('Auxiliary 1 from every source');
    const made = counted(document, buttons, { ...PLAN, across: ['source'], more: 3, down: 'number.output', strips: 1 });
    const { changes, buttons: ids } = countedChanges(document, buttons, made, newId(100));
    // Three beside it, four below, and their strip.
    expect([changes.length, ids.length]).toEqual([8, 7]);
    const next = after(document, changes);
    const [own] = buttons;
    expect(inOrder(next.buttons.filter(({ stripId }) => stripId === own?.stripId)).map(({ legend }) => legend)).toEqual(
      ['Desk cam', 'Lawn cam', 'Dome cam', 'Roof cam'],
    );
    expect(inOrder(next.strips.filter(({ panelId }) => panelId === panel)).at(-1)?.name).toBe('Auxiliary 2');
    const program = compileProgram(next, 1);
    expect(ids.map((id) => program.faultOf(id))).toEqual(ids.map(() => undefined));
  });
});

describe('buttons that exist', () => {
  it('count on from the first of them and keep what is their own', () => {
    const { document, buttons } = offered('Sources to preview', 4);
    const [first, second, third, fourth] = buttons;
    if (!first || !second || !third || !fourth) throw new Error('Too few.');
    const odd = [first, { ...second, guard: 'secondTouch' as const }, { ...third, legend: 'My own' }, fourth];
    const { changes, without, end } = renumbered(document, odd, 'source', 2);
    expect([without, end]).toEqual([0, null]);
    const next = after(
      { ...document, buttons: document.buttons.map((button) => odd.find(({ id }) => id === button.id) ?? button) },
      changes,
    );
    const now = odd.map(({ id }) => next.buttons.find((button) => button.id === id));
    expect(now.map((item) => [item?.legend, params(item?.steps[0]).source, item?.guard])).toEqual([
      ['Desk cam', 'deskCam', 'none'],
      ['Dome cam', 'domeCam', 'secondTouch'],
      // A legend that does not hold the source's name is somebody's own.
      ['My own', 'slides', 'none'],
      ['Spool', 'spool', 'none'],
    ]);
  });

  it('are left as they are where they have nothing of the kind, or the rig ends', () => {
    const { document, buttons } = offered('Sources to preview', 3);
    const cut = show.buttons.filter(({ legend }) => legend === 'Cut').slice(0, 1);
    const { changes, without, end } = renumbered(document, [...buttons, ...cut], 'source', 6);
    expect(without).toBe(1);
    expect(end).toBe('The rig has no more sources.');
    expect(new Set(changes.map(({ id }) => id))).toEqual(new Set([buttons[1]?.id]));
  });
});
