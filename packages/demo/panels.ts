import type { LampRule, ShowDocument, Step } from '@umbek/core/show';
import { LINES, RECORDING, REPLAY, ROUTING } from './machines';
import type { StripPlan } from './plan';
import { arrived, command } from './steps';

/** So many of the sources stand on the main panel. */
const FIRST_SOURCES = 6;

const PEOPLE: [key: string, name: string, title: string, short: string][] = [
  ['ines', 'Ines Halloran', 'Host', 'Corvane Hill'],
  ['tomasz', 'Tomasz Reke', 'Astronomer', 'astronomer'],
  ['della', 'Della Quist', 'Dome keeper', 'dome keeper'],
];

const nameOf = (devices: ShowDocument['devices'], key: string): string =>
  devices.find((device) => device.key === key)?.name ?? '';

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

const main = ({ sources, positions, devices }: ShowDocument): StripPlan[] => [
  {
    name: 'Sources',
    family: 'slate',
    buttons: sources.slice(0, FIRST_SOURCES).map(({ key, name, camera }) => ({
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
          { id: 'count', onFail: 'stop', kind: 'set', target: 'value.meteors', to: { cel: 'value.meteors + 1' } },
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
        legend: 'Captions',
        note: '{{ switcher.keyer1 ? "keyer 1 is on" : "keyer 1 is off" }}',
        steps: [command('key', 'switcher', 'keyer', { keyer: 1, on: true })],
        sets: [
          {
            id: 'set2',
            legend: 'Captions off',
            steps: [command('off', 'switcher', 'keyer', { keyer: 1, on: false })],
            so: '',
          },
        ],
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
      .map((position) => ({
        legend: position.name,
        note: nameOf(devices, position.camera),
        steps: [command('recall', position.camera, 'recall', { position: position.key })],
        lamps: [{ when: `${position.camera}.arrived == "${position.key}"`, show: 'arrived' as const }],
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

const cameras = ({ positions, devices }: ShowDocument): StripPlan[] => [
  {
    name: 'Choose',
    family: 'slate',
    buttons: devices
      .filter(({ kind }) => kind === 'ptzHead')
      .map(({ key, name }) => ({
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
    buttons: positions.map((position) => ({
      legend: position.name,
      note: nameOf(devices, position.camera),
      steps: [command('recall', position.camera, 'recall', { position: position.key })],
      lamps: [{ when: `${position.camera}.arrived == "${position.key}"`, show: 'arrived' as const }],
    })),
  },
];

/** What stands on the panels of the demo, in their order. */
export const panelsOf = (
  rig: ShowDocument,
): readonly { readonly name: string; readonly strips: readonly StripPlan[] }[] => [
  { name: 'Main', strips: main(rig) },
  { name: 'Cameras', strips: cameras(rig) },
  { name: 'Replay', strips: REPLAY },
  { name: 'Recording', strips: RECORDING },
  { name: 'Routing', strips: ROUTING },
  { name: 'Lines', strips: LINES },
];
