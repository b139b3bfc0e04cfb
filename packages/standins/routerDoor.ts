import { createServer, type Socket } from 'node:net';
import { crosspointKey, protectKey, type Points, RouterSettings } from '@umbek/core/devices';
import {
  ACKNOWLEDGE,
  decodeRouterMessage,
  DUMP_ENTRIES,
  encodeFrame,
  encodeRouterMessage,
  FrameReader,
  hex,
  REFUSE,
  type RouterMessage,
} from '@umbek/wire/swp08';
import { type Door, type DoorHost, listenOn } from './door';
import { ModelDevice } from './modelDevice';

/** A router behind SW-P-08. Every change is told to every controller; a destination that is protected answers a connect with its protection. */
export async function openRouterDoor(host: DoorHost): Promise<Door> {
  const { kind, settings, clock, faults, pass } = host;
  const { destinations, sources } = RouterSettings.parse(settings);
  const controllers = new Map<Socket, string>();
  let count = 0;

  const send = (socket: Socket, bytes: Uint8Array): void =>
    pass('out', controllers.get(socket) ?? '?', hex(bytes), false, () => void socket.write(bytes));
  const say = (socket: Socket, message: RouterMessage): void => send(socket, encodeFrame(encodeRouterMessage(message)));
  const sourceAt = (destination: number): number => Number(device.points[crosspointKey(destination + 1)]) - 1;
  const isProtected = (destination: number): boolean => device.points[protectKey(destination + 1)] === true;
  const device = new ModelDevice(kind, settings, clock, (changes: Points) => {
    for (const [point, value] of Object.entries(changes)) {
      const destination = Number(/^out(\d+)/.exec(point)?.[1]) - 1;
      for (const socket of controllers.keys()) {
        if (typeof value === 'number') say(socket, { kind: 'connected', destination, source: value - 1 });
        else
          say(socket, {
            kind: value ? 'protectConnected' : 'protectDisconnected',
            destination,
            device: 0,
            protected: value === true,
          });
      }
    }
  });

  const serve = (socket: Socket, message: RouterMessage): void => {
    const peer = controllers.get(socket) ?? '?';
    if ('destination' in message && message.destination >= destinations) return send(socket, REFUSE);
    switch (message.kind) {
      case 'interrogate':
        return say(socket, { kind: 'tally', destination: message.destination, source: sourceAt(message.destination) });
      case 'protectInterrogate':
        return say(socket, {
          kind: 'protectTally',
          destination: message.destination,
          device: 0,
          protected: isProtected(message.destination),
        });
      case 'dumpRequest':
        for (let first = 0; first < destinations; first += DUMP_ENTRIES)
          say(socket, {
            kind: 'dump',
            first,
            sources: Array.from({ length: Math.min(DUMP_ENTRIES, destinations - first) }, (_, index) =>
              sourceAt(first + index),
            ),
          });
        return;
      case 'protectDumpRequest':
        for (let first = 0; first < destinations; first += DUMP_ENTRIES)
          say(socket, {
            kind: 'protectDump',
            first,
            protections: Array.from({ length: Math.min(DUMP_ENTRIES, destinations - first) }, (_, index) =>
              isProtected(first + index),
            ),
          });
        return;
      case 'connect': {
        const { destination, source } = message;
        if (faults().refuse || source >= sources) return send(socket, REFUSE);
        return device.command(
          { command: 'connect', params: { destination: destination + 1, source: source + 1 } },
          peer,
          `${(count += 1)}`,
          (reply) => {
            if (reply.event === 'refused')
              say(socket, { kind: 'protectTally', destination, device: 0, protected: isProtected(destination) });
            // One that changes nothing is answered as well.
            else if (sourceAt(destination) === source) say(socket, { kind: 'connected', destination, source });
          },
        );
      }
      case 'protectConnect':
      case 'protectDisconnect': {
        const { destination } = message;
        const on = message.kind === 'protectConnect';
        if (faults().refuse) return send(socket, REFUSE);
        return device.command(
          { command: 'protect', params: { destination: destination + 1, on } },
          peer,
          `${(count += 1)}`,
          () =>
            say(socket, {
              kind: on ? 'protectConnected' : 'protectDisconnected',
              destination,
              device: 0,
              protected: on,
            }),
        );
      }
      default:
        device.malformed += 1;
        return send(socket, REFUSE);
    }
  };

  const server = createServer({ noDelay: true }, (socket) => {
    const peer = `${socket.remoteAddress ?? '?'}:${socket.remotePort ?? 0}`;
    controllers.set(socket, peer);
    const reader = new FrameReader();
    socket.on('data', (bytes) => {
      pass('in', peer, hex(bytes), false, () => {
        for (const event of reader.push(bytes)) {
          if (event.type === 'bad') {
            device.malformed += 1;
            send(socket, REFUSE);
          }
          if (event.type !== 'data') continue;
          const message = decodeRouterMessage(event.data);
          send(socket, message.ok ? ACKNOWLEDGE : REFUSE);
          if (message.ok) serve(socket, message.value);
          else device.malformed += 1;
        }
      });
    });
    socket.on('error', () => socket.destroy());
    socket.on('close', () => controllers.delete(socket));
  });
  const port = await listenOn(server, host.port);
  return {
    port,
    report: () => device.report(),
    simulate: (what) => device.simulate(what),
    close: () => {
      for (const socket of controllers.keys()) socket.destroy();
      server.close();
    },
  };
}
