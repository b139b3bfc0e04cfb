/** The clip player: channels with layers, each holding one clip that is cued, played, looped and reports its end. */
import { z } from 'zod';
import { type Behaviour, earliest, modelOf, nextSecond, unknownCommand } from '../behaviour';
import { defineKind, type PointDefinition } from '../kind';

const CHANNELS = [1, 2] as const;
const LAYERS = [1, 2] as const;
const SLOTS = CHANNELS.flatMap((channel) => LAYERS.map((layer) => ({ channel, layer, key: `ch${channel}Layer${layer}` })));

const Settings = z.strictObject({
  replyDelayMs: z.number().min(0).max(1000).default(3),
  /** What is on its disk. */
  clips: z.array(z.strictObject({ name: z.string().min(1).max(60), seconds: z.number().min(0.1).max(36_000) })).max(500).default([]),
});
type Settings = z.infer<typeof Settings>;

type Stage = 'empty' | 'cued' | 'playing' | 'paused' | 'ended';

/** One layer of one channel. */
interface Slot {
  readonly stage: Stage;
  readonly clip: string;
  readonly lengthMs: number;
  readonly loop: boolean;
  /** Position while it stands, milliseconds from the clip's beginning. */
  readonly standsAt: number;
  /** Model time at which position 0 was, while it plays. */
  readonly zeroAt: number;
}

const EMPTY: Slot = { stage: 'empty', clip: '', lengthMs: 0, loop: false, standsAt: 0, zeroAt: 0 };
type State = Readonly<Record<string, Slot>>;

const positionOf = (slot: Slot, now: number): number => (slot.stage === 'playing' ? Math.max(0, now - slot.zeroAt) : slot.standsAt);

function advanced(slot: Slot, now: number): Slot {
  if (slot.stage !== 'playing' || now + 1e-6 < slot.zeroAt + slot.lengthMs) return slot;
  if (!slot.loop) return { ...slot, stage: 'ended', standsAt: slot.lengthMs };
  const rounds = Math.floor((now + 1e-6 - slot.zeroAt) / slot.lengthMs);
  return { ...slot, zeroAt: slot.zeroAt + rounds * slot.lengthMs };
}

const behaviour: Behaviour<State, Settings> = {
  start: (settings, now, from) =>
    Object.fromEntries(
      SLOTS.map(({ key }) => {
        const clip = settings.clips.find((one) => one.name === from[`${key}Clip`]);
        if (!clip) return [key, EMPTY];
        const standsAt = Number(from[`${key}Position`] ?? 0) * 1000;
        return [key, { stage: String(from[`${key}Stage`] ?? 'cued') as Stage, clip: clip.name, lengthMs: clip.seconds * 1000, loop: from[`${key}Loop`] === true, standsAt, zeroAt: now - standsAt }];
      }),
    ),

  advance(state, now) {
    const changed = SLOTS.filter(({ key }) => advanced(state[key] ?? EMPTY, now) !== state[key]);
    return changed.length === 0 ? state : { ...state, ...Object.fromEntries(changed.map(({ key }) => [key, advanced(state[key] ?? EMPTY, now)])) };
  },

  act(state, { command, params }, now, settings) {
    const key = `ch${Number(params.channel)}Layer${Number(params.layer)}`;
    const slot = state[key];
    if (slot === undefined) return `There is no layer ${String(params.layer)} on channel ${String(params.channel)}.`;
    const put = (next: Partial<Slot>): State => ({ ...state, [key]: { ...slot, ...next } });
    if (command === 'cue') {
      const clip = settings.clips.find((one) => one.name === params.clip);
      if (!clip) return `There is no clip "${String(params.clip)}" on the player.`;
      return put({ stage: 'cued', clip: clip.name, lengthMs: clip.seconds * 1000, loop: params.loop === true, standsAt: 0 });
    }
    if (command === 'clear') return put(EMPTY);
    if (slot.stage === 'empty') return `Channel ${String(params.channel)}, layer ${String(params.layer)} holds no clip.`;
    const at = positionOf(slot, now);
    switch (command) {
      case 'play': {
        const from = slot.stage === 'ended' ? 0 : at;
        return put({ stage: 'playing', zeroAt: now - from, standsAt: from });
      }
      case 'pause':
        return put({ stage: slot.stage === 'playing' ? 'paused' : slot.stage, standsAt: at });
      case 'stop':
        return put({ stage: 'cued', standsAt: 0 });
      case 'loop':
        return put({ loop: params.on === true });
      default:
        return unknownCommand('The clip player', command);
    }
  },

  points: (state, now, settings) => ({
    clips: settings.clips.map((clip) => clip.name).join('\n'),
    ...Object.fromEntries(
      SLOTS.flatMap(({ key }) => {
        const slot = state[key] ?? EMPTY;
        const seconds = Math.floor(positionOf(slot, now) / 1000 + 1e-9);
        return [
          [`${key}Clip`, slot.clip],
          [`${key}Stage`, slot.stage],
          [`${key}Playing`, slot.stage === 'playing'],
          [`${key}Ended`, slot.stage === 'ended'],
          [`${key}Loop`, slot.loop],
          [`${key}Position`, seconds],
          [`${key}Length`, slot.lengthMs / 1000],
          [`${key}Left`, Math.max(0, Math.ceil((slot.lengthMs - positionOf(slot, now)) / 1000 - 1e-9))],
        ];
      }),
    ),
  }),

  wakeAt: (state, now) =>
    earliest(
      ...SLOTS.flatMap(({ key }) => {
        const slot = state[key] ?? EMPTY;
        if (slot.stage !== 'playing') return [];
        const end = slot.zeroAt + slot.lengthMs;
        // Position counts up on whole seconds from the beginning, what is left counts down on whole seconds to the end.
        const left = Math.ceil((end - now) / 1000 - 1e-9);
        return [nextSecond(slot.zeroAt, now), end - Math.max(0, left - 1) * 1000, end].filter((time) => time > now + 1e-6);
      }),
    ),
};

const place = {
  channel: z.number().int().min(1).max(CHANNELS.length).default(1).meta({ title: 'Channel' }),
  layer: z.number().int().min(1).max(LAYERS.length).default(1).meta({ title: 'Layer' }),
};
const placed = (words: string, phrase: string) => ({ words, phrase, params: z.strictObject(place), seenOnAir: true, repeatable: true });

const slotPoints = Object.fromEntries(
  SLOTS.flatMap(({ channel, layer, key }): [string, PointDefinition][] => {
    const where = `channel ${channel}, layer ${layer}`;
    return [
      [`${key}Clip`, { words: `Clip on ${where}`, type: 'text' }],
      [`${key}Stage`, { words: `What ${where} does: empty, cued, playing, paused, ended`, type: 'text' }],
      [`${key}Playing`, { words: `Plays on ${where}`, type: 'switch' }],
      [`${key}Ended`, { words: `Ended on ${where}`, type: 'switch' }],
      [`${key}Loop`, { words: `Loops on ${where}`, type: 'switch' }],
      [`${key}Position`, { words: `Position on ${where}`, type: 'number', unit: 's' }],
      [`${key}Length`, { words: `Length of the clip on ${where}`, type: 'number', unit: 's' }],
      [`${key}Left`, { words: `Time left on ${where}`, type: 'number', unit: 's' }],
    ];
  }),
);

export const clipPlayer = defineKind({
  key: 'clipPlayer',
  words: 'Clip player',
  protocol: 'OSC with request ids',
  wire: 'osc',
  settings: Settings,
  commands: {
    cue: {
      words: 'Cue a clip',
      phrase: 'Cue {clip}',
      params: z.strictObject({ clip: z.string().min(1).max(60).meta({ title: 'Clip', listedIn: 'clips' }), ...place, loop: z.boolean().default(false).meta({ title: 'Loop' }) }),
      seenOnAir: true,
      repeatable: true,
    },
    play: placed('Play', 'Play channel {channel}'),
    pause: placed('Pause', 'Pause channel {channel}'),
    stop: placed('Stop and go back to the beginning', 'Stop channel {channel}'),
    loop: { words: 'Loop on or off', phrase: 'Loop channel {channel}: {on}', params: z.strictObject({ ...place, on: z.boolean().default(true).meta({ title: 'On' }) }), seenOnAir: false, repeatable: true },
    clear: placed('Clear a layer', 'Clear channel {channel}, layer {layer}'),
  },
  points: { clips: { words: 'Clips on the player, one a line', type: 'text' }, ...slotPoints },
  model: modelOf(behaviour),
});
