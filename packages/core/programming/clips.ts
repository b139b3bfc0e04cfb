import { type DeviceKind, kindOf } from '../devices/index';
import { type Device, type PlainValue, type ShowDocument, type Step } from '../show/index';
import { fieldsOf } from './fields';

/** A layer of a channel of a clip player. */
export interface ClipSlot {
  readonly channel: number;
  readonly layer: number;
}

/** A clip that is to come to a layer. */
export interface PlacedClip extends ClipSlot {
  readonly clip: string;
}

/** How the chosen clips come. */
export interface ClipManner {
  /** Kind of transition of their layers; empty: as the layers are set. */
  readonly transition: string;
  /** Length of that transition, milliseconds. */
  readonly ms: number;
  readonly loop: boolean;
}

const needed = ['cue', 'play', 'transition'] as const;
const playerKind = (device: Device, document: ShowDocument): DeviceKind | undefined => {
  const kind = kindOf(device, document);
  return needed.every((command) => kind?.commands[command] !== undefined) && kind?.lists?.clips !== undefined
    ? kind
    : undefined;
};

/** The clip players of a show. */
export const playersOf = (document: ShowDocument): Device[] =>
  document.devices.filter((device) => playerKind(device, document) !== undefined);

/** Every layer of a player, in its order. */
export function slotsOf(device: Device, document: ShowDocument): ClipSlot[] {
  const cue = playerKind(device, document)?.commands.cue;
  const most = (key: string): number => fieldsOfCue.find((field) => field.key === key)?.max ?? 1;
  const fieldsOfCue = cue === undefined ? [] : fieldsOf(cue);
  const upTo = (count: number): number[] => Array.from({ length: count }, (_, at) => at + 1);
  return upTo(most('channel')).flatMap((channel) => upTo(most('layer')).map((layer) => ({ channel, layer })));
}

/** Kinds of transitions that a layer of a player can come by. */
export const transitionsOf = (device: Device, document: ShowDocument): readonly string[] => {
  const transition = playerKind(device, document)?.commands.transition;
  return transition === undefined ? [] : (fieldsOf(transition).find(({ key }) => key === 'kind')?.choices ?? []);
};

/** The next layer that none of these stands on; the last one where all are taken. */
export function freeSlot(slots: readonly ClipSlot[], placed: readonly PlacedClip[]): ClipSlot {
  const free = slots.find((slot) => !placed.some((placedClip) => sameSlot(placedClip, slot)));
  return free ?? slots.at(-1) ?? { channel: 1, layer: 1 };
}

export const sameSlot = (clipSlot: ClipSlot, other: ClipSlot): boolean =>
  clipSlot.channel === other.channel && clipSlot.layer === other.layer;

/** The layer that two clips would stand on; null: each has its own. */
export const clash = (placed: readonly PlacedClip[]): ClipSlot | null =>
  placed.find((placedClip, at) => placed.slice(at + 1).some((other) => sameSlot(placedClip, other))) ?? null;

type Made = Step extends infer S ? (S extends Step ? Omit<S, 'id'> : never) : never;

/**
 * Steps that play clips: all of them are made ready at once, and then begin at once. The second part leaves as one bundle, so that they begin in one
 * frame.
 */
export function clipSteps(device: string, placed: readonly PlacedClip[], { transition, ms, loop }: ClipManner): Made[] {
  const does = (id: string, command: string, params: Readonly<Record<string, PlainValue>>): Step => ({
    id,
    onFail: 'stop',
    kind: 'command',
    device,
    command,
    params,
  });
  const ready = placed.flatMap(({ clip, channel, layer }, at) => [
    ...(transition === '' ? [] : [does(`by${at}`, 'transition', { kind: transition, ms, channel, layer })]),
    does(`cue${at}`, 'cue', { clip, channel, layer, loop }),
  ]);
  const plays = placed.map(({ channel, layer }, at) => does(`play${at}`, 'play', { channel, layer }));
  return [...atOnce(ready), ...atOnce(plays)];
}

function atOnce(steps: readonly Step[]): Made[] {
  const [only] = steps;
  if (only === undefined) return [];
  if (steps.length > 1) return [{ onFail: 'stop', kind: 'together', steps: [...steps] }];
  const { id: _id, ...made } = only;
  return [made as Made];
}
