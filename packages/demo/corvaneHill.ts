import { DOME_SLIT, HOUSE_LIGHTS } from '@umbek/core/samples';
import {
  type Argument,
  type Button,
  type Family,
  type LampRule,
  PLAIN_BUTTON,
  type Position,
  ShowDocument,
  type Step,
} from '@umbek/core/show';
import { LINES, MACHINE_PORTS, MACHINES, RECORDING, REPLAY, ROUTING } from './machines';
import type { StripPlan } from './plan';

/** Ids of the demo are fixed, so that tests and links can name its buttons. A ULID is 26 characters of Crockford's base 32. */
export const demoId = (kind: string, number: number): string =>
  `01J0C0RVANEH1${kind}${String(number).padStart(26 - 13 - kind.length, '0')}`;

const DECLARED_HEAD = {
  panSpeed: 80,
  tiltSpeed: 60,
  panAcceleration: 120,
  tiltAcceleration: 100,
  zoomSpeed: 6500,
  zoomAcceleration: 16_000,
};

/** Ports of the demo's stand-ins. */
export const DEMO_PORTS = {
  deskCam: 52381,
  lawnCam: 52382,
  domeCam: 52383,
  switcher: 7001,
  captions: 7002,
  ...MACHINE_PORTS,
} as const;

const positionsOf: [key: string, name: string, camera: string, pan: number, tilt: number, zoom: number][] = [
  ['inesClose', 'Ines close', 'deskCam', -12.45, 3, 4.2],
  ['tomaszClose', 'Tomasz close', 'deskCam', 14.25, 3, 4.2],
  ['twoShot', 'Two shot', 'deskCam', 0, 1.5, 2],
  ['hillBehind', 'Hill behind', 'deskCam', 48, 6, 1.3],
  ['bigScreen', 'Big screen', 'lawnCam', -30, 4.5, 3],
  ['visitors', 'Visitors', 'lawnCam', 22.5, -3, 1.6],
  ['slitOpen', 'Slit open', 'domeCam', 9, 36, 2.4],
  ['telescope', 'Telescope', 'domeCam', -60, 12, 5],
];

const positions: Position[] = positionsOf.map(([key, name, camera, pan, tilt, zoom], index) => ({
  id: demoId('P0S', index + 1),
  key,
  name,
  camera,
  pan,
  tilt,
  zoom,
  focus: null,
  iris: null,
  headNumber: positionsOf.filter((other) => other[2] === camera).findIndex((other) => other[0] === key) + 1,
  inHead: { pan, tilt, zoom },
  order: `a${index}`,
}));

/** Memories that the demo's heads hold: what the show's positions say. */
export const memoriesOf = (camera: string): Record<string, { pan: number; tilt: number; zoom: number }> =>
  Object.fromEntries(
    positions
      .filter((one) => one.camera === camera)
      .map((one) => [String(one.headNumber), { pan: one.pan, tilt: one.tilt, zoom: one.zoom }]),
  );

const HEADS: [key: 'deskCam' | 'lawnCam' | 'domeCam', name: string][] = [
  ['deskCam', 'Desk cam'],
  ['lawnCam', 'Lawn cam'],
  ['domeCam', 'Dome cam'],
];

const ROOMS = { deskCam: 'Courtyard', lawnCam: 'Lawn', domeCam: 'Dome' } as const;

/** Where each head looks at pan 0, compass degrees of the drawn picture. */
const HEADINGS = { deskCam: 0, lawnCam: 120, domeCam: -120 } as const;

const sources: [key: string, name: string, short: string, family: Family, input: number, camera: string | null][] = [
  ['deskCam', 'Desk cam', 'Desk', 'slate', 1, 'deskCam'],
  ['lawnCam', 'Lawn cam', 'Lawn', 'slate', 2, 'lawnCam'],
  ['domeCam', 'Dome cam', 'Dome', 'slate', 3, 'domeCam'],
  ['roofCam', 'Roof cam', 'Roof', 'slate', 4, null],
  ['slides', 'Star charts', 'Charts', 'plum', 5, null],
  ['black', 'Black', 'Black', 'stone', 16, null],
];

/** Sources without a button on Main: clips, the remote stations by their lines, and a layout of the switcher itself. */
const MORE_SOURCES: [key: string, name: string, short: string, family: Family, input: number, line: number | null][] = [
  ['spool', 'Spool', 'Spool', 'plum', 6, null],
  ['line1', 'Line 1', 'Line 1', 'rose', 7, 1],
  ['line2', 'Line 2', 'Line 2', 'rose', 8, 2],
  ['line3', 'Line 3', 'Line 3', 'rose', 9, 3],
  ['line4', 'Line 4', 'Line 4', 'rose', 10, 4],
  ['layout1', 'Layout 1', 'Layout', 'moss', 17, null],
];

/** Names that the switcher holds by input. It was never told of Black. */
const INPUT_NAMES = Array.from(
  { length: 15 },
  (_, index) => [...sources, ...MORE_SOURCES].find((one) => one[4] === index + 1)?.[1] ?? `Input ${index + 1}`,
);

/** What the demo's switcher keeps itself. */
const KEPT_MACROS = [
  {
    name: 'Keyers off',
    does: [1, 2].map((keyer) => ({ command: 'keyer', params: { keyer, on: false } })),
  },
  {
    name: 'Roof on both aux',
    does: [1, 2].map((output) => ({ command: 'aux', params: { output, source: 4 } })),
  },
];

const PICTURES: Readonly<Record<string, 'sky' | 'chart' | 'black'>> = {
  roofCam: 'sky',
  slides: 'chart',
  black: 'black',
};

/** The people list in the order in which they come on. */
const PEOPLE_LIST: [key: string, name: string, title: string, place: string][] = [
  ['inesHalloran', 'Ines Halloran', 'Host', 'Corvane Hill'],
  ['tomaszReke', 'Tomasz Reke', 'Astronomer', 'Corvane Hill'],
  ['dellaQuist', 'Della Quist', 'Dome keeper', 'Corvane Hill'],
  ['maritSolvang', 'Marit Solvang', 'Observer', 'Tarn Station'],
  ['obiAdeyemi', 'Obi Adeyemi', 'Observer', 'Dune Camp'],
  ['luciaFerran', 'Lucía Ferrán', 'Observer', 'Salt Flat Array'],
  ['wenZhao', 'Wen Zhao', 'Observer', 'Cape Bright'],
];

const PEOPLE: [key: string, name: string, title: string, short: string][] = [
  ['ines', 'Ines Halloran', 'Host', 'Corvane Hill'],
  ['tomasz', 'Tomasz Reke', 'Astronomer', 'astronomer'],
  ['della', 'Della Quist', 'Dome keeper', 'dome keeper'],
];

const command = (id: string, device: string, name: string, params: Record<string, Argument> = {}): Step => ({
  id,
  onFail: 'stop',
  kind: 'command',
  device,
  command: name,
  params,
});
const arrived = (id: string, camera: string, position: string): Step => ({
  id,
  onFail: 'stop',
  kind: 'wait',
  until: `${camera}.arrived == "${position}"`,
  timeoutMs: 6000,
});

/** Recall, preview, wait until the head has arrived, cut, caption in: the press that the demo is about. */
const toPerson = (camera: string, position: string, name: string, title: string): Step[] => [
  command('recall', camera, 'recall', { position }),
  command('preview', 'switcher', 'preview', { source: camera }),
  arrived('arrive', camera, position),
  command('cut', 'switcher', 'cut'),
  command('caption', 'captions', 'nameIn', { name, title, ms: 400 }),
];

const bus = (source: string): LampRule[] => [
  { when: `onAir("${source}")`, show: 'onAir' },
  { when: `onPreview("${source}")`, show: 'onPreview' },
];

const nudge = (legend: string, note: string, deflection: Record<string, number>): StripPlan['buttons'][number] => ({
  legend,
  note,
  mode: 'hold',
  steps: [
    { id: 'drive', onFail: 'stop', kind: 'command', device: 'chosen.camera', command: 'nudge', params: deflection },
  ],
  releaseSteps: [{ id: 'stop', onFail: 'stop', kind: 'command', device: 'chosen.camera', command: 'stop', params: {} }],
});

const MAIN: StripPlan[] = [
  {
    name: 'Sources',
    family: 'slate',
    buttons: sources.map(([key, name, , , , camera]) => ({
      legend: name,
      note:
        camera === null
          ? 'to preview'
          : `{{ ${camera}.travelling ? "moving" : onAir("${key}") || onPreview("${key}") ? "" : "to preview" }}`,
      steps: [command('preview', 'switcher', 'preview', { source: key })],
      lamps: bus(key),
    })),
  },
  {
    name: 'Moments',
    family: 'moss',
    buttons: [
      {
        legend: 'Ines close',
        note: 'arrive, cut, name',
        steps: toPerson('deskCam', 'inesClose', 'Ines Halloran', 'Host'),
        lamps: [
          { when: 'deskCam.arrived == "inesClose" && onAir("deskCam")', show: 'onAir' },
          { when: 'deskCam.arrived == "inesClose"', show: 'arrived' },
        ],
      },
      {
        legend: 'Tomasz close',
        note: 'arrive, cut, name',
        steps: toPerson('deskCam', 'tomaszClose', 'Tomasz Reke', 'Astronomer'),
        lamps: [
          { when: 'deskCam.arrived == "tomaszClose" && onAir("deskCam")', show: 'onAir' },
          { when: 'deskCam.arrived == "tomaszClose"', show: 'arrived' },
        ],
      },
      {
        legend: 'Slit open',
        note: 'Dome cam, then cut',
        steps: toPerson('domeCam', 'slitOpen', 'Della Quist', 'Dome keeper'),
        lamps: [
          { when: 'domeCam.arrived == "slitOpen" && onAir("domeCam")', show: 'onAir' },
          { when: 'domeCam.arrived == "slitOpen"', show: 'arrived' },
        ],
      },
    ],
  },
  {
    name: 'Names',
    family: 'clay',
    buttons: [
      ...PEOPLE.map(([, name, title, short]) => ({
        legend: name,
        note: short,
        steps: [command('in', 'captions', 'nameIn', { name, title, ms: 400 })],
        lamps: [{ when: `captions.nameUp && captions.nameText == "${name}"`, show: 'up' as const }],
      })),
      {
        legend: 'Name out',
        note: '{{ captions.nameUp ? captions.nameText : "nothing up" }}',
        steps: [command('out', 'captions', 'nameOut', { ms: 300 })],
        lamps: [],
      },
    ],
  },
  {
    name: 'Boards',
    family: 'ochre',
    firstButton: 101,
    buttons: [
      {
        legend: 'Count board',
        note: '{{ captions.countUp ? "up" : "meteors" }}',
        steps: [command('in', 'captions', 'countIn', { count: { cel: 'value.meteors' }, label: 'meteors', ms: 400 })],
        lamps: [{ when: 'captions.countUp', show: 'up' as const }],
      },
      {
        legend: 'Meteor +1',
        note: '{{ value.meteors }} so far',
        steps: [
          { id: 'count', onFail: 'stop', kind: 'set', target: 'value.meteors', to: { cel: 'value.meteors + 1.0' } },
          command('show', 'captions', 'countSet', { count: { cel: 'value.meteors' } }),
        ],
      },
      { legend: 'Board out', note: 'count board', steps: [command('out', 'captions', 'countOut', { ms: 300 })] },
      {
        legend: 'Peak in',
        note: '{{ captions.countdownUp ? string(captions.countdownLeft) + " s" : "10 minutes" }}',
        steps: [command('in', 'captions', 'countdownIn', { seconds: 600, label: 'to the peak', ms: 400 })],
        lamps: [{ when: 'captions.countdownUp', show: 'up' as const }],
      },
      { legend: 'Peak out', note: 'countdown', steps: [command('out', 'captions', 'countdownOut', { ms: 300 })] },
      {
        legend: 'Captions on',
        note: '{{ switcher.keyer1 ? "keyer 1 is on" : "keyer 1 is off" }}',
        steps: [command('key', 'switcher', 'keyer', { keyer: 1, on: { cel: '!switcher.keyer1' } })],
        lamps: [{ when: 'switcher.keyer1', show: 'up' as const }],
      },
    ],
  },
  {
    name: 'Positions',
    family: 'lagoon',
    buttons: positions
      .slice(0, 3)
      .concat(positions.slice(4, 5), positions.slice(6))
      .map((one) => ({
        legend: one.name,
        note: HEADS.find(([key]) => key === one.camera)?.[1] ?? '',
        steps: [command('recall', one.camera, 'recall', { position: one.key })],
        lamps: [{ when: `${one.camera}.arrived == "${one.key}"`, show: 'arrived' as const }],
      })),
  },
  {
    name: 'Program',
    family: 'stone',
    firstButton: 401,
    buttons: [
      {
        legend: 'Wipe',
        note: '25 f',
        steps: [command('wipe', 'switcher', 'wipe', { frames: 25, direction: 'right' })],
        lamps: [{ when: 'switcher.mixing && switcher.transition != "mix"', show: 'armed' }],
      },
      {
        legend: 'To black',
        note: '{{ switcher.black ? "air is black" : "50 f" }}',
        guard: 'secondTouch',
        steps: [command('black', 'switcher', 'fadeToBlack', { on: true, frames: 50 })],
        lamps: [
          { when: 'switcher.black', show: 'onAir' },
          { when: 'switcher.fading', show: 'armed' },
        ],
      },
      {
        legend: 'From black',
        note: '50 f',
        steps: [command('back', 'switcher', 'fadeToBlack', { on: false, frames: 50 })],
        lamps: [{ when: 'switcher.black', show: 'armed' }],
      },
    ],
  },
  {
    name: 'Take',
    family: 'stone',
    buttons: [
      { legend: 'Cut', note: 'preview to air', steps: [command('cut', 'switcher', 'cut')] },
      {
        legend: 'Mix',
        note: '25 f',
        steps: [command('mix', 'switcher', 'mix', { frames: 25 })],
        lamps: [{ when: 'switcher.mixing', show: 'armed' }],
      },
    ],
  },
];

const CAMERAS: StripPlan[] = [
  {
    name: 'Choose',
    family: 'slate',
    buttons: HEADS.map(([key, name]) => ({
      legend: name,
      note: `{{ ${key}.travelling ? "moving" : "standing" }}`,
      steps: [{ id: 'choose', onFail: 'stop', kind: 'set', target: 'chosen.camera', to: key }],
      lamps: [{ when: `chosen.camera == "${key}"`, show: 'chosen' as const }],
    })),
  },
  {
    name: 'Move',
    family: 'ochre',
    buttons: [
      nudge('Left', 'while held', { x: -1 }),
      nudge('Right', 'while held', { x: 1 }),
      nudge('Up', 'while held', { y: 1 }),
      nudge('Down', 'while held', { y: -1 }),
      nudge('Closer', 'while held', { zoom: 1 }),
      nudge('Wider', 'while held', { zoom: -1 }),
    ],
  },
  {
    name: 'Positions',
    family: 'lagoon',
    buttons: positions.map((one) => ({
      legend: one.name,
      note: HEADS.find(([key]) => key === one.camera)?.[1] ?? '',
      steps: [command('recall', one.camera, 'recall', { position: one.key })],
      lamps: [{ when: `${one.camera}.arrived == "${one.key}"`, show: 'arrived' as const }],
    })),
  },
];

/** The demo show with its devices at given ports. */
export function corvaneHill(ports: Readonly<Record<keyof typeof DEMO_PORTS, number>> = DEMO_PORTS): ShowDocument {
  const strips: ShowDocument['strips'] = [];
  const buttons: Button[] = [];
  const panels = [
    { id: demoId('PAN', 1), name: 'Main', order: 'a0', plan: MAIN },
    { id: demoId('PAN', 2), name: 'Cameras', order: 'a1', plan: CAMERAS },
    { id: demoId('PAN', 3), name: 'Replay', order: 'a2', plan: REPLAY },
    { id: demoId('PAN', 4), name: 'Recording', order: 'a3', plan: RECORDING },
    { id: demoId('PAN', 5), name: 'Routing', order: 'a4', plan: ROUTING },
    { id: demoId('PAN', 6), name: 'Lines', order: 'a5', plan: LINES },
  ];
  let nextNumber = 1;
  for (const panel of panels) {
    for (const [place, plan] of panel.plan.entries()) {
      const strip = {
        id: demoId('STR', strips.length + 1),
        panelId: panel.id,
        name: plan.name,
        family: plan.family,
        page: '',
        order: `a${place}`,
      };
      strips.push(strip);
      plan.buttons.forEach((button, index) =>
        buttons.push({
          ...PLAIN_BUTTON,
          id: demoId('BTN', plan.firstButton === undefined ? nextNumber++ : plan.firstButton + index),
          stripId: strip.id,
          legend: button.legend,
          note: button.note ?? '',
          mode: button.mode ?? 'press',
          guard: button.guard ?? 'none',
          steps: button.steps,
          releaseSteps: button.releaseSteps ?? [],
          lamps: button.lamps ?? [],
          order: `a${index}`,
        }),
      );
    }
  }
  return ShowDocument.parse({
    show: { id: demoId('SHW', 1), name: 'The Long Night at Corvane Hill', frameRate: 50, airOutputs: [] },
    devices: [
      ...HEADS.map(([key, name], index) => ({
        id: demoId('DEV', index + 1),
        key,
        name,
        kind: 'ptzHead',
        host: '127.0.0.1',
        port: ports[key],
        room: ROOMS[key],
        settings: { ...DECLARED_HEAD, heading: HEADINGS[key] },
        order: `a${index}`,
      })),
      {
        id: demoId('DEV', 4),
        key: 'switcher',
        name: 'Switcher',
        kind: 'switcher',
        host: '127.0.0.1',
        port: ports.switcher,
        room: 'Gate room',
        settings: { frameRate: 50 },
        order: 'a3',
      },
      {
        id: demoId('DEV', 5),
        key: 'captions',
        name: 'Captions',
        kind: 'captions',
        host: '127.0.0.1',
        port: ports.captions,
        room: 'Gate room',
        settings: {},
        order: 'a4',
      },
      ...MACHINES.map(({ key, name, kind, room, settings }, index) => ({
        id: demoId('DEV', 6 + index),
        key,
        name,
        kind,
        host: '127.0.0.1',
        port: ports[key],
        room,
        settings,
        order: `b${String(index).padStart(2, '0')}V`,
      })),
    ],
    sources: sources
      .map(([key, name, shortName, family, input, camera], index) => ({
        id: demoId('SRC', index + 1),
        key,
        name,
        shortName,
        family,
        input,
        camera,
        picture: PICTURES[key] ?? ('none' as const),
        line: null as number | null,
        order: `a${index}`,
      }))
      .concat(
        MORE_SOURCES.map(([key, name, shortName, family, input, line], index) => ({
          id: demoId('SRC', 20 + index),
          key,
          name,
          shortName,
          family,
          input,
          camera: null,
          picture: 'none' as const,
          line,
          order: `b${index}`,
        })),
      ),
    roles: [
      { id: demoId('R0E', 1), key: 'host', name: 'Host', person: '', source: 'deskCam', order: 'a0' },
      { id: demoId('R0E', 2), key: 'expert', name: 'Expert', person: 'Marit Solvang', source: 'roofCam', order: 'a1' },
    ],
    reframes: [
      {
        id: demoId('RFM', 1),
        key: 'roofNorth',
        name: 'Northern sky',
        source: 'roofCam',
        x: 0.35,
        y: 0.3,
        scale: 2.2,
        order: 'a0',
      },
      {
        id: demoId('RFM', 2),
        key: 'roofPeak',
        name: 'Radiant',
        source: 'roofCam',
        x: 0.62,
        y: 0.4,
        scale: 3,
        order: 'a1',
      },
    ],
    positions,
    values: [
      {
        id: demoId('VA1', 1),
        key: 'showName',
        name: 'Show name',
        type: 'text',
        choices: [],
        start: 'The Long Night',
        atShowStart: 'keep',
        order: 'a0',
      },
      {
        id: demoId('VA1', 2),
        key: 'client',
        name: 'Client',
        type: 'text',
        choices: [],
        start: 'Night Sky Trust',
        atShowStart: 'keep',
        order: 'a1',
      },
      {
        id: demoId('VA1', 3),
        key: 'meteors',
        name: 'Meteor count',
        type: 'number',
        choices: [],
        start: 0,
        atShowStart: 'reset',
        order: 'a2',
      },
      {
        id: demoId('VA1', 4),
        key: 'night',
        name: 'Number of the recording',
        type: 'number',
        choices: [],
        start: 0,
        atShowStart: 'keep',
        order: 'a3',
      },
    ],
    profiles: [
      { id: demoId('PRF', 1), key: 'houseLights', content: HOUSE_LIGHTS, order: 'a0' },
      { id: demoId('PRF', 2), key: 'domeSlit', content: DOME_SLIT, order: 'a1' },
    ],
    people: PEOPLE_LIST.map(([key, name, title, place], index) => ({
      id: demoId('PER', index + 1),
      key,
      name,
      title,
      place,
      order: `a${index}`,
    })),
    panels: panels.map(({ plan: _plan, ...panel }) => panel),
    strips,
    buttons,
    macros: [
      {
        id: demoId('MAC', 1),
        number: 1,
        name: 'Opening',
        params: [{ key: 'seconds', start: 2 }],
        steps: [
          {
            id: 'ready',
            onFail: 'stop',
            kind: 'together',
            steps: [
              command('two', 'deskCam', 'recall', { position: 'twoShot' }),
              command('preview', 'switcher', 'preview', { source: 'deskCam' }),
            ],
          },
          arrived('arrive', 'deskCam', 'twoShot'),
          { id: 'breath', onFail: 'stop', kind: 'pause', length: { frames: 50 } },
          command('mix', 'switcher', 'mix', { frames: 50 }),
          command('host', 'captions', 'nameIn', { name: 'Ines Halloran', title: 'Host', ms: 400 }),
          { id: 'hold', onFail: 'stop', kind: 'pause', length: { ms: 4000 } },
          command('out', 'captions', 'nameOut', { ms: 300 }),
        ],
        stopSteps: [command('out', 'captions', 'nameOut', { ms: 300 })],
        again: 'ignore',
        owns: ['deskCam'],
      },
    ],
  });
}

/** A stand-in of the demo. Those of the rack may share a process. */
export interface DemoStandin {
  readonly key: keyof typeof DEMO_PORTS;
  readonly name: string;
  readonly kind: string;
  readonly port: number;
  readonly settings: Record<string, unknown>;
  readonly repeats: boolean;
  readonly rack: boolean;
}

/** Stand-ins of the demo: the true limits of each. Dome cam is slower than it is declared, so that a rehearsal has something to be wrong about. */
export function demoStandins(ports: Readonly<Record<keyof typeof DEMO_PORTS, number>> = DEMO_PORTS): DemoStandin[] {
  const own = { repeats: false, rack: false };
  return [
    {
      ...own,
      key: 'deskCam',
      name: 'Desk cam',
      kind: 'ptzHead',
      port: ports.deskCam,
      settings: { ...DECLARED_HEAD, memories: memoriesOf('deskCam') },
    },
    {
      ...own,
      key: 'lawnCam',
      name: 'Lawn cam',
      kind: 'ptzHead',
      port: ports.lawnCam,
      settings: { ...DECLARED_HEAD, memories: memoriesOf('lawnCam') },
      repeats: true,
    },
    {
      ...own,
      key: 'domeCam',
      name: 'Dome cam',
      kind: 'ptzHead',
      port: ports.domeCam,
      settings: { ...DECLARED_HEAD, panSpeed: 40, tiltSpeed: 24, zoomSpeed: 4200, memories: memoriesOf('domeCam') },
    },
    {
      ...own,
      key: 'switcher',
      name: 'Switcher',
      kind: 'switcher',
      port: ports.switcher,
      settings: { frameRate: 50, startProgram: 4, startPreview: 2, names: INPUT_NAMES, macros: KEPT_MACROS },
    },
    { ...own, key: 'captions', name: 'Captions', kind: 'captions', port: ports.captions, settings: {} },
    ...MACHINES.map(({ key, name, kind, settings, standin }): DemoStandin => ({
      ...own,
      key,
      name,
      kind,
      port: ports[key],
      settings: { ...settings, ...standin },
      rack: true,
    })),
  ];
}
