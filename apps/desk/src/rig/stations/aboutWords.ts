import type { StationsReply } from '@umbek/protocol';

type Lacks = NonNullable<StationsReply[number]['lacks']>[number];

const LACKS: Readonly<Record<Lacks, string>> = {
  screenOn: 'keep its screen on',
  touch: 'tick at a touch',
  fullScreen: 'fill its screen',
  midi: 'hear MIDI',
};

/** Below this a battery that is not charged is told as a fault, percent. */
export const LOW_PERCENT = 25;

/** Whether its battery will not last. */
export const batteryLow = ({ battery }: Pick<StationsReply[number], 'battery'>): boolean =>
  battery !== undefined && !battery.charging && battery.percent < LOW_PERCENT;

/** What a station says of the machine that it runs on; empty: nothing. */
export function aboutWords({ battery, lacks = [] }: Pick<StationsReply[number], 'battery' | 'lacks'>): string {
  const power =
    battery === undefined
      ? ''
      : battery.charging
        ? `Battery at ${battery.percent} %, charging.`
        : `Battery at ${battery.percent} %, not charging.`;
  const all = lacks.map((lack) => LACKS[lack]);
  const last = all.pop();
  const cannot = last === undefined ? '' : `It cannot ${all.length === 0 ? last : `${all.join(', ')} or ${last}`}.`;
  return [power, cannot].filter(Boolean).join(' ');
}
