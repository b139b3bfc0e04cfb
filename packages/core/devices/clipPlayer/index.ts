/** The clip player: channels with layers, each holding one clip that is cued, played, looped and reports its end. */
import { z } from 'zod';
import type { PlainValue } from '../../show/index';
import { type Behaviour, modelOf, namesIn, nextSecond, unknownCommand } from '../behaviour';
import { allOf, puts, restored, turns } from '../effects';
import { type CommandEffect, defineKind, type PointDefinition } from '../kind';

const CHANNELS = [1, 2] as const;
const LAYERS = [1, 2] as const;
/** The points of a layer. They are told every second while it plays: their names are put together once. */
const namesOf = (key: string) => ({
  clip: `${key}Clip`,
  stage: `${key}Stage`,
  playing: `${key}Playing`,
  ended: `${key}Ended`,
  loop: `${key}Loop`,
  transition: `${key}Transition`,
  changing: `${key}Changing`,
  position: `${key}Position`,
  length: `${key}Length`,
  left: `${key}Left`,
});
const SLOTS = CHANNELS.flatMap((channel) =>
  LAYERS.map((layer) => {
    const key = `ch${channel}Layer${layer}`;
    return { channel, layer, key, names: namesOf(key) };
  }),
);

const Settings = z.strictObject({
  replyDelayMs: z.number().min(0).max(1000).default(3),
  /** What is on its disk. */
  clips: z
    .array(z.strictObject({ name: z.string().min(1).max(60), seconds: z.number().min(0.1).max(36_000) }))
    .max(500)
    .default([]),
});
type Settings = z.infer<typeof Settings>;

type Stage = 'empty' | 'cued' | 'playing' | 'paused' | 'ended';
/** How a layer comes when it is played and goes when it is cleared. */
const TRANSITIONS = ['cut', 'mix', 'push'] as const;

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
  readonly transition: string;
  readonly transitionMs: number;
  /** Until when it comes or goes, model time; it is then there whole, or gone. */
  readonly change: { readonly going: boolean; readonly until: number } | null;
}

const EMPTY: Slot = {
  stage: 'empty',
  clip: '',
  lengthMs: 0,
  loop: false,
  standsAt: 0,
  zeroAt: 0,
  transition: 'cut',
  transitionMs: 500,
  change: null,
};
/** What a layer keeps when its clip has gone: how the next one comes. */
const emptied = ({ transition, transitionMs }: Slot): Slot => ({ ...EMPTY, transition, transitionMs });
const changing = ({ transition, transitionMs }: Slot, going: boolean, now: number): Slot['change'] =>
  transition === 'cut' || transitionMs === 0 ? null : { going, until: now + transitionMs };
type State = Readonly<Record<string, Slot>>;

/** A transition as its point tells it, `mix 500`. */
function transitionIn(value: PlainValue): { kind: string; ms: number } {
  const [kind, ms] = String(value).split(' ');
  return { kind: kind || EMPTY.transition, ms: Number(ms ?? EMPTY.transitionMs) };
}

const positionOf = (slot: Slot, now: number): number =>
  slot.stage === 'playing' ? Math.max(0, now - slot.zeroAt) : slot.standsAt;

function advanced(before: Slot, now: number): Slot {
  const over = before.change !== null && now + 1e-6 >= before.change.until;
  if (over && before.change.going) return emptied(before);
  const slot = over ? { ...before, change: null } : before;
  if (slot.stage !== 'playing' || now + 1e-6 < slot.zeroAt + slot.lengthMs) return slot;
  if (!slot.loop) return { ...slot, stage: 'ended', standsAt: slot.lengthMs };
  const rounds = Math.floor((now + 1e-6 - slot.zeroAt) / slot.lengthMs);
  return { ...slot, zeroAt: slot.zeroAt + rounds * slot.lengthMs };
}

const behaviour: Behaviour<State, Settings> = {
  start: (settings, now, from) =>
    Object.fromEntries(
      SLOTS.map(({ key }) => {
        const clip = settings.clips.find((candidate) => candidate.name === from[`${key}Clip`]);
        const { kind: transition, ms: transitionMs } = transitionIn(from[`${key}Transition`] ?? '');
        const how = { transition, transitionMs, change: null };
        if (!clip) return [key, { ...EMPTY, ...how }];
        const standsAt = Number(from[`${key}Position`] ?? 0) * 1000;
        return [
          key,
          {
            stage: String(from[`${key}Stage`] ?? 'cued') as Stage,
            clip: clip.name,
            lengthMs: clip.seconds * 1000,
            loop: from[`${key}Loop`] === true,
            standsAt,
            zeroAt: now - standsAt,
            ...how,
          },
        ];
      }),
    ),

  advance(state, now) {
    const changed = SLOTS.filter(({ key }) => advanced(state[key] ?? EMPTY, now) !== state[key]);
    return changed.length === 0
      ? state
      : { ...state, ...Object.fromEntries(changed.map(({ key }) => [key, advanced(state[key] ?? EMPTY, now)])) };
  },

  act(state, { command, params }, now, settings) {
    const key = `ch${Number(params.channel)}Layer${Number(params.layer)}`;
    const slot = state[key];
    if (slot === undefined) return `There is no layer ${String(params.layer)} on channel ${String(params.channel)}.`;
    const withSlot = (next: Partial<Slot>): State => ({ ...state, [key]: { ...slot, ...next } });
    if (command === 'cue') {
      const clip = settings.clips.find((candidate) => candidate.name === params.clip);
      if (!clip) return `There is no clip "${String(params.clip)}" on the player.`;
      return withSlot({
        stage: 'cued',
        clip: clip.name,
        lengthMs: clip.seconds * 1000,
        loop: params.loop === true,
        standsAt: 0,
        change: null,
      });
    }
    if (command === 'transition') return withSlot({ transition: String(params.kind), transitionMs: Number(params.ms) });
    if (command === 'clear') {
      const change = slot.stage === 'empty' || slot.stage === 'cued' ? null : changing(slot, true, now);
      return change === null ? { ...state, [key]: emptied(slot) } : withSlot({ change });
    }
    if (slot.stage === 'empty')
      return `Channel ${String(params.channel)}, layer ${String(params.layer)} holds no clip.`;
    const at = positionOf(slot, now);
    switch (command) {
      case 'play': {
        const from = slot.stage === 'ended' ? 0 : at;
        const change =
          slot.stage === 'cued' ? changing(slot, false, now) : slot.change?.going === true ? null : slot.change;
        return withSlot({ stage: 'playing', zeroAt: now - from, standsAt: from, change });
      }
      case 'pause':
        return withSlot({ stage: slot.stage === 'playing' ? 'paused' : slot.stage, standsAt: at });
      case 'stop':
        return withSlot({ stage: 'cued', standsAt: 0 });
      case 'goTo': {
        const to = Math.round(Number(params.seconds) * 1000);
        if (to > slot.lengthMs) return `${slot.clip} is only ${slot.lengthMs / 1000} s long.`;
        return withSlot({ stage: slot.stage === 'ended' ? 'paused' : slot.stage, standsAt: to, zeroAt: now - to });
      }
      case 'loop':
        return withSlot({ loop: params.on === true });
      default:
        return unknownCommand('The clip player', command);
    }
  },

  points(state, now, settings) {
    const points: Record<string, PlainValue> = { clips: namesIn(settings.clips) };
    for (const { key, names } of SLOTS) {
      const slot = state[key] ?? EMPTY;
      const position = positionOf(slot, now);
      points[names.clip] = slot.clip;
      points[names.stage] = slot.stage;
      points[names.playing] = slot.stage === 'playing';
      points[names.ended] = slot.stage === 'ended';
      points[names.loop] = slot.loop;
      points[names.transition] = `${slot.transition} ${slot.transitionMs}`;
      points[names.changing] = slot.change !== null;
      points[names.position] = Math.floor(position / 1000 + 1e-9);
      points[names.length] = slot.lengthMs / 1000;
      points[names.left] = Math.max(0, Math.ceil((slot.lengthMs - position) / 1000 - 1e-9));
    }
    return points;
  },

  wakeAt(state, now) {
    let next: number | null = null;
    const at = (time: number): void => {
      if (time > now + 1e-6 && (next === null || time < next)) next = time;
    };
    for (const { key } of SLOTS) {
      const slot = state[key] ?? EMPTY;
      if (slot.change !== null && (next === null || slot.change.until < next)) next = slot.change.until;
      if (slot.stage !== 'playing') continue;
      const end = slot.zeroAt + slot.lengthMs;
      // Position counts up on whole seconds from the beginning, what is left counts down on whole seconds to the end.
      const left = Math.ceil((end - now) / 1000 - 1e-9);
      at(nextSecond(slot.zeroAt, now));
      at(end - Math.max(0, left - 1) * 1000);
      at(end);
    }
    return next;
  },
};

const place = {
  channel: z.number().int().min(1).max(CHANNELS.length).default(1).meta({ title: 'Channel' }),
  layer: z.number().int().min(1).max(LAYERS.length).default(1).meta({ title: 'Layer' }),
};
const placed = (words: string, phrase: string) => ({
  words,
  phrase,
  params: z.strictObject(place),
  seenOnAir: true,
  repeatable: true,
});

const slotPoints = Object.fromEntries(
  SLOTS.flatMap(({ channel, layer, key }): [string, PointDefinition][] => {
    const where = `channel ${channel}, layer ${layer}`;
    return [
      [`${key}Clip`, { words: `Clip on ${where}`, type: 'text' }],
      [`${key}Stage`, { words: `What ${where} does: empty, cued, playing, paused, ended`, type: 'text' }],
      [`${key}Playing`, { words: `Plays on ${where}`, type: 'switch' }],
      [`${key}Ended`, { words: `Clip on ${where} has ended`, type: 'switch' }],
      [`${key}Loop`, { words: `Loops on ${where}`, type: 'switch' }],
      [
        `${key}Transition`,
        {
          words: `How ${where} comes and goes (${TRANSITIONS.join(', ')}), and over how many milliseconds`,
          type: 'text',
          restore: (value) => ({ command: 'transition', params: { channel, layer, ...transitionIn(value) } }),
        },
      ],
      [`${key}Changing`, { words: `The picture on ${where} comes or goes`, type: 'switch' }],
      [
        `${key}Position`,
        { words: `Position on ${where}`, type: 'number', unit: 's', ticks: { by: 1, while: `${key}Playing` } },
      ],
      [`${key}Length`, { words: `Length of the clip on ${where}`, type: 'number', unit: 's' }],
      [
        `${key}Left`,
        { words: `Time left on ${where}`, type: 'number', unit: 's', ticks: { by: -1, while: `${key}Playing` } },
      ],
    ];
  }),
);

const PLAYING = 'ch{channel}Layer{layer}Playing';

/** A clip that was cued and stood still comes back; one that played would come back at its beginning, which is another thing. */
const CUE: CommandEffect = {
  makes: ({ clip = '', channel = 1, layer = 1 }) => ({ [`ch${String(channel)}Layer${String(layer)}Clip`]: clip }),
  undo: ({ channel = 1, layer = 1 }, read) => {
    const slot = `ch${String(channel)}Layer${String(layer)}`;
    const known = allOf([`${slot}Clip`, `${slot}Playing`, `${slot}Loop`], read);
    if (known === null) return null;
    const [clip = '', playing = false, loop = false] = known;
    if (clip === '') return [{ command: 'clear', params: { channel, layer } }];
    return playing === true ? null : [{ command: 'cue', params: { clip, channel, layer, loop } }];
  },
};

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
      params: z.strictObject({
        clip: z.string().min(1).max(60).meta({ title: 'Clip', listedIn: 'clips' }),
        ...place,
        loop: z.boolean().default(false).meta({ title: 'Loop' }),
      }),
      seenOnAir: true,
      repeatable: true,
      effect: CUE,
    },
    play: {
      ...placed('Play', 'Play channel {channel}'),
      effect: turns(PLAYING, true, ({ channel = 1, layer = 1 }) => ({ command: 'pause', params: { channel, layer } })),
    },
    pause: {
      ...placed('Pause', 'Pause channel {channel}'),
      effect: turns(PLAYING, false, ({ channel = 1, layer = 1 }) => ({ command: 'play', params: { channel, layer } })),
    },
    stop: placed('Stop and go back to the beginning', 'Stop channel {channel}'),
    goTo: {
      words: 'Go to a place in the clip',
      phrase: 'Channel {channel} to {seconds} s',
      params: z.strictObject({
        seconds: z.number().min(0).max(36_000).default(0).meta({ title: 'From the beginning', unit: 's' }),
        ...place,
      }),
      seenOnAir: true,
      repeatable: true,
      effect: puts('goTo', 'ch{channel}Layer{layer}Position', 'seconds'),
    },
    transition: {
      words: 'Set how a layer comes and goes',
      phrase: 'Channel {channel}, layer {layer} comes and goes by {kind} over {ms} ms',
      params: z.strictObject({
        kind: z.enum(TRANSITIONS).default('mix').meta({ title: 'Kind' }),
        ms: z.number().int().min(0).max(10_000).default(500).meta({ title: 'Length', unit: 'ms' }),
        ...place,
      }),
      seenOnAir: false,
      repeatable: true,
      effect: restored('ch{channel}Layer{layer}Transition', () => slotPoints),
    },
    loop: {
      words: 'Loop on or off',
      phrase: 'Loop channel {channel}: {on}',
      phraseOff: 'Do not loop channel {channel}',
      params: z.strictObject({ ...place, on: z.boolean().default(true).meta({ title: 'On' }) }),
      seenOnAir: false,
      repeatable: true,
      effect: puts('loop', 'ch{channel}Layer{layer}Loop', 'on'),
    },
    clear: placed('Clear a layer', 'Clear channel {channel}, layer {layer}'),
  },
  points: { clips: { words: 'Clips on the player, one a line', type: 'text', lines: true }, ...slotPoints },
  lists: { clips: { words: 'Clip on the player', point: 'clips', type: 'text', most: 24 } },
  model: modelOf(behaviour),
});
