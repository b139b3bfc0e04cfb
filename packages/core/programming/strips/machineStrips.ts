import { pointsOf } from '../../devices/index';
import { numberOf, USUAL } from '../../devices/drawn';
import { labelOf } from '../../engine/selections';
import { routes } from './chosenStrips';
import { clips, guests, keptMacros, marks, nameOffers } from './listStrips';
import { command, count, lit, type OfferMaker, oneStrip, plan, titled } from './plan';

/** So many destinations become strips of their own. */
const MOST_DESTINATIONS = 8;

const captions: OfferMaker = (document, device, named) => {
  const { key } = device;
  const out = (legend: string, name: string, up: string) =>
    plan(legend, [command(key, name, { ms: 300 })], { lamps: [lit(`${key}.${up}`, 'up')] });
  return [
    {
      ...oneStrip(device, 'out', 'Captions out', {
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
  oneStrip(device, 'play', 'Play, pause and clear', {
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

const replayServer: OfferMaker = (_document, { key, ...device }, named) => [
  oneStrip({ key, ...device }, 'replay', 'Mark, cue, roll and stop', {
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
  oneStrip(device, 'slides', 'Next, back and first slide', {
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
  oneStrip(device, 'mutes', 'Mutes of the channels', {
    name: titled('Mutes', device, named),
    family: 'moss',
    buttons: count(device.settings, 'channels', USUAL.soundMixer.channels).map((channel) => {
      const at = `${device.key}.ch${channel}`;
      return plan(
        labelOf(device.settings, 'names', channel, `Channel ${channel}`),
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
  oneStrip(device, 'levels', 'Levels of the channels', {
    name: titled('Levels', device, named),
    family: 'moss',
    buttons: count(device.settings, 'channels', USUAL.soundMixer.channels).map((channel) => {
      const at = `${device.key}.ch${channel}`;
      return plan(
        labelOf(device.settings, 'names', channel, `Channel ${channel}`),
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
  oneStrip({ key, ...device }, 'screen', 'Screen on and off, brightness', {
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
  oneStrip({ key, ...device }, 'stream', 'Stream on and off', {
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
  oneStrip({ key, ...device }, 'mutes', 'Mutes of the lines', {
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

const router: OfferMaker = (document, { key, settings, ...device }, named) => {
  const whole = { key, settings, ...device };
  // One by profile says how many it has by the states that it tells.
  const outputs = Object.keys(pointsOf(whole, document)).filter((point) => /^out\d+$/.test(point)).length;
  const inputs = numberOf(settings, 'sources', 32);
  const sources = Array.from({ length: inputs }, (_, at) => ({
    number: at + 1,
    name: labelOf(settings, 'sourceLabels', at + 1, `Source ${at + 1}`),
  }));
  const each = count(settings, 'destinations', outputs === 0 ? 32 : outputs)
    .slice(0, MOST_DESTINATIONS)
    .map((destination) => {
      const name = labelOf(settings, 'destinationLabels', destination, `Destination ${destination}`);
      return oneStrip(whole, `destination${destination}`, `${name} from every source`, {
        name: titled(name, whole, named),
        family: 'ochre',
        buttons: count(settings, 'sources', 32).map((source) =>
          plan(
            labelOf(settings, 'sourceLabels', source, `Source ${source}`),
            [command(key, 'connect', { destination, source })],
            { note: `to ${name}`.slice(0, 120), lamps: [lit(`${key}.out${destination} == ${source}`, 'chosen')] },
          ),
        ),
      });
    });
  return [...routes(document, whole, named, sources), ...each];
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
