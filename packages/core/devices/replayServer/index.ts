/** The replay server: a rolling buffer of several angles, marks in it, and channels that roll from a mark at an angle and a speed. */
import { z } from 'zod';
import { type Behaviour, earliest, modelOf, nextSecond, secondsSince, unknownCommand } from '../behaviour';
import { puts, turns } from '../effects';
import { defineKind, type PointDefinition, type Points } from '../kind';
import { DAY_S, TIMECODE_POINTS, TimecodeFrom } from '../timecode';

const CHANNELS = [1, 2] as const;
const MARKS_KEPT = 200;

const Settings = z.strictObject({
  replyDelayMs: z.number().min(0).max(1000).default(3),
  /** How much the buffer holds, seconds. */
  bufferSeconds: z.number().min(5).max(36_000).default(90),
  angles: z.number().int().min(1).max(16).default(4),
  /** Its timecode as it is switched on, seconds of real time since 00:00:00:00. */
  timecodeFrom: TimecodeFrom,
});
type Settings = z.infer<typeof Settings>;

type Stage = 'empty' | 'cued' | 'playing' | 'paused' | 'ended';

interface Channel {
  readonly stage: Stage;
  readonly mark: number;
  readonly angle: number;
  /** Per cent of real speed. */
  readonly speed: number;
  /** Model time of the picture that is shown at `since`. */
  readonly place: number;
  readonly since: number;
}

interface State {
  /** Recording began at this model time. */
  readonly began: number;
  /** Its timecode at that moment, seconds. */
  readonly timecode: number;
  readonly lastMark: number;
  /** Model time of each mark, the latest first, as `[number, time]`. */
  readonly marks: readonly (readonly [number, number])[];
  readonly channels: Readonly<Record<number, Channel>>;
}

const EMPTY: Channel = { stage: 'empty', mark: 0, angle: 1, speed: 100, place: 0, since: 0 };

const bufferStart = (state: State, now: number, settings: Settings): number =>
  Math.max(state.began, now - settings.bufferSeconds * 1000);
/** Times as the server tells them: seconds since it began to record, to the hundredth. */
const secondsOf = (state: State, time: number): number => Math.round((time - state.began) / 10) / 100;
const placeOf = (channel: Channel, now: number): number =>
  channel.stage === 'playing' ? channel.place + ((now - channel.since) * channel.speed) / 100 : channel.place;

/** When a rolling channel has caught up with what is being recorded, or the buffer's start has caught up with it; null for never. */
function endOf(channel: Channel, now: number, settings: Settings, state: State): number | null {
  if (channel.stage !== 'playing') return null;
  const share = channel.speed / 100;
  const behind = now - placeOf(channel, now);
  if (share > 1) return now + behind / (share - 1);
  const room = placeOf(channel, now) - bufferStart(state, now, settings);
  return share < 1 && now - state.began >= settings.bufferSeconds * 1000 ? now + room / (1 - share) : null;
}

/** Marks as their point tells them, the latest first. */
const marksIn = (text: string, began: number): State['marks'] =>
  text
    .split('\n')
    .filter(Boolean)
    .map((line) => {
      const [number = 0, seconds = 0] = line.split(' ').map(Number);
      return [number, began + seconds * 1000] as const;
    });

const spans = new WeakMap<State['marks'], { readonly text: string; readonly until: number }>();

/** The marks that are still in the buffer, as their point tells them. They are told every second, and put together when one comes or falls out. */
function marksTold(state: State, now: number, settings: Settings): string {
  const known = spans.get(state.marks);
  if (known !== undefined && now < known.until) return known.text;
  const first = bufferStart(state, now, settings);
  const there = state.marks.filter(([, time]) => time >= first);
  const text = there.map(([number, time]) => `${number} ${secondsOf(state, time)}`).join('\n');
  const oldest = there.reduce((least, [, time]) => Math.min(least, time), Infinity);
  spans.set(state.marks, { text, until: oldest + settings.bufferSeconds * 1000 });
  return text;
}

const behaviour: Behaviour<State, Settings> = {
  start(settings, now, from) {
    const began = now - Number(from.bufferEnd ?? 0) * 1000;
    const [lastMark, markedAt] = [Number(from.lastMark ?? 0), began + Number(from.lastMarkAt ?? 0) * 1000];
    const channelOf = (number: number): Channel => {
      const point = (name: string): Points[string] | undefined => from[`ch${number}${name}`];
      const stage = (point('Stage') ?? 'empty') as Stage;
      return stage === 'empty'
        ? EMPTY
        : {
            stage,
            mark: Number(point('Mark')),
            angle: Number(point('Angle')),
            speed: Number(point('Speed')),
            place: began + Number(point('At')) * 1000,
            since: now,
          };
    };
    return {
      began,
      timecode: from.timecode === undefined ? settings.timecodeFrom : Number(from.timecode) - secondsSince(began, now),
      lastMark,
      marks: typeof from.marks === 'string' ? marksIn(from.marks, began) : lastMark === 0 ? [] : [[lastMark, markedAt]],
      channels: Object.fromEntries(CHANNELS.map((number) => [number, channelOf(number)])),
    };
  },

  advance(state, now, settings) {
    let { channels } = state;
    for (const number of CHANNELS) {
      const channel = channels[number] ?? EMPTY;
      if (channel.stage !== 'playing') continue;
      const place = placeOf(channel, now);
      if (place > now + 1e-6 || place + 1e-6 < bufferStart(state, now, settings))
        channels = { ...channels, [number]: { ...channel, stage: 'ended', place: Math.min(place, now), since: now } };
    }
    return channels === state.channels ? state : { ...state, channels };
  },

  act(state, { command, params }, now, settings) {
    if (command === 'mark' || command === 'markAt') {
      const time = command === 'mark' ? now - Number(params.ago) * 1000 : state.began + Number(params.time) * 1000;
      if (time > now + 1e-6) return `${String(params.time)} s has not been recorded yet.`;
      if (time < bufferStart(state, now, settings))
        return command === 'mark'
          ? `${String(params.ago)} s ago is no longer in the buffer.`
          : `${String(params.time)} s has fallen out of the buffer.`;
      const number = state.lastMark + 1;
      return { ...state, lastMark: number, marks: [[number, time] as const, ...state.marks].slice(0, MARKS_KEPT) };
    }
    const number = Number(params.channel);
    const channel = state.channels[number];
    if (channel === undefined) return `There is no replay channel ${String(params.channel)}.`;
    const withChannel = (next: Partial<Channel>): State => ({
      ...state,
      channels: { ...state.channels, [number]: { ...channel, ...next, since: now } },
    });
    if (command === 'cue') {
      const wanted = Number(params.mark) === 0 ? state.lastMark : Number(params.mark);
      const mark = state.marks.find(([item]) => item === wanted);
      if (!mark) return wanted === 0 ? 'Nothing has been marked yet.' : `There is no mark ${wanted}.`;
      if (mark[1] < bufferStart(state, now, settings)) return `Mark ${wanted} has fallen out of the buffer.`;
      if (Number(params.angle) > settings.angles) return `There is no angle ${String(params.angle)}.`;
      return withChannel({
        stage: 'cued',
        mark: wanted,
        angle: Number(params.angle),
        speed: Number(params.speed),
        place: mark[1],
      });
    }
    if (channel.stage === 'empty') return `Nothing is cued on replay channel ${number}.`;
    switch (command) {
      case 'play':
        if (channel.place < bufferStart(state, now, settings))
          return `Mark ${channel.mark} has fallen out of the buffer.`;
        return channel.stage === 'playing'
          ? state
          : withChannel({ stage: 'playing', place: channel.stage === 'ended' ? channel.place : placeOf(channel, now) });
      case 'pause':
        return withChannel({
          stage: channel.stage === 'playing' ? 'paused' : channel.stage,
          place: placeOf(channel, now),
        });
      case 'stop':
        return withChannel(EMPTY);
      case 'speed':
        return withChannel({ place: placeOf(channel, now), speed: Number(params.speed) });
      default:
        return unknownCommand('The replay server', command);
    }
  },

  points: (state, now, settings) => {
    const latest = state.marks[0];
    return {
      bufferStart: secondsOf(state, bufferStart(state, now, settings)),
      bufferEnd: secondsOf(state, now),
      timecode: (((state.timecode + secondsSince(state.began, now)) % DAY_S) + DAY_S) % DAY_S,
      timecodeRuns: true,
      buffered: Math.min(settings.bufferSeconds, secondsSince(state.began, now)),
      angles: settings.angles,
      lastMark: state.lastMark,
      // A mark counts down to the moment it falls out of the buffer.
      lastMarkAt: latest === undefined ? 0 : secondsOf(state, latest[1]),
      lastMarkLeft:
        latest === undefined ? 0 : Math.max(0, Math.ceil(settings.bufferSeconds - (now - latest[1]) / 1000 - 1e-9)),
      marks: marksTold(state, now, settings),
      ...Object.fromEntries(
        CHANNELS.flatMap((number) => {
          const channel = state.channels[number] ?? EMPTY;
          return [
            [`ch${number}Stage`, channel.stage],
            [`ch${number}Rolling`, channel.stage === 'playing'],
            [`ch${number}Mark`, channel.mark],
            [`ch${number}Angle`, channel.angle],
            [`ch${number}Speed`, channel.speed],
            [`ch${number}At`, channel.stage === 'empty' ? 0 : secondsOf(state, placeOf(channel, now))],
            [`ch${number}Behind`, channel.stage === 'empty' ? 0 : Math.round((now - placeOf(channel, now)) / 1000)],
          ];
        }),
      ),
    };
  },

  wakeAt: (state, now, settings) => {
    const rolling = CHANNELS.map((number) => endOf(state.channels[number] ?? EMPTY, now, settings, state));
    // It records without an end: start and end of the buffer go on with every second.
    return earliest(
      nextSecond(state.began, now),
      ...rolling.map((time) => (time === null || time <= now + 1e-6 ? null : time + 1)),
    );
  },
};

const Channel = z.number().int().min(1).max(CHANNELS.length).default(1).meta({ title: 'Replay channel' });
const Speed = z.number().min(1).max(400).default(50).meta({ title: 'Speed', unit: '%' });
const onChannel = (words: string, phrase: string) => ({
  words,
  phrase,
  params: z.strictObject({ channel: Channel }),
  seenOnAir: true,
  repeatable: true,
});

const channelPoints = Object.fromEntries(
  CHANNELS.flatMap((number): [string, PointDefinition][] => [
    [
      `ch${number}Stage`,
      { words: `What replay channel ${number} does: empty, cued, playing, paused, ended`, type: 'text' },
    ],
    [`ch${number}Rolling`, { words: `Replay channel ${number} rolls`, type: 'switch' }],
    [`ch${number}Mark`, { words: `Mark on replay channel ${number}`, type: 'number' }],
    [`ch${number}Angle`, { words: `Angle on replay channel ${number}`, type: 'number' }],
    [`ch${number}Speed`, { words: `Speed of replay channel ${number}`, type: 'number', unit: '%' }],
    [
      `ch${number}At`,
      { words: `Where replay channel ${number} is, on the server's own clock`, type: 'number', unit: 's', often: true },
    ],
    [`ch${number}Behind`, { words: `How far replay channel ${number} is behind`, type: 'number', unit: 's' }],
  ]),
);

export const replayServer = defineKind({
  key: 'replayServer',
  words: 'Replay server',
  protocol: 'OSC with request ids',
  wire: 'osc',
  settings: Settings,
  commands: {
    mark: {
      words: 'Mark a moment',
      phrase: 'Mark {ago} s ago',
      params: z.strictObject({
        ago: z.number().min(0).max(36_000).default(5).meta({ title: 'How long ago', unit: 's' }),
      }),
      seenOnAir: false,
      // Twice would make two marks.
      repeatable: false,
    },
    markAt: {
      words: "Mark a moment on the server's own clock",
      phrase: "Mark {time} s on the server's clock",
      params: z.strictObject({
        time: z
          .number()
          .min(0)
          .max(10_000_000)
          .default(0)
          .meta({ title: 'On the clock of bufferStart and bufferEnd', unit: 's' }),
      }),
      seenOnAir: false,
      repeatable: false,
    },
    cue: {
      words: 'Cue a mark',
      phrase: 'Cue {mark}, angle {angle}, on channel {channel}',
      spoken: { mark: (number) => (number === 0 ? 'the latest mark' : `mark ${number}`) },
      params: z.strictObject({
        mark: z.number().int().min(0).max(1_000_000).default(0).meta({ title: 'Mark, 0 for the latest' }),
        channel: Channel,
        angle: z.number().int().min(1).max(16).default(1).meta({ title: 'Angle' }),
        speed: Speed,
      }),
      seenOnAir: true,
      repeatable: true,
    },
    play: {
      ...onChannel('Roll', 'Roll channel {channel}'),
      effect: turns('ch{channel}Rolling', true, ({ channel = 1 }) => ({ command: 'pause', params: { channel } })),
    },
    pause: {
      ...onChannel('Pause', 'Pause channel {channel}'),
      effect: turns('ch{channel}Rolling', false, ({ channel = 1 }) => ({ command: 'play', params: { channel } })),
    },
    stop: onChannel('Stop and clear', 'Stop channel {channel}'),
    speed: {
      words: 'Change the speed',
      phrase: 'Channel {channel} at {speed} %',
      params: z.strictObject({ channel: Channel, speed: Speed }),
      seenOnAir: true,
      repeatable: true,
      effect: puts('speed', 'ch{channel}Speed', 'speed'),
    },
  },
  points: {
    bufferStart: {
      words: "Where the buffer starts, on the server's own clock",
      type: 'number',
      unit: 's',
      often: true,
    },
    bufferEnd: {
      words: "Where the buffer ends, on the server's own clock: now",
      type: 'number',
      unit: 's',
      often: true,
    },
    ...TIMECODE_POINTS,
    buffered: { words: 'Seconds in the buffer', type: 'number', unit: 's' },
    angles: { words: 'Angles', type: 'number' },
    lastMark: {
      words: 'Number of the latest mark',
      type: 'number',
      moments: [{ words: 'a mark is made', changes: true }],
    },
    lastMarkAt: { words: "Where the latest mark is, on the server's own clock", type: 'number', unit: 's' },
    lastMarkLeft: {
      words: 'Seconds until the latest mark falls out of the buffer',
      type: 'number',
      unit: 's',
      // Without a mark nothing is about to fall out.
      moments: [{ words: 'the latest mark falls out of the buffer in 60 s', so: '{} > 0 && {} < 60' }],
    },
    marks: { words: "Marks in the buffer, one a line: number, and seconds on the server's own clock", type: 'text' },
    ...channelPoints,
  },
  lists: {
    marks: {
      words: 'Mark in the buffer',
      point: 'marks',
      type: 'number',
      most: 16,
      id: (line) => Number(line.split(' ')[0]),
    },
  },
  model: modelOf(behaviour),
});
