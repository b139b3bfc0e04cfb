import { DOME_SLIT, HOUSE_LIGHTS } from '@umbek/core/samples';
import { type Family, type Position, ShowDocument, STICK } from '@umbek/core/show';
import { demoId } from './demoId';
import { MACHINE_PORTS, MACHINES } from './machines';
import { programmed } from './script';
import { arrived, command } from './steps';

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
      .filter((position) => position.camera === camera)
      .map((position) => [
        String(position.headNumber),
        { pan: position.pan, tilt: position.tilt, zoom: position.zoom },
      ]),
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
  (_, index) =>
    [...sources, ...MORE_SOURCES].find((candidate) => candidate[4] === index + 1)?.[1] ?? `Input ${index + 1}`,
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

/** The demo show with its devices at given ports. */
export function corvaneHill(ports: Readonly<Record<keyof typeof DEMO_PORTS, number>> = DEMO_PORTS): ShowDocument {
  const rig = ShowDocument.parse({
    show: {
      id: demoId('SHW', 1),
      name: 'The Long Night at Corvane Hill',
      frameRate: 50,
      airOutputs: [],
      stick: STICK,
      timeZone: '',
    },
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
    panels: [],
    strips: [],
    buttons: [],
    macros: [
      {
        id: demoId('MAC', 1),
        number: 1,
        name: 'Opening',
        params: [],
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
  return ShowDocument.parse(programmed(ShowDocument.parse(rig)));
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
