import { corvaneHill, memoriesOf } from '@umbek/demo';
import { DOME_SLIT, HOUSE_LIGHTS, MAST_CAM } from '@umbek/core/samples';
import { type Button, type Macro, PLAIN_BUTTON, type ShowDocument, type Step, type Trigger } from '@umbek/core/show';
import type { Chance } from './chance';
import type { SimNet } from './net';
import { MIXER, PLAIN_RULE, talkRule } from './talk';

const ORDER = 'a0';
const command = (id: string, device: string, name: string, params: Record<string, unknown> = {}): Step =>
  ({ id, onFail: 'stop', kind: 'command', device, command: name, params }) as Step;
const stepOf = (partial: Record<string, unknown>): Step => ({ onFail: 'stop', ...partial }) as Step;

/** What a button of the simulated show is for: the oracle knows what a press of it may do. */
export interface Meant {
  readonly button: Button;
  readonly what:
    | 'nudge'
    | 'nudgeChosen'
    | 'length'
    | 'recall'
    | 'recallCut'
    | 'mixCut'
    | 'cut'
    | 'count'
    | 'caption'
    | 'record'
    | 'route'
    | 'profile'
    | 'macro'
    | 'owner'
    | 'loop'
    | 'choose'
    | 'turn'
    | 'dial'
    | 'takeBack'
    | 'rule';
  readonly head?: string;
}

/** The head that a profile describes, and the seeds that have one. */
export const MAST = 'mastHead';
export const hasMast = (seed: number): boolean => seed % 8 === 3;

/** A name that only a step brings in which is switched off. */
export const SWITCHED_OFF = 'Nobody';

/** What the rules keep on layer 1 while a source is on air, by its key. */
export const RULED = {
  deskCam: { rule: '01J0C0RVANEH1TRG0000009001', template: 'Logo' },
  lawnCam: { rule: '01J0C0RVANEH1TRG0000009002', template: 'Ticker' },
} as const;

export interface SimShow {
  readonly document: ShowDocument;
  readonly meant: readonly Meant[];
  readonly heads: readonly string[];
  /** A caption that comes in and goes out in turn: pressed beside what the seed draws. */
  readonly turning: Meant;
  /** A value in the hand, on a head that has much else to do. */
  readonly dial: Meant;
  /** A macro that somebody steps through at the Bench. */
  readonly stepped: string;
  /** The follow rule of a discussion; null: there is none. */
  readonly talk: Trigger | null;
}

/** What a station presses that takes its last press back. */
export const TAKE_BACK: Meant = {
  button: {
    ...PLAIN_BUTTON,
    id: 'takeBack',
    stripId: '',
    legend: 'take back',
    steps: [],
    order: ORDER,
  },
  what: 'takeBack',
};

const PORTS: Readonly<Record<string, number>> = {
  deskCam: 1,
  lawnCam: 2,
  switcher: 3,
  captions: 4,
  recorder1: 5,
  exchange: 6,
  tally: 7,
  houseLights: 8,
  domeSlit: 9,
  [MIXER]: 10,
  [MAST]: 11,
};

/** A position that the head by profile holds in a memory. */
const gate = (id: string): ShowDocument['positions'][number] => ({
  id,
  key: 'gate',
  name: 'Gate',
  camera: MAST,
  headNumber: 3,
  pan: 0,
  tilt: 0,
  zoom: 1,
  focus: null,
  iris: null,
  inHead: null,
  order: ORDER,
});

/**
 * A show with every wire, its buttons drawn by the seed; its devices are put on the net.
 * @param discussion draws the follow rule; left out: there is none
 * @param byProfile draws what the head does that a profile describes; left out: there is none
 */
export function simShow(chance: Chance, net: SimNet, discussion?: Chance, byProfile?: Chance): SimShow {
  const demo = corvaneHill();
  const id = (): string => chance.ulid();
  const heads = ['deskCam', 'lawnCam'];
  const device = (key: string, kind: string, settings: Record<string, unknown>) => ({
    id: id(),
    key,
    name: key,
    kind,
    host: 'sim',
    port: PORTS[key] ?? 0,
    room: '',
    settings,
    order: ORDER,
  });
  const guard = chance.pick(['allow', 'secondTouch', 'secondTouch', 'slow']);
  const headSettings = (key: string): Record<string, unknown> => ({
    ...demo.devices.find((candidate) => candidate.key === key)?.settings,
    memories: memoriesOf(key),
    onAirMoves: guard,
    tallyLamp: 'onAir',
  });
  const devices = [
    ...heads.map((key) => device(key, 'ptzHead', headSettings(key))),
    device('switcher', 'switcher', { frameRate: 50 }),
    device('captions', 'captions', {}),
    device('recorder1', 'recorder', {}),
    device('exchange', 'router', { destinations: 8, sources: 8 }),
    device('tally', 'tallyOut', {}),
    device('houseLights', 'generic', { profile: 'houseLights' }),
    device('domeSlit', 'generic', { profile: 'domeSlit' }),
    ...(discussion === undefined ? [] : [device(MIXER, 'soundMixer', { channels: 2, voices: 7 })]),
    ...(byProfile === undefined ? [] : [device(MAST, 'generic', { profile: 'mastCam' })]),
  ];
  for (const item of devices) {
    // The heads' own limits are not those that are declared.
    const real =
      item.kind === 'ptzHead'
        ? { ...item.settings, panSpeed: chance.between(40, 90), replyDelayMs: chance.whole(4, 40) }
        : item.settings;
    net.add({ key: item.key, kind: item.kind, port: item.port, settings: real, repeats: chance.is(0.5) });
  }
  const panelId = id();
  const stripId = id();
  const buttons: Meant[] = [];
  const macros: Macro[] = [];
  const add = (what: Meant['what'], steps: Step[], more: Partial<Button> = {}, head?: string): void => {
    const button: Button = {
      ...PLAIN_BUTTON,
      id: id(),
      stripId,
      legend: `${what} ${buttons.length}`,
      steps,
      lamps: [{ when: 'onAir("deskCam")', show: 'onAir' }],
      order: ORDER,
      ...more,
    };
    buttons.push({ button, what, ...(head === undefined ? {} : { head }) });
  };
  const positions = demo.positions.filter((position) => heads.includes(position.camera));
  for (const head of heads) {
    const release = chance.pick<Step[]>([
      [command('s', head, 'stop')],
      [],
      [command('c', 'captions', 'nameOut'), command('s', head, 'stop')],
      [stepOf({ id: 'p', kind: 'pause', length: { ms: 200 } }), command('s', head, 'stop')],
    ]);
    const x = chance.pick([-1, 1]);
    add(
      'nudge',
      [command('d', head, 'nudge', { x, y: chance.pick([-1, 0, 1]) })],
      { mode: 'hold', releaseSteps: release },
      head,
    );
    add('length', [command('d', head, 'drive', { pan: x * 20, forSeconds: chance.pick([0.3, 1, 2]) })], {}, head);
    for (const position of positions.filter((candidate) => candidate.camera === head).slice(0, 2)) {
      const recall = command('r', head, 'recall', { position: position.key });
      add('recall', [recall], {}, head);
      add(
        'recallCut',
        [
          recall,
          stepOf({ id: 'w', kind: 'wait', until: `${head}.arrived == "${position.key}"`, timeoutMs: 9000 }),
          command('c', 'switcher', 'preview', { source: head }),
          command('t', 'switcher', 'cut'),
        ],
        {},
        head,
      );
    }
    add('choose', [stepOf({ id: 'c', kind: 'set', target: 'chosen.camera', to: head })]);
  }
  if (byProfile !== undefined) {
    const x = byProfile.pick([-1, 1]);
    add('nudge', [command('d', MAST, 'nudge', { x, y: 0 })], { mode: 'hold' }, MAST);
    const forSeconds = byProfile.pick([0.3, 1, 2]);
    add('length', [command('d', MAST, 'nudge', { x, y: byProfile.pick([-1, 0, 1]), forSeconds })], {}, MAST);
    add('recall', [command('r', MAST, 'recall', { position: 'gate' })], {}, MAST);
  }
  add('nudgeChosen', [command('d', 'chosen.camera', 'nudge', { x: 1 })], { mode: 'hold' });
  add('mixCut', [
    command('m', 'switcher', 'mix', { frames: 25 }),
    stepOf({ id: 'w', kind: 'wait', until: '!switcher.mixing', timeoutMs: 5000 }),
    command('c', 'switcher', 'cut'),
  ]);
  add('cut', [command('c', 'switcher', 'cut')]);
  add('count', [stepOf({ id: 's', kind: 'set', target: 'value.meteors', to: { cel: 'value.meteors + 1' } })]);
  add('caption', [
    command('i', 'captions', 'nameIn', { name: 'Ines Halloran', title: 'Host', ms: 200 }),
    stepOf({ id: 'p', kind: 'pause', length: { ms: chance.whole(100, 2000) } }),
    command('o', 'captions', 'nameOut'),
  ]);
  add('record', [
    command('s', 'recorder1', 'start', { name: { cel: '"night-" + string(value.meteors)' } }),
    stepOf({ id: 'w', kind: 'wait', until: 'recorder1.recording', timeoutMs: 3000 }),
    command('e', 'recorder1', 'stop'),
  ]);
  add('route', [command('c', 'exchange', 'connect', { destination: chance.whole(1, 8), source: chance.whole(1, 8) })]);
  const lights = HOUSE_LIGHTS.commands[0];
  const slit = DOME_SLIT.commands[0];
  const paramsOf = (item: typeof lights): Record<string, unknown> =>
    Object.fromEntries((item?.params ?? []).map((param) => [param.key, param.start ?? param.min ?? 1]));
  add('profile', [
    command('l', 'houseLights', lights?.key ?? '', paramsOf(lights)),
    command('d', 'domeSlit', slit?.key ?? '', paramsOf(slit)),
  ]);
  const owns = chance.is(0.7) ? ['captions'] : [];
  const macro: Macro = {
    id: id(),
    number: 1,
    name: 'Opening',
    folder: '',
    params: [],
    steps: [
      stepOf({
        id: 't',
        kind: 'together',
        steps: [
          command('n', 'captions', 'nameIn', { name: 'Ines', title: 'Host', ms: 100 }),
          { ...command('r', 'exchange', 'connect', { destination: 1, source: chance.whole(1, 8) }), onFail: 'goOn' },
        ],
      }),
      stepOf({ id: 'p', kind: 'pause', length: { frames: chance.whole(10, 120) } }),
      stepOf({
        id: 'x',
        kind: 'repeat',
        over: { times: 3 },
        steps: [command('c', 'captions', 'nameOut'), stepOf({ id: 'q', kind: 'pause', length: { ms: 50 } })],
      }),
    ],
    stopSteps: [command('o', 'captions', 'nameOut')],
    atStop: owns.length === 0 ? 'asBefore' : 'steps',
    again: chance.pick(['startOver', 'ignore', 'runAfterwards', 'end']),
    owns,
  };
  const other: Macro = {
    ...macro,
    id: id(),
    number: 2,
    name: 'Closing',
    steps: [
      stepOf({
        id: 'g',
        kind: 'group',
        name: 'Name',
        steps: [
          command('n', 'captions', 'nameIn', { name: 'Tomasz', title: 'Astronomer', ms: 100 }),
          { ...command('f', 'captions', 'nameIn', { name: SWITCHED_OFF, title: '', ms: 100 }), off: true },
          stepOf({ id: 'p', kind: 'pause', length: { ms: chance.whole(500, 4000) } }),
        ],
      }),
      stepOf({ id: 'h', kind: 'group', name: 'Nothing', off: true, steps: [command('c', 'switcher', 'black')] }),
      command('o', 'captions', 'nameOut'),
    ],
    again: 'startOver',
  };
  macros.push(macro, other);
  add('owner', [stepOf({ id: 'm', kind: 'run', macro: other.id, params: {} })]);
  add('macro', [stepOf({ id: 'm', kind: 'run', macro: macro.id, params: {} })]);
  add('loop', [
    stepOf({
      id: 'l',
      kind: 'repeat',
      over: { times: 10_000 },
      steps: [
        stepOf({
          id: 'k',
          kind: 'repeat',
          over: { times: 50 },
          steps: [stepOf({ id: 'n', kind: 'note', text: 'round' })],
        }),
      ],
    }),
  ]);
  const turning: Meant = {
    what: 'turn',
    button: {
      ...PLAIN_BUTTON,
      id: '01J0C0RVANEH1BTN0000009001',
      stripId,
      legend: 'turn',
      steps: [command('i', 'captions', 'countIn', { count: 1, label: 'meteors', ms: 100 })],
      sets: [{ id: 'set2', legend: 'turn off', steps: [command('o', 'captions', 'countOut', { ms: 100 })], so: '' }],
      order: ORDER,
    },
  };
  const dial: Meant = {
    what: 'dial',
    button: {
      ...PLAIN_BUTTON,
      id: '01J0C0RVANEH1BTN0000009002',
      stripId,
      legend: 'iris',
      mode: 'hold',
      steps: [command('i', 'deskCam', 'iris', { iris: 10 })],
      dial: { param: 'iris', by: 0, min: 0, max: 20, step: 1, unit: 'steps', reads: 'deskCam.iris' },
      order: ORDER,
    },
  };
  // On layers that no button touches: what stands there is the rules' alone.
  const rule = (number: number, more: Partial<Trigger>): Trigger => ({
    id: `01J0C0RVANEH1TRG000000900${number}`,
    name: `rule ${number}`,
    kind: 'while',
    on: { kind: 'turns', condition: 'true', to: true },
    steps: [],
    ...PLAIN_RULE,
    ...more,
  });
  const over = (source: string, layer: number, template: string): Partial<Trigger> => ({
    on: { kind: 'turns', condition: `onAir("${source}")`, to: true },
    steps: [command('l', 'captions', 'layerIn', { layer, template, ms: 100 })],
  });
  const triggers = [
    rule(1, over('deskCam', 1, RULED.deskCam.template)),
    rule(2, over('lawnCam', 1, RULED.lawnCam.template)),
    rule(3, {
      kind: 'when',
      on: { kind: 'changes', of: 'value.meteors' },
      steps: [command('s', 'captions', 'layerField', { layer: 2, field: 1, text: 'more' })],
      again: 'runAfterwards',
    }),
  ];
  const talk = discussion === undefined ? null : talkRule(discussion, { sources: demo.sources, positions });
  const document: ShowDocument = {
    ...demo,
    triggers: [...triggers, ...(talk === null ? [] : [talk])],
    devices,
    sources: demo.sources.filter((source) => source.camera === null || heads.includes(source.camera)),
    positions: byProfile === undefined ? positions : [...positions, gate(id())],
    ...(byProfile === undefined
      ? {}
      : { profiles: [...demo.profiles, { id: id(), key: 'mastCam', content: MAST_CAM, order: ORDER }] }),
    panels: [{ id: panelId, name: 'Main', pages: [], order: ORDER }],
    strips: [{ id: stripId, panelId, name: 'All', family: 'moss', page: '', order: ORDER }],
    buttons: [...buttons, turning, dial].map(({ button }) => button),
    macros,
    roles: [],
    setUps: [],
    reframes: [],
  };
  return {
    document,
    meant: buttons,
    heads: byProfile === undefined ? heads : [...heads, MAST],
    turning,
    dial,
    talk,
    stepped: other.id,
  };
}
