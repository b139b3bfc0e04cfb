import { inOrder, keyFrom, type ManyName, orderBetween } from '@umbek/core/programming';
import type { Device, ShowDocument } from '@umbek/core/show';
import { ulid } from 'ulid';
import { hostFault, portFault } from '../csv/address';

export type CountsUp = 'port' | 'address';

/** Devices for names, each at the next port or the next address after the one before. Faults are told in words, one for each device that cannot be. */
export function planDevices(
  names: readonly ManyName[],
  at: { readonly kind: string; readonly host: string; readonly port: number; readonly countsUp: CountsUp },
  document: ShowDocument,
): { devices: Device[]; faults: string[] } {
  const taken = new Set(document.devices.map((device) => device.key));
  const known = new Set(document.devices.map((device) => device.name));
  const faults: string[] = [];
  let order = inOrder(document.devices).at(-1)?.order ?? null;
  const devices = names.map(({ name, words }, index): Device => {
    const [host, port] =
      at.countsUp === 'port' ? [at.host.trim(), at.port + index] : [addressAfter(at.host.trim(), index), at.port];
    const key = keyFrom(name, taken, at.kind);
    taken.add(key);
    order = orderBetween(order, null);
    const fault =
      (name.length > 120 ? 'The name is longer than 120 characters.' : null) ??
      (known.has(name) ? 'There is one of this name already.' : null) ??
      hostFault(host) ??
      portFault(String(port), host, document, null);
    if (fault) faults.push(`${name}: ${fault}`);
    return {
      id: ulid(),
      key,
      name,
      kind: at.kind,
      host,
      port,
      room: (words.room ?? '').slice(0, 60),
      settings: at.kind === 'switcher' ? { frameRate: document.show.frameRate } : {},
      order,
    };
  });
  return { devices, faults };
}

/** An IP address so many further: `10.0.0.9` and 2 give `10.0.0.11`. A name, and what would leave the last number's range, is told as a fault later on. */
export function addressAfter(host: string, count: number): string {
  const match = /^(\d+\.\d+\.\d+)\.(\d+)$/.exec(host);
  return match ? `${match[1]}.${Number(match[2]) + count}` : count === 0 ? host : '';
}
