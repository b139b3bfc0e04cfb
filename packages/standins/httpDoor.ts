import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import type { Points } from '@umbek/core/devices';
import type { PlainValue } from '@umbek/core/show';
import { z } from 'zod';
import { seeded } from './faults';
import { type Door, type DoorHost, listenOn } from './door';
import { ModelDevice } from './modelDevice';

const LONGEST_BODY = 100_000;
const ANSWERS_KEPT = 5000;

interface Answer {
  readonly status: number;
  readonly body: object;
}

const refusal = (status: number, why: string): Answer => ({ status, body: { outcome: 'refused', why } });

/**
 * A device behind HTTP with JSON:
 * - `GET /state` → `{ device, number, points }`, `GET /alive` → `{ device, number }`
 * - `GET /events`: server-sent events `{ number, point, value }`, numbered without a gap
 * - `POST /commands/<command>` `{ id, …parameters }` → `{ outcome: "done" }` or 409 `{ outcome: "refused", why }`; done once for each id
 */
export async function openHttpDoor(host: DoorHost): Promise<Door> {
  const { kind, settings, clock, faults, pass } = host;
  const streams = new Map<ServerResponse, string>();
  const answers = new Map<string, Promise<Answer>>();
  let number = 0;
  const device = new ModelDevice(kind, settings, clock, (changes: Points) => {
    const events = Object.entries(changes).map(([point, value]) =>
      JSON.stringify({ number: (number += 1), point, value }),
    );
    for (const [stream, peer] of streams)
      for (const event of events) pass('out', peer, `event ${event}`, false, () => stream.write(`data: ${event}\n\n`));
  });

  const command = (name: string, text: string, peer: string): Promise<Answer> | Answer => {
    const definition = kind.commands[name];
    if (definition === undefined) return refusal(404, `There is no command ${name}.`);
    const parsed = z.looseObject({ id: z.string().min(1).max(80) }).safeParse(json(text));
    if (!parsed.success) {
      device.malformed += 1;
      return refusal(400, 'A command is a JSON object with an id.');
    }
    const { id, ...given } = parsed.data;
    const known = answers.get(id);
    if (known) return known;
    const params = definition.params.safeParse(given);
    if (!params.success) {
      device.malformed += 1;
      return refusal(400, z.prettifyError(params.error));
    }
    if (faults().refuse) return refusal(409, 'Refused, as it was told to.');
    const answer = new Promise<Answer>((resolve) => {
      device.command({ command: name, params: params.data as Record<string, PlainValue> }, peer, id, (reply) => {
        if (reply.event === 'done') resolve({ status: 200, body: { outcome: 'done' } });
        else if (reply.event === 'refused') resolve(refusal(409, reply.why ?? 'Refused.'));
      });
    });
    answers.set(id, answer);
    const oldest = answers.keys().next();
    if (answers.size > ANSWERS_KEPT && !oldest.done) answers.delete(oldest.value);
    return answer;
  };

  const server = createServer((request, response) => {
    const peer = `${request.socket.remoteAddress ?? '?'}:${request.socket.remotePort ?? 0}`;
    const path = (request.url ?? '/').split('?')[0] ?? '/';
    void bodyOf(request).then((text) => {
      const line = `${request.method ?? ''} ${path} ${text ?? ''}`.trim();
      // What is dropped is never answered: the asker waits, as for a machine that has been unplugged.
      pass('in', peer, line, false, () => {
        const say = ({ status, body }: Answer): void => {
          const told = JSON.stringify(body);
          pass('out', peer, `${path} ${status} ${told}`, false, () =>
            response.writeHead(status, { 'content-type': 'application/json' }).end(told),
          );
        };
        if (text === null) return say(refusal(413, 'The body is too long.'));
        if (request.method === 'GET' && path === '/alive')
          return say({ status: 200, body: { device: kind.key, number } });
        if (request.method === 'GET' && path === '/state')
          return say({ status: 200, body: { device: kind.key, number, points: device.points } });
        if (request.method === 'GET' && path === '/events') {
          response.writeHead(200, { 'content-type': 'text/event-stream', 'cache-control': 'no-store' });
          response.write(': open\n\n');
          streams.set(response, peer);
          response.on('close', () => streams.delete(response));
          return undefined;
        }
        const file = request.method === 'GET' ? /^\/files\/([^/]+)$/.exec(path)?.[1] : undefined;
        if (file !== undefined) {
          const wanted = decodeURIComponent(file);
          if (
            !String(device.points.files ?? '')
              .split('\n')
              .includes(wanted)
          )
            return say(refusal(404, `There is no file ${wanted}.`));
          const bytes = fileBytes(wanted);
          return pass('out', peer, `${path} 200 ${bytes.length} bytes`, false, () =>
            response
              .writeHead(200, { 'content-type': 'application/octet-stream', 'content-length': bytes.length })
              .end(bytes),
          );
        }
        const name = /^\/commands\/([A-Za-z]+)$/.exec(path)?.[1];
        if (request.method !== 'POST' || name === undefined) {
          device.malformed += 1;
          return say(refusal(404, 'There are /state, /alive, /events and /commands/<command>.'));
        }
        return void Promise.resolve(command(name, text, peer)).then(say);
      });
    });
  });
  const port = await listenOn(server, host.port);
  return {
    port,
    report: () => device.report(),
    simulate: (what) => device.simulate(what),
    faultsChanged: () => {
      if (faults().silent) for (const stream of streams.keys()) stream.destroy();
    },
    close: () => {
      server.closeAllConnections();
      server.close();
    },
  };
}

/** A small file as a recorder would have it: its name, then bytes that only depend on that. */
function fileBytes(name: string): Buffer {
  const chance = seeded([...name].reduce((sum, letter) => sum * 31 + letter.charCodeAt(0), 7) >>> 0);
  return Buffer.concat([
    Buffer.from(`umbek stand-in recording ${name}\n`),
    Buffer.from(Uint8Array.from({ length: 4096 }, () => Math.floor(chance() * 256))),
  ]);
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

function json(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
