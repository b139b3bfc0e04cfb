import { WebSocket } from 'ws';

/** So many live clients that read what they are sent, in a process of their own. */
const [url, count] = process.argv.slice(2);
let open = 0;
for (let index = 0; index < Number(count); index += 1) {
  const socket = new WebSocket(url);
  socket.on('open', () => {
    socket.send(JSON.stringify({ type: 'hello', station: `client ${index}` }));
    open += 1;
    if (open === Number(count)) process.send({ ready: true });
  });
  socket.on('message', (data) => JSON.parse(String(data)));
}
process.on('disconnect', () => process.exit(0));
