/** The caption engine: a name caption, a count board and a countdown, each in and out over a length. */
import { z } from 'zod';
import {
  actLayers,
  advanceLayers,
  goesOn,
  LAYER_COMMANDS,
  LAYER_POINTS,
  layerPoints,
  type Layers,
  layersWake,
  startLayers,
  Template,
  templateText,
  TEMPLATES,
} from './layers';
import { allOf, NOTHING, puts, turns } from '../effects';
import { type CommandEffect, defineKind, type Model, type ModelReply, type ModelStep, type Points } from '../kind';

const Settings = z.strictObject({
  replyDelayMs: z.number().min(0).max(1000).default(3),
  /** What it has to show on its layers. */
  templates: z
    .array(Template)
    .max(60)
    .default([...TEMPLATES]),
});
type Settings = z.infer<typeof Settings>;

type Stage = 'out' | 'comingIn' | 'in' | 'goingOut';
const PARTS = ['name', 'count', 'countdown'] as const;
type Part = (typeof PARTS)[number];

/** Where one caption is in its motion, and when that ends. */
interface Motion {
  readonly stage: Stage;
  readonly endsAt: number | null;
}

/** What stands on the captions. */
interface Texts {
  readonly name: string;
  readonly title: string;
  readonly count: number;
  readonly countLabel: string;
  readonly countdownLabel: string;
}

interface State {
  readonly settings: Settings;
  readonly motions: Readonly<Record<Part, Motion>>;
  readonly texts: Texts;
  /** When the countdown reaches zero, model milliseconds; null when none runs. */
  readonly zeroAt: number | null;
  readonly layers: Layers;
}

const OUT: Motion = { stage: 'out', endsAt: null };
const IN: Motion = { stage: 'in', endsAt: null };
const NO_REPLIES: readonly ModelReply[] = [];
const isUp = ({ stage }: Motion): boolean => stage === 'comingIn' || stage === 'in';
/** Whole seconds left, as a clock that counts down shows them. */
const secondsLeft = (state: State, now: number): number =>
  state.zeroAt === null ? 0 : Math.max(0, Math.ceil((state.zeroAt - now) / 1000 - 1e-9));

/**
 * @param whole whether the layers are told as well: they are many, and change but seldom
 * @param nameAlone whether nothing but the name caption has changed, which is what rehearsals do most
 */
function stepped(
  state: State,
  now: number,
  replies: readonly ModelReply[],
  whole = false,
  nameAlone = false,
): ModelStep<State> {
  const left = secondsLeft(state, now);
  let wakeAt: number | null = null;
  for (const part of PARTS) {
    const { endsAt } = state.motions[part];
    if (endsAt !== null && (wakeAt === null || endsAt < wakeAt)) wakeAt = endsAt;
  }
  if (state.zeroAt !== null && left > 0) {
    // The next moment at which another second has gone.
    const next = state.zeroAt - (left - 1) * 1000;
    if (wakeAt === null || next < wakeAt) wakeAt = next;
  }
  const layersAt = layersWake(state.layers, now);
  if (layersAt !== null && (wakeAt === null || layersAt < wakeAt)) wakeAt = layersAt;
  if (nameAlone && state.zeroAt === null && !whole) return { state, replies, wakeAt, points: nameShown(state) };
  const points = shown(state, left);
  return {
    state,
    replies,
    wakeAt,
    points: whole
      ? { ...points, templates: templateText(state.settings.templates), ...layerPoints(state.layers, now) }
      : points,
  };
}

/** The same with one caption in another motion. Field by field: rehearsals do this most, and a spread takes ten times as long. */
const moved = ({ name, count, countdown }: State['motions'], part: Part, motion: Motion): State['motions'] => ({
  name: part === 'name' ? motion : name,
  count: part === 'count' ? motion : count,
  countdown: part === 'countdown' ? motion : countdown,
});

const nameShown = (state: State): Points => ({
  nameUp: isUp(state.motions.name),
  nameStage: state.motions.name.stage,
  nameText: state.texts.name,
  nameTitle: state.texts.title,
});

const shown = (state: State, left: number): Points => ({
  nameUp: isUp(state.motions.name),
  nameStage: state.motions.name.stage,
  nameText: state.texts.name,
  nameTitle: state.texts.title,
  countUp: isUp(state.motions.count),
  count: state.texts.count,
  countLabel: state.texts.countLabel,
  countdownUp: isUp(state.motions.countdown),
  countdownLeft: left,
  countdownLabel: state.texts.countdownLabel,
});

const model: Model<State, Settings> = {
  start: (settings, now, from) => {
    const standing = (up: boolean): Motion => (up ? IN : OUT);
    const left = Number(from.countdownLeft ?? 0);
    return {
      settings,
      motions: {
        name: standing(from.nameUp === true),
        count: standing(from.countUp === true),
        countdown: standing(from.countdownUp === true),
      },
      texts: {
        name: String(from.nameText ?? ''),
        title: String(from.nameTitle ?? ''),
        count: Number(from.count ?? 0),
        countLabel: String(from.countLabel ?? ''),
        countdownLabel: String(from.countdownLabel ?? ''),
      },
      zeroAt: left > 0 ? now + left * 1000 : null,
      layers: startLayers(from, now),
    };
  },

  step(state, input) {
    if (input.type !== 'command') {
      let { motions, zeroAt } = state;
      for (const part of PARTS) {
        const { stage, endsAt } = motions[part];
        if (endsAt !== null && input.now + 1e-6 >= endsAt)
          motions = moved(motions, part, stage === 'comingIn' ? IN : OUT);
      }
      if (zeroAt !== null && input.now + 1e-6 >= zeroAt) zeroAt = null;
      const layers = advanceLayers(state.layers, input.now);
      const same = motions === state.motions && zeroAt === state.zeroAt && layers === state.layers;
      return stepped(
        same ? state : { settings: state.settings, motions, texts: state.texts, zeroAt, layers },
        input.now,
        NO_REPLIES,
        input.type === 'read' || layers !== state.layers || goesOn(layers),
        motions.count === state.motions.count &&
          motions.countdown === state.motions.countdown &&
          zeroAt === state.zeroAt,
      );
    }
    const { id, now, command } = input;
    const { params } = command;
    const at = now + state.settings.replyDelayMs;
    const done: ModelReply[] = [{ id, at, event: 'done' }];
    const endsAt = now + Number(params.ms ?? 0);
    const { settings, motions, texts, layers } = state;
    const bring = (part: Part, shows: Texts, zeroAt = state.zeroAt): ModelStep<State> =>
      stepped(
        { settings, motions: moved(motions, part, { stage: 'comingIn', endsAt }), texts: shows, zeroAt, layers },
        now,
        done,
        false,
        part === 'name',
      );
    const take = (part: Part): ModelStep<State> =>
      stepped(
        motions[part].stage === 'out'
          ? state
          : {
              settings,
              motions: moved(motions, part, { stage: 'goingOut', endsAt }),
              texts,
              zeroAt: state.zeroAt,
              layers,
            },
        now,
        done,
        false,
        part === 'name',
      );
    switch (command.command) {
      case 'nameIn':
        return bring('name', {
          name: String(params.name),
          title: String(params.title ?? ''),
          count: texts.count,
          countLabel: texts.countLabel,
          countdownLabel: texts.countdownLabel,
        });
      case 'nameOut':
        return take('name');
      case 'countIn':
        return bring('count', { ...texts, count: Number(params.count), countLabel: String(params.label ?? '') });
      case 'countSet':
        return stepped({ ...state, texts: { ...texts, count: Number(params.count) } }, now, done);
      case 'countOut':
        return take('count');
      case 'countdownIn':
        return bring(
          'countdown',
          { ...texts, countdownLabel: String(params.label ?? '') },
          now + Number(params.seconds) * 1000,
        );
      case 'countdownOut':
        return take('countdown');
      default: {
        const after = actLayers(layers, command, now, settings.templates);
        if (typeof after === 'object') return stepped({ ...state, layers: after }, now, done, true);
        return stepped(state, now, [
          { id, at, event: 'refused', why: after ?? 'The caption engine does not know this command.' },
        ]);
      }
    }
  },
};

const Length = z.number().min(0).max(10_000).meta({ title: 'Length', unit: 'ms' });
const Label = z.string().max(60).default('').meta({ title: 'Label' });
const Count = z.number().int().min(0).max(9999).default(0).meta({ title: 'Count' });
const out = (words: string) => ({
  words,
  phrase: words,
  params: z.strictObject({ ms: Length.default(300) }),
  seenOnAir: true,
  repeatable: true,
});

/** The caption that was up comes back with its texts, or goes out again. */
const broughtBack =
  (part: 'name' | 'count', texts: readonly (readonly [param: string, point: string])[]): CommandEffect['undo'] =>
  ({ ms = 300 }, read) => {
    const known = allOf([`${part}Up`, ...texts.map(([, point]) => point)], read);
    if (known === null) return null;
    const [up, ...before] = known;
    if (up !== true) return [{ command: `${part}Out`, params: { ms } }];
    const params = Object.fromEntries(texts.map(([param], at) => [param, before[at] ?? '']));
    return [{ command: `${part}In`, params: { ...params, ms } }];
  };

/** What goes out comes back where it was up; where it was not, there is nothing to bring back. */
const goneOut = (part: 'name' | 'count', undo: CommandEffect['undo']): CommandEffect => ({
  makes: () => ({ [`${part}Up`]: false }),
  undo: (params, read) => (read(`${part}Up`) === false ? NOTHING : undo(params, read)),
});

const NAME_TEXTS = [
  ['name', 'nameText'],
  ['title', 'nameTitle'],
] as const;
const NAME: CommandEffect = {
  makes: ({ name = '', title = '' }) => ({ nameUp: true, nameText: name, nameTitle: title }),
  undo: broughtBack('name', NAME_TEXTS),
};
const NAME_OUT = goneOut('name', NAME.undo);

const COUNT_TEXTS = [
  ['count', 'count'],
  ['label', 'countLabel'],
] as const;
const COUNT: CommandEffect = {
  makes: ({ count = 0, label = '' }) => ({ countUp: true, count, countLabel: label }),
  undo: broughtBack('count', COUNT_TEXTS),
};
/** A countdown that ran already was begun anew: where it had got to does not come back. */
const COUNTDOWN: CommandEffect = {
  makes: () => ({ countdownUp: true }),
  undo: ({ ms = 300 }, read) => (read('countdownUp') === false ? [{ command: 'countdownOut', params: { ms } }] : null),
};

const COUNT_OUT = goneOut('count', COUNT.undo);

export const captions = defineKind({
  key: 'captions',
  words: 'Captions',
  protocol: 'OSC with request ids',
  wire: 'osc',
  settings: Settings,
  commands: {
    nameIn: {
      words: 'Bring a name caption in',
      phrase: 'Caption {name} in',
      params: z.strictObject({
        name: z.string().min(1).max(120).meta({ title: 'Name' }),
        title: z.string().max(120).default('').meta({ title: 'Title' }),
        ms: Length.default(400),
      }),
      seenOnAir: true,
      repeatable: true,
      effect: NAME,
    },
    personIn: {
      words: 'Bring the name caption of a person in',
      phrase: 'Caption {person} in',
      params: z.strictObject({
        person: z.string().meta({ title: 'Person', reference: 'person' }),
        ms: Length.default(400),
      }),
      sentAs: 'nameIn',
      seenOnAir: true,
      repeatable: true,
      effect: NAME,
    },
    nameOut: { ...out('Take the name caption out'), effect: NAME_OUT },
    countIn: {
      words: 'Bring the count board in',
      phrase: 'Count board in at {count}',
      params: z.strictObject({ count: Count, label: Label, ms: Length.default(400) }),
      seenOnAir: true,
      repeatable: true,
      effect: COUNT,
    },
    countSet: {
      words: 'Set the count',
      phrase: 'Set the count to {count}',
      params: z.strictObject({ count: Count }),
      seenOnAir: true,
      repeatable: true,
      effect: puts('countSet', 'count', 'count'),
    },
    countOut: { ...out('Take the count board out'), effect: COUNT_OUT },
    countdownIn: {
      words: 'Bring a countdown in',
      phrase: 'Countdown from {seconds} s in',
      params: z.strictObject({
        seconds: z.number().int().min(1).max(359_999).default(600).meta({ title: 'From', unit: 's' }),
        label: Label,
        ms: Length.default(400),
      }),
      seenOnAir: true,
      // The same again would begin to count anew.
      repeatable: false,
      effect: COUNTDOWN,
    },
    // A countdown that was taken out has gone on meanwhile: it does not come back.
    countdownOut: { ...out('Take the countdown out'), effect: turns('countdownUp', false) },
    ...LAYER_COMMANDS,
  },
  points: {
    nameUp: { words: 'Name caption is up', type: 'switch' },
    nameStage: { words: 'Name caption: out, animating in, in, animating out', type: 'text' },
    nameText: { words: 'Name on the caption', type: 'text' },
    nameTitle: { words: 'Title on the caption', type: 'text' },
    countUp: { words: 'Count board is up', type: 'switch' },
    count: { words: 'Number on the count board', type: 'number', counts: true },
    countLabel: { words: 'Label of the count board', type: 'text' },
    countdownUp: { words: 'Countdown is up', type: 'switch' },
    countdownLeft: {
      words: 'Seconds left of the countdown',
      type: 'number',
      unit: 's',
      ticks: { by: -1, while: 'countdownUp' },
    },
    countdownLabel: { words: 'Label of the countdown', type: 'text' },
    ...LAYER_POINTS,
  },
  model,
});
