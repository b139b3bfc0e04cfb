/** The recorder: records one feed into named files, and is "recording" only once it says so. */
import { z } from 'zod';
import { type Behaviour, earliest, modelOf, namesIn, nextSecond, secondsSince, unknownCommand } from '../behaviour';
import { turns } from '../effects';
import { defineKind } from '../kind';
import { DAY_S, TIMECODE_POINTS, TimecodeFrom } from '../timecode';

const Settings = z.strictObject({
  replyDelayMs: z.number().min(0).max(1000).default(5),
  /** From being asked to recording. */
  startDelayMs: z.number().min(0).max(10_000).default(300),
  /** Room on its disk when it is switched on, gigabytes (10⁹ bytes). */
  spaceGb: z.number().min(0).max(1_000_000).default(500),
  /** Its timecode as it is switched on, seconds of real time since 00:00:00:00. */
  timecodeFrom: TimecodeFrom,
  /** `recording`: its timecode stands while it does not record. */
  timecodeRuns: z.enum(['recording', 'always']).default('recording'),
  /** Data rate while it records, megabits a second. */
  rateMbit: z.number().min(0.1).max(10_000).default(50),
});
type Settings = z.infer<typeof Settings>;

interface Recorded {
  readonly name: string;
  readonly seconds: number;
}

interface State {
  /** When it will have begun; null when it does not start. */
  readonly startsAt: number | null;
  /** Recording since this moment; null while it is not. */
  readonly since: number | null;
  /** Recording of the present file since this moment; later than `since` after a split. */
  readonly fileSince: number;
  readonly file: string;
  readonly base: string;
  readonly part: number;
  readonly files: readonly Recorded[];
  readonly usedGb: number;
  /** Its timecode counts from here, seconds; it has run for so long before the present recording, milliseconds. */
  readonly timecode: number;
  readonly ran: number;
  /** When it was switched on. */
  readonly began: number;
  readonly willFail: boolean;
  readonly fault: string;
  readonly stoppedUnasked: boolean;
}

/** Since when its timecode runs as if it had never stood; null while it stands. */
const timecodeSince = ({ since, ran, began }: State, settings: Settings): number | null =>
  settings.timecodeRuns === 'always' ? began : since === null ? null : since - ran;

const gigabytes = (ms: number, settings: Settings): number => (ms / 1000) * (settings.rateMbit / 8000);
const roomAt = (state: State, now: number, settings: Settings): number =>
  settings.spaceGb - state.usedGb - (state.since === null ? 0 : gigabytes(now - state.since, settings));
/** When the disk is full if it goes on like this; null while it does not record. */
const fullAt = (state: State, now: number, settings: Settings): number | null =>
  state.since === null ? null : now + (Math.max(0, roomAt(state, now, settings)) * 8000 * 1000) / settings.rateMbit;

function ended(state: State, now: number, settings: Settings, unasked: string): State {
  if (state.since === null) return { ...state, startsAt: null };
  return {
    ...state,
    startsAt: null,
    since: null,
    ran: state.ran + now - state.since,
    usedGb: state.usedGb + gigabytes(now - state.since, settings),
    files: [...state.files, { name: state.file, seconds: (now - state.fileSince) / 1000 }],
    fault: unasked,
    stoppedUnasked: unasked !== '',
  };
}

const behaviour: Behaviour<State, Settings> = {
  start: (settings, now, from) => ({
    startsAt: null,
    since: from.recording === true ? now - Number(from.elapsed ?? 0) * 1000 : null,
    fileSince: now,
    file: String(from.file ?? ''),
    base: String(from.file ?? ''),
    part: 1,
    files: [],
    timecode:
      Number(from.timecode ?? settings.timecodeFrom) -
      (settings.timecodeRuns === 'recording' && from.recording === true ? Number(from.elapsed ?? 0) : 0),
    ran: 0,
    began: now,
    usedGb: from.spaceGb === undefined ? 0 : settings.spaceGb - Number(from.spaceGb),
    willFail: false,
    fault: '',
    stoppedUnasked: false,
  }),

  advance(state, now, settings) {
    if (state.startsAt !== null && now + 1e-6 >= state.startsAt) {
      if (state.willFail)
        return {
          ...state,
          startsAt: null,
          willFail: false,
          fault: 'It could not begin to record.',
          stoppedUnasked: true,
        };
      return { ...state, startsAt: null, since: state.startsAt, fileSince: state.startsAt };
    }
    const full = fullAt(state, now, settings);
    return full !== null && now + 1e-6 >= full ? ended(state, now, settings, 'The disk is full.') : state;
  },

  act(state, { command, params }, now, settings) {
    switch (command) {
      case 'start': {
        const name = String(params.file);
        if (state.since !== null || state.startsAt !== null) return 'It records already.';
        if (!/^[\w][\w .-]*$/.test(name))
          return `"${name}" is no file name: letters, digits, spaces, dots, dashes and underscores only.`;
        if (state.files.some((file) => file.name === name)) return `There is a file ${name} already.`;
        if (roomAt(state, now, settings) <= 0) return 'The disk is full.';
        return {
          ...state,
          startsAt: now + settings.startDelayMs,
          file: name,
          base: name,
          part: 1,
          fault: '',
          stoppedUnasked: false,
        };
      }
      case 'stop':
        return ended(state, now, settings, '');
      case 'split':
        if (state.since === null) return 'It does not record.';
        return {
          ...state,
          files: [...state.files, { name: state.file, seconds: (now - state.fileSince) / 1000 }],
          fileSince: now,
          part: state.part + 1,
          file: `${state.base}-${state.part + 1}`,
        };
      case 'delete':
        if (!state.files.some((file) => file.name === params.file)) return `There is no file ${String(params.file)}.`;
        return {
          ...state,
          files: state.files.filter((file) => file.name !== params.file),
          usedGb: Math.max(
            0,
            state.usedGb -
              gigabytes((state.files.find((file) => file.name === params.file)?.seconds ?? 0) * 1000, settings),
          ),
        };
      case 'failStart':
        return { ...state, willFail: true };
      case 'runFull':
        return {
          ...state,
          usedGb: settings.spaceGb - (state.since === null ? 0 : gigabytes(now - state.since, settings)),
        };
      case 'stopItself':
        return state.since === null ? 'It does not record.' : ended(state, now, settings, 'It stopped by itself.');
      default:
        return unknownCommand('The recorder', command);
    }
  },

  points: (state, now, settings) => {
    const room = Math.max(0, roomAt(state, now, settings));
    const runs = timecodeSince(state, settings);
    return {
      recording: state.since !== null,
      starting: state.startsAt !== null,
      file: state.since === null && state.startsAt === null ? '' : state.file,
      elapsed: state.since === null ? 0 : secondsSince(state.since, now),
      timecode: (state.timecode + (runs === null ? Math.floor(state.ran / 1000) : secondsSince(runs, now))) % DAY_S,
      timecodeRuns: runs !== null,
      spaceGb: Math.round(room * 10) / 10,
      hoursLeft: Math.round(((room * 8000) / settings.rateMbit / 3600) * 10) / 10,
      rateMbit: settings.rateMbit,
      files: namesIn(state.files),
      fault: state.fault,
      stoppedUnasked: state.stoppedUnasked,
    };
  },

  wakeAt: (state, now, settings) => {
    const runs = timecodeSince(state, settings);
    return earliest(
      state.startsAt,
      state.since === null ? null : nextSecond(state.since, now),
      runs === null ? null : nextSecond(runs, now),
      fullAt(state, now, settings),
    );
  },
};

const none = z.strictObject({});

export const recorder = defineKind({
  key: 'recorder',
  words: 'Recorder',
  protocol: 'HTTP with JSON',
  wire: 'http',
  settings: Settings,
  commands: {
    start: {
      words: 'Start recording',
      phrase: 'Record {file} on {device}',
      params: z.strictObject({ file: z.string().min(1).max(120).meta({ title: 'File name' }) }),
      seenOnAir: false,
      repeatable: false,
      unsettles: ['recording'],
      effect: turns('recording', true, () => ({ command: 'stop', params: {} })),
    },
    stop: {
      words: 'Stop recording',
      phrase: 'Stop {device}',
      params: none,
      seenOnAir: false,
      repeatable: true,
      unsettles: ['recording'],
      effect: turns('recording', false),
    },
    split: {
      words: 'Begin a new file without losing a frame',
      phrase: 'Split on {device}',
      params: none,
      seenOnAir: false,
      repeatable: false,
    },
    delete: {
      words: 'Delete a file',
      phrase: 'Delete {file} on {device}',
      params: z.strictObject({ file: z.string().min(1).max(140).meta({ title: 'File', listedIn: 'files' }) }),
      seenOnAir: false,
      repeatable: false,
    },
  },
  simulations: {
    failStart: { words: 'The next start fails' },
    runFull: { words: 'The disk is full now' },
    stopItself: { words: 'It stops by itself' },
  },
  points: {
    recording: { words: 'Records', type: 'switch' },
    starting: { words: 'Begins to record', type: 'switch' },
    file: { words: 'File that it records', type: 'text' },
    elapsed: { words: 'Recorded for', type: 'number', unit: 's', ticks: { by: 1, while: 'recording' } },
    ...TIMECODE_POINTS,
    spaceGb: { words: 'Space left', type: 'number', unit: 'GB' },
    hoursLeft: {
      words: 'Space left at the present rate',
      type: 'number',
      unit: 'h',
      moments: [{ words: 'space is left for less than 1 h', so: '{} < 1.0' }],
    },
    rateMbit: { words: 'Data rate', type: 'number', unit: 'Mbit/s' },
    files: { words: 'Files, one a line', type: 'text', lines: true },
    fault: { words: 'What is wrong', type: 'text' },
    stoppedUnasked: { words: 'Stopped unasked', type: 'switch' },
  },
  model: modelOf(behaviour),
});
