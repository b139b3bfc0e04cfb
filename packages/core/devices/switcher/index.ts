/** The switcher: program, preview, cut, mix, wipe and fade to black, with inputs counted by number from 1. */
import { z } from 'zod';
import { frameMs, type PlainValue } from '../../show/index';
import { switcherAir } from './air';
import { advanceBlack, type Black, blackFrom, fadedTo, NOT_BLACK, pointsOfBlack, wakeOfBlack } from './black';
import {
  actExtras,
  advanceExtras,
  EXTRA_COMMANDS,
  EXTRA_POINTS,
  EXTRA_SIMULATIONS,
  type Extras,
  startExtras,
  WIPES,
  withTransition,
} from './extras';
import { earliest } from '../behaviour';
import { USUAL } from '../drawn';
import { puts, swaps } from '../effects';
import { INTERNAL, macroNamePoint, MACROS } from './numbers';
import { type AirGraph, defineKind, type Model, type ModelReply, type ModelStep, type Points } from '../kind';

const Settings = z.strictObject({
  inputs: z.number().int().min(2).max(64).default(USUAL.switcher.inputs),
  frameRate: z.number().min(1).max(120).default(50),
  replyDelayMs: z.number().min(0).max(1000).default(2),
  /** Inputs on program and preview when it is switched on. */
  startProgram: z.number().int().min(1).max(64).default(1),
  startPreview: z.number().int().min(1).max(64).default(2),
  /** Macros that the switcher keeps itself, by number: what each does to it. */
  macros: z
    .array(
      z.strictObject({
        name: z.string().min(1).max(60),
        does: z
          .array(
            z.strictObject({
              command: z.string().min(1).max(60),
              params: z.record(z.string(), z.union([z.string(), z.number(), z.boolean()])).default({}),
            }),
          )
          .max(20),
      }),
    )
    .max(MACROS)
    .default([]),
  /** Names that the switcher itself holds, in the order of its inputs. */
  names: z.array(z.string().max(60)).max(64).default([]),
});
type Settings = z.infer<typeof Settings>;

interface Mix {
  readonly id: string;
  readonly startedAt: number;
  readonly frames: number;
}

interface State {
  readonly settings: Settings;
  readonly program: number;
  readonly preview: number;
  /** Names of the inputs, under the keys of their points. */
  readonly names: Readonly<Record<string, string>>;
  readonly mix: Mix | null;
  /** Where the lever is, 0 to 1. */
  readonly lever: number;
  /** The end that it left: a transition by hand is under way while it is at neither. */
  readonly leverFrom: 0 | 1;
  readonly keyers: Readonly<Record<'keyer1' | 'keyer2', boolean>>;
  readonly aux: Readonly<Record<'aux1' | 'aux2', number>>;
  readonly black: Black;
  readonly extras: Extras;
}

const aFrame = (settings: Settings): number => frameMs(settings.frameRate);
const mixEnd = (state: State, mix: Mix): number => mix.startedAt + mix.frames * aFrame(state.settings);

/** @param names whether names, layouts and all that is set but seldom are told as well: they are many */
function stepped(state: State, now: number, replies: readonly ModelReply[], names = false): ModelStep<State> {
  const frame =
    state.mix === null
      ? 0
      : Math.min(state.mix.frames, Math.floor((now - state.mix.startedAt) / aFrame(state.settings) + 1e-6));
  const points = shown(state, frame);
  if (names || state.black !== NOT_BLACK)
    Object.assign(points, pointsOfBlack(state.black, now, aFrame(state.settings)));
  return { state, replies, wakeAt: wakeOf(state, frame, now), points: names ? everything(points, state) : points };
}

function wakeOf(state: State, frame: number, now: number): number | null {
  const { wake } = state.extras;
  if (state.mix === null && state.black === NOT_BLACK) return wake;
  const mix =
    state.mix === null
      ? null
      : Math.min(mixEnd(state, state.mix), state.mix.startedAt + (frame + 1) * aFrame(state.settings));
  return earliest(wake, mix, wakeOfBlack(state.black, now, aFrame(state.settings)));
}

/** A preview changes one point, where nothing else goes on: it is what rehearsals do most. */
const previewed = (state: State, now: number, replies: readonly ModelReply[]): ModelStep<State> =>
  state.mix === null && state.black === NOT_BLACK && state.extras.wake === null
    ? { state, replies, wakeAt: null, points: { preview: state.preview } }
    : stepped(state, now, replies);

/** Loops: spreading objects of some hundred keys into a new one takes ten times as long. */
function everything(points: Record<string, PlainValue>, { names, extras }: State): Points {
  for (const key in names) points[key] = names[key] ?? '';
  for (const key in extras.points) points[key] = extras.points[key] ?? '';
  return points;
}

const shown = (state: State, frame: number): Record<string, PlainValue> => ({
  program: state.program,
  preview: state.preview,
  mixing: state.mix !== null || byHand(state) > 0,
  lever: state.lever,
  mixPosition: state.mix === null ? byHand(state) : Math.round((frame / state.mix.frames) * 1000) / 1000,
  keyer1: state.keyers.keyer1,
  keyer2: state.keyers.keyer2,
  aux1: state.aux.aux1,
  aux2: state.aux.aux2,
});

/** How far a transition by hand is: from the end that the lever left, in thousandths. */
const byHand = ({ lever, leverFrom }: State): number => Math.round(Math.abs(lever - leverFrom) * 1000) / 1000;

/** The same with other pictures. Written out field by field: it is what rehearsals do most, and a spread takes ten times as long. */
const pictured = (
  { settings, names, lever, leverFrom, keyers, aux, black, extras }: State,
  program: number,
  preview: number,
  mix: Mix | null,
): State => ({ settings, program, preview, names, mix, lever, leverFrom, keyers, aux, black, extras });
const taken = (state: State): State => pictured(state, state.preview, state.program, null);

const model: Model<State, Settings> = {
  start: (settings, _now, from) => ({
    settings,
    program: Number(from.program ?? settings.startProgram),
    preview: Number(from.preview ?? settings.startPreview),
    names: {
      ...Object.fromEntries(
        Array.from({ length: settings.inputs }, (_, index) => [
          `input${index + 1}Name`,
          settings.names[index] ?? `Input ${index + 1}`,
        ]),
      ),
      ...Object.fromEntries(
        Array.from({ length: MACROS }, (_, index) => {
          const point = macroNamePoint(index + 1);
          return [point, String(from[point] ?? settings.macros[index]?.name ?? '')];
        }),
      ),
    },
    mix: null,
    lever: Number(from.lever ?? 0),
    leverFrom: from.lever === 1 ? 1 : 0,
    keyers: { keyer1: from.keyer1 !== false, keyer2: from.keyer2 === true },
    aux: { aux1: Number(from.aux1 ?? settings.startProgram), aux2: Number(from.aux2 ?? settings.startProgram) },
    black: blackFrom(from),
    extras: startExtras(settings.inputs, from),
  }),

  step(before, input) {
    const extras = advanceExtras(before.extras, input.now);
    const black = advanceBlack(before.black, input.now, aFrame(before.settings));
    const state = extras === before.extras && black === before.black ? before : { ...before, extras, black };
    if (input.type !== 'command') {
      if (extras !== before.extras)
        return stepped(
          state.mix === null || input.now + 1e-6 < mixEnd(state, state.mix) ? state : taken(state),
          input.now,
          [],
          true,
        );
      if (state.mix === null || input.now + 1e-6 < mixEnd(state, state.mix))
        return stepped(state, input.now, [], input.type === 'read');
      return stepped(taken(state), input.now, [], input.type === 'read');
    }
    const { id, now, command } = input;
    const at = now + state.settings.replyDelayMs;
    const done: ModelReply[] = [{ id, at, event: 'done' }];
    const wanted = Number(command.params.source ?? command.params.input);
    const refuse = (why: string): ModelStep<State> => stepped(state, now, [{ id, at, event: 'refused', why }]);
    switch (command.command) {
      case 'program':
      case 'preview':
      case 'name':
      case 'aux':
        if (
          !Number.isInteger(wanted) ||
          wanted < 1 ||
          wanted > state.settings.inputs + (command.command === 'name' ? 0 : INTERNAL.length)
        )
          return refuse(`There is no input ${wanted}.`);
        if (command.command === 'program') return stepped(pictured(state, wanted, state.preview, null), now, done);
        if (command.command === 'aux')
          return stepped(
            { ...state, aux: { ...state.aux, [`aux${Number(command.params.output)}`]: wanted } },
            now,
            done,
          );
        if (command.command === 'preview')
          return previewed(pictured(state, state.program, wanted, state.mix), now, done);
        return stepped(
          { ...state, names: { ...state.names, [`input${wanted}Name`]: String(command.params.name) } },
          now,
          done,
          true,
        );
      case 'runMacro': {
        const number = Number(command.params.macro);
        if ((state.names[macroNamePoint(number)] ?? '') === '')
          return refuse(`Macro ${number} of the switcher is empty.`);
        // What a macro of an own switcher does is known from its name alone: of a rehearsal it then does nothing that is seen.
        const does = state.settings.macros[number - 1]?.does ?? [];
        const after = does.reduce(
          (present: State, item) => model.step(present, { type: 'command', id, command: item, now }).state,
          state,
        );
        return stepped(after, now, done, true);
      }
      case 'cut':
        return stepped(taken(state), now, done);
      case 'mix':
      case 'wipe': {
        if (state.mix !== null || byHand(state) > 0) return refuse('A mix or wipe is under way.');
        const [after, frames] = [
          withTransition(extras, command.command === 'mix' ? 'mix' : `wipe ${String(command.params.direction)}`),
          Math.max(1, Number(command.params.frames)),
        ];
        return stepped({ ...state, extras: after, mix: { id, startedAt: now, frames } }, now, done, after !== extras);
      }
      case 'lever': {
        if (state.mix !== null) return refuse('A mix or wipe is under way.');
        const moved = { ...state, lever: Math.min(1, Math.max(0, Number(command.params.position))) };
        // At the other end the pictures have changed places, and the next transition goes the other way.
        const over = moved.lever === 1 - moved.leverFrom;
        return stepped(over ? { ...taken(moved), leverFrom: moved.lever === 1 ? 1 : 0 } : moved, now, done);
      }
      case 'fadeToBlack':
        return stepped(
          {
            ...state,
            black: fadedTo(
              state.black,
              command.params.on === true ? 1 : 0,
              Number(command.params.frames),
              now,
              aFrame(state.settings),
            ),
          },
          now,
          done,
        );
      case 'keyer':
        return stepped(
          {
            ...state,
            keyers: { ...state.keyers, [`keyer${Number(command.params.keyer)}`]: command.params.on === true },
          },
          now,
          done,
        );
      default: {
        const after = actExtras(extras, command, now, aFrame(state.settings), state.settings.inputs);
        if (after === undefined) return refuse('The switcher does not know this command.');
        return typeof after === 'string' ? refuse(after) : stepped({ ...state, extras: after }, now, done, true);
      }
    }
  },
};

const Source = z.string().meta({ title: 'Source', reference: 'source' });
const Length = z.number().int().min(1).max(1000).default(25).meta({ title: 'Length', unit: 'f' });

const graphs = new WeakMap<object, AirGraph>();
const USUAL_AIR = switcherAir(USUAL.switcher.inputs);

/** The graph for settings; once for each settings object, since they are never changed in place. */
function airOf(settings: unknown): AirGraph {
  if (typeof settings !== 'object' || settings === null) return USUAL_AIR;
  let graph = graphs.get(settings);
  if (graph === undefined) {
    const read = Settings.safeParse(settings);
    graph = read.success ? switcherAir(read.data.inputs) : USUAL_AIR;
    graphs.set(settings, graph);
  }
  return graph;
}

/** Boxes of one layout engine. */
/** Whether a source number is an input of a switcher with these settings, and not one of its own outputs: only inputs can be reframed. */
export function isSwitcherInput(source: number, settings: unknown): boolean {
  const read = Settings.safeParse(settings);
  return read.success && source >= 1 && source <= read.data.inputs;
}

/** What is next goes on air, and what was on air is next. */
const TAKE = swaps('program', 'preview', ['program', 'preview']);

export const switcher = defineKind({
  key: 'switcher',
  words: 'Switcher',
  protocol: 'OSC with request ids',
  wire: 'osc',
  settings: Settings,
  commands: {
    program: {
      words: 'Put a source on program',
      phrase: 'Put {source} on air',
      params: z.strictObject({ source: Source }),
      seenOnAir: true,
      repeatable: true,
      effect: puts('program', 'program', 'source'),
    },
    preview: {
      words: 'Put a source on preview',
      phrase: 'Preview {source}',
      params: z.strictObject({ source: Source }),
      seenOnAir: false,
      repeatable: true,
      effect: puts('preview', 'preview', 'source'),
    },
    cut: { words: 'Cut', phrase: 'Cut', params: z.strictObject({}), seenOnAir: true, repeatable: false, effect: TAKE },
    mix: {
      words: 'Mix',
      phrase: 'Mix over {frames} f',
      params: z.strictObject({ frames: Length }),
      seenOnAir: true,
      repeatable: false,
      unsettles: ['mixing'],
      effect: TAKE,
    },
    wipe: {
      words: 'Wipe',
      phrase: 'Wipe {direction} over {frames} f',
      params: z.strictObject({
        frames: Length,
        direction: z.enum(WIPES).default('right').meta({ title: 'The edge travels' }),
      }),
      seenOnAir: true,
      repeatable: false,
      unsettles: ['mixing'],
      effect: TAKE,
    },
    lever: {
      words: 'Mix by hand to a place of the lever',
      phrase: 'Mix by hand to {position}',
      params: z.strictObject({
        position: z.number().min(0).max(1).default(0).meta({ title: 'Place of the lever', unit: '0–1' }),
      }),
      seenOnAir: true,
      repeatable: true,
      effect: puts('lever', 'lever', 'position'),
    },
    fadeToBlack: {
      words: 'Fade to black, or back',
      phrase: 'Fade to black over {frames} f: {on}',
      phraseOff: 'Fade up from black over {frames} f',
      params: z.strictObject({ on: z.boolean().default(true).meta({ title: 'To black' }), frames: Length }),
      seenOnAir: true,
      repeatable: true,
      unsettles: ['black'],
      effect: puts('fadeToBlack', 'black', 'on'),
    },
    keyer: {
      words: 'Keyer on or off',
      phrase: 'Keyer {keyer} on: {on}',
      phraseOff: 'Keyer {keyer} off',
      params: z.strictObject({
        keyer: z.number().int().min(1).max(2).default(1).meta({ title: 'Keyer' }),
        on: z.boolean().default(true).meta({ title: 'On' }),
      }),
      seenOnAir: true,
      repeatable: true,
      effect: puts('keyer', 'keyer{keyer}', 'on'),
    },
    aux: {
      words: 'Put a source on an auxiliary output',
      phrase: 'Put {source} on auxiliary output {output}',
      params: z.strictObject({
        output: z.number().int().min(1).max(2).default(1).meta({ title: 'Output' }),
        source: Source,
      }),
      seenOnAir: false,
      repeatable: true,
      effect: puts('aux', 'aux{output}', 'source'),
    },
    ...EXTRA_COMMANDS,
    runMacro: {
      words: 'Run a macro that the switcher keeps',
      phrase: "Run the switcher's macro {macro}",
      params: z.strictObject({ macro: z.number().int().min(1).max(MACROS).default(1).meta({ title: 'Macro' }) }),
      seenOnAir: true,
      repeatable: false,
    },
    name: {
      words: 'Name an input',
      params: z.strictObject({
        input: z.number().int().min(1).max(64).meta({ title: 'Input' }),
        name: z.string().max(60).meta({ title: 'Name' }),
      }),
      seenOnAir: false,
      repeatable: true,
      effect: puts('name', 'input{input}Name', 'name'),
    },
  },
  points: {
    program: { words: 'Input on program', type: 'number', means: 'input' },
    preview: { words: 'Input on preview', type: 'number', means: 'input' },
    mixing: { words: 'Mix or wipe under way', type: 'switch' },
    mixPosition: { words: 'Mix or wipe position', type: 'number', unit: '0–1' },
    lever: { words: 'Place of the lever', type: 'number', unit: '0–1' },
    black: { words: 'Program is faded to black', type: 'switch' },
    fading: { words: 'Program fades to black, or back', type: 'switch' },
    blackLevel: { words: 'How black the program is', type: 'number', unit: '0–1' },
    keyer1: { words: 'Keyer 1 is on', type: 'switch' },
    keyer2: { words: 'Keyer 2 is on', type: 'switch' },
    aux1: { words: 'Input on auxiliary output 1', type: 'number', means: 'input' },
    aux2: { words: 'Input on auxiliary output 2', type: 'number', means: 'input' },
    ...Object.fromEntries(
      Array.from({ length: 64 }, (_, index) => [
        `input${index + 1}Name`,
        {
          words: `Name of input ${index + 1}`,
          type: 'text' as const,
          restore: (value: PlainValue) => ({ command: 'name', params: { input: index + 1, name: String(value) } }),
        },
      ]),
    ),
    ...Object.fromEntries(
      Array.from({ length: MACROS }, (_, index) => [
        macroNamePoint(index + 1),
        { words: `Name of the switcher's macro ${index + 1}`, type: 'text' as const },
      ]),
    ),
    ...EXTRA_POINTS,
  },
  simulations: EXTRA_SIMULATIONS,
  airOf,
  model,
});
