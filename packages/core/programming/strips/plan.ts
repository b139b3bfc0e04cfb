import { numberOf } from '../../devices/drawn';
import {
  type Argument,
  type Button,
  type Device,
  type Family,
  type LampRule,
  PLAIN_BUTTON,
  type ShowDocument,
  type ShowValue,
  type Step,
  type Strip,
} from '../../show/index';

/** A button before it is made: all but where it stands. */
export type ButtonPlan = Omit<Button, 'id' | 'stripId' | 'order'>;

/** A strip before it is made. */
export interface StripPlan {
  readonly name: Strip['name'];
  readonly family: Family;
  readonly buttons: readonly ButtonPlan[];
}

/** Strips that the rig of a show makes possible, ready to be added. */
export interface StripOffer {
  readonly key: string;
  /** What of the rig it is about, as the list is grouped. */
  readonly group: string;
  readonly words: string;
  readonly strips: readonly StripPlan[];
  /** Show values that it counts with, where the show has none of that key. */
  readonly values?: readonly Omit<ShowValue, 'id' | 'order'>[];
  /** Belongs to a first panel for a new rig. */
  readonly first?: true;
}

/** What makes the offers of one kind of device. @param named whether strips name the device: it is not the only one of its kind */
export type OfferMaker = (document: ShowDocument, device: Device, named: boolean) => StripOffer[];

export const plan = (
  legend: string,
  steps: readonly Step[],
  more: Partial<Omit<ButtonPlan, 'legend' | 'steps'>> = {},
): ButtonPlan => ({
  ...PLAIN_BUTTON,
  legend: legend.slice(0, 120),
  ...more,
  steps: [...steps],
});

export const command = (
  device: string,
  name: string,
  params: Readonly<Record<string, Argument>> = {},
  id: string = name,
): Step => ({ id, onFail: 'stop', kind: 'command', device, command: name, params: { ...params } });

/** The same command to several devices at one moment. */
export const toAll = (devices: readonly string[], each: (device: string) => Step): Step => ({
  id: 'all',
  onFail: 'stop',
  kind: 'together',
  steps: devices.map(each),
});

export const lit = (when: string, show: LampRule['show']): LampRule => ({ when, show });

/** The name of a strip, with its device where that is not the only one of its kind. */
export const titled = (words: string, device: Device, named: boolean): string =>
  (named ? `${device.name}: ${words}` : words).slice(0, 120);

/** So many of what a device counts become buttons of one strip. */
const MOST_BUTTONS = 24;

/** Numbers from 1 to what a setting says. */
export const count = (settings: unknown, name: string, usual: number): number[] =>
  Array.from({ length: Math.min(MOST_BUTTONS, numberOf(settings, name, usual)) }, (_, at) => at + 1);

/** An offer of one strip. */
export const oneStrip = (device: Device, key: string, words: string, strip: StripPlan): StripOffer => ({
  key: `${device.key}/${key}`,
  group: device.name,
  words,
  strips: [strip],
});
