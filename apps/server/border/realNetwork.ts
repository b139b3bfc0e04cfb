import { createSocket, type Socket as DatagramSocket } from 'node:dgram';
import { Agent, type ClientRequest, request } from 'node:http';
import { createConnection } from 'node:net';
import { WebSocket } from 'ws';
import { EventReader } from './eventReader';
import { type Address, type Failure, type HttpSide, LONGEST_ANSWER, type Network } from './network';

/** A socket that could not be opened is tried again after so long: at boot the network may not be there yet. */
const OPEN_AGAIN_MS = 500;
/** A connection over which nothing comes for so long is asked by the machine whether it still stands. */
const KEEP_ALIVE_MS = 1000;

/** Why a request failed, from the code that Node gives it. Parser errors begin with HPE. */
const failureOf = (error: NodeJS.ErrnoException): Failure =>
  error.code === 'ECONNREFUSED' ? 'refused' : error.code?.startsWith('HPE') ? 'foreign' : 'lost';

/** The machine's own sockets. */
export const realNetwork: Network = {
  datagrams(to, events) {
    let socket: DatagramSocket | null = null;
    let ready = false;
    let closed = false;
    let again: NodeJS.Timeout | null = null;
    const open = (): void => {
      again = null;
      const made = createSocket('udp4');
      socket = made;
      made.on('message', (bytes) => !closed && events.message(bytes));
      made.on('error', () => !closed && ready && events.refused());
      made.connect(to.port, to.host, (error?: Error) => {
        if (closed) return;
        if (error === undefined || error === null) {
          ready = true;
          return events.open();
        }
        made.close();
        again = setTimeout(open, OPEN_AGAIN_MS);
      });
    };
    open();
    return {
      send: (bytes) => {
        if (!ready || closed) return;
        // A send that fails at once is a datagram that got lost; what reports a closed port comes as an error event.
        socket?.send(bytes, () => undefined);
      },
      close: () => {
        if (closed) return;
        closed = true;
        if (again !== null) clearTimeout(again);
        else socket?.close();
      },
    };
  },

  stream(to, limitMs, events) {
    let open = false;
    const socket = createConnection({ port: to.port, host: to.host, noDelay: true });
    const limit = setTimeout(() => !open && socket.destroy(), limitMs);
    socket.setKeepAlive(true, KEEP_ALIVE_MS);
    socket.on('connect', () => {
      open = true;
      events.connected();
    });
    socket.on('data', (bytes) => events.data(bytes));
    socket.on('error', (error: NodeJS.ErrnoException) => error.code === 'ECONNREFUSED' && events.refused());
    socket.on('close', () => {
      clearTimeout(limit);
      open = false;
      events.closed();
    });
    return {
      write: (bytes) => {
        if (!open) return;
        // What a dead peer never takes is not kept without end.
        if (socket.writableLength > LONGEST_ANSWER) socket.destroy();
        else socket.write(bytes);
      },
      destroy: () => socket.destroy(),
    };
  },

  webSocket(to, path, limitMs, events) {
    const socket = new WebSocket(`ws://${to.host}:${to.port}${path}`, {
      handshakeTimeout: limitMs,
      maxPayload: LONGEST_ANSWER,
    });
    socket.on('open', () => events.connected());
    socket.on('message', (data: Buffer) => events.data(data));
    socket.on('error', (error: NodeJS.ErrnoException) => error.code === 'ECONNREFUSED' && events.refused());
    socket.on('close', () => events.closed());
    const send = (data: Uint8Array | string): void => {
      if (socket.readyState !== WebSocket.OPEN) return;
      if (socket.bufferedAmount > LONGEST_ANSWER) socket.terminate();
      else socket.send(data, () => undefined);
    };
    return { write: send, text: send, destroy: () => socket.terminate() };
  },

  http: (to) => new RealHttp(to),
};

class RealHttp implements HttpSide {
  private readonly agent = new Agent({ keepAlive: true, maxSockets: 4 });
  private readonly open = new Set<ClientRequest>();

  constructor(private readonly to: Address) {}

  ask: HttpSide['ask'] = ({ method, path, headers, body = '', limitMs }, then) => {
    let answered = false;
    const answer: typeof then = (reply) => {
      if (answered) return;
      answered = true;
      clearTimeout(limit);
      this.open.delete(asked);
      then(reply);
    };
    const asked = request(
      {
        ...this.to,
        agent: this.agent,
        method,
        path,
        headers: { ...headers, ...(body === '' ? {} : { 'content-length': Buffer.byteLength(body) }) },
      },
      (response) => {
        let text = '';
        response.setEncoding('utf8');
        response.on('data', (chunk: string) => {
          text += chunk;
          if (text.length > LONGEST_ANSWER) asked.destroy();
        });
        response.on('end', () => answer({ status: response.statusCode ?? 0, text }));
        response.on('error', () => answer({ failed: 'lost' }));
        response.on('close', () => answer({ failed: 'lost' }));
      },
    );
    this.open.add(asked);
    const limit = setTimeout(() => {
      answer({ failed: 'lost' });
      asked.destroy();
    }, limitMs);
    asked.on('error', (error) => answer({ failed: failureOf(error) }));
    asked.end(body);
  };

  listen: HttpSide['listen'] = (path, listener) => {
    let over = false;
    const end = (why: Failure): void => {
      if (over) return;
      over = true;
      this.open.delete(stream);
      listener.ended(why);
    };
    const stream = request(
      { ...this.to, agent: false, method: 'GET', path, headers: { accept: 'text/event-stream' } },
      (response) => {
        if (response.statusCode !== 200 || !String(response.headers['content-type']).startsWith('text/event-stream')) {
          stream.destroy();
          return end('foreign');
        }
        const reader = new EventReader();
        response.setEncoding('utf8');
        response.on('data', (chunk: string) => {
          if (over) return;
          const events = reader.push(chunk);
          if (events === null) stream.destroy();
          else for (const data of events) if (!over) listener.event(data);
        });
        response.on('end', () => end('lost'));
        response.on('error', () => end('lost'));
        if (!over) listener.opened();
      },
    );
    this.open.add(stream);
    stream.on('socket', (socket) => socket.setKeepAlive(true, KEEP_ALIVE_MS));
    stream.on('error', (error) => end(failureOf(error)));
    stream.on('close', () => end('lost'));
    stream.end();
    return () => {
      over = true;
      this.open.delete(stream);
      stream.destroy();
    };
  };

  close(): void {
    for (const socket of this.open) socket.destroy();
    this.open.clear();
    this.agent.destroy();
  }
}
