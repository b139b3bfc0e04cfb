import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import { babble, implausibleJson } from './badBytes';
import { type Door, type DoorHost, listenOn } from './door';
import { HttpDevice } from './httpDevice';

const LONGEST_BODY = 100_000;

/** A device behind HTTP with JSON on its socket. */
export async function openHttpDoor(host: DoorHost): Promise<Door> {
  const { kind, settings, clock, faults, pass, chance } = host;
  const streams = new Map<ServerResponse, string>();
  const tell = (data: string): void => {
    for (const [stream, peer] of streams)
      pass('out', peer, `event ${data}`, false, () => stream.write(`data: ${data}\n\n`));
  };
  const device = new HttpDevice(kind, settings, clock, () => faults().refuse, tell);

  const server = createServer((request, response) => {
    const peer = `${request.socket.remoteAddress ?? '?'}:${request.socket.remotePort ?? 0}`;
    const path = (request.url ?? '/').split('?')[0] ?? '/';
    const method = request.method ?? '';
    void bodyOf(request).then(
      (text) => {
        // What is dropped is never answered: the asker waits, as for a machine that has been unplugged.
        pass('in', peer, `${method} ${path} ${text ?? ''}`.trim(), false, () => {
          if (method === 'GET' && path === '/events') {
            response.writeHead(200, { 'content-type': 'text/event-stream', 'cache-control': 'no-store' });
            response.write(': open\n\n');
            streams.set(response, peer);
            response.on('close', () => streams.delete(response));
            return;
          }
          device.ask(method, path, text, peer, ({ status, body }) => {
            const shown = typeof body === 'string' ? body : `${body.length} bytes`;
            pass('out', peer, `${path} ${status} ${shown}`, false, () => {
              if (faults().babbling) return void response.socket?.end(Buffer.from(babble(chance)));
              const type = typeof body === 'string' ? 'application/json' : 'application/octet-stream';
              const said = typeof body === 'string' && faults().implausible ? implausibleJson(body, chance) : body;
              response.writeHead(status, { 'content-type': type, 'content-length': Buffer.byteLength(said) }).end(said);
            });
          });
        });
      },
      () => undefined,
    );
  });
  server.on('clientError', (_error, socket) => socket.destroy());
  const port = await listenOn(server, host.port);
  return {
    port,
    report: () => device.report(),
    simulate: (what) => device.simulate(what),
    badly: () => {
      const data = faults().babbling
        ? Buffer.from(babble(chance)).toString('latin1')
        : implausibleJson('{"number":7,"point":"recording","value":true}', chance);
      for (const stream of streams.keys()) stream.write(`data: ${data}\n\n`);
    },
    faultsChanged: () => {
      if (faults().silent) for (const stream of streams.keys()) stream.destroy();
    },
    close: () => {
      server.closeAllConnections();
      server.close();
    },
  };
}

/** The text of a body, or null when it is too long. */
export async function bodyOf(request: IncomingMessage): Promise<string | null> {
  let text = '';
  for await (const chunk of request) {
    text += String(chunk);
    if (text.length > LONGEST_BODY) return null;
  }
  return text;
}
