import type { Argument, LampRule, Step } from '@umbek/core/show';
import type { StripPlan } from './plan';

/** The demo's machines beside cameras, switcher and captions: key, name, kind, settings. */
export const MACHINES: readonly {
  readonly key: MachineKey;
  readonly name: string;
  readonly kind: string;
  readonly room: string;
  readonly settings: Record<string, unknown>;
  /** What only its stand-in knows. */
  readonly standin?: Record<string, unknown>;
}[] = [
  {
    key: 'spool',
    name: 'Spool',
    kind: 'clipPlayer',
    room: 'Gate room',
    settings: {
      clips: [
        { name: 'Opening film', seconds: 42 },
        { name: 'How meteors burn', seconds: 95 },
        { name: 'Tour of the dome', seconds: 180 },
        { name: 'Holding loop', seconds: 20 },
      ],
    },
  },
  {
    key: 'secondLook',
    name: 'Second Look',
    kind: 'replayServer',
    room: 'Gate room',
    settings: { bufferSeconds: 90, angles: 4 },
  },
  ...([1, 2, 3, 4, 5, 6] as const).map((number) => ({
    key: `recorder${number}` as const,
    name: `${number <= 3 ? 'Dome room' : 'Gate room'} ${number}`,
    kind: 'recorder',
    room: number <= 3 ? 'Dome room' : 'Gate room',
    settings: { spaceGb: 400 + number * 20, rateMbit: 50 },
  })),
  { key: 'exchange', name: 'Exchange', kind: 'router', room: 'Gate room', settings: { destinations: 32, sources: 32 } },
  {
    key: 'charts',
    name: 'Slides',
    kind: 'slides',
    room: 'Gate room',
    settings: { titles: ['The sky tonight', 'Where to look', 'How bright', 'The peak', 'Thank you'] },
  },
  { key: 'lawnScreen', name: 'Lawn screen', kind: 'venueScreen', room: 'Lawn', settings: {} },
  { key: 'uplink', name: 'Uplink', kind: 'streamEncoder', room: 'Gate room', settings: { rateKbit: 6000 } },
  {
    key: 'lines',
    name: 'Lines',
    kind: 'guestGateway',
    room: 'Gate room',
    settings: { lines: 6 },
    standin: { guests: ['Marit Solvang', 'Obi Adeyemi', 'Lucía Ferrán', 'Wen Zhao'] },
  },
  {
    key: 'sound',
    name: 'Sound',
    kind: 'soundMixer',
    room: 'Gate room',
    settings: { channels: 7, names: ['Desk 1', 'Desk 2', 'Dome', 'Line 1', 'Line 2', 'Line 3', 'Line 4'] },
    standin: { voices: 7 },
  },
  { key: 'tally', name: 'Tally', kind: 'tallyOut', room: 'Gate room', settings: {} },
  {
    key: 'houseLights',
    name: 'House lights',
    kind: 'generic',
    room: 'Courtyard',
    settings: { profile: 'houseLights' },
  },
  { key: 'domeSlit', name: 'Dome slit', kind: 'generic', room: 'Dome', settings: { profile: 'domeSlit' } },
];

export type MachineKey =
  | 'spool'
  | 'secondLook'
  | `recorder${1 | 2 | 3 | 4 | 5 | 6}`
  | 'exchange'
  | 'charts'
  | 'lawnScreen'
  | 'uplink'
  | 'lines'
  | 'sound'
  | 'tally'
  | 'houseLights'
  | 'domeSlit';

/** Ports of their stand-ins. */
export const MACHINE_PORTS: Readonly<Record<MachineKey, number>> = {
  spool: 7003,
  secondLook: 7004,
  recorder1: 7011,
  recorder2: 7012,
  recorder3: 7013,
  recorder4: 7014,
  recorder5: 7015,
  recorder6: 7016,
  exchange: 7020,
  charts: 7021,
  lawnScreen: 7022,
  uplink: 7023,
  lines: 7024,
  sound: 7005,
  tally: 7030,
  houseLights: 7031,
  domeSlit: 7032,
};

const command = (
  id: string,
  device: MachineKey | 'switcher',
  name: string,
  params: Record<string, Argument> = {},
): Step => ({ id, onFail: 'stop', kind: 'command', device, command: name, params });
const lit = (when: string, show: LampRule['show']): LampRule[] => [{ when, show }];

const film = (clip: string, loop = false): StripPlan['buttons'][number] => ({
  legend: clip,
  note: `{{ spool.ch1Layer1Clip == "${clip}" ? string(spool.ch1Layer1Left) + " s left" : "cue and play" }}`,
  steps: [command('cue', 'spool', 'cue', { clip, loop }), command('play', 'spool', 'play', {})],
  lamps: [
    ...lit(`spool.ch1Layer1Clip == "${clip}" && spool.ch1Layer1Playing`, 'up'),
    ...lit(`spool.ch1Layer1Clip == "${clip}" && spool.ch1Layer1Stage == "cued"`, 'armed'),
  ],
});

const RECORDERS = MACHINES.flatMap(({ key, name, kind }) => (kind === 'recorder' ? [{ key, name }] : []));
const everyRecorder = (id: string, name: string, params: (key: MachineKey) => Record<string, Argument>): Step => ({
  id,
  onFail: 'stop',
  kind: 'together',
  steps: RECORDERS.map(({ key }) => command(`${id}-${key}`, key, name, params(key))),
});

/** Sources of the router and its first destination, as the demo cables them. */
/** Destinations of the exchange, from 1 on. */
const DESTINATIONS = ['Lawn screen', 'Press tent', 'Host monitor', 'Gate wall'];
const FEEDS = ['Program', 'Desk cam', 'Lawn cam', 'Dome cam', 'Roof cam', 'Slides'];

export const REPLAY: readonly StripPlan[] = [
  {
    name: 'Meteor',
    family: 'plum',
    firstButton: 201,
    buttons: [
      {
        legend: 'Mark',
        note: '{{ "mark " + string(secondLook.lastMark) + ", " + string(secondLook.lastMarkLeft) + " s" }}',
        steps: [command('mark', 'secondLook', 'mark', { ago: 5 })],
      },
      {
        legend: 'Cue half speed',
        note: 'the latest, angle 1',
        steps: [command('cue', 'secondLook', 'cue', { mark: 0, channel: 1, angle: 1, speed: 50 })],
        lamps: lit('secondLook.ch1Stage == "cued"', 'armed'),
      },
      {
        legend: 'Roll',
        note: '{{ secondLook.ch1Stage }}',
        steps: [command('play', 'secondLook', 'play', { channel: 1 })],
        lamps: lit('secondLook.ch1Rolling', 'up'),
      },
      { legend: 'Let go', note: 'channel 1', steps: [command('stop', 'secondLook', 'stop', { channel: 1 })] },
    ],
  },
  {
    name: 'Films',
    family: 'slate',
    firstButton: 211,
    buttons: [
      film('Opening film'),
      film('How meteors burn'),
      film('Tour of the dome'),
      film('Holding loop', true),
      { legend: 'Clear', note: 'channel 1', steps: [command('clear', 'spool', 'clear', {})] },
    ],
  },
  {
    name: 'Charts',
    family: 'moss',
    firstButton: 221,
    buttons: [
      { legend: 'Next chart', note: '{{ charts.title }}', steps: [command('next', 'charts', 'next')] },
      {
        legend: 'Chart back',
        note: '{{ string(charts.slide) + " of " + string(charts.slides) }}',
        steps: [command('previous', 'charts', 'previous')],
      },
      {
        legend: 'First chart',
        note: 'The sky tonight',
        steps: [command('goTo', 'charts', 'goTo', { slide: 1 })],
        lamps: lit('charts.slide == 1', 'chosen'),
      },
    ],
  },
];

/** Boxes of the switcher's first layout: occupant, left, top, width, height; those not named are hidden. The layout then stands on preview. */
const layout = (
  boxes: readonly (readonly [source: string, x: number, y: number, width: number, height: number])[],
): Step[] => [
  {
    id: 'boxes',
    onFail: 'stop',
    kind: 'together',
    steps: [
      command('behind', 'switcher', 'background', { layout: 1, source: 'black' }),
      ...boxes.flatMap(([source, x, y, width, height], index) => [
        command(`in-${index + 1}`, 'switcher', 'boxOccupant', { layout: 1, box: index + 1, source }),
        command(`place-${index + 1}`, 'switcher', 'boxPlace', {
          layout: 1,
          box: index + 1,
          x,
          y,
          width,
          height,
          frames: 0,
        }),
        command(`border-${index + 1}`, 'switcher', 'boxBorder', { layout: 1, box: index + 1, width: 0.004 }),
      ]),
      ...[1, 2, 3].map((box) =>
        command(`shown-${box}`, 'switcher', 'boxOn', { layout: 1, box, on: box <= boxes.length }),
      ),
    ],
  },
  command('preview', 'switcher', 'preview', { source: 'layout1' }),
];
const laidOut = (occupant: string, box: number): LampRule[] => [
  ...lit(`switcher.layout1Box${box}Occupant == input("${occupant}") && onAir("layout1")`, 'onAir'),
  ...lit(`switcher.layout1Box${box}Occupant == input("${occupant}") && onPreview("layout1")`, 'onPreview'),
];

export const LINES: readonly StripPlan[] = [
  {
    name: 'Guests',
    family: 'lagoon',
    firstButton: 291,
    buttons: ['Marit Solvang', 'Obi Adeyemi', 'Lucía Ferrán', 'Wen Zhao'].map((guest, index) => ({
      legend: guest,
      note: `{{ lines.line${index + 1}Dropped ? "dropped" : lines.line${index + 1}Connected ? "line ${index + 1}" : "to line ${index + 1}" }}`,
      steps: [command('line', 'lines', 'putOnLine', { guest, line: index + 1 })],
      lamps: [...lit(`lines.line${index + 1}Dropped`, 'armed'), ...lit(`lines.line${index + 1}Connected`, 'up')],
    })),
  },
  {
    name: 'Layouts',
    family: 'slate',
    firstButton: 311,
    buttons: [
      {
        legend: 'Desk and line 1',
        note: 'side by side, to preview',
        steps: layout([
          ['deskCam', 0.03, 0.26, 0.46, 0.46],
          ['line1', 0.51, 0.26, 0.46, 0.46],
        ]),
        lamps: laidOut('line1', 2),
      },
      {
        legend: 'Charts and desk',
        note: 'charts large, to preview',
        steps: layout([
          ['slides', 0.03, 0.08, 0.64, 0.64],
          ['deskCam', 0.62, 0.6, 0.34, 0.34],
        ]),
        lamps: laidOut('slides', 1),
      },
    ],
  },
  {
    name: 'Sound',
    family: 'moss',
    firstButton: 301,
    buttons: [
      ...['Desk 1', 'Desk 2', 'Dome'].map((name, index) => ({
        legend: name,
        note: `{{ sound.ch${index + 1}Mute ? "muted" : sound.ch${index + 1}Open ? "speaks" : "silent" }}`,
        steps: [command('mute', 'sound', 'mute', { channel: index + 1, on: { cel: `!sound.ch${index + 1}Mute` } })],
        lamps: [...lit(`sound.ch${index + 1}Mute`, 'armed'), ...lit(`sound.ch${index + 1}Open`, 'up')],
      })),
      {
        legend: 'Fade the desk',
        note: 'over 2 s',
        steps: [
          command('one', 'sound', 'fader', { channel: 1, db: -60, ms: 2000 }),
          command('two', 'sound', 'fader', { channel: 2, db: -60, ms: 2000 }),
        ],
      },
      {
        legend: 'Desk back',
        note: '0 dB',
        steps: [
          command('one', 'sound', 'fader', { channel: 1, db: 0, ms: 500 }),
          command('two', 'sound', 'fader', { channel: 2, db: 0, ms: 500 }),
        ],
      },
    ],
  },
];

export const RECORDING: readonly StripPlan[] = [
  {
    name: 'All',
    family: 'clay',
    firstButton: 231,
    buttons: [
      {
        legend: 'Record all',
        note: '{{ "night " + string(value.night) }}',
        steps: [
          { id: 'count', onFail: 'stop', kind: 'set', target: 'value.night', to: { cel: 'value.night + 1' } },
          everyRecorder('start', 'start', (key) => ({ file: { cel: `"night-" + string(value.night) + "-${key}"` } })),
          {
            id: 'verify',
            onFail: 'stop',
            kind: 'wait',
            until: RECORDERS.map(({ key }) => `${key}.recording`).join(' && '),
            timeoutMs: 3000,
          },
        ],
        lamps: [
          ...lit(RECORDERS.map(({ key }) => `${key}.recording`).join(' && '), 'recording'),
          ...lit(RECORDERS.map(({ key }) => `${key}.stoppedUnasked`).join(' || '), 'armed'),
        ],
      },
      { legend: 'Stop all', note: 'recorders', steps: [everyRecorder('stop', 'stop', () => ({}))] },
      { legend: 'Split all', note: 'new files', steps: [everyRecorder('split', 'split', () => ({}))] },
    ],
  },
  {
    name: 'Recorders',
    family: 'stone',
    firstButton: 241,
    buttons: RECORDERS.map(({ key, name }) => ({
      legend: name,
      note: `{{ ${key}.recording ? string(${key}.elapsed) + " s" : string(${key}.hoursLeft) + " h left" }}`,
      steps: [
        {
          id: 'count',
          onFail: 'stop' as const,
          kind: 'set' as const,
          target: 'value.night',
          to: { cel: 'value.night + 1' },
        },
        command('start', key, 'start', { file: { cel: `"night-" + string(value.night) + "-${key}"` } }),
        { id: 'verify', onFail: 'stop' as const, kind: 'wait' as const, until: `${key}.recording`, timeoutMs: 3000 },
      ],
      lamps: [...lit(`${key}.recording`, 'recording'), ...lit(`${key}.stoppedUnasked`, 'armed')],
    })),
  },
  {
    name: 'Stream',
    family: 'lagoon',
    firstButton: 251,
    buttons: [
      {
        legend: 'Go out',
        note: '{{ uplink.streaming ? string(uplink.elapsed) + " s, " + string(uplink.lostFrames) + " lost" : "Uplink" }}',
        steps: [
          command('start', 'uplink', 'start'),
          { id: 'verify', onFail: 'stop', kind: 'wait', until: 'uplink.streaming', timeoutMs: 10_000 },
        ],
        lamps: lit('uplink.streaming', 'onAir'),
      },
      { legend: 'Stream off', note: 'Uplink', steps: [command('stop', 'uplink', 'stop')] },
    ],
  },
];

export const ROUTING: readonly StripPlan[] = [
  {
    name: 'Lawn screen',
    family: 'ochre',
    firstButton: 261,
    buttons: FEEDS.map((feed, index) => ({
      legend: feed,
      note: 'to the lawn',
      steps: [command('connect', 'exchange', 'connect', { destination: 1, source: index + 1 })],
      lamps: lit(`exchange.out1 == ${index + 1}`, 'chosen'),
    })),
  },
  {
    name: 'Press tent',
    family: 'rose',
    firstButton: 271,
    buttons: FEEDS.map((feed, index) => ({
      legend: feed,
      note: 'to the tent',
      steps: [command('connect', 'exchange', 'connect', { destination: 2, source: index + 1 })],
      lamps: lit(`exchange.out2 == ${index + 1}`, 'chosen'),
    })),
  },
  {
    name: 'The screen',
    family: 'stone',
    firstButton: 281,
    buttons: [
      {
        legend: 'Screen on',
        note: '{{ string(lawnScreen.brightness) + " %" }}',
        steps: [command('on', 'lawnScreen', 'output', { on: true })],
        lamps: lit('lawnScreen.output', 'up'),
      },
      {
        legend: 'Dark while held',
        note: 'Lawn screen',
        mode: 'hold',
        steps: [command('off', 'lawnScreen', 'output', { on: false })],
        releaseSteps: [command('on', 'lawnScreen', 'output', { on: true })],
      },
      {
        legend: 'Night look',
        note: '30 %',
        steps: [command('dim', 'lawnScreen', 'brightness', { level: 30 })],
        lamps: lit('lawnScreen.brightness == 30', 'chosen'),
      },
      {
        legend: 'Lock the lawn',
        note: '{{ exchange.out1Protected ? "locked" : "free" }}',
        steps: [command('lock', 'exchange', 'protect', { destination: 1, on: { cel: '!exchange.out1Protected' } })],
        lamps: lit('exchange.out1Protected', 'armed'),
      },
    ],
  },
  {
    name: 'Destination',
    family: 'slate',
    firstButton: 321,
    buttons: DESTINATIONS.map((legend, index) => ({
      legend,
      note: `{{ "gets source " + string(exchange.out${index + 1}) }}`,
      steps: [{ id: 'choose', onFail: 'stop', kind: 'set', target: 'chosen.destination', to: index + 1 }],
      lamps: lit(`chosen.destination == ${index + 1}`, 'chosen'),
    })),
  },
  {
    name: 'Goes there',
    family: 'lagoon',
    firstButton: 331,
    buttons: FEEDS.map((feed, index) => ({
      legend: feed,
      note: `source ${index + 1}`,
      steps: [
        command('route', 'exchange', 'connect', { destination: { cel: 'chosen.destination' }, source: index + 1 }),
      ],
      lamps: DESTINATIONS.map((_name, at) => ({
        when: `chosen.destination == ${at + 1} && exchange.out${at + 1} == ${index + 1}`,
        show: 'chosen' as const,
      })),
    })),
  },
];
