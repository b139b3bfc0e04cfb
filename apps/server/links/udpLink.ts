import { DEVICE_KINDS, ptzHead } from '@umbek/core/devices';
import type { ByteContext, ByteDriver } from '../drivers/context';
import { OscDriver } from '../drivers/oscDriver';
import { ViscaDriver } from '../drivers/viscaDriver';
import { farewell, type Link, type LinkDependencies } from './link';

/** Datagrams from and to one address: VISCA over IP and OSC. */
export function openUdpLink({
  network,
  clock,
  device,
  flush,
  idPrefix,
  messages,
  context,
  inTurn,
}: LinkDependencies): Link {
  const transmit = (datagram: Uint8Array): void => {
    flush();
    wire.send(datagram);
    messages.keep(datagram, true);
  };
  const bytes: ByteContext = { ...context, transmit };
  const kind = DEVICE_KINDS[device.kind] ?? ptzHead;
  const driver: ByteDriver =
    kind.wire === 'visca' ? new ViscaDriver(device.settings, bytes) : new OscDriver(kind, bytes, idPrefix);
  const wire = network.datagrams(device, {
    open: () => inTurn(() => driver.open()),
    message: (datagram) => {
      inTurn(() => driver.receive(datagram));
      messages.keep(datagram, false);
    },
    refused: () => inTurn(() => driver.unreachable()),
  });
  return {
    driver,
    close: () => {
      const stops = driver.stops?.() ?? [];
      driver.close();
      farewell(
        clock,
        stops,
        (datagram) => wire.send(datagram),
        () => wire.close(),
      );
    },
  };
}
