/** How many of everything a switcher has beside its inputs, and what its source numbers mean. */
import { numberOf, USUAL } from '../drawn';

export const LAYOUTS = 2;
/** Boxes of a layout. */
export const BOXES = 6;
export const KEYERS = 2;

/** The switcher's own outputs can be put anywhere that an input can: they count on behind the inputs. */
export const INTERNAL = ['Layout 1', 'Layout 2', 'Mix bank 2', 'Test bars'] as const;

/** Number of the layout engine that a source number of a switcher stands for; null when it is none. @param inputs how many inputs it has */
export const layoutNumber = (source: number, inputs: number): number | null =>
  source > inputs && source <= inputs + LAYOUTS ? source - inputs : null;

/** The same for a switcher with these settings. */
export const switcherLayoutOf = (source: number, settings: unknown): number | null =>
  layoutNumber(source, numberOf(settings, 'inputs', USUAL.switcher.inputs));

/** How many source numbers a switcher with these settings has: its inputs, and its own outputs behind them. */
export const switcherInputs = (settings: unknown): number =>
  numberOf(settings, 'inputs', USUAL.switcher.inputs) + INTERNAL.length;

/** Macros that a switcher keeps itself. */
export const MACROS = 10;
/** The point that holds the name of one of them; empty while it keeps none under that number. */
export const macroNamePoint = (number: number): string => `macro${number}Name`;
