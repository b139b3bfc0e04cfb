import type { ShowDocument } from '../../show/index';
import { inOrder } from '../order';
import type { Slot } from './slots';

/** Counting goes no further in one go. */
export const MOST_COUNTED = 200;

/** What a slot counts through, from what it holds on, in the order of the rig. */
export interface Series {
  /** So many follow. */
  readonly room: number;
  /** How many there are in all, itself among them. */
  readonly all: number;
  /** @param by steps from here, 0 and more @returns undefined beyond the end */
  onward(by: number): { readonly value: string | number; readonly name: string } | undefined;
  /** What there is no more of at the end, as in "The rig has no more sources". */
  readonly end: string;
}

function things(
  list: readonly { readonly key: string; readonly name: string; readonly order: string }[],
  value: string,
  end: string,
): Series | null {
  const sorted = inOrder(list);
  const at = sorted.findIndex(({ key }) => key === value);
  if (at < 0) return null;
  return {
    room: sorted.length - 1 - at,
    all: sorted.length,
    onward(by) {
      const item = sorted[at + by];
      return item && { value: item.key, name: item.name };
    },
    end,
  };
}

function numbers(from: number, last: number): Series {
  const room = Math.max(0, last - from);
  return {
    room,
    all: room + 1,
    onward: (by) => (by > room ? undefined : { value: from + by, name: String(from + by) }),
    end: `The device counts to ${last}.`,
  };
}

/** What a slot counts through in this show; null where it names what is not there. */
export function seriesOf(slot: Slot, document: ShowDocument): Series | null {
  switch (slot.kind) {
    case 'source':
      // A role is somebody's name for a source: it is counted among its like.
      return document.roles.some(({ key }) => key === slot.value)
        ? things(document.roles, slot.value, 'The show has no more roles.')
        : things(
            document.sources.filter(({ input }) => input !== null),
            slot.value,
            'The rig has no more sources.',
          );
    case 'position': {
      const camera = document.positions.find(({ key }) => key === slot.value)?.camera;
      return things(
        document.positions.filter((position) => position.camera === camera),
        slot.value,
        'The camera has no more positions.',
      );
    }
    case 'reframe': {
      const source = document.reframes.find(({ key }) => key === slot.value)?.source;
      return things(
        document.reframes.filter((reframe) => reframe.source === source),
        slot.value,
        'The source has no more views.',
      );
    }
    case 'person':
      return things(document.people, slot.value, 'The people list has no more.');
    case 'device': {
      const device = document.devices.find(({ key }) => key === slot.value);
      const alike = document.devices.filter(
        (candidate) =>
          candidate.kind === device?.kind &&
          (candidate.kind !== 'generic' || candidate.settings.profile === device.settings.profile),
      );
      return things(alike, slot.value, 'The rig has no more devices of this kind.');
    }
    case 'number':
      return numbers(slot.value, slot.max ?? Number.MAX_SAFE_INTEGER);
    case 'text':
      return numbers(slot.value, Number.MAX_SAFE_INTEGER);
  }
}
