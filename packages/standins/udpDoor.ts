import { createSocket } from 'node:dgram';
import { hex } from '@umbek/wire/osc';
import { type Door, type DoorHost, LOOPBACK } from './door';
import { OscStandin } from './oscDevice';
import type { StandinDevice, StandinOptions } from './port';
import { PtzHeadStandin } from './ptzHead';

/** A device behind datagrams: VISCA over IP or OSC. */
export async function openUdpDoor(host: DoorHost, repeats: boolean): Promise<Door> {
  const { kind, settings, clock, faults, pass } = host;
  const socket = createSocket('udp4');
  const options: StandinOptions = {
    clock,
    refusing: () => faults().refuse,
    send: (bytes, to) => {
      const cut = to.lastIndexOf(':');
      pass('out', to, hex(bytes), true, () => socket.send(bytes, Number(to.slice(cut + 1)), to.slice(0, cut)));
    },
  };
  const device: StandinDevice =
    kind.wire === 'visca' ? new PtzHeadStandin(settings, repeats, options) : new OscStandin(kind, settings, options);
  socket.on('message', (bytes, from) => {
    const peer = `${from.address}:${from.port}`;
    pass('in', peer, hex(bytes), true, () => device.receive(bytes, peer));
  });
  await new Promise<void>((resolve, reject) => {
    socket.once('error', reject);
    socket.bind(host.port, LOOPBACK, () => resolve());
  });
  socket.on('error', () => undefined);
  return {
    port: socket.address().port,
    report: () => device.report(),
    simulate: (what) => device.simulate(what),
    close: () => socket.close(),
  };
}
