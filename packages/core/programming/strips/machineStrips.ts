import { numberOf, USUAL } from '../../devices/drawn';
import { placeOf } from '../../devices/kind';
import { MACROS, macroNamePoint } from '../../devices/switcher/numbers';
import { PEOPLE_PLACES } from '../../engine/liveLists';
import { inOrder } from '../order';
import { type Device, PEOPLE_LIST, type ShowDocument, type Step } from '../../show/index';
import { command, lit, type OfferMaker, plan, type StripOffer, type StripPlan, titled } from './plan';

/** So many of what a device counts become buttons of one strip, and so many destinations strips of their own. */
const MOST_BUTTONS = 24;
const MOST_DESTINATIONS = 8;
/** Places of a strip that follows clips, and of one that follows marks. */
const [MOST_CLIPS, MOST_MARKS] = [12, 8];

const count = (settings: unknown, name: string, usual: number): number[] =>
  Array.from({ length: Math.min(MOST_BUTTONS, numberOf(settings, name, usual)) }, (_, at) => at + 1);

/** A text of a list in the settings, or what stands for it. */
function textOf(settings: unknown, list: string, number: number, otherwise: string): string {
  const texts = typeof settings === 'object' && settings !== null ? (settings as Record<string, unknown>)[list] : null;
  const text: unknown = Array.isArray(texts) ? texts[number - 1] : null;
  return typeof text === 'string' && text !== '' ? text : otherwise;
}

const one = (device: Device, key: string, words: string, strip: StripPlan): StripOffer => ({
  key: `${device.key}/${key}`,
  group: device.name,
  words,
  strips: [strip],
});

/** So many of the people list become buttons of one strip; more than these are found and chosen. */
const MOST_NAMES = 24;

/** Captions of the people list: whoever is chosen, and one button for each of its first. */
function nameOffers(document: ShowDocument, device: Device, named: boolean): StripOffer[] {
  if (document.people.length === 0) return [];
  const { key } = device;
  const step = (by: number): Step => ({
    id: 'choose',
    onFail: 'stop',
    kind: 'set',
    target: 'chosen.person',
    to: '',
    by,
  });
  const out = plan('Name out', [command(key, 'nameOut', { ms: 300 })], { lamps: [lit(`${key}.nameUp`, 'up')] });
  return [
    one(device, 'chosenName', 'Names: next, previous, find, and the chosen one in', {
      name: titled('Chosen name', device, named),
      family: 'clay',
      buttons: [
        plan('Previous', [step(-1)], { note: 'person' }),
        plan('{{ chosen.personName }}', [command(key, 'personIn', { person: { cel: 'chosen.person' }, ms: 400 })], {
          note: '{{ chosen.personTitle }}',
          lamps: [lit('button.isSo', 'up')],
        }),
        plan('Next', [step(1)], { note: 'person' }),
        plan('Find', [{ id: 'find', onFail: 'stop', kind: 'show', panel: PEOPLE_LIST, page: '' }], {
          note: 'people list',
        }),
        out,
      ],
    }),
    one(device, 'listed', 'Names: as the people list has them', {
      name: titled('People', device, named),
      family: 'clay',
      buttons: places(PEOPLE_PLACES).map((place) => {
        const at = `people.at${place}`;
        return plan(`{{ ${at}Name }}`, [command(key, 'personIn', { person: { cel: at }, ms: 400 })], {
          note: `{{ ${at}Title }}`,
          there: `${at} != ""`,
          lamps: [lit('button.isSo', 'up')],
        });
      }),
    }),
    one(device, 'names', 'Names: one button a person', {
      name: titled('Names', device, named),
      family: 'clay',
      buttons: [
        ...inOrder(document.people)
          .slice(0, MOST_NAMES)
          .map((person) =>
            plan(person.name, [command(key, 'personIn', { person: person.key, ms: 400 })], {
              note: person.title,
              lamps: [lit('button.isSo', 'up')],
            }),
          ),
        out,
      ],
    }),
  ];
}

const captions: OfferMaker = (document, device, named) => {
  const { key } = device;
  const out = (legend: string, name: string, up: string) =>
    plan(legend, [command(key, name, { ms: 300 })], { lamps: [lit(`${key}.${up}`, 'up')] });
  return [
    {
      ...one(device, 'out', 'Captions out', {
        name: titled('Captions out', device, named),
        family: 'clay',
        buttons: [
          out('Name out', 'nameOut', 'nameUp'),
          out('Count out', 'countOut', 'countUp'),
          out('Countdown out', 'countdownOut', 'countdownUp'),
        ],
      }),
      first: true,
    },
    ...nameOffers(document, device, named),
  ];
};

const clipPlayer: OfferMaker = (_document, device, named) => [
  one(device, 'play', 'Play, pause and clear', {
    name: titled('Clip', device, named),
    family: 'plum',
    buttons: [
      plan('Play', [command(device.key, 'play')], {
        note: `{{ ${device.key}.ch1Layer1Clip }}`,
        lamps: [lit(`${device.key}.ch1Layer1Playing`, 'up')],
      }),
      plan('Pause', [command(device.key, 'pause')], { note: 'channel 1' }),
      plan('From the start', [command(device.key, 'stop')], { note: 'stops as well' }),
      plan('Clear', [command(device.key, 'clear')], { note: 'channel 1' }),
    ],
  }),
];

/** Places of a strip that follows what the device lists: what comes and goes, and never moves while it is there. */
const places = (most: number): number[] => Array.from({ length: most }, (_, at) => at + 1);

/** Clips as the player has them. */
const clips: OfferMaker = (_document, device, named) => {
  const { key } = device;
  return [
    one(device, 'clips', 'Clips, as the player has them: cue and play', {
      name: titled('Clips', device, named),
      family: 'plum',
      buttons: places(MOST_CLIPS).map((place) => {
        const clip = `${key}.${placeOf('clips', place)}`;
        return plan(
          `{{ ${clip} }}`,
          [command(key, 'cue', { clip: { cel: clip }, loop: false }), command(key, 'play')],
          {
            note: 'cue and play',
            there: `${clip} != ""`,
            lamps: [
              lit(`${key}.ch1Layer1Clip == ${clip} && ${key}.ch1Layer1Playing`, 'up'),
              lit(`${key}.ch1Layer1Clip == ${clip}`, 'armed'),
            ],
          },
        );
      }),
    }),
  ];
};

/** Marks that are still in the buffer. */
const marks: OfferMaker = (_document, device, named) => {
  const { key } = device;
  return [
    one(device, 'marks', 'Marks, as long as they are in the buffer: cue', {
      name: titled('Marks', device, named),
      family: 'plum',
      buttons: places(MOST_MARKS).map((place) => {
        const mark = `${key}.${placeOf('marks', place)}`;
        return plan(
          `Mark {{ ${mark} }}`,
          [command(key, 'cue', { mark: { cel: mark }, channel: 1, angle: 1, speed: 50 })],
          {
            note: 'cue, half speed',
            there: `${mark} != 0`,
            lamps: [
              lit(`${key}.ch1Mark == ${mark} && ${key}.ch1Rolling`, 'up'),
              lit(`${key}.ch1Mark == ${mark}`, 'armed'),
            ],
          },
        );
      }),
    }),
  ];
};

/** Guests while they are on their line, whose picture a source carries. */
const guests: OfferMaker = (document, device, named) => {
  const { key } = device;
  const switcher = document.devices.find(({ kind }) => kind === 'switcher');
  const lines = count(device.settings, 'lines', USUAL.guestGateway.lines).flatMap((line) => {
    const source = document.sources.find((each) => each.line === line && each.input !== null);
    return switcher === undefined || source === undefined ? [] : [{ line, source, switcher }];
  });
  if (lines.length === 0) return [];
  return [
    one(device, 'guests', 'Guests who are there: to preview', {
      name: titled('Guests', device, named),
      family: 'rose',
      buttons: lines.map(({ line, source, switcher: { key: to } }) =>
        plan(`{{ ${key}.line${line}Guest }}`, [command(to, 'preview', { source: source.key })], {
          note: `{{ ${key}.line${line}Muted ? "muted" : "line ${line}" }}`,
          there: `${key}.line${line}Connected`,
          lamps: [lit(`onAir("${source.key}")`, 'onAir'), lit(`onPreview("${source.key}")`, 'onPreview')],
        }),
      ),
    }),
  ];
};

/** Macros that a switcher keeps: those that have a name. */
const keptMacros: OfferMaker = (_document, device, named) => {
  const { key } = device;
  return [
    one(device, 'macros', 'Macros that the switcher keeps', {
      name: titled('Kept macros', device, named),
      family: 'stone',
      buttons: places(MACROS).map((macro) => {
        const name = `${key}.${macroNamePoint(macro)}`;
        return plan(`{{ ${name} }}`, [command(key, 'runMacro', { macro })], {
          note: `number ${macro}`,
          there: `${name} != ""`,
        });
      }),
    }),
  ];
};

const replayServer: OfferMaker = (_document, { key, ...device }, named) => [
  one({ key, ...device }, 'replay', 'Mark, cue, roll and stop', {
    name: titled('Replay', { key, ...device }, named),
    family: 'plum',
    buttons: [
      plan('Mark', [command(key, 'mark', { ago: 5 })], { note: '5 s ago' }),
      plan('Cue', [command(key, 'cue', { mark: 0, channel: 1, angle: 1, speed: 100 })], {
        note: 'the latest mark',
        lamps: [lit(`${key}.ch1Stage == "cued"`, 'armed')],
      }),
      plan('Cue half speed', [command(key, 'cue', { mark: 0, channel: 1, angle: 1, speed: 50 })], {
        note: 'the latest mark',
        lamps: [lit(`${key}.ch1Stage == "cued"`, 'armed')],
      }),
      plan('Roll', [command(key, 'play', { channel: 1 })], {
        note: 'channel 1',
        lamps: [lit(`${key}.ch1Rolling`, 'up')],
      }),
      plan('Stop and clear', [command(key, 'stop', { channel: 1 })], { note: 'channel 1' }),
    ],
  }),
];

const slides: OfferMaker = (_document, device, named) => [
  one(device, 'slides', 'Next, back and first slide', {
    name: titled('Slides', device, named),
    family: 'moss',
    buttons: [
      plan('Next', [command(device.key, 'next')], { note: `{{ ${device.key}.title }}` }),
      plan('Back', [command(device.key, 'previous')], { note: 'previous slide' }),
      plan('First', [command(device.key, 'goTo', { slide: 1 })], {
        lamps: [lit(`${device.key}.slide == 1`, 'chosen')],
      }),
    ],
  }),
];

const soundMixer: OfferMaker = (_document, device, named) => [
  one(device, 'mutes', 'Mutes of the channels', {
    name: titled('Mutes', device, named),
    family: 'moss',
    buttons: count(device.settings, 'channels', USUAL.soundMixer.channels).map((channel) => {
      const at = `${device.key}.ch${channel}`;
      return plan(
        textOf(device.settings, 'names', channel, `Channel ${channel}`),
        [command(device.key, 'mute', { channel, on: { cel: `!${at}Mute` } })],
        {
          note: `{{ ${at}Mute ? "muted, press to open" : "open, press to mute" }}`,
          lamps: [lit(`${at}Mute`, 'armed'), lit(`${at}Open`, 'up')],
        },
      );
    }),
  }),
];

/** Levels of the channels, to be dragged. */
const levels: OfferMaker = (_document, device, named) => [
  one(device, 'levels', 'Levels of the channels', {
    name: titled('Levels', device, named),
    family: 'moss',
    buttons: count(device.settings, 'channels', USUAL.soundMixer.channels).map((channel) => {
      const at = `${device.key}.ch${channel}`;
      return plan(
        textOf(device.settings, 'names', channel, `Channel ${channel}`),
        [command(device.key, 'fader', { channel, db: 0, ms: 0 })],
        {
          dial: { param: 'db', by: 0, min: -60, max: 12, step: 1, unit: 'dB', reads: `${at}Fader` },
          lamps: [lit(`${at}Mute`, 'armed'), lit(`${at}Open`, 'up')],
        },
      );
    }),
  }),
];

const venueScreen: OfferMaker = (_document, { key, ...device }, named) => [
  one({ key, ...device }, 'screen', 'Screen on and off, brightness', {
    name: titled('Screen', { key, ...device }, named),
    family: 'ochre',
    buttons: [
      plan('Screen on', [command(key, 'output', { on: true })], { lamps: [lit(`${key}.output`, 'up')] }),
      plan('Screen off', [command(key, 'output', { on: false })], { guard: 'secondTouch' }),
      plan('Brightness', [command(key, 'brightness', { level: 60 })], {
        dial: { param: 'level', by: 0, min: 0, max: 100, step: 1, unit: '%', reads: `${key}.brightness` },
      }),
      ...[30, 60, 100].map((level) =>
        plan(`${level} %`, [command(key, 'brightness', { level })], {
          note: 'brightness',
          lamps: [lit(`${key}.brightness == ${level}`, 'chosen')],
        }),
      ),
    ],
  }),
];

const streamEncoder: OfferMaker = (_document, { key, ...device }, named) => [
  one({ key, ...device }, 'stream', 'Stream on and off', {
    name: titled('Stream', { key, ...device }, named),
    family: 'lagoon',
    buttons: [
      plan(
        'Stream on',
        [
          command(key, 'start'),
          { id: 'verify', onFail: 'stop', kind: 'wait', until: `${key}.streaming`, timeoutMs: 10_000 },
        ],
        {
          note: `{{ ${key}.streaming ? string(${key}.elapsed) + " s" : "start" }}`,
          lamps: [lit(`${key}.streaming`, 'onAir')],
        },
      ),
      plan('Stream off', [command(key, 'stop')], { guard: 'secondTouch' }),
    ],
  }),
];

const guestGateway: OfferMaker = (_document, { key, ...device }, named) => [
  one({ key, ...device }, 'mutes', 'Mutes of the lines', {
    name: titled('Lines', { key, ...device }, named),
    family: 'rose',
    buttons: count(device.settings, 'lines', 6).map((line) =>
      plan(`Line ${line}`, [command(key, 'mute', { line, on: { cel: `!${key}.line${line}Muted` } })], {
        note: `{{ ${key}.line${line}Muted ? "muted, press to open" : "open, press to mute" }}`,
        lamps: [
          lit(`${key}.line${line}Dropped`, 'armed'),
          lit(`${key}.line${line}Connected && !${key}.line${line}Muted`, 'up'),
        ],
      }),
    ),
  }),
];

const router: OfferMaker = (_document, { key, settings, ...device }, named) => {
  const whole = { key, settings, ...device };
  return count(settings, 'destinations', 32)
    .slice(0, MOST_DESTINATIONS)
    .map((destination) => {
      const name = textOf(settings, 'destinationLabels', destination, `Destination ${destination}`);
      return one(whole, `destination${destination}`, `${name} from every source`, {
        name: titled(name, whole, named),
        family: 'ochre',
        buttons: count(settings, 'sources', 32).map((source) =>
          plan(
            textOf(settings, 'sourceLabels', source, `Source ${source}`),
            [command(key, 'connect', { destination, source })],
            { note: `to ${name}`.slice(0, 120), lamps: [lit(`${key}.out${destination} == ${source}`, 'chosen')] },
          ),
        ),
      });
    });
};

/** What each kind of device can have on a panel, by itself. */
export const MACHINE_OFFERS: Readonly<Record<string, OfferMaker>> = {
  switcher: keptMacros,
  captions,
  clipPlayer: (document, device, named) => [...clipPlayer(document, device, named), ...clips(document, device, named)],
  replayServer: (document, device, named) => [
    ...replayServer(document, device, named),
    ...marks(document, device, named),
  ],
  slides,
  soundMixer: (document, device, named) => [...soundMixer(document, device, named), ...levels(document, device, named)],
  venueScreen,
  streamEncoder,
  guestGateway: (document, device, named) => [
    ...guests(document, device, named),
    ...guestGateway(document, device, named),
  ],
  router,
};
