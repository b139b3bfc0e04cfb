import { argumentOf, type OscMessage, type OscValue, type ReceivedMessage } from './message';

/**
 * What our OSC devices add to OSC 1.0, which itself has no reply:
 * - a command is `/<device>/<command>` with a request id as first argument, done once for each (sender, id), answered
 *   `/ok ,s id` or `/refused ,ss id why`; the same id again gets the same answer;
 * - states are `/<device>/state/<point>` with a running number first; `/<device>/read ,s id` gives all of them in one bundle;
 * - `/<device>/ping ,s id` is answered `/pong ,si id number` with the number of the latest state, so that a lost one is noticed;
 *   who pings is sent states for five seconds.
 */
export type DeviceMessage =
  | { readonly kind: 'ok'; readonly id: string }
  | { readonly kind: 'refused'; readonly id: string; readonly why: string }
  | { readonly kind: 'pong'; readonly id: string; readonly number: number }
  | { readonly kind: 'state'; readonly point: string; readonly number: number; readonly value: OscValue };

export interface Request {
  readonly verb: string;
  readonly id: string;
  readonly values: readonly OscValue[];
}

export const encodeRequest = (
  device: string,
  verb: string,
  id: string,
  values: readonly { value: OscValue; whole: boolean }[] = [],
): OscMessage => ({
  address: `/${device}/${verb}`,
  args: [{ type: 's', value: id }, ...values.map(({ value, whole }) => argumentOf(value, whole))],
});

/** Longest request id that a device of ours takes. */
export const LONGEST_ID = 200;

/** A request to this device, or undefined for anything else. */
export function requestOf(message: ReceivedMessage, device: string): Request | undefined {
  const prefix = `/${device}/`;
  const [id, ...values] = message.values;
  if (!message.address.startsWith(prefix) || typeof id !== 'string' || id === '' || id.length > LONGEST_ID)
    return undefined;
  return { verb: message.address.slice(prefix.length), id, values };
}

export function encodeDeviceMessage(device: string, message: DeviceMessage): OscMessage {
  switch (message.kind) {
    case 'ok':
      return { address: '/ok', args: [{ type: 's', value: message.id }] };
    case 'refused':
      return {
        address: '/refused',
        args: [
          { type: 's', value: message.id },
          { type: 's', value: message.why },
        ],
      };
    case 'pong':
      return {
        address: '/pong',
        args: [
          { type: 's', value: message.id },
          { type: 'i', value: message.number },
        ],
      };
    case 'state':
      return {
        address: `/${device}/state/${message.point}`,
        args: [{ type: 'i', value: message.number }, argumentOf(message.value)],
      };
  }
}

/** Points by address, for each device: cut out once, since levels name theirs 25 times a second. */
const statesByDevice = new Map<string, Map<string, string | undefined>>();
/** A stranger could make up addresses for ever. */
const MOST_ADDRESSES = 20_000;

function stateOf(address: string, device: string): string | undefined {
  let states = statesByDevice.get(device);
  if (states === undefined) statesByDevice.set(device, (states = new Map()));
  if (states.has(address)) return states.get(address);
  const prefix = `/${device}/state/`;
  const point = address.startsWith(prefix) ? address.slice(prefix.length) : undefined;
  if (states.size >= MOST_ADDRESSES) states.clear();
  states.set(address, point);
  return point;
}

/** What a device said, or undefined when it is none of ours. */
export function deviceMessageOf(message: ReceivedMessage, device: string): DeviceMessage | undefined {
  const [first, second] = message.values;
  if (message.address === '/ok' && typeof first === 'string') return { kind: 'ok', id: first };
  if (message.address === '/refused' && typeof first === 'string')
    return { kind: 'refused', id: first, why: String(second ?? '') };
  if (message.address === '/pong' && typeof first === 'string' && typeof second === 'number')
    return { kind: 'pong', id: first, number: second };
  if (typeof first === 'number' && second !== undefined) {
    const point = stateOf(message.address, device);
    if (point !== undefined) return { kind: 'state', point, number: first, value: second };
  }
  return undefined;
}
