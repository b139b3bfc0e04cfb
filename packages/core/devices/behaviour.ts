import type { PlainValue } from '../show/index';
import type { DeviceCommand, Model, ModelStep, Points } from './kind';

/** How a device acts that carries every command out at once and answers after a fixed delay. Times are milliseconds of the model's clock. */
export interface Behaviour<State, Settings> {
  start(settings: Settings, now: number, from: Points): State;
  /** What has gone on by itself up to now. The same state when nothing has. */
  advance(state: State, now: number, settings: Settings): State;
  /** Carries a command out. @returns the new state, or the reason for which it is refused */
  act(state: State, command: DeviceCommand, now: number, settings: Settings): State | string;
  points(state: State, now: number, settings: Settings): Points;
  /** When something will next change by itself, or null. */
  wakeAt(state: State, now: number, settings: Settings): number | null;
}

interface Whole<State, Settings> {
  readonly settings: Settings;
  readonly inner: State;
}

/** A model from a behaviour. */
export function modelOf<State, Settings extends { readonly replyDelayMs: number }>(
  behaviour: Behaviour<State, Settings>,
): Model<Whole<State, Settings>, Settings> {
  const outcome = (
    settings: Settings,
    inner: State,
    now: number,
    replies: ModelStep<State>['replies'],
  ): ModelStep<Whole<State, Settings>> => ({
    state: { settings, inner },
    replies,
    points: behaviour.points(inner, now, settings),
    wakeAt: behaviour.wakeAt(inner, now, settings),
  });
  return {
    start: (settings, now, from) => ({ settings, inner: behaviour.start(settings, now, from) }),
    step({ settings, inner }, input) {
      const { now } = input;
      const advanced = behaviour.advance(inner, now, settings);
      if (input.type !== 'command') return outcome(settings, advanced, now, []);
      const at = now + settings.replyDelayMs;
      const after = behaviour.act(advanced, input.command, now, settings);
      if (typeof after === 'string')
        return outcome(settings, advanced, now, [{ id: input.id, at, event: 'refused', why: after }]);
      return outcome(settings, after, now, [{ id: input.id, at, event: 'done' }]);
    },
  };
}

/** A refusal in the one way that all kinds word it. */
export const unknownCommand = (device: string, command: string): string =>
  `${device} does not know the command ${command}.`;

/** The next whole second after now, counted from a moment: when a clock in seconds shows another number. A hair is allowed for rounding. */
export const nextSecond = (since: number, now: number): number =>
  since + (Math.floor((now - since) / 1000 + 1e-9) + 1) * 1000;

/** Whole seconds gone since a moment. */
export const secondsSince = (since: number, now: number): number =>
  Math.max(0, Math.floor((now - since) / 1000 + 1e-9));

/** Earliest of several moments, of which some are never. */
export const earliest = (...times: readonly (number | null)[]): number | null => {
  const known = times.filter((time): time is number => time !== null);
  return known.length === 0 ? null : Math.min(...known);
};

export const textOf = (value: PlainValue | undefined): string => (value === undefined ? '' : String(value));

const joined = new WeakMap<readonly object[], string>();

/**
 * A list as its point tells it, one name a line. Put together once for each list: models tell all of their points every second, and in a long
 * rehearsal a list of some hundred files would be most of the work.
 */
export function namesIn(list: readonly { readonly name: string }[]): string {
  let text = joined.get(list);
  if (text === undefined) joined.set(list, (text = list.map(({ name }) => name).join('\n')));
  return text;
}
