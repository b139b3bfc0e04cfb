/** The slide player: next, previous, go to. */
import { z } from 'zod';
import { type Behaviour, modelOf, unknownCommand } from '../behaviour';
import { puts } from '../effects';
import { type CommandEffect, defineKind } from '../kind';

const Settings = z.strictObject({
  replyDelayMs: z.number().min(0).max(1000).default(5),
  titles: z.array(z.string().min(1).max(120)).max(1000).default(['Slide 1']),
});
type Settings = z.infer<typeof Settings>;

/** Number of the slide, from 1. */
type State = number;

const behaviour: Behaviour<State, Settings> = {
  start: (settings, _now, from) => Math.min(Math.max(1, Number(from.slide ?? 1)), Math.max(1, settings.titles.length)),
  advance: (state) => state,
  act(state, { command, params }, _now, settings) {
    switch (command) {
      case 'next':
        return state >= settings.titles.length ? 'This is the last slide.' : state + 1;
      case 'previous':
        return state <= 1 ? 'This is the first slide.' : state - 1;
      case 'goTo': {
        const wanted = Number(params.slide);
        return wanted < 1 || wanted > settings.titles.length
          ? `There is no slide ${wanted}; there are ${settings.titles.length}.`
          : wanted;
      }
      default:
        return unknownCommand('The slide player', command);
    }
  },
  points: (state, _now, settings) => ({
    slide: state,
    slides: settings.titles.length,
    title: settings.titles[state - 1] ?? '',
  }),
  wakeAt: () => null,
};

/** One slide further or back; what takes it back goes to the slide that was shown, wherever that is by then. */
const onward = (by: 1 | -1): CommandEffect => ({
  relative: true,
  makes: (_params, read) => {
    const slide = read('slide');
    return typeof slide === 'number' ? { slide: slide + by } : {};
  },
  undo: (_params, read) => {
    const slide = read('slide');
    return slide === undefined ? null : [{ command: 'goTo', params: { slide } }];
  },
});

export const slides = defineKind({
  key: 'slides',
  words: 'Slides',
  protocol: 'HTTP with JSON',
  wire: 'http',
  settings: Settings,
  commands: {
    // The same again would go one further.
    next: {
      words: 'Next slide',
      phrase: 'Next slide',
      params: z.strictObject({}),
      seenOnAir: true,
      repeatable: false,
      effect: onward(1),
    },
    previous: {
      words: 'Previous slide',
      phrase: 'Previous slide',
      params: z.strictObject({}),
      seenOnAir: true,
      repeatable: false,
      effect: onward(-1),
    },
    goTo: {
      words: 'Go to a slide',
      phrase: 'Slide {slide}',
      params: z.strictObject({ slide: z.number().int().min(1).max(1000).default(1).meta({ title: 'Slide' }) }),
      seenOnAir: true,
      repeatable: true,
      effect: puts('goTo', 'slide', 'slide'),
    },
  },
  points: {
    slide: { words: 'Number of the slide', type: 'number' },
    slides: { words: 'How many slides', type: 'number' },
    title: { words: 'Title of the slide', type: 'text' },
  },
  model: modelOf(behaviour),
});
