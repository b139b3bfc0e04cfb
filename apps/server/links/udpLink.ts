import { createSocket } from 'node:dgram';
import { DEVICE_KINDS, ptzHead } from '@umbek/core/devices';
import type { ByteContext, ByteDriver } from '../drivers/context';
import { OscDriver } from '../drivers/oscDriver';
import { ViscaDriver } from '../drivers/viscaDriver';
import type { Link, LinkDependencies } from './link';

/** Datagrams from and to one address: VISCA over IP and OSC. */
export function openUdpLink({ engine, device, flush, idPrefix, messages, context }: LinkDependencies): Link {
  const socket = createSocket('udp4');
  let connected = false;
  let closed = false;
  const bytes: ByteContext = {
    ...context,
    transmit: (datagram) => {
      flush();
      if (!connected) return;
      socket.send(datagram);
      messages.keep(datagram, true, Date.now());
    },
  };
  const kind = DEVICE_KINDS[device.kind] ?? ptzHead;
  const driver: ByteDriver =
    kind.wire === 'visca' ? new ViscaDriver(device.settings, bytes) : new OscDriver(kind, bytes, idPrefix);
  socket.on('message', (datagram) => {
    engine.board.turn(() => driver.receive(datagram));
    messages.keep(datagram, false, Date.now());
  });
  socket.on('error', () => engine.board.turn(() => driver.unreachable()));
  socket.connect(device.port, device.host, (error?: Error) => {
    connected = error === undefined || error === null;
    if (!closed) driver.open();
  });
  return {
    driver,
    close: () => {
      closed = true;
      driver.close();
      socket.close();
    },
  };
}
