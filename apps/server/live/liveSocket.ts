import type { IncomingMessage, Server } from 'node:http';
import { WebSocket, WebSocketServer } from 'ws';
import { LIMITS } from './limits';
import type { LiveDesk } from './liveDesk';
import type { LiveClient } from './liveRoom';

const MAX_MESSAGE_BYTES = 64 * 1024;
/** A page that does not even answer this is gone, whatever its network says. */
const PING_MS = 5000;

/** The live socket at `/api/live`: a WebSocket for each page. */
export class LiveSocket {
  private readonly sockets: WebSocketServer;
  private readonly alive = new WeakSet<WebSocket>();
  private readonly pings: NodeJS.Timeout;

  constructor(
    server: Server,
    private readonly desk: LiveDesk,
    hostAllowed: (request: IncomingMessage) => boolean,
  ) {
    this.sockets = new WebSocketServer({ noServer: true, maxPayload: MAX_MESSAGE_BYTES });
    this.sockets.on('error', () => undefined);
    server.on('upgrade', (request, socket, head) => {
      // A peer that resets while it is being refused is nobody's trouble.
      socket.on('error', () => socket.destroy());
      if (request.url?.split('?')[0] !== '/api/live' || !hostAllowed(request)) {
        socket.end('HTTP/1.1 403 Forbidden\r\nConnection: close\r\n\r\n');
        return;
      }
      this.sockets.handleUpgrade(request, socket, head, (client) => this.serve(client));
    });
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

  close(): void {
    clearInterval(this.pings);
    for (const client of this.sockets.clients) client.terminate();
    this.sockets.close();
  }

  private serve(socket: WebSocket): void {
    this.alive.add(socket);
    const client: LiveClient = {
      send: (text) => {
        if (socket.readyState !== WebSocket.OPEN) return;
        if (socket.bufferedAmount > LIMITS.backlog) socket.terminate();
        else socket.send(text, () => undefined);
      },
      get bufferedAmount() {
        return socket.bufferedAmount;
      },
      close: () => socket.close(1008),
    };
    socket.on('error', () => socket.terminate());
    const connection = this.desk.connect(client);
    if (connection === null) return socket.close(1013);
    socket.on('pong', () => this.alive.add(socket));
    socket.on('message', (data) => {
      this.alive.add(socket);
      connection.message(String(data));
    });
    socket.on('close', () => connection.closed());
  }
}
