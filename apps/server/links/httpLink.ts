import { Agent, type ClientRequest, request } from 'node:http';
import { DEVICE_KINDS, recorder } from '@umbek/core/devices';
import { type HttpAnswer, HttpDriver } from '../drivers/httpDriver';
import type { Link, LinkDependencies } from './link';

/** An answer longer than this is none of ours. */
const LONGEST_ANSWER = 1_000_000;

/** Why a request failed, from the code that Node gives it. Parser errors begin with HPE. */
const failureOf = (error: NodeJS.ErrnoException): 'refused' | 'foreign' | 'lost' =>
  error.code === 'ECONNREFUSED' ? 'refused' : error.code?.startsWith('HPE') ? 'foreign' : 'lost';

/** Requests and an event stream over HTTP to one address. */
export function openHttpLink({ engine, device, flush, idPrefix, messages, context }: LinkDependencies): Link {
  const agent = new Agent({ keepAlive: true, maxSockets: 4 });
  const address = { host: device.host, port: device.port, agent };
  let closed = false;
  const inTurn = (work: () => void): void => {
    if (!closed) engine.board.turn(work);
  };
  const keep = (text: string, out: boolean): void => messages.keep(Buffer.from(text), out, Date.now());
  const streams = new Set<ClientRequest>();

  const driver = new HttpDriver(
    DEVICE_KINDS[device.kind] ?? recorder,
    {
      ...context,
      ask: ({ method, path, body, limitMs }, then) => {
        const text = body === undefined ? '' : JSON.stringify(body);
        let answered = false;
        const answer = (one: HttpAnswer): void => {
          if (answered) return;
          answered = true;
          clearTimeout(limit);
          inTurn(() => then(one));
        };
        flush();
        const asked = request(
          {
            ...address,
            method,
            path,
            headers:
              body === undefined
                ? {}
                : { 'content-type': 'application/json', 'content-length': Buffer.byteLength(text) },
          },
          (response) => {
            let received = '';
            response.setEncoding('utf8');
            response.on('data', (chunk: string) => {
              received += chunk;
              if (received.length > LONGEST_ANSWER) asked.destroy();
            });
            response.on('end', () => {
              keep(`${path} ${response.statusCode ?? 0} ${received.slice(0, 4000)}`, false);
              answer({ status: response.statusCode ?? 0, body: parsed(received) });
            });
            response.on('error', () => answer({ failed: 'lost' }));
          },
        );
        const limit = setTimeout(() => {
          answer({ failed: 'lost' });
          asked.destroy();
        }, limitMs);
        asked.on('error', (error) => answer({ failed: failureOf(error) }));
        asked.end(text);
        keep(`${method} ${path} ${text}`, true);
      },
      listen: (path, told) => {
        let over = false;
        const end = (why: 'refused' | 'foreign' | 'lost'): void => {
          if (over) return;
          over = true;
          streams.delete(stream);
          inTurn(() => told.ended(why));
        };
        // A connection of its own: a stream that never ends would block the others.
        const stream = request(
          { ...address, agent: false, method: 'GET', path, headers: { accept: 'text/event-stream' } },
          (response) => {
            if (
              response.statusCode !== 200 ||
              !String(response.headers['content-type']).startsWith('text/event-stream')
            ) {
              stream.destroy();
              return end('foreign');
            }
            let waiting = '';
            response.setEncoding('utf8');
            response.on('data', (chunk: string) => {
              waiting += chunk;
              const events = waiting.split('\n\n');
              waiting = events.pop() ?? '';
              if (waiting.length > LONGEST_ANSWER) stream.destroy();
              for (const event of events) {
                const data = event
                  .split('\n')
                  .flatMap((line) => (line.startsWith('data: ') ? [line.slice(6)] : []))
                  .join('\n');
                if (data === '') continue;
                keep(`event ${data.slice(0, 4000)}`, false);
                inTurn(() => told.event(data));
              }
            });
            response.on('end', () => end('lost'));
            response.on('error', () => end('lost'));
            inTurn(() => told.opened());
          },
        );
        streams.add(stream);
        stream.on('error', (error) => end(failureOf(error)));
        stream.on('close', () => end('lost'));
        stream.end();
        return () => {
          over = true;
          streams.delete(stream);
          stream.destroy();
        };
      },
    },
    idPrefix,
  );
  driver.open();
  return {
    driver,
    close: () => {
      driver.close();
      closed = true;
      for (const stream of streams) stream.destroy();
      agent.destroy();
    },
  };
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}
