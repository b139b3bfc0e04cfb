/** A screen in the venue: output, brightness, contrast, and set-ups stored in it. */
import { z } from 'zod';
import { type Behaviour, modelOf, unknownCommand } from '../behaviour';
import { allOf, puts } from '../effects';
import { type CommandEffect, defineKind } from '../kind';

const SET_UPS = 8;
const Settings = z.strictObject({ replyDelayMs: z.number().min(0).max(1000).default(5) });
type Settings = z.infer<typeof Settings>;

interface Look {
  readonly brightness: number;
  readonly contrast: number;
}
interface State extends Look {
  readonly output: boolean;
  readonly setUps: Readonly<Record<number, Look>>;
  readonly setUp: number;
}

const behaviour: Behaviour<State, Settings> = {
  start: (_settings, _now, from) => ({
    output: from.output !== false,
    brightness: Number(from.brightness ?? 80),
    contrast: Number(from.contrast ?? 50),
    setUps: { 1: { brightness: 80, contrast: 50 } },
    setUp: Number(from.setUp ?? 1),
  }),
  advance: (state) => state,
  act(state, { command, params }) {
    switch (command) {
      case 'output':
        return { ...state, output: params.on === true };
      case 'brightness':
        return { ...state, brightness: Number(params.level), setUp: 0 };
      case 'contrast':
        return { ...state, contrast: Number(params.level), setUp: 0 };
      case 'storeSetUp': {
        const number = Number(params.number);
        return {
          ...state,
          setUps: { ...state.setUps, [number]: { brightness: state.brightness, contrast: state.contrast } },
          setUp: number,
        };
      }
      case 'recallSetUp': {
        const number = Number(params.number);
        const look = state.setUps[number];
        return look === undefined ? `Nothing is stored as set-up ${number}.` : { ...state, ...look, setUp: number };
      }
      default:
        return unknownCommand('The screen', command);
    }
  },
  points: (state) => ({
    output: state.output,
    brightness: state.brightness,
    contrast: state.contrast,
    setUp: state.setUp,
  }),
  wakeAt: () => null,
};

const Level = z.number().min(0).max(100).default(80).meta({ title: 'Level', unit: '%' });
const SetUp = z.strictObject({ number: z.number().int().min(1).max(SET_UPS).default(1).meta({ title: 'Set-up' }) });

/** What a set-up holds is brought back piece by piece: the look before it may be none that is stored. */
const RECALL: CommandEffect = {
  makes: ({ number = 0 }) => ({ setUp: number }),
  undo: (_params, read) => {
    const look = allOf(['brightness', 'contrast'], read);
    return (
      look && [
        { command: 'brightness', params: { level: look[0] ?? 0 } },
        { command: 'contrast', params: { level: look[1] ?? 0 } },
      ]
    );
  },
};

export const venueScreen = defineKind({
  key: 'venueScreen',
  words: 'Venue screen',
  protocol: 'HTTP with JSON',
  wire: 'http',
  settings: Settings,
  commands: {
    output: {
      words: 'Output on or off',
      phrase: '{device} output on: {on}',
      phraseOff: '{device} output off',
      params: z.strictObject({ on: z.boolean().default(true).meta({ title: 'On' }) }),
      seenOnAir: false,
      repeatable: true,
      effect: puts('output', 'output', 'on'),
    },
    brightness: {
      words: 'Brightness',
      phrase: '{device} brightness {level} %',
      params: z.strictObject({ level: Level }),
      seenOnAir: false,
      repeatable: true,
      effect: puts('brightness', 'brightness', 'level'),
    },
    contrast: {
      words: 'Contrast',
      phrase: '{device} contrast {level} %',
      params: z.strictObject({ level: Level }),
      seenOnAir: false,
      repeatable: true,
      effect: puts('contrast', 'contrast', 'level'),
    },
    recallSetUp: {
      words: 'Recall a set-up',
      phrase: '{device} set-up {number}',
      params: SetUp,
      seenOnAir: false,
      repeatable: true,
      effect: RECALL,
    },
    storeSetUp: {
      words: 'Store the present look as a set-up',
      phrase: 'Store {device} as set-up {number}',
      params: SetUp,
      seenOnAir: false,
      repeatable: true,
    },
  },
  points: {
    output: { words: 'Output is on', type: 'switch' },
    brightness: { words: 'Brightness', type: 'number', unit: '%' },
    contrast: { words: 'Contrast', type: 'number', unit: '%' },
    setUp: { words: 'Set-up that it shows, 0 for none', type: 'number' },
  },
  model: modelOf(behaviour),
});
