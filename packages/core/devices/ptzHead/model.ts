import type { Model, ModelInput, ModelReply, ModelStep } from '../kind';
import { glideStep } from './glide';
import { type AxisMotion, axisAt, planTo, planVelocity, restAt } from './motion';
import {
  type AxisName,
  limitsOf,
  nudgeDrive,
  type PtzSettings,
  speedStepOf,
  stepSpeedOf,
  zoomCodeOf,
  zoomRatioOf,
} from './settings';

interface LongMove {
  readonly id: string;
  readonly axes: readonly AxisName[];
  readonly endsAt: number;
  /** Name that `arrived` takes when it is over. */
  readonly place: string;
}

/** Everything about the picture but where it looks. */
interface Lens {
  readonly focusMode: string;
  readonly focus: number;
  readonly irisMode: string;
  readonly iris: number;
  readonly whiteBalance: string;
  readonly power: boolean;
  readonly tally: boolean;
}

export interface PtzState {
  readonly settings: PtzSettings;
  readonly axes: Readonly<Record<AxisName, AxisMotion>>;
  readonly memories: PtzSettings['memories'];
  readonly lens: Lens;
  /** Moves under way; no axis belongs to two of them. */
  readonly moves: readonly LongMove[];
  readonly driven: readonly AxisName[];
  /** When the drive is over that stated its length; null where none did. */
  readonly driveEndsAt: number | null;
  readonly arrived: string;
}

/** Directions of a nudge below this many units a second count as standing. */
const STILL = 1e-9;

/**
 * A head on the ground of its axis limits. A recall takes the slowest of pan, tilt and zoom after the reply delay;
 * a drive runs until told otherwise, or for as long as it states; a new move cancels the one under way.
 */
export const ptzModel: Model<PtzState, PtzSettings> = {
  start(settings, now, from) {
    const limits = limitsOf(settings);
    const at = (point: string, otherwise: number): number =>
      typeof from[point] === 'number' ? from[point] : otherwise;
    return {
      settings,
      axes: {
        pan: restAt(at('pan', 0), limits.pan, now),
        tilt: restAt(at('tilt', 0), limits.tilt, now),
        zoom: restAt(zoomCodeOf(at('zoom', 1), settings), limits.zoom, now),
      },
      memories: settings.memories,
      lens: {
        focusMode: String(from.focusMode ?? 'auto'),
        focus: at('focus', 50),
        irisMode: String(from.irisMode ?? 'auto'),
        iris: at('iris', 10),
        whiteBalance: String(from.whiteBalance ?? 'auto'),
        power: from.power !== false,
        tally: from.tally === true,
      },
      moves: [],
      driven: [],
      driveEndsAt: null,
      arrived: typeof from.arrived === 'string' ? from.arrived : '',
    };
  },

  step(state, input) {
    if (input.type === 'command') return command(state, input);
    const { driveEndsAt } = state;
    const until = Math.min(input.now, driveEndsAt ?? input.now);
    const over = state.moves.filter((move) => move.endsAt <= until);
    // Its driver says the stop when the length is over; the head hears it a reply's delay later, as it heard the drive.
    if (over.length === 0 && driveEndsAt !== null && driveEndsAt <= input.now)
      return driven({ ...state, driveEndsAt: null }, ALL, () => 0, driveEndsAt, input.now);
    if (over.length === 0) return stepped(state, input.now, []);
    const next: PtzState = {
      ...state,
      moves: state.moves.filter((move) => !over.includes(move)),
      arrived: over.find((move) => move.place !== '')?.place ?? state.arrived,
    };
    return stepped(
      next,
      input.now,
      over.map((move) => ({ id: move.id, at: move.endsAt, event: 'done' })),
    );
  },
};

function wakeOf({ moves, driveEndsAt }: PtzState): number | null {
  if (moves.length === 0) return driveEndsAt;
  return Math.min(driveEndsAt ?? Infinity, ...moves.map((move) => move.endsAt));
}

function stepped(state: PtzState, now: number, replies: readonly ModelReply[]): ModelStep<PtzState> {
  const [pan, tilt, zoom] = [axisAt(state.axes.pan, now), axisAt(state.axes.tilt, now), axisAt(state.axes.zoom, now)];
  return {
    state,
    replies,
    wakeAt: wakeOf(state),
    points: {
      pan: round(pan.position),
      tilt: round(tilt.position),
      zoom: round(zoomRatioOf(zoom.position, state.settings)),
      travelling: state.moves.length > 0 || state.driven.length > 0,
      arrived: state.arrived,
      ...state.lens,
    },
  };
}

const round = (value: number): number => Math.round(value * 1000) / 1000;

type CommandInput = Extract<ModelInput, { type: 'command' }>;
const ALL: readonly AxisName[] = ['pan', 'tilt', 'zoom'];

function command(state: PtzState, input: CommandInput): ModelStep<PtzState> {
  const { now, id } = input;
  const { params } = input.command;
  const answerAt = now + state.settings.replyDelayMs;
  const number = (key: string): number => Number(params[key] ?? 0);
  const refuse = (why: string): ModelStep<PtzState> =>
    stepped(state, now, [{ id, at: answerAt, event: 'refused', why }]);

  const lens = (change: Partial<Lens>): ModelStep<PtzState> =>
    stepped({ ...state, lens: { ...state.lens, ...change } }, now, [{ id, at: answerAt, event: 'done' }]);
  if (!state.lens.power && input.command.command !== 'power') return refuse('The camera is in standby.');

  switch (input.command.command) {
    case 'focusMode':
    case 'irisMode':
      return lens({ [input.command.command]: String(params.mode) });
    case 'focus':
      return lens({ focusMode: 'manual', focus: number('focus') });
    case 'iris':
      return lens({ irisMode: 'manual', iris: number('iris') });
    case 'whiteBalance':
      return lens({ whiteBalance: String(params.mode) });
    case 'power':
      return lens({ power: params.on === true });
    case 'tally':
      return lens({ tally: params.on === true });
    case 'home':
      return travel(state, { pan: 0, tilt: 0 }, '', input, answerAt);
    case 'nudge': {
      const { zoom } = stepped(state, now, []).points;
      const drive = nudgeDrive(number('x'), number('y'), number('zoom'), Number(zoom), state.settings);
      const length = params.forSeconds === undefined ? {} : { forSeconds: params.forSeconds };
      return command(state, { ...input, command: { command: 'drive', params: { ...drive, ...length } } });
    }
    case 'recall': {
      const memory = state.memories[String(params.number)];
      if (memory === undefined && params.pan === undefined)
        return refuse(`The head holds nothing under number ${number('number')}.`);
      const goal = memory ?? { pan: number('pan'), tilt: number('tilt'), zoom: number('zoom') };
      const [focus, iris] = memory === undefined ? [params.focus, params.iris] : [memory.focus, memory.iris];
      const set = {
        ...(focus === undefined ? {} : { focusMode: 'manual', focus: Number(focus) }),
        ...(iris === undefined ? {} : { irisMode: 'manual', iris: Number(iris) }),
      };
      return travel(
        { ...state, lens: { ...state.lens, ...set } },
        { pan: goal.pan, tilt: goal.tilt, zoom: goal.zoom },
        String(params.position ?? `#${number('number')}`),
        input,
        answerAt,
      );
    }
    case 'goTo': {
      const goal = Object.fromEntries(
        ALL.filter((axis) => params[axis] !== undefined).map((axis) => [axis, number(axis)]),
      );
      return travel(state, goal, '', input, answerAt);
    }
    case 'store': {
      const here = stepped(state, now, []).points;
      const { lens: optics } = state;
      const place = {
        pan: Number(here.pan),
        tilt: Number(here.tilt),
        zoom: Number(here.zoom),
        ...(optics.focusMode === 'manual' ? { focus: optics.focus } : {}),
        ...(optics.irisMode === 'manual' ? { iris: optics.iris } : {}),
      };
      return stepped({ ...state, memories: { ...state.memories, [String(number('number'))]: place } }, now, [
        { id, at: answerAt, event: 'done' },
      ]);
    }
    case 'drive':
    case 'stop': {
      // An axis that is not named goes on as it was: the drive bytes for pan and tilt say nothing of the zoom.
      const axes = input.command.command === 'stop' ? ALL : ALL.filter((axis) => params[axis] !== undefined);
      const driveEndsAt = params.forSeconds === undefined ? null : answerAt + number('forSeconds') * 1000;
      return driven({ ...state, driveEndsAt }, axes, number, answerAt, now, id);
    }
    default:
      return refuse('The head does not know this command.');
  }
}

/** Moves that use one of these axes end when another command takes it. */
function givenUp(
  state: PtzState,
  axes: readonly AxisName[],
  at: number,
): { kept: LongMove[]; cancelled: ModelReply[] } {
  const taken = state.moves.filter((move) => move.axes.some((axis) => axes.includes(axis)));
  return {
    kept: state.moves.filter((move) => !taken.includes(move)),
    cancelled: taken.map(({ id }) => ({ id, at, event: 'refused', why: 'Cancelled by a newer move.' })),
  };
}

/** These axes move at these speeds from a moment on; at none they stand. @param id of the command, which is answered then; left out: none asked for it */
function driven(
  state: PtzState,
  axes: readonly AxisName[],
  speedOf: (axis: AxisName) => number,
  at: number,
  now: number,
  id?: string,
): ModelStep<PtzState> {
  const { kept, cancelled } = givenUp(state, axes, at);
  const motions = { ...state.axes };
  for (const axis of axes)
    motions[axis] = planVelocity(state.axes[axis], realSpeed(axis, speedOf(axis), state.settings), at).motion;
  const moving = axes.filter((axis) => Math.abs(speedOf(axis)) > STILL);
  return stepped(
    {
      ...state,
      axes: motions,
      moves: kept,
      driven: [...state.driven.filter((axis) => !axes.includes(axis)), ...moving],
      arrived: '',
    },
    now,
    [...cancelled, ...(id === undefined ? [] : [{ id, at, event: 'done' as const }])],
  );
}

function travel(
  state: PtzState,
  goal: Partial<Record<AxisName, number>>,
  place: string,
  input: CommandInput,
  startsAt: number,
): ModelStep<PtzState> {
  const axes = ALL.filter((axis) => goal[axis] !== undefined);
  const { kept, cancelled } = givenUp(state, axes, startsAt);
  const motions = { ...state.axes };
  let endsAt = startsAt;
  for (const axis of axes) {
    const target = axis === 'zoom' ? zoomCodeOf(goal.zoom ?? 1, state.settings) : (goal[axis] ?? 0);
    const motion = state.axes[axis];
    const planned = planTo(
      { ...motion, limits: slowed(axis, motion, target, input, state.settings) },
      target,
      startsAt,
    );
    // The speed was for this way alone.
    motions[axis] = { ...planned.motion, limits: motion.limits };
    endsAt = Math.max(endsAt, planned.endsAt);
  }
  const move: LongMove = { id: input.id, axes, endsAt, place };
  const driven = state.driven.filter((axis) => !axes.includes(axis));
  // As its driver has it: a move of all axes is the end of what drove, one of some of them is not.
  const driveEndsAt = axes.length === ALL.length ? null : state.driveEndsAt;
  return stepped({ ...state, axes: motions, moves: [...kept, move], driven, driveEndsAt, arrived: '' }, input.now, [
    ...cancelled,
    { id: input.id, at: startsAt, event: 'accepted' },
  ]);
}

/** Limits for one way: as slow as the bytes say, or as the time that it is to take makes it. An axis that already moves faster is not braked first. */
function slowed(
  axis: AxisName,
  motion: AxisMotion,
  target: number,
  { now, command: { params } }: CommandInput,
  settings: PtzSettings,
): AxisMotion['limits'] {
  const { position, velocity } = axisAt(motion, now);
  const given = params[`${axis}Speed`];
  const seconds = Number(params.seconds ?? 0);
  const speed =
    given !== undefined
      ? Number(given)
      : seconds > 0
        ? stepSpeedOf(axis, glideStep(axis, position, target, seconds, settings), settings)
        : motion.limits.speed;
  return { ...motion.limits, speed: Math.max(Math.abs(velocity), speed) };
}

/** The speed of the nearest step of the head's table, which is all that the drive bytes can say. */
function realSpeed(axis: AxisName, speed: number, settings: PtzSettings): number {
  return Math.abs(speed) < STILL
    ? 0
    : Math.sign(speed) * stepSpeedOf(axis, speedStepOf(axis, Math.abs(speed), settings), settings);
}
