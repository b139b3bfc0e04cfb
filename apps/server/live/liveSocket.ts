import type { IncomingMessage, Server } from 'node:http';
import { WebSocket, WebSocketServer } from 'ws';
import type { Who } from '../access/who';
import { InTurn } from '../border/inTurn';
import { LIMITS } from './limits';
import type { LiveConnection } from './liveDesk';
import type { LiveClient } from './liveRoom';

const MAX_MESSAGE_BYTES = 64 * 1024;
/** A page that does not even answer this is gone, whatever its network says. */
const PING_MS = 5000;
/** A page that is let go has so long to close its end. */
const GOES_MS = 1000;
/** So many may stand at the door at once: more than ever come back together. */
const MOST_WAITING = 1000;

/** Takes a connection; null: there are too many already. */
type Connect = (client: LiveClient, who: Who) => LiveConnection | null;

/** The live sockets: at `/api/live` a WebSocket for each page, at `/api/pad` one for each pad. */
export class LiveSocket {
  private readonly sockets: WebSocketServer;
  private readonly alive = new WeakSet<WebSocket>();
  private readonly pings: NodeJS.Timeout;
  /** Fifty that come at once are let in one at a time. */
  private readonly door = new InTurn();
  /** What was sent last; the same goes to many pages in turn, and is made bytes once. */
  private latest: { readonly text: string; bytes: Buffer | null } = { text: '', bytes: null };

  constructor(
    private readonly ways: Readonly<Record<string, Connect>>,
    private readonly hostAllowed: (request: IncomingMessage) => boolean,
    /** Who comes, and what is called when they are gone; null: nobody who was let in. */
    private readonly whoComes: (request: IncomingMessage) => { readonly who: Who; readonly gone: () => void } | null,
  ) {
    this.sockets = new WebSocketServer({ noServer: true, maxPayload: MAX_MESSAGE_BYTES });
    this.sockets.on('error', () => undefined);
    this.pings = setInterval(() => {
      for (const client of this.sockets.clients) {
        if (!this.alive.has(client)) client.terminate();
        else {
          this.alive.delete(client);
          client.ping(() => undefined);
        }
      }
    }, PING_MS);
    this.pings.unref();
  }

  /** Pages connect by this server, too. */
  listenTo(server: Server): void {
    server.on('upgrade', (request, socket, head) => {
      // A peer that resets while it is being refused is nobody's trouble.
      socket.on('error', () => socket.destroy());
      const refuse = (status: string): void => void socket.end(`HTTP/1.1 ${status}\r\nConnection: close\r\n\r\n`);
      const [path = ''] = request.url?.split('?') ?? [];
      const connect = Object.hasOwn(this.ways, path) ? this.ways[path] : undefined;
      if (connect === undefined || !this.hostAllowed(request)) return refuse('403 Forbidden');
      if (this.door.length >= MOST_WAITING) return refuse('503 Service Unavailable');
      this.door.take(() => {
        if (socket.destroyed) return;
        const comes = this.whoComes(request);
        if (comes === null) return refuse('401 Unauthorized');
        socket.once('close', comes.gone);
        this.sockets.handleUpgrade(request, socket, head, (client) => this.serve(client, comes.who, connect));
      });
    });
  }

  close(): void {
    clearInterval(this.pings);
    for (const client of this.sockets.clients) client.terminate();
    this.sockets.close();
  }

  private bytesOf(text: string): string | Buffer {
    if (this.latest.text === text) return (this.latest.bytes ??= Buffer.from(text));
    this.latest = { text, bytes: null };
    return text;
  }

  private serve(socket: WebSocket, who: Who, connect: Connect): void {
    this.alive.add(socket);
    const client: LiveClient = {
      send: (text) => {
        if (socket.readyState !== WebSocket.OPEN) return;
        if (socket.bufferedAmount > LIMITS.backlog) socket.terminate();
        else socket.send(this.bytesOf(text), { binary: false }, () => undefined);
      },
      get bufferedAmount() {
        return socket.bufferedAmount;
      },
      close: () => {
        socket.close(1008);
        // One that does not go by itself is put out.
        setTimeout(() => socket.terminate(), GOES_MS).unref();
      },
    };
    socket.on('error', () => socket.terminate());
    const connection = connect(client, who);
    if (connection === null) return socket.close(1013);
    socket.on('pong', () => this.alive.add(socket));
    socket.on('message', (data) => {
      this.alive.add(socket);
      connection.message(String(data));
    });
    socket.on('close', () => connection.closed());
  }
}
