/** The stream encoder: the stream that goes out, with what it loses on the way. */
import { z } from 'zod';
import { type Behaviour, earliest, modelOf, nextSecond, secondsSince, unknownCommand } from '../behaviour';
import { puts, turns } from '../effects';
import { defineKind } from '../kind';

const Settings = z.strictObject({
  replyDelayMs: z.number().min(0).max(1000).default(5),
  /** From being asked to sending. */
  connectMs: z.number().min(0).max(30_000).default(800),
  /** From a lost connection to sending again. */
  reconnectMs: z.number().min(0).max(60_000).default(2000),
  rateKbit: z.number().min(100).max(100_000).default(6000),
});
type Settings = z.infer<typeof Settings>;

interface State {
  readonly connectsAt: number | null;
  readonly since: number | null;
  readonly rateKbit: number;
  readonly lostFrames: number;
  readonly reconnects: number;
}

const behaviour: Behaviour<State, Settings> = {
  start: (settings, now, from) => ({
    connectsAt: null,
    since: from.streaming === true ? now - Number(from.elapsed ?? 0) * 1000 : null,
    rateKbit: Number(from.rateKbit ?? settings.rateKbit),
    lostFrames: Number(from.lostFrames ?? 0),
    reconnects: Number(from.reconnects ?? 0),
  }),
  advance: (state, now) =>
    state.connectsAt !== null && now + 1e-6 >= state.connectsAt
      ? { ...state, connectsAt: null, since: state.since ?? state.connectsAt }
      : state,
  act(state, { command, params }, now, settings) {
    switch (command) {
      case 'start':
        return state.since !== null || state.connectsAt !== null
          ? 'It streams already.'
          : { ...state, connectsAt: now + settings.connectMs, lostFrames: 0, reconnects: 0 };
      case 'stop':
        return { ...state, connectsAt: null, since: null };
      case 'rate':
        return { ...state, rateKbit: Number(params.kbit) };
      case 'loseFrames':
        return { ...state, lostFrames: state.lostFrames + 25 };
      case 'loseConnection':
        return state.since === null
          ? 'It does not stream.'
          : {
              ...state,
              connectsAt: now + settings.reconnectMs,
              reconnects: state.reconnects + 1,
              lostFrames: state.lostFrames + 100,
            };
      default:
        return unknownCommand('The encoder', command);
    }
  },
  points: (state, now) => ({
    streaming: state.since !== null && state.connectsAt === null,
    connecting: state.connectsAt !== null,
    elapsed: state.since === null ? 0 : secondsSince(state.since, now),
    rateKbit: state.rateKbit,
    lostFrames: state.lostFrames,
    reconnects: state.reconnects,
  }),
  wakeAt: (state, now) => earliest(state.connectsAt, state.since === null ? null : nextSecond(state.since, now)),
};

export const streamEncoder = defineKind({
  key: 'streamEncoder',
  words: 'Stream encoder',
  protocol: 'HTTP with JSON',
  wire: 'http',
  settings: Settings,
  commands: {
    start: {
      words: 'Start the stream',
      phrase: 'Start {device}',
      params: z.strictObject({}),
      seenOnAir: true,
      repeatable: false,
      unsettles: ['streaming'],
      effect: turns('streaming', true, () => ({ command: 'stop', params: {} })),
    },
    stop: {
      words: 'Stop the stream',
      phrase: 'Stop {device}',
      params: z.strictObject({}),
      seenOnAir: true,
      repeatable: true,
      unsettles: ['streaming'],
      effect: turns('streaming', false),
    },
    rate: {
      words: 'Data rate',
      phrase: '{device} at {kbit} kbit/s',
      params: z.strictObject({
        kbit: z.number().min(100).max(100_000).default(6000).meta({ title: 'Rate', unit: 'kbit/s' }),
      }),
      seenOnAir: false,
      repeatable: true,
      effect: puts('rate', 'rateKbit', 'kbit'),
    },
  },
  simulations: {
    loseFrames: { words: '25 frames are lost' },
    loseConnection: { words: 'The connection is lost for a while' },
  },
  points: {
    streaming: { words: 'Streams', type: 'switch' },
    connecting: { words: 'Connects', type: 'switch' },
    elapsed: { words: 'Streaming for', type: 'number', unit: 's', ticks: { by: 1, while: 'streaming' } },
    rateKbit: { words: 'Data rate', type: 'number', unit: 'kbit/s' },
    lostFrames: { words: 'Frames lost', type: 'number' },
    reconnects: { words: 'Connections made again', type: 'number' },
  },
  model: modelOf(behaviour),
});
