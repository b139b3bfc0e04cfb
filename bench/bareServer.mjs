import { createSocket } from 'node:dgram';
import { WebSocketServer } from 'ws';

/** What a press costs at the very least: parse the same JSON, send one datagram first, then tell the same clients. */
const socket = createSocket('udp4');
const server = new WebSocketServer({ host: '127.0.0.1', port: 0 });
const datagram = Buffer.alloc(48, 1);
socket.connect(Number(process.argv[2]), '127.0.0.1', () => process.send({ port: server.address().port }));
server.on('connection', (client) => {
  client.on('message', (data) => {
    const message = JSON.parse(String(data));
    // As the engine does: a client is there once it has heard something.
    if (message.type === 'hello') client.send('{"type":"you"}');
    if (message.type !== 'press' || message.phase !== 'down') return;
    socket.send(datagram);
    const text = JSON.stringify({
      type: 'run',
      epoch: 1,
      n: 1,
      run: { runId: message.pressId, name: message.buttonId, step: 'sent', leftMs: null },
    });
    for (const client of server.clients) client.send(text);
  });
});
process.on('disconnect', () => process.exit(0));
