/** What a device by profile takes over from the kind whose part it fills. */
import { z } from 'zod';
import type { ProfileCommand, ProfileFile, ProfilePart } from '../../show/index';
import { captions } from '../captions/index';
import type { CommandDefinition, CommandEffect, DeviceKind, PointDefinition } from '../kind';
import { ptzHead } from '../ptzHead/index';
import { recorder } from '../recorder/index';
import { router } from '../router/index';

const PART_KINDS: Readonly<Record<ProfilePart, DeviceKind>> = { ptzHead, recorder, router, captions };

/** The kind whose part a profile fills; null where it fills none. */
export const partKindOf = ({ part }: Pick<ProfileFile, 'part'>): DeviceKind | null =>
  part === null ? null : PART_KINDS[part];

/** What a position comes to on the wire: its place, the number of its memory in the head, and what was stored of the lens. */
const OF_A_POSITION = ['position', 'number', 'pan', 'tilt', 'zoom', 'focus', 'iris'];

/** Names that the messages of a command may use as `param.…`, beside those that the profile gives it itself. */
export function partParams(profile: Pick<ProfileFile, 'part'>, command: string): readonly string[] {
  const definition = partKindOf(profile)?.commands[command];
  if (definition === undefined) return [];
  return [...Object.keys(definition.params.shape), ...(command === 'recall' ? OF_A_POSITION : [])];
}

/** Parameters that the messages and effects of a command really use. */
export const usedParams = ({ send, sets }: ProfileCommand): ReadonlySet<string> =>
  new Set([...JSON.stringify([send, sets]).matchAll(/\bparam\.([A-Za-z0-9]+)/g)].map(([, name = '']) => name));

/** What is given up of the part's own effect where the profile cannot do it. */
function effectWithin(effect: CommandEffect, profile: ProfileFile): CommandEffect {
  const points = partPoints(profile);
  const commands = new Set(profile.commands.map(({ key }) => key));
  return {
    ...effect,
    makes: (params, read) =>
      Object.fromEntries(Object.entries(effect.makes(params, read)).filter(([point]) => point in points)),
    undo: (params, read) => {
      const back = effect.undo(params, read);
      return back?.every(({ command }) => commands.has(command)) === true ? back : null;
    },
  };
}

/** A command of a profile that is named as one of its part's: it moves, is guarded, ends and is undone like that one. Null where it is the profile's own. */
export function partCommand(profile: ProfileFile, command: ProfileCommand): CommandDefinition | null {
  const own = partKindOf(profile)?.commands[command.key];
  if (own === undefined) return null;
  const used = usedParams(command);
  const { effect, endedBy, sentAs: _sentAs, ...rest } = own;
  const isEnded = endedBy !== undefined && profile.commands.some(({ key }) => key === endedBy.command);
  // What its messages have no use for is not asked for, unless the command means nothing without it. A length is the driver's own: it says the stop.
  const shape = Object.fromEntries(
    Object.entries(own.params.shape as Record<string, z.ZodType>).filter(
      ([key, schema]) => used.has(key) || !schema.safeParse(undefined).success || (isEnded && key === 'forSeconds'),
    ),
  );
  const points = partPoints(profile);
  return {
    ...rest,
    words: command.words,
    params: z.strictObject(shape),
    repeatable: command.repeatable,
    ...(own.unsettles === undefined ? {} : { unsettles: own.unsettles.filter((point) => point in points) }),
    ...(effect === undefined ? {} : { effect: effectWithin(effect, profile) }),
    ...(isEnded ? { endedBy } : {}),
    ...(command.key === 'recall' && used.has('number') ? { byMemory: true as const } : {}),
  };
}

/** Whether a head by profile can be told where it has arrived: it names its memory, or says where it looks. */
export const tellsArrival = ({ part, points }: Pick<ProfileFile, 'part' | 'points'>): boolean => {
  const has = (key: string): boolean => points.some((point) => point.key === key && point.type === 'number');
  return part === 'ptzHead' && (has('memory') || (has('pan') && has('tilt') && has('zoom')));
};

/** The points of a profile, and those that follow from them. */
export function partPoints(profile: Pick<ProfileFile, 'part' | 'points'>): Readonly<Record<string, PointDefinition>> {
  const arrived = ptzHead.points.arrived;
  return Object.fromEntries([
    ...profile.points.map(({ key, words, type, unit }): [string, PointDefinition] => [
      key,
      { words, type, ...(unit === '' ? {} : { unit }) },
    ]),
    ...(arrived !== undefined && tellsArrival(profile) ? [['arrived', arrived] as const] : []),
  ]);
}
