import type { PlainValue } from '../show/index';
import type { CommandEffect, DeviceCommand, Params, PointDefinition, ReadPoint } from './kind';

/** A point by its name, or by what the command was given. */
type PointName = string | ((params: Params) => string);
const nameOf = (point: PointName, params: Params): string => (typeof point === 'string' ? point : point(params));

/** A name with a parameter in braces, such as `ch{channel}Mute`. */
const filled = (name: string): PointName =>
  name.includes('{') ? (params) => name.replace(/\{(\w+)\}/g, (_all, key: string) => String(params[key] ?? '')) : name;

/** Nothing stood before that would have to come back. */
export const NOTHING: readonly DeviceCommand[] = [];

/**
 * Puts one point to what one parameter says; the same command with what stood before puts it back.
 * @param point its name, parameters in braces: `ch{channel}Mute`
 */
export function puts(command: string, point: string, param: string): CommandEffect {
  const of = filled(point);
  return {
    makes: (params) => (params[param] === undefined ? {} : { [nameOf(of, params)]: params[param] }),
    undo: (params, read) => {
      const before = read(nameOf(of, params));
      return before === undefined ? null : [{ command, params: { ...params, [param]: before } }];
    },
  };
}

/** Two points change places, such as program and preview. @param after the commands that put the one and the other to a source */
export const swaps = (item: string, other: string, after: readonly [string, string]): CommandEffect => ({
  relative: true,
  makes: (_params, read) => {
    const [a, b] = [read(item), read(other)];
    return a === undefined || b === undefined ? {} : { [item]: b, [other]: a };
  },
  undo: (_params, read) => {
    const [a, b] = [read(item), read(other)];
    return a === undefined || b === undefined
      ? null
      : [
          { command: after[0], params: { source: a } },
          { command: after[1], params: { source: b } },
        ];
  },
});

/** A point that tells how to put it back does so. What it becomes is not known beforehand, where the device rounds. */
export const restored = (point: string, points: () => Readonly<Record<string, PointDefinition>>): CommandEffect => {
  const of = filled(point);
  return {
    makes: () => ({}),
    undo: (params, read) => {
      const name = nameOf(of, params);
      const before = read(name);
      const restore = points()[name]?.restore;
      return before === undefined || restore === undefined ? null : [restore(before)];
    },
  };
};

/** Puts a switch on or off. @param back what puts it to where it stood; left out, or null for one of the two: nothing does */
export function turns(
  point: string,
  to: boolean,
  back: (params: Params, read: ReadPoint) => DeviceCommand | null = () => null,
): CommandEffect {
  const of = filled(point);
  return {
    makes: (params) => ({ [nameOf(of, params)]: to }),
    undo: (params, read) => {
      const before = read(nameOf(of, params));
      if (before === undefined) return null;
      if (before === to) return NOTHING;
      const command = back(params, read);
      return command === null ? null : [command];
    },
  };
}

/** Known points as texts and numbers, for commands that give back several; null when one of them is not known. */
export function allOf(names: readonly string[], read: ReadPoint): PlainValue[] | null {
  const values = names.map(read);
  return values.some((value) => value === undefined) ? null : (values as PlainValue[]);
}
