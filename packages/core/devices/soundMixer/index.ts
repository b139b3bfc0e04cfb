/** The sound mixer: faders, mutes, and levels 25 times a second. */
import { z } from 'zod';
import { type Behaviour, earliest, modelOf, unknownCommand } from '../behaviour';
import { puts } from '../effects';
import { defineKind, type PointDefinition } from '../kind';
import { USUAL } from '../drawn';

const MOST_CHANNELS = 64;
/** Voices can be made to speak on so many channels. */
const SIMULATED = 12;
/** 25 levels a second. */
export const LEVEL_MS = 40;
/** Below this a channel counts as silent: dB below full scale. */
const FLOOR_DB = -60;

/** What is declared of a mixer. */
export const SoundSettings = z.strictObject({
  replyDelayMs: z.number().min(0).max(1000).default(3),
  channels: z.number().int().min(1).max(MOST_CHANNELS).default(USUAL.soundMixer.channels),
  names: z.array(z.string().max(60)).max(MOST_CHANNELS).default([]),
  /** Above this a channel counts as open, dB below full scale. */
  openDb: z.number().min(-60).max(0).default(-40),
  /** A stand-in's scripted voices: null for none, so that a rehearsal has no levels to make up. */
  voices: z.number().int().min(0).nullable().default(null),
});
type Settings = z.infer<typeof SoundSettings>;

interface Channel {
  readonly faderDb: number;
  readonly mute: boolean;
  /** A fade under way: from where, to where, since when, until when. */
  readonly fade: { readonly from: number; readonly to: number; readonly since: number; readonly until: number } | null;
}

interface State {
  readonly channels: readonly Channel[];
  readonly began: number;
  /** Who speaks: as scripted, nobody, or one channel alone by its number. */
  readonly speaks: 'script' | 'nobody' | number;
  /** Since when its levels stand still, as those of a mixer that hangs; null: they go on. */
  readonly hangsSince: number | null;
}

/** A number from 0 to 1 that only depends on its arguments (the finalizer of MurmurHash3, public domain). */
function drawn(seed: number, a: number, b: number): number {
  let mixed = (seed ^ Math.imul(a + 1, 0x9e3779b1) ^ Math.imul(b + 1, 0x85ebca6b)) >>> 0;
  mixed = Math.imul(mixed ^ (mixed >>> 16), 0x85ebca6b);
  mixed = Math.imul(mixed ^ (mixed >>> 13), 0xc2b2ae35);
  return ((mixed ^ (mixed >>> 16)) >>> 0) / 4_294_967_296;
}

/** Somebody speaks or listens for this long at a time. */
const TURN_MS = 2500;

/** What comes out of a microphone at a time of a script: some speak, some listen, each changing every few seconds. */
export function voiceDb(seed: number, channel: number, sinceMs: number): number {
  const speaks = drawn(seed, channel, Math.floor(sinceMs / TURN_MS)) < 0.35;
  const wobble = drawn(seed + 1, channel, Math.floor(sinceMs / LEVEL_MS));
  return Math.round((speaks ? -24 + 12 * wobble : FLOOR_DB + 6 * wobble) * 10) / 10;
}

/** What comes out of a microphone when a rehearsal of a bad day has said who speaks. */
const saidDb = (seed: number, channel: number, speaks: boolean, sinceMs: number): number =>
  Math.round(((speaks ? -18 : FLOOR_DB) + 6 * drawn(seed + 1, channel, Math.floor(sinceMs / LEVEL_MS))) * 10) / 10;

const faderAt = ({ faderDb, fade }: Channel, now: number): number =>
  fade === null
    ? faderDb
    : fade.from + (fade.to - fade.from) * Math.min(1, (now - fade.since) / (fade.until - fade.since));

const behaviour: Behaviour<State, Settings> = {
  start: (settings, now, from) => ({
    began: now,
    speaks: 'script',
    hangsSince: null,
    channels: Array.from({ length: settings.channels }, (_, index) => ({
      faderDb: Number(from[`ch${index + 1}Fader`] ?? 0),
      mute: from[`ch${index + 1}Mute`] === true,
      fade: null,
    })),
  }),
  advance(state, now) {
    if (!state.channels.some(({ fade }) => fade !== null && now + 1e-6 >= fade.until)) return state;
    return {
      ...state,
      channels: state.channels.map((channel) =>
        channel.fade !== null && now + 1e-6 >= channel.fade.until
          ? { ...channel, faderDb: channel.fade.to, fade: null }
          : channel,
      ),
    };
  },
  act(state, { command, params }, now) {
    if (command === 'voicesHang') return { ...state, hangsSince: state.hangsSince ?? now };
    if (command === 'voicesScripted') return { ...state, speaks: 'script', hangsSince: null };
    if (command === 'voicesQuiet') return { ...state, speaks: 'nobody', hangsSince: null };
    const voice = /^voice(\d+)$/.exec(command)?.[1];
    if (voice !== undefined)
      return Number(voice) > state.channels.length
        ? `There is no channel ${voice}.`
        : { ...state, speaks: Number(voice), hangsSince: null };
    const index = Number(params.channel) - 1;
    const channel = state.channels[index];
    if (channel === undefined) return `There is no channel ${String(params.channel)}.`;
    const withChannel = (next: Channel): State => ({
      ...state,
      channels: state.channels.map((item, at) => (at === index ? next : item)),
    });
    switch (command) {
      case 'fader': {
        const [to, ms] = [Number(params.db), Number(params.ms)];
        const from = faderAt(channel, now);
        return withChannel(
          ms === 0
            ? { ...channel, faderDb: to, fade: null }
            : { ...channel, faderDb: from, fade: { from, to, since: now, until: now + ms } },
        );
      }
      case 'mute':
        return withChannel({ ...channel, mute: params.on === true });
      default:
        return unknownCommand('The mixer', command);
    }
  },
  points: (state, now, settings) => {
    const points: Record<string, number | boolean | string> = {};
    const measuredAt = (state.hangsSince ?? now) - state.began;
    state.channels.forEach((channel, index) => {
      const key = `ch${index + 1}`;
      const fader = Math.round(faderAt(channel, now) * 10) / 10;
      points[`${key}Name`] = settings.names[index] ?? `Channel ${index + 1}`;
      points[`${key}Fader`] = fader;
      points[`${key}Mute`] = channel.mute;
      const heard =
        settings.voices === null
          ? FLOOR_DB
          : state.speaks === 'script'
            ? voiceDb(settings.voices, index, measuredAt)
            : saidDb(settings.voices, index, state.speaks === index + 1, measuredAt);
      const level =
        settings.voices === null || channel.mute ? FLOOR_DB : Math.max(FLOOR_DB, Math.round((heard + fader) * 10) / 10);
      points[`${key}Level`] = level;
      points[`${key}Open`] = level > settings.openDb;
    });
    return points;
  },
  wakeAt: (state, now, settings) => {
    const fading = state.channels.some(({ fade }) => fade !== null);
    const next = state.began + (Math.floor((now - state.began) / LEVEL_MS + 1e-9) + 1) * LEVEL_MS;
    return settings.voices !== null || fading
      ? earliest(next, ...state.channels.map(({ fade }) => fade?.until ?? null))
      : null;
  },
};

const Channel = z.number().int().min(1).max(MOST_CHANNELS).default(1).meta({ title: 'Channel' });

export const soundMixer = defineKind({
  key: 'soundMixer',
  words: 'Sound mixer',
  protocol: 'OSC with request ids',
  wire: 'osc',
  settings: SoundSettings,
  commands: {
    fader: {
      words: 'Move a fader',
      phrase: 'Channel {channel} to {db} dB over {ms} ms',
      params: z.strictObject({
        channel: Channel,
        db: z.number().min(-60).max(12).default(0).meta({ title: 'Level', unit: 'dB' }),
        ms: z.number().min(0).max(60_000).default(0).meta({ title: 'Over', unit: 'ms' }),
      }),
      seenOnAir: true,
      repeatable: true,
      effect: puts('fader', 'ch{channel}Fader', 'db'),
    },
    mute: {
      words: 'Mute a channel',
      phrase: 'Mute channel {channel}: {on}',
      phraseOff: 'Unmute channel {channel}',
      params: z.strictObject({ channel: Channel, on: z.boolean().default(true).meta({ title: 'On' }) }),
      seenOnAir: true,
      repeatable: true,
      effect: puts('mute', 'ch{channel}Mute', 'on'),
    },
  },
  simulations: {
    ...Object.fromEntries(
      Array.from({ length: SIMULATED }, (_, index) => [
        `voice${index + 1}`,
        { words: `Only channel ${index + 1} speaks` },
      ]),
    ),
    voicesQuiet: { words: 'Nobody speaks' },
    voicesHang: { words: 'The levels stand still' },
    voicesScripted: { words: 'Voices as scripted again' },
  },
  points: {},
  pointsFor: (settings) =>
    Object.fromEntries(
      Array.from({ length: SoundSettings.parse(settings).channels }, (_, index) => index + 1).flatMap(
        (channel): [string, PointDefinition][] => [
          [`ch${channel}Name`, { words: `Name of channel ${channel}`, type: 'text' }],
          [`ch${channel}Fader`, { words: `Fader of channel ${channel}`, type: 'number', unit: 'dB' }],
          [`ch${channel}Mute`, { words: `Channel ${channel} is muted`, type: 'switch' }],
          [
            `ch${channel}Level`,
            {
              words: `Level of channel ${channel}`,
              type: 'number',
              unit: 'dB',
              often: true,
              silentWhile: `ch${channel}Mute`,
            },
          ],
          [`ch${channel}Open`, { words: `Somebody speaks on channel ${channel}`, type: 'switch' }],
        ],
      ),
    ),
  model: modelOf(behaviour),
});
