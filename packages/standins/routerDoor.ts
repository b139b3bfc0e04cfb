import { createServer, type Socket } from 'node:net';
import { hex } from '@umbek/wire/swp08';
import { babble } from './badBytes';
import { type Door, type DoorHost, listenOn } from './door';
import { RouterDevice } from './routerDevice';

/** A router behind SW-P-08 on its socket. */
export async function openRouterDoor(host: DoorHost): Promise<Door> {
  const { kind, settings, clock, faults, pass, chance } = host;
  const device = new RouterDevice(kind, settings, clock, () => faults().refuse);
  const sockets = new Set<Socket>();
  const server = createServer({ noDelay: true }, (socket) => {
    const peer = `${socket.remoteAddress ?? '?'}:${socket.remotePort ?? 0}`;
    sockets.add(socket);
    const controller = device.connect(peer, (bytes) =>
      pass('out', peer, hex(bytes), false, () => void socket.write(faults().babbling ? babble(chance) : bytes)),
    );
    socket.on('data', (bytes) => pass('in', peer, hex(bytes), false, () => controller.receive(bytes)));
    socket.on('error', () => socket.destroy());
    socket.on('close', () => {
      sockets.delete(socket);
      controller.closed();
    });
  });
  const port = await listenOn(server, host.port);
  return {
    port,
    report: () => device.report(),
    simulate: (what) => device.simulate(what),
    badly: () => {
      for (const socket of sockets) socket.write(babble(chance));
    },
    close: () => {
      for (const socket of sockets) socket.destroy();
      server.close();
    },
  };
}
