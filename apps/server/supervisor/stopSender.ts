import { createSocket } from 'node:dgram';
import { createConnection } from 'node:net';
import { WebSocket } from 'ws';
import type { StopSender } from './guards';

/** A connection that does not come about is given up after so long. */
const CONNECT_LIMIT_MS = 1500;
/** What was written is given so long to be taken before the connection is closed. */
const TAKEN_MS = 250;

/** Stops on sockets of their own: each send is a sender that the device has never heard. */
export const stopSender: StopSender = {
  send(host, port, messages, over) {
    if (over === undefined) return sendDatagrams(host, port, messages);
    if (over.kind === 'tcp') return sendOverTcp(host, port, messages);
    const socket = new WebSocket(`ws://${host}:${port}${over.path}`, { handshakeTimeout: CONNECT_LIMIT_MS });
    socket.on('error', () => socket.terminate());
    socket.on('open', () => {
      // As the driver sends them: what was text is text again.
      for (const bytes of messages) socket.send(Buffer.from(bytes).toString('utf8'), () => undefined);
      setTimeout(() => socket.close(), TAKEN_MS);
    });
  },
};

function sendDatagrams(host: string, port: number, datagrams: readonly Uint8Array[]): void {
  const socket = createSocket('udp4');
  socket.on('error', () => socket.close());
  let left = datagrams.length;
  for (const bytes of datagrams)
    socket.send(bytes, port, host, () => {
      left -= 1;
      if (left === 0) setTimeout(() => socket.close(), 50);
    });
}

function sendOverTcp(host: string, port: number, messages: readonly Uint8Array[]): void {
  const socket = createConnection({ host, port, noDelay: true });
  const limit = setTimeout(() => socket.destroy(), CONNECT_LIMIT_MS);
  socket.on('error', () => socket.destroy());
  socket.on('close', () => clearTimeout(limit));
  socket.on('connect', () => {
    for (const bytes of messages) socket.write(bytes);
    setTimeout(() => socket.end(), TAKEN_MS);
  });
  socket.resume();
}
