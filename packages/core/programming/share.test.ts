import { corvaneHill } from '@umbek/demo';
import { compileProgram } from '../engine/index';
import { sentenceOf } from '../engine/sentence';
import { applyEdit, type Button, type Change, type Macro, type ShowDocument, type Step } from '../show/index';
import { airEffect } from './airEffect';
import { counted } from './count/index';
import { slotsOf } from './count/slots';
import { swapped } from './count/swap';
import { fieldOfParam, fixedDevice, madeDeviceParam } from './macroParams';
import { shareOf, sharedChanges, sharersOf } from './share';
import { usesOf } from './uses';

const show = corvaneHill();
const ids = () => {
  let count = 0;
  return () => `01J0C0RVANEH1NEW${String((count += 1)).padStart(10, '0')}`;
};
const after = (document: ShowDocument, changes: readonly Change[]): ShowDocument => {
  const applied = applyEdit(document, { changes });
  if (!applied.ok) throw new Error(JSON.stringify(applied.error[0]));
  return applied.value;
};
const common = { onFail: 'stop' } as const;
const recall = (camera: string, position: string): Step => ({
  ...common,
  id: 'recall',
  kind: 'command',
  device: camera,
  command: 'recall',
  params: { position },
});
const arrived = (camera: string, position: string): Step => ({
  ...common,
  id: 'wait',
  kind: 'wait',
  until: `${camera}.arrived == "${position}"`,
  timeoutMs: 6000,
});
const cut: Step = { ...common, id: 'cut', kind: 'command', device: 'switcher', command: 'cut', params: {} };
const [base] = show.buttons;
if (!base) throw new Error('The demo has no buttons.');
const button = (number: number, steps: readonly Step[], more: Partial<Button> = {}): Button => ({
  ...base,
  id: `01J0C0RVANEH1B${String(number).padStart(12, '0')}`,
  legend: `Button ${number}`,
  mode: 'press',
  steps: [...steps],
  releaseSteps: [],
  lamps: [],
  ...more,
});
const deskPositions = show.positions.filter(({ camera }) => camera === 'deskCam').map(({ key }) => key);
const withButtons = (buttons: readonly Button[]): ShowDocument => ({ ...show, buttons: [...show.buttons, ...buttons] });
const shareable = (document: ShowDocument, buttons: readonly Button[]) => {
  const share = shareOf(document, buttons);
  if ('words' in share) throw new Error(share.words);
  return share;
};

describe('buttons that differ in one thing', () => {
  const buttons = deskPositions.map((position, at) =>
    button(at, [recall('deskCam', position), arrived('deskCam', position), cut]),
  );
  const document = withButtons(buttons);
  const share = shareable(document, buttons);
  const { changes, macro } = sharedChanges(document, buttons, share, 'Close on the desk', ids());
  const next = after(document, changes);

  it('become one macro with a parameter, conditions included', () => {
    expect(share.params).toEqual([{ key: 'position', title: 'Position', values: deskPositions }]);
    expect(macro.params).toEqual([{ key: 'position', start: deskPositions[0] }]);
    expect(macro.number).toBe(Math.max(...show.macros.map(({ number }) => number)) + 1);
    expect(macro.steps).toEqual([
      { ...recall('deskCam', ''), params: { position: { cel: 'param.position' } } },
      { ...arrived('deskCam', ''), until: 'deskCam.arrived == param.position' },
      cut,
    ]);
    const [first] = next.buttons.filter(({ id }) => id === buttons[0]?.id);
    expect(first?.steps).toEqual([
      { ...common, id: 'run', kind: 'run', macro: macro.id, params: { position: deskPositions[0] } },
    ]);
    expect(sharersOf(next, macro.id).map(({ id }) => id)).toEqual(buttons.map(({ id }) => id));
  });

  it('hold together as before, and a position that goes is told at the button that gives it', () => {
    const program = compileProgram(next, 1);
    expect(buttons.map(({ id }) => program.faultOf(id))).toEqual(buttons.map(() => undefined));
    const gone = deskPositions[1] ?? '';
    const without = compileProgram(
      { ...next, positions: next.positions.filter(({ key }) => key !== gone) },
      2,
      program,
    );
    expect(buttons.map(({ id }) => without.faultOf(id)?.message)).toEqual([
      undefined,
      `There is no position ${gone}.`,
      ...buttons.slice(2).map(() => undefined),
    ]);
    expect(usesOf(next, { kind: 'position', key: gone }).map(({ at }) => at.id)).toContain(buttons[1]?.id);
  });

  it('say what they do with the name of what each gives, and in the macro that it is given', () => {
    const names = deskPositions.map((key) => show.positions.find((position) => position.key === key)?.name);
    expect(next.buttons.slice(-buttons.length).map(({ steps }) => steps.map((step) => sentenceOf(step, next)))).toEqual(
      names.map((name) => [`Run Close on the desk with ${name}`]),
    );
    expect(macro.steps.map((step) => sentenceOf(step, next))).toEqual([
      'Recall the position given on Desk cam',
      'Wait until Desk cam has arrived, at most 6 s',
      'Cut',
    ]);
  });

  it('show the parameter as the command shows it', () => {
    const { field, device } = fieldOfParam(next, macro, 'position');
    expect([field.reference, field.title, device]).toEqual(['position', 'Position', 'deskCam']);
  });

  it('count on with the macro that they share', () => {
    const [first] = next.buttons.filter(({ id }) => id === buttons[0]?.id);
    if (!first) throw new Error('Gone.');
    const plan = { across: ['position'], step: 1, more: 1, down: null, strips: 0, colour: 'same' } as const;
    expect(counted(next, [first], plan).across[0]?.steps).toEqual([
      { ...common, id: 'run', kind: 'run', macro: macro.id, params: { position: deskPositions[1] } },
    ]);
  });
});

describe('what cannot be shared is told', () => {
  const words = (...buttons: readonly Button[]) => {
    const share = shareOf(withButtons(buttons), buttons);
    return 'words' in share ? share.words : share.params.map(({ key }) => key);
  };
  const [wide = '', close = ''] = deskPositions;
  it('in words', () => {
    const pressed = button(1, [recall('deskCam', wide)]);
    expect(words(pressed)).toBe('Choose two buttons or more.');
    expect(words(pressed, button(2, [recall('deskCam', close), cut]))).toMatch(/^These buttons do different things/);
    // Another camera and another position are two things that a macro can be given.
    expect(words(pressed, button(2, [recall('lawnCam', 'bigScreen')]))).toEqual(['position', 'camera']);
    expect(words(pressed, button(2, [recall('deskCam', close)], { mode: 'hold' }))).toMatch(/^Buttons that are held/);
    expect(words(button(1, []), button(2, []))).toBe('These buttons do nothing yet.');
    // The same thing twice is shared without a parameter.
    expect(words(pressed, button(2, [recall('deskCam', wide)]))).toEqual([]);
  });

  it('and a value that is the same by chance stays where it is', () => {
    const mute = (channel: number): Step => ({
      ...common,
      id: 'mute',
      kind: 'command',
      device: 'sound',
      command: 'fader',
      params: { channel, level: 2 },
    });
    const share = shareOf(show, [button(1, [mute(1)]), button(2, [mute(2)])]);
    expect('words' in share ? share.words : share.steps).toEqual([
      { ...mute(1), params: { channel: { cel: 'param.channel' }, level: 2 } },
    ]);
  });
});

describe('what a try says of a shared macro', () => {
  it('is what would go on air with what this button gives', () => {
    const direct = (source: string): Step => ({
      ...common,
      id: 'program',
      kind: 'command',
      device: 'switcher',
      command: 'program',
      params: { source },
    });
    const buttons = [button(1, [direct('lawnCam')]), button(2, [direct('domeCam')])];
    const document = withButtons(buttons);
    const next = after(
      document,
      sharedChanges(document, buttons, shareable(document, buttons), 'To air', ids()).changes,
    );
    const effects = buttons.map(({ id }) =>
      airEffect(next.buttons.find((candidate) => candidate.id === id)?.steps ?? [], next, () => undefined),
    );
    expect(effects).toEqual([['Lawn cam goes on air'], ['Dome cam goes on air']]);
  });
});

describe('buttons that differ in the device that they go to', () => {
  const record = (recorder: string): Step[] => [
    {
      ...common,
      id: `start-${recorder}`,
      kind: 'command',
      device: recorder,
      command: 'start',
      params: { file: { cel: `"take-${recorder}-" + string(1)` } },
    },
    {
      ...common,
      id: 'wait',
      kind: 'wait',
      until: `${recorder}.recording && !${recorder}.stoppedUnasked`,
      timeoutMs: 3000,
    },
  ];
  const recorders = show.devices.filter(({ kind }) => kind === 'recorder').map(({ key }) => key);
  const [first = '', second = ''] = recorders;
  const buttons = recorders.map((key, at) => button(at, record(key)));
  const document = withButtons(buttons);
  const share = shareable(document, buttons);
  const { changes, macro } = sharedChanges(document, buttons, share, 'Record', ids());
  const next = after(document, changes);

  it('share one macro that is given the device, for its commands and its conditions', () => {
    expect(share.params).toEqual([{ key: 'recorder', title: 'Recorder', values: recorders }]);
    expect(macro.steps).toEqual([
      {
        ...record(first)[0],
        deviceFrom: 'recorder',
        params: { file: { cel: '"take-" + param.recorder + "-" + string(1)' } },
      },
      { ...record(first)[1], until: 'at(param.recorder).recording && !at(param.recorder).stoppedUnasked' },
    ]);
    expect(sharersOf(next, macro.id)).toHaveLength(recorders.length);
    const program = compileProgram(next, 1);
    expect(buttons.map(({ id }) => program.faultOf(id))).toEqual(buttons.map(() => undefined));
    expect([...program.devicesOf(buttons[1]?.id ?? '')]).toEqual([second]);
  });

  it('read as what is given, also where the macro waits for it', () => {
    const [, wait] = macro.steps;
    expect(wait && sentenceOf(wait, next)).toBe(
      'Wait until the recorder given: records, and the recorder given: not: stopped unasked, at most 3 s',
    );
    // What cannot be told so stands as it is written.
    const compared = wait?.kind === 'wait' ? { ...wait, until: 'at(param.recorder).file == param.name' } : undefined;
    expect(compared && sentenceOf(compared, next)).toContain('at(param.recorder).file == param.name');
  });

  it('offer the devices of that kind, and no other', () => {
    const { field } = fieldOfParam(next, macro, 'recorder');
    expect([field.title, field.things?.map(({ key }) => key)]).toEqual(['Recorder', recorders]);
  });

  it('count up as buttons with steps of their own do', () => {
    const tested = next.buttons.find(({ id }) => id === buttons[0]?.id);
    if (tested === undefined) throw new Error('gone');
    const [slot] = slotsOf(tested, next);
    expect(slot).toEqual({ kind: 'device', words: 'Device', value: first });
    if (slot === undefined) throw new Error('no slot');
    expect(swapped(tested, slot, second, next).steps).toEqual([
      { ...common, id: 'run', kind: 'run', macro: macro.id, params: { recorder: second } },
    ]);
  });

  it('go back to a device of their own, and the parameter goes with the last step that reads it', () => {
    const [start, wait] = macro.steps;
    if (start?.kind !== 'command' || wait === undefined) throw new Error('other steps');
    const made = next.macros.find(({ id }) => id === macro.id);
    if (made === undefined) throw new Error('gone');
    const plain = after(next, fixedDevice(made, 'steps', start)).macros.find(({ id }) => id === macro.id);
    // The wait still reads it.
    expect([plain?.steps[0], plain?.params]).toMatchObject([{ device: first }, [{ key: 'recorder' }]]);
    expect(plain?.steps[0]).not.toHaveProperty('deviceFrom');
    const alone: Macro = { ...made, steps: [{ ...start, params: {} }] };
    const lone = { ...next, macros: next.macros.map((item) => (item.id === macro.id ? alone : item)) };
    expect(after(lone, fixedDevice(alone, 'steps', start)).macros.find(({ id }) => id === macro.id)?.params).toEqual(
      [],
    );
  });

  it('are made from a step of a macro by a touch, and a second step of that device shares the parameter', () => {
    const [start] = record(second);
    if (start?.kind !== 'command') throw new Error('other steps');
    const stop: Step = { ...start, id: 'stop', command: 'stop', params: {} };
    const plain: Macro = { ...macro, params: [], steps: [start, stop] };
    const lone = { ...show, macros: [...show.macros, plain] };
    const once = after(lone, madeDeviceParam(lone, plain, 'steps', start));
    const then = once.macros.find(({ id }) => id === plain.id);
    expect(then).toMatchObject({
      params: [{ key: 'recorder', start: second }],
      steps: [{ deviceFrom: 'recorder' }, {}],
    });
    if (then === undefined) throw new Error('gone');
    const twice = after(once, madeDeviceParam(once, then, 'steps', stop)).macros.find(({ id }) => id === plain.id);
    expect(twice).toMatchObject({
      params: [{ key: 'recorder', start: second }],
      steps: [{ deviceFrom: 'recorder' }, { deviceFrom: 'recorder' }],
    });
  });

  it('say before they are tried what the device that is given would show on air', () => {
    const heads = ['deskCam', 'lawnCam'].map((camera, at) =>
      button(80 + at, [{ ...common, id: 'h', kind: 'command', device: camera, command: 'home', params: {} }]),
    );
    const own = withButtons(heads);
    const { changes: made } = sharedChanges(own, heads, shareable(own, heads), 'To the middle', ids());
    const both = after(own, made);
    const input = show.sources.find(({ camera }) => camera === 'lawnCam')?.input ?? 0;
    const point = (key: string) => (key === 'switcher.program' ? input : key === 'switcher.preview' ? 15 : false);
    const effects = heads.map(({ id }) =>
      airEffect(both.buttons.find((candidate) => candidate.id === id)?.steps ?? [], both, point),
    );
    expect(effects[0]).toEqual([]);
    expect(effects[1]?.[0]).toMatch(/^Lawn cam, on air: /);
  });

  it('do not share with devices of another kind, and say so', () => {
    const head = button(90, [{ ...common, id: 's', kind: 'command', device: 'deskCam', command: 'stop', params: {} }]);
    const recorder = button(91, [{ ...common, id: 's', kind: 'command', device: first, command: 'stop', params: {} }]);
    expect(shareOf(withButtons([head, recorder]), [head, recorder])).toEqual({
      words: 'These buttons go to devices of different kinds. Choose buttons of one kind of device.',
    });
  });
});
