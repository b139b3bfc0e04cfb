import { WebSocket } from 'ws';

/** So many live clients that read what they are sent, in a process of their own. Told `return`, all of them end at once and come back. */
const [url, count] = process.argv.slice(2);
let sockets = [];

function open() {
  let ready = 0;
  sockets = Array.from({ length: Number(count) }, (_none, index) => {
    const socket = new WebSocket(url);
    socket.on('open', () => {
      socket.send(JSON.stringify({ type: 'hello', station: `client ${index}` }));
    });
    let first = true;
    socket.on('message', (data) => {
      JSON.parse(String(data));
      if (first && (ready += 1) === Number(count)) process.send({ ready: true });
      first = false;
    });
    return socket;
  });
}

open();
process.on('message', () => {
  for (const socket of sockets) socket.terminate();
  open();
});
process.on('disconnect', () => process.exit(0));
