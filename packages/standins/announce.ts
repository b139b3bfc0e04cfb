import type { DeviceKind } from '@umbek/core/devices';
import type { Bonjour } from 'bonjour-service';
import { LOOPBACK } from './door';

/** Services of DNS-SD as which devices of a wire announce themselves; those of others are added by hand. */
const SERVICES: Readonly<Partial<Record<string, { readonly type: string; readonly protocol: 'udp' | 'tcp' }>>> = {
  visca: { type: 'visca', protocol: 'udp' },
  osc: { type: 'osc', protocol: 'udp' },
  http: { type: 'http', protocol: 'tcp' },
  swp08: { type: 'swp08', protocol: 'tcp' },
};

/** One for all stand-ins of a process. */
let bonjour: Promise<Bonjour> | null = null;

/** Announces a stand-in by multicast DNS on loopback, with its kind. @returns what says goodbye */
export async function announce(name: string, { key, wire }: DeviceKind, port: number): Promise<() => void> {
  const service = SERVICES[wire];
  if (service === undefined) return () => undefined;
  bonjour ??= import('bonjour-service').then(
    (library) =>
      new library.Bonjour({ interface: LOOPBACK, bind: '0.0.0.0', loopback: true } as object, () => undefined),
  );
  const published = (await bonjour).publish({ ...service, name, port, txt: { kind: key }, probe: false });
  return () => published.stop?.();
}
