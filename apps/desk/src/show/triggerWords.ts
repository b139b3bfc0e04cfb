import type { TriggerRow } from '@umbek/protocol';

/** What a trigger is at this moment, in one word or two. */
export const stateWords = (row: TriggerRow | undefined): string =>
  row === undefined
    ? ''
    : !row.armed
      ? 'disarmed'
      : row.state === 'holds'
        ? row.kind === 'follow'
          ? 'following'
          : 'active'
        : row.state === 'changed'
          ? row.kind === 'follow'
            ? 'held off'
            : 'overruled'
          : row.state === 'waiting'
            ? 'waiting'
            : 'armed';

/** Time of day of an event, to the second. */
export const clockWords = (at: string): string => new Date(at).toTimeString().slice(0, 8);
