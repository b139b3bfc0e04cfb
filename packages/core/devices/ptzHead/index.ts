/** PTZ heads: commands, points, axis motion and the model that stand-in and rehearsal share. */
import { z } from 'zod';
import { allOf, NOTHING, puts } from '../effects';
import { type CommandEffect, type DeviceCommand, defineKind } from '../kind';
import { ptzModel } from './model';
import { PtzSettings } from './settings';

export * from './glide';
export * from './motion';
export * from './settings';
export * from './travel';
export * from './learn';

const STOP: DeviceCommand = { command: 'stop', params: {} };

const Pan = z.number().min(-170).max(170).meta({ title: 'Pan', unit: '°' });
const Tilt = z.number().min(-30).max(90).meta({ title: 'Tilt', unit: '°' });
const Zoom = z.number().min(1).max(20).meta({ title: 'Zoom', unit: '×' });
/** A move that is seen: about so long, by the head's own speed steps. */
const Seconds = z.number().min(0.5).max(60).meta({ title: 'Slowly, over about', unit: 's', suggested: 4 });
const HeadNumber = z.number().int().min(0).max(127).meta({ title: 'Memory of the head' });
const degreesASecond = (title: string): z.ZodDefault<z.ZodNumber> =>
  z.number().min(-300).max(300).default(0).meta({ title, unit: '°/s' });

/** The longest that a move may go on without anybody holding it, seconds. */
export const LONGEST_DRIVE_S = 30;
const ForSeconds = z.number().min(0.04).max(LONGEST_DRIVE_S).meta({ title: 'For so long', unit: 's', suggested: 1 });

const deflection = (title: string): z.ZodDefault<z.ZodNumber> =>
  z.number().min(-1).max(1).default(0).meta({ title, unit: '−1…1' });

/** Back to where the head looked. */
const MOVE: CommandEffect = {
  makes: () => ({}),
  undo: (_params, read) => {
    const place = allOf(['pan', 'tilt', 'zoom'], read);
    if (place === null) return null;
    const [pan = 0, tilt = 0, zoom = 1] = place;
    return [{ command: 'goTo', params: { pan, tilt, zoom } }];
  },
};
const RECALL: CommandEffect = { ...MOVE, makes: ({ position = '' }) => ({ arrived: position }) };

export const ptzHead = defineKind({
  key: 'ptzHead',
  words: 'PTZ head',
  protocol: 'VISCA over IP',
  wire: 'visca',
  settings: PtzSettings,
  commands: {
    recall: {
      words: 'Recall a position',
      phrase: 'Recall {position} on {device}',
      // `position` is turned into number, pan, tilt and zoom before it reaches the device; number −1 means the head does not hold it.
      params: z.strictObject({
        position: z.string().meta({ title: 'Position', reference: 'position' }),
        seconds: Seconds.optional(),
      }),
      seenOnAir: true,
      repeatable: true,
      long: true,
      movesPicture: true,
      unsettles: ['arrived', 'travelling'],
      effect: RECALL,
    },
    goTo: {
      words: 'Go to pan, tilt and zoom',
      params: z.strictObject({
        pan: Pan.optional(),
        tilt: Tilt.optional(),
        zoom: Zoom.optional(),
        seconds: Seconds.optional(),
      }),
      seenOnAir: true,
      repeatable: true,
      long: true,
      movesPicture: true,
      unsettles: ['arrived', 'travelling'],
      effect: MOVE,
    },
    home: {
      words: 'Go to the middle: pan 0, tilt 0',
      phrase: 'Bring {device} to the middle',
      params: z.strictObject({}),
      seenOnAir: true,
      repeatable: true,
      long: true,
      movesPicture: true,
      unsettles: ['arrived', 'travelling'],
      effect: MOVE,
    },
    store: {
      words: 'Store where it looks now in the head',
      params: z.strictObject({ number: HeadNumber }),
      seenOnAir: false,
      repeatable: true,
    },
    drive: {
      words: 'Move at a speed until stopped',
      params: z.strictObject({
        pan: degreesASecond('Pan speed'),
        tilt: degreesASecond('Tilt speed'),
        zoom: z.number().min(-20_000).max(20_000).default(0).meta({ title: 'Zoom speed', unit: 'codes/s' }),
        forSeconds: ForSeconds.optional(),
      }),
      seenOnAir: true,
      repeatable: true,
      lane: 'nudge',
      movesPicture: true,
      unsettles: ['arrived'],
      endedBy: STOP,
      effect: MOVE,
    },
    nudge: {
      words: 'Nudge while held',
      phrase: 'Nudge {device}',
      // Turned into a drive with the head's nudge speed and its present angle of view, where that is known.
      params: z.strictObject({
        x: deflection('Right'),
        y: deflection('Up'),
        zoom: deflection('Closer'),
        forSeconds: ForSeconds.optional(),
      }),
      seenOnAir: true,
      repeatable: true,
      lane: 'nudge',
      movesPicture: true,
      // Between its going out and the head's word for it, nobody may take the head to stand where it stood.
      unsettles: ['arrived'],
      endedBy: STOP,
      effect: MOVE,
    },
    focusMode: {
      words: 'Focus by itself or by hand',
      params: z.strictObject({ mode: z.enum(['auto', 'manual']).default('auto').meta({ title: 'Focus' }) }),
      seenOnAir: true,
      repeatable: true,
      effect: puts('focusMode', 'focusMode', 'mode'),
    },
    focus: {
      words: 'Set the focus by hand',
      phrase: 'Focus {focus} % on {device}',
      params: z.strictObject({
        focus: z.number().min(0).max(100).default(50).meta({ title: 'Focus, far to near', unit: '%' }),
      }),
      seenOnAir: true,
      repeatable: true,
      effect: puts('focus', 'focus', 'focus'),
    },
    irisMode: {
      words: 'Iris by itself or by hand',
      params: z.strictObject({ mode: z.enum(['auto', 'manual']).default('auto').meta({ title: 'Iris' }) }),
      seenOnAir: true,
      repeatable: true,
      effect: puts('irisMode', 'irisMode', 'mode'),
    },
    iris: {
      words: 'Set the iris by hand',
      phrase: 'Iris {iris} on {device}',
      params: z.strictObject({
        iris: z.number().int().min(0).max(20).default(10).meta({ title: 'Iris, closed to open', unit: 'steps' }),
      }),
      seenOnAir: true,
      repeatable: true,
      effect: puts('iris', 'iris', 'iris'),
    },
    whiteBalance: {
      words: 'White balance',
      phrase: 'White balance {mode} on {device}',
      params: z.strictObject({
        mode: z
          .enum(['auto', 'indoor', 'outdoor', 'onePush', 'manual'])
          .default('auto')
          .meta({ title: 'White balance' }),
      }),
      seenOnAir: true,
      repeatable: true,
      effect: puts('whiteBalance', 'whiteBalance', 'mode'),
    },
    power: {
      words: 'Power on or standby',
      params: z.strictObject({ on: z.boolean().default(true).meta({ title: 'On' }) }),
      seenOnAir: true,
      repeatable: true,
      effect: puts('power', 'power', 'on'),
    },
    tally: {
      words: 'Tally lamp',
      params: z.strictObject({ on: z.boolean().default(true).meta({ title: 'On' }) }),
      seenOnAir: false,
      repeatable: true,
      effect: puts('tally', 'tally', 'on'),
    },
    stop: {
      words: 'Stop moving',
      phrase: 'Stop {device}',
      params: z.strictObject({}),
      seenOnAir: true,
      repeatable: true,
      lane: 'stop',
      effect: { makes: () => ({}), undo: () => NOTHING },
    },
  },
  points: {
    pan: { words: 'Pan', type: 'number', unit: '°' },
    tilt: { words: 'Tilt', type: 'number', unit: '°' },
    zoom: { words: 'Zoom', type: 'number', unit: '×' },
    travelling: { words: 'Moving', type: 'switch' },
    arrived: { words: 'Position it has arrived at', type: 'text' },
    focusMode: { words: 'Focus: auto, manual', type: 'text' },
    focus: { words: 'Focus, far to near', type: 'number', unit: '%' },
    irisMode: { words: 'Iris: auto, manual', type: 'text' },
    iris: { words: 'Iris, closed to open', type: 'number', unit: 'steps' },
    whiteBalance: { words: 'White balance: auto, indoor, outdoor, one push, manual', type: 'text' },
    power: { words: 'Switched on', type: 'switch' },
    tally: { words: 'Tally lamp as last told', type: 'switch' },
  },
  model: ptzModel,
});
