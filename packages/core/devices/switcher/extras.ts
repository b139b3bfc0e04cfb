/** What a switcher has beside its first mix bank: a second bank, layout engines, keyer settings, reframed sources, and whether its inputs have a picture. */
import { z } from 'zod';
import type { PlainValue } from '../../show/index';
import { earliest } from '../behaviour';
import { puts, restored, swaps } from '../effects';
import type { CommandDefinition, CommandEffect, DeviceCommand, PointDefinition, Points } from '../kind';
import { BOXES, INTERNAL, KEYERS, LAYOUTS } from './numbers';

const INPUTS = 64;
const list = (count: number): number[] => Array.from({ length: count }, (_, index) => index + 1);

interface Rest {
  /** Points of everything here, under their keys: they change only when they are set. */
  readonly points: Points;
  /** Moves under way, by the point that says so, with the time at which each is over. */
  readonly moves: Readonly<Record<string, { readonly endsAt: number; readonly then: Points }>>;
  /** When the next of them is over, or null: looked at in every step of a rehearsal. */
  readonly wake: number | null;
}
export type Extras = Rest;

const PICTURES = ['good', 'none', 'black', 'frozen'] as const;
/** Simulated trouble is offered for so many inputs. */
const TROUBLED = 16;

const boxStart = (box: number): Points => ({
  Occupant: 0,
  On: box <= 2,
  Place: box === 1 ? '0.02 0.15 0.47 0.47' : box === 2 ? '0.51 0.15 0.47 0.47' : '0.25 0.25 0.5 0.5',
  Crop: '0 0 0 0',
  Border: 0,
  Order: box,
});

/** Ways in which the edge of a wipe travels. */
export const WIPES = ['right', 'left', 'down', 'up'] as const;

const START: Points = {
  transition: 'mix',
  meteors: 0,
  bank2Program: 1,
  bank2Preview: 2,
  bank2Mixing: false,
  ...Object.fromEntries(
    list(LAYOUTS).flatMap((layout) => [
      [`layout${layout}Background`, 0],
      [`layout${layout}Moving`, false],
      ...list(BOXES).flatMap((box) =>
        Object.entries(boxStart(box)).map(([name, value]) => [`layout${layout}Box${box}${name}`, value]),
      ),
    ]),
  ),
  ...Object.fromEntries(
    list(KEYERS).flatMap((keyer) => [
      [`keyer${keyer}Fill`, 0],
      [`keyer${keyer}Kind`, 'linear'],
      [`keyer${keyer}Colour`, '#00FF00'],
      [`keyer${keyer}Clip`, 50],
      [`keyer${keyer}Gain`, 50],
    ]),
  ),
};

/** As it stands when switched on, or as last known. */
export function startExtras(inputs: number, from: Points): Extras {
  const base = standingOf(inputs);
  let points = base;
  for (const key in base) {
    const value = from[key];
    if (value === undefined || value === base[key]) continue;
    if (points === base) points = { ...base };
    points[key] = value;
  }
  return { points, moves: {}, wake: null };
}

const standing = new Map<number, Record<string, PlainValue>>();

/** What a switcher with so many inputs shows as just switched on. One object for all of them: some hundred keys take longer to put together than a rehearsal of a button. */
function standingOf(inputs: number): Record<string, PlainValue> {
  let own = standing.get(inputs);
  if (own === undefined) {
    own = { ...START };
    for (const input of list(inputs))
      Object.assign(own, { [`input${input}Window`]: FULL_VIEW, [`input${input}Picture`]: 'good' });
    standing.set(inputs, own);
  }
  return own;
}

export const FULL_VIEW = '0.5 0.5 1';
const text = (...numbers: readonly (PlainValue | undefined)[]): string =>
  numbers.map((number) => Math.round(Number(number) * 1e4) / 1e4).join(' ');
const set = (extras: Extras, points: Points): Extras => ({
  points: { ...extras.points, ...points },
  moves: extras.moves,
  wake: extras.wake,
});
/** With the kind of the latest transition; the same when it is of that kind already. */
export const withTransition = (extras: Extras, kind: string): Extras =>
  extras.points.transition === kind ? extras : set(extras, { transition: kind });
const wakeOf = (moves: Extras['moves']): number | null => earliest(...Object.values(moves).map((move) => move.endsAt));

/** Until `frames` have gone the old place is told and the move as under way; then the new place. */
function moved(extras: Extras, sign: string, then: Points, frames: number, now: number, frameMs: number): Extras {
  if (frames <= 0) return set(extras, then);
  const running = extras.moves[sign];
  const moves = { ...extras.moves, [sign]: { endsAt: now + frames * frameMs, then: { ...running?.then, ...then } } };
  return { points: { ...extras.points, [sign]: true }, moves, wake: wakeOf(moves) };
}

/** What has come to its end up to now. The same when nothing has. */
export function advanceExtras(extras: Extras, now: number): Extras {
  if (extras.wake === null || now + 1e-6 < extras.wake) return extras;
  const over = Object.entries(extras.moves).filter(([, move]) => now + 1e-6 >= move.endsAt);
  const points: Record<string, PlainValue> = { ...extras.points };
  for (const [sign, move] of over) Object.assign(points, move.then, { [sign]: false });
  const moves = Object.fromEntries(
    Object.entries(extras.moves).filter(([sign]) => !over.some(([done]) => done === sign)),
  );
  return { points, moves, wake: wakeOf(moves) };
}

/** Carries out one of the commands below. @returns the new state, the reason of a refusal, or undefined when the command is none of these */
export function actExtras(
  extras: Extras,
  { command, params }: DeviceCommand,
  now: number,
  frameMs: number,
  inputs: number,
): Extras | string | undefined {
  const source = Number(params.source);
  if (params.source !== undefined && (!Number.isInteger(source) || source < 0 || source > inputs + INTERNAL.length))
    return `There is no input ${source}.`;
  const box = `layout${Number(params.layout)}Box${Number(params.box)}`;
  const keyer = `keyer${Number(params.keyer)}`;
  const { points } = extras;
  switch (command) {
    case 'bank2Program':
    case 'bank2Preview':
      return source === 0 ? 'There is no input 0.' : set(extras, { [command]: source });
    case 'bank2Cut':
      return set(extras, { bank2Program: points.bank2Preview ?? 1, bank2Preview: points.bank2Program ?? 1 });
    case 'bank2Mix':
      return points.bank2Mixing === true
        ? 'A mix is under way.'
        : moved(
            extras,
            'bank2Mixing',
            { bank2Program: points.bank2Preview ?? 1, bank2Preview: points.bank2Program ?? 1 },
            Number(params.frames),
            now,
            frameMs,
          );
    case 'background':
      return set(extras, { [`layout${Number(params.layout)}Background`]: source });
    case 'boxOccupant':
      return set(extras, { [`${box}Occupant`]: source });
    case 'boxOn':
      return set(extras, { [`${box}On`]: params.on === true });
    case 'boxPlace':
      return moved(
        extras,
        `layout${Number(params.layout)}Moving`,
        { [`${box}Place`]: text(params.x, params.y, params.width, params.height) },
        Number(params.frames),
        now,
        frameMs,
      );
    case 'boxCrop':
      return Number(params.left) + Number(params.right) >= 1 || Number(params.top) + Number(params.bottom) >= 1
        ? 'Nothing would be left of the picture.'
        : set(extras, { [`${box}Crop`]: text(params.left, params.top, params.right, params.bottom) });
    case 'boxBorder':
      return set(extras, { [`${box}Border`]: Number(params.width) });
    case 'boxOrder':
      return set(extras, { [`${box}Order`]: Number(params.order) });
    case 'keyFill':
      return set(extras, { [`${keyer}Fill`]: source });
    case 'keyKind':
      return set(extras, { [`${keyer}Kind`]: String(params.kind) });
    case 'keyColour':
      return /^#[0-9A-F]{6}$/i.test(String(params.colour))
        ? set(extras, { [`${keyer}Colour`]: String(params.colour).toUpperCase() })
        : 'A colour is written #RRGGBB.';
    case 'keyClip':
      return set(extras, { [`${keyer}Clip`]: Number(params.clip) });
    case 'keyGain':
      return set(extras, { [`${keyer}Gain`]: Number(params.gain) });
    case 'reframe':
      if (source < 1 || source > inputs) return 'Only an input can be reframed.';
      return moved(
        extras,
        'reframing',
        { [`input${source}Window`]: windowText(Number(params.x), Number(params.y), Number(params.scale)) },
        Number(params.frames),
        now,
        frameMs,
      );
    case 'meteor':
      return set(extras, { meteors: Number(points.meteors) + 1 });
    case 'picturesGood':
      return set(extras, Object.fromEntries(list(inputs).map((input) => [`input${input}Picture`, 'good'])));
    default: {
      const [, input, what] = /^input(\d+)(None|Black|Frozen)$/.exec(command) ?? [];
      return input === undefined || what === undefined || Number(input) > inputs
        ? undefined
        : set(extras, { [`input${input}Picture`]: what.toLowerCase() });
    }
  }
}

/** A window as it is told: centre and scale, kept inside the frame. */
export function windowText(x: number, y: number, scale: number): string {
  const half = 0.5 / Math.max(1, scale);
  const inside = (value: number): number => Math.min(1 - half, Math.max(half, value));
  return text(inside(x), inside(y), Math.max(1, scale));
}

const Source = z.string().meta({ title: 'Source', reference: 'source' });
const Layout = z.number().int().min(1).max(LAYOUTS).default(1).meta({ title: 'Layout engine' });
const Box = z.number().int().min(1).max(BOXES).default(1).meta({ title: 'Box' });
const Keyer = z.number().int().min(1).max(KEYERS).default(1).meta({ title: 'Keyer' });
const Share = (title: string, start: number) =>
  z.number().min(-1).max(2).default(start).meta({ title, unit: 'of the frame' });
const Cut = (title: string) => z.number().min(0).max(0.95).default(0).meta({ title, unit: 'of the source' });
const Frames = z.number().int().min(0).max(1000).default(0).meta({ title: 'Length', unit: 'f' });
const Level = (title: string) => z.number().min(0).max(100).default(50).meta({ title, unit: '%' });
const switcherCommand = (
  words: string,
  phrase: string,
  params: z.ZodObject,
  more: Partial<CommandDefinition> = {},
): CommandDefinition => ({ words, phrase, params, seenOnAir: true, repeatable: true, ...more });

const BANK2_TAKE = swaps('bank2Program', 'bank2Preview', ['bank2Program', 'bank2Preview']);

/** The window that the source had, over the same length. Both ways in reach the device as a reframe of an input. */
const REFRAME: CommandEffect = {
  makes: () => ({}),
  undo: ({ source, frames = 0 }, read) => {
    const before = source === undefined ? undefined : read(`input${String(source)}Window`);
    if (source === undefined || before === undefined) return null;
    const [x = 0.5, y = 0.5, scale = 1] = numbersIn(before);
    return [{ command: 'reframe', params: { source, x, y, scale, frames } }];
  },
};

export const EXTRA_COMMANDS: Readonly<Record<string, CommandDefinition>> = {
  bank2Program: switcherCommand(
    'Put a source on program of mix bank 2',
    'Put {source} on program of bank 2',
    z.strictObject({ source: Source }),
    { seenOnAir: false, effect: puts('bank2Program', 'bank2Program', 'source') },
  ),
  bank2Preview: switcherCommand(
    'Put a source on preview of mix bank 2',
    'Preview {source} on bank 2',
    z.strictObject({ source: Source }),
    { seenOnAir: false, effect: puts('bank2Preview', 'bank2Preview', 'source') },
  ),
  bank2Cut: switcherCommand('Cut mix bank 2', 'Cut bank 2', z.strictObject({}), {
    seenOnAir: false,
    repeatable: false,
    effect: BANK2_TAKE,
  }),
  bank2Mix: switcherCommand(
    'Mix on mix bank 2',
    'Mix bank 2 over {frames} f',
    z.strictObject({ frames: z.number().int().min(1).max(1000).default(25).meta({ title: 'Length', unit: 'f' }) }),
    { seenOnAir: false, repeatable: false, unsettles: ['bank2Mixing'], effect: BANK2_TAKE },
  ),
  background: switcherCommand(
    'Set the background of a layout',
    'Background {source} behind layout {layout}',
    z.strictObject({ layout: Layout, source: Source }),
    { effect: puts('background', 'layout{layout}Background', 'source') },
  ),
  boxOccupant: switcherCommand(
    'Put a source into a box',
    'Put {source} into box {box} of layout {layout}',
    z.strictObject({ source: Source, layout: Layout, box: Box }),
    { effect: puts('boxOccupant', 'layout{layout}Box{box}Occupant', 'source') },
  ),
  boxOn: switcherCommand(
    'Show or hide a box',
    'Show box {box} of layout {layout}: {on}',
    z.strictObject({ layout: Layout, box: Box, on: z.boolean().default(true).meta({ title: 'Shown' }) }),
    { phraseOff: 'Hide box {box} of layout {layout}', effect: puts('boxOn', 'layout{layout}Box{box}On', 'on') },
  ),
  boxPlace: switcherCommand(
    'Place a box, at once or over some frames',
    'Move box {box} of layout {layout} over {frames} f',
    z.strictObject({
      layout: Layout,
      box: Box,
      x: Share('Left', 0.25),
      y: Share('Top', 0.25),
      width: Share('Width', 0.5),
      height: Share('Height', 0.5),
      frames: Frames,
    }),
    { effect: restored('layout{layout}Box{box}Place', () => EXTRA_POINTS) },
  ),
  boxCrop: switcherCommand(
    'Crop the source of a box',
    'Crop box {box} of layout {layout}',
    z.strictObject({
      layout: Layout,
      box: Box,
      left: Cut('Left'),
      top: Cut('Top'),
      right: Cut('Right'),
      bottom: Cut('Bottom'),
    }),
    { effect: restored('layout{layout}Box{box}Crop', () => EXTRA_POINTS) },
  ),
  boxBorder: switcherCommand(
    'Set the border of a box',
    'Border {width} round box {box} of layout {layout}',
    z.strictObject({
      layout: Layout,
      box: Box,
      width: z.number().min(0).max(0.1).default(0.004).meta({ title: 'Width', unit: 'of the frame' }),
    }),
    { effect: restored('layout{layout}Box{box}Border', () => EXTRA_POINTS) },
  ),
  boxOrder: switcherCommand(
    'Set which box is in front',
    'Box {box} of layout {layout} as number {order} from behind',
    z.strictObject({
      layout: Layout,
      box: Box,
      order: z.number().int().min(1).max(BOXES).default(1).meta({ title: 'From behind' }),
    }),
    { effect: restored('layout{layout}Box{box}Order', () => EXTRA_POINTS) },
  ),
  keyFill: switcherCommand(
    'Set what a keyer fills with',
    'Keyer {keyer} fills with {source}',
    z.strictObject({ keyer: Keyer, source: Source }),
    { effect: puts('keyFill', 'keyer{keyer}Fill', 'source') },
  ),
  keyKind: switcherCommand(
    'Set the kind of a key',
    'Keyer {keyer} keys by {kind}',
    z.strictObject({
      keyer: Keyer,
      kind: z.enum(['linear', 'luminance', 'chroma']).default('linear').meta({ title: 'Kind' }),
    }),
    { effect: puts('keyKind', 'keyer{keyer}Kind', 'kind') },
  ),
  keyColour: switcherCommand(
    'Set the colour that a keyer takes out',
    'Keyer {keyer} takes out {colour}',
    z.strictObject({ keyer: Keyer, colour: z.string().max(7).default('#00FF00').meta({ title: 'Colour, #RRGGBB' }) }),
    { effect: puts('keyColour', 'keyer{keyer}Colour', 'colour') },
  ),
  keyClip: switcherCommand(
    'Set the clip level of a key',
    'Keyer {keyer} at clip {clip} %',
    z.strictObject({ keyer: Keyer, clip: Level('Clip') }),
    { effect: puts('keyClip', 'keyer{keyer}Clip', 'clip') },
  ),
  keyGain: switcherCommand(
    'Set the gain of a key',
    'Keyer {keyer} at gain {gain} %',
    z.strictObject({ keyer: Keyer, gain: Level('Gain') }),
    { effect: puts('keyGain', 'keyer{keyer}Gain', 'gain') },
  ),
  reframeTo: switcherCommand(
    'Reframe a source as stored',
    'Reframe to {reframe}',
    z.strictObject({ reframe: z.string().meta({ title: 'Stored reframe', reference: 'reframe' }), frames: Frames }),
    { effect: REFRAME, sentAs: 'reframe' },
  ),
  reframe: switcherCommand(
    'Reframe a source',
    'Reframe {source}',
    z.strictObject({
      source: Source,
      x: z.number().min(0).max(1).default(0.5).meta({ title: 'Centre from the left', unit: 'of the frame' }),
      y: z.number().min(0).max(1).default(0.5).meta({ title: 'Centre from the top', unit: 'of the frame' }),
      scale: z.number().min(1).max(8).default(1).meta({ title: 'Scale', unit: '×' }),
      frames: Frames,
    }),
    { effect: REFRAME },
  ),
};

/** Numbers out of a text of them. */
const numbersIn = (value: PlainValue): number[] => String(value).split(' ').map(Number);
/** A source as a command names it when it is put back: by the input's number, since that is what the device itself tells. */
const bySource =
  (command: string, params: Readonly<Record<string, PlainValue>> = {}) =>
  (value: PlainValue): DeviceCommand => ({ command, params: { ...params, source: `input:${Number(value)}` } });

export const EXTRA_POINTS: Readonly<Record<string, PointDefinition>> = {
  transition: {
    words: `Kind of the latest transition: mix, ${WIPES.map((way) => `wipe ${way}`).join(', ')}`,
    type: 'text',
  },
  bank2Program: { words: 'Input on program of mix bank 2', type: 'number', means: 'input' },
  bank2Preview: { words: 'Input on preview of mix bank 2', type: 'number', means: 'input' },
  bank2Mixing: { words: 'Mix under way on mix bank 2', type: 'switch' },
  meteors: { words: 'Meteors that a stand-in let cross the picture of the sky', type: 'number' },
  reframing: { words: 'A source is being reframed', type: 'switch' },
  ...Object.fromEntries(
    list(LAYOUTS).flatMap((layout): [string, PointDefinition][] => [
      [
        `layout${layout}Background`,
        {
          words: `Input behind layout ${layout}`,
          type: 'number',
          means: 'input',
          restore: bySource('background', { layout }),
        },
      ],
      [`layout${layout}Moving`, { words: `Boxes of layout ${layout} move`, type: 'switch' }],
      ...list(BOXES).flatMap((box): [string, PointDefinition][] => {
        const of = `box ${box} of layout ${layout}`;
        const where = { layout, box };
        const named = (name: string, definition: PointDefinition): [string, PointDefinition] => [
          `layout${layout}Box${box}${name}`,
          definition,
        ];
        return [
          named('Occupant', {
            words: `Occupant of ${of}, by its input`,
            type: 'number',
            means: 'input',
            restore: bySource('boxOccupant', where),
          }),
          named('On', {
            words: `${of.replace('b', 'B')} is shown`,
            type: 'switch',
            restore: (value) => ({ command: 'boxOn', params: { ...where, on: value === true } }),
          }),
          named('Place', {
            words: `Left, top, width and height of ${of}`,
            type: 'text',
            restore: (value) => {
              const [x = 0, y = 0, width = 1, height = 1] = numbersIn(value);
              return { command: 'boxPlace', params: { ...where, x, y, width, height, frames: 0 } };
            },
          }),
          named('Crop', {
            words: `Crop left, top, right and bottom of ${of}`,
            type: 'text',
            restore: (value) => {
              const [left = 0, top = 0, right = 0, bottom = 0] = numbersIn(value);
              return { command: 'boxCrop', params: { ...where, left, top, right, bottom } };
            },
          }),
          named('Border', {
            words: `Border of ${of}`,
            type: 'number',
            unit: 'of the frame',
            restore: (value) => ({ command: 'boxBorder', params: { ...where, width: Number(value) } }),
          }),
          named('Order', {
            words: `Place from behind of ${of}`,
            type: 'number',
            restore: (value) => ({ command: 'boxOrder', params: { ...where, order: Number(value) } }),
          }),
        ];
      }),
    ]),
  ),
  ...Object.fromEntries(
    list(KEYERS).flatMap((keyer): [string, PointDefinition][] => [
      [
        `keyer${keyer}Fill`,
        {
          words: `Input that keyer ${keyer} fills with`,
          type: 'number',
          means: 'input',
          restore: bySource('keyFill', { keyer }),
        },
      ],
      [
        `keyer${keyer}Kind`,
        {
          words: `Kind of key of keyer ${keyer}`,
          type: 'text',
          restore: (value) => ({ command: 'keyKind', params: { keyer, kind: String(value) } }),
        },
      ],
      [
        `keyer${keyer}Colour`,
        {
          words: `Colour that keyer ${keyer} takes out`,
          type: 'text',
          restore: (value) => ({ command: 'keyColour', params: { keyer, colour: String(value) } }),
        },
      ],
      [
        `keyer${keyer}Clip`,
        {
          words: `Clip of keyer ${keyer}`,
          type: 'number',
          unit: '%',
          restore: (value) => ({ command: 'keyClip', params: { keyer, clip: Number(value) } }),
        },
      ],
      [
        `keyer${keyer}Gain`,
        {
          words: `Gain of keyer ${keyer}`,
          type: 'number',
          unit: '%',
          restore: (value) => ({ command: 'keyGain', params: { keyer, gain: Number(value) } }),
        },
      ],
    ]),
  ),
  ...Object.fromEntries(
    list(INPUTS).map((input) => [
      `input${input}Window`,
      { words: `Window of input ${input}: centre and scale`, type: 'text' as const },
    ]),
  ),
  ...Object.fromEntries(
    list(INPUTS).map((input) => [
      `input${input}Picture`,
      { words: `Picture of input ${input}: ${PICTURES.join(', ')}`, type: 'text' as const },
    ]),
  ),
};

export const EXTRA_SIMULATIONS: Readonly<Record<string, { readonly words: string }>> = {
  picturesGood: { words: 'Every input has a picture again' },
  meteor: { words: 'A meteor crosses the picture of the sky' },
  ...Object.fromEntries(
    list(TROUBLED).flatMap((input) => [
      [`input${input}None`, { words: `Input ${input} loses its picture` }],
      [`input${input}Black`, { words: `Input ${input} turns black` }],
      [`input${input}Frozen`, { words: `Input ${input} freezes` }],
    ]),
  ),
};
