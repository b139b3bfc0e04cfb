import { arrivalTimeoutMs, type PtzSettings, travelMs } from '@umbek/core/devices';
import type { Position, Step } from '@umbek/core/show';

/** Longest way to a position from any of the others, as a wait allows for it. */
const limitTo = (position: Position, positions: readonly Position[], settings: PtzSettings): number =>
  Math.max(3000, arrivalTimeoutMs(Math.max(0, ...positions.map((item) => travelMs(item, position, settings)))));

/** A round through positions: each recalled, arrived at and looked at for so long. The last one is where it ends. */
export function roundSteps(
  camera: string,
  positions: readonly Position[],
  settings: PtzSettings,
  intervalMs: number,
): Step[] {
  return positions.flatMap((position, index): Step[] => [
    {
      id: `recall${index}`,
      onFail: 'stop',
      kind: 'command',
      device: camera,
      command: 'recall',
      params: { position: position.key },
    },
    {
      id: `arrive${index}`,
      onFail: 'stop',
      kind: 'wait',
      until: `${camera}.arrived == "${position.key}"`,
      timeoutMs: limitTo(position, positions, settings) + 10_000,
    },
    ...(index < positions.length - 1
      ? [{ id: `look${index}`, onFail: 'stop' as const, kind: 'pause' as const, length: { ms: intervalMs } }]
      : []),
  ]);
}

/** Memories for positions: each keeps the one that it has, the others take the lowest free ones from 1. Null where the head has none left. */
export function memoriesFor(positions: readonly Position[]): Map<string, number> | null {
  const taken = new Set(positions.flatMap((position) => (position.headNumber === null ? [] : [position.headNumber])));
  const given = new Map<string, number>();
  for (const { key, headNumber } of positions) {
    let number = headNumber ?? 1;
    if (headNumber === null) {
      while (taken.has(number)) number += 1;
      taken.add(number);
    }
    if (number > 127) return null;
    given.set(key, number);
  }
  return given;
}

/** Goes to each place as the show has it, waits until the head stands there, and stores it in the head. */
export function writeSteps(
  camera: string,
  positions: readonly Position[],
  memories: ReadonlyMap<string, number>,
): Step[] {
  return positions.flatMap((position, index): Step[] => [
    {
      id: `go${index}`,
      onFail: 'stop',
      kind: 'command',
      device: camera,
      command: 'goTo',
      params: { pan: position.pan, tilt: position.tilt, zoom: position.zoom },
    },
    { id: `stand${index}`, onFail: 'stop', kind: 'wait', until: `!${camera}.travelling`, timeoutMs: 30_000 },
    {
      id: `store${index}`,
      onFail: 'stop',
      kind: 'command',
      device: camera,
      command: 'store',
      params: { number: memories.get(position.key) ?? 1 },
    },
    // The head takes one command at a time: the next move waits until the memory is written.
    { id: `rest${index}`, onFail: 'stop', kind: 'pause', length: { ms: 100 } },
  ]);
}

/** Whether the head holds another place under a position's number than the show; null when it holds none of it. */
export const headDiffers = ({ inHead, headNumber, pan, tilt, zoom }: Position): boolean | null =>
  headNumber === null || inHead === null
    ? null
    : Math.abs(inHead.pan - pan) > 0.16 ||
      Math.abs(inHead.tilt - tilt) > 0.16 ||
      Math.abs(inHead.zoom / zoom - 1) > 0.02;
