import { createSocket } from 'node:dgram';
import { hex } from '@umbek/wire/osc';
import { babble } from './badBytes';
import { implausibleDatagram } from './badDatagrams';
import { type Door, type DoorHost, LOOPBACK } from './door';
import { OscStandin } from './oscDevice';
import type { StandinDevice, StandinOptions } from './port';
import { PtzHeadStandin } from './ptzHead';

/** A device behind datagrams: VISCA over IP or OSC. */
export async function openUdpDoor(host: DoorHost, repeats: boolean): Promise<Door> {
  const { kind, settings, clock, faults, pass, chance } = host;
  const socket = createSocket('udp4');
  /** Who spoke to us lately, for what nobody asked for. */
  const peers = new Set<string>();
  const send = (bytes: Uint8Array, to: string): void => {
    const cut = to.lastIndexOf(':');
    socket.send(bytes, Number(to.slice(cut + 1)), to.slice(0, cut), () => undefined);
  };
  const bad = (bytes: Uint8Array): Uint8Array =>
    faults().babbling
      ? babble(chance)
      : faults().implausible && chance() < 0.3
        ? implausibleDatagram(kind, chance)
        : bytes;
  const options: StandinOptions = {
    clock,
    refusing: () => faults().refuse,
    send: (bytes, to) => pass('out', to, hex(bytes), true, () => send(bad(bytes), to)),
  };
  const device: StandinDevice =
    kind.wire === 'visca' ? new PtzHeadStandin(settings, repeats, options) : new OscStandin(kind, settings, options);
  socket.on('message', (bytes, from) => {
    const peer = `${from.address}:${from.port}`;
    peers.add(peer);
    if (peers.size > 8) peers.delete([...peers][0] ?? '');
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
    badly: () => {
      for (const peer of peers) send(faults().babbling ? babble(chance) : implausibleDatagram(kind, chance), peer);
    },
    close: () => socket.close(),
  };
}
