import { createSocket } from 'node:dgram';
import { decodeTally, hex } from '@umbek/wire/tsl';
import { type Door, type DoorHost, LOOPBACK } from './door';

/** Under-monitor displays: they listen, show what they are told, and never answer. Points: `display<number>` as `text lamp`. */
export async function openTallyDoor({ port, pass }: DoorHost): Promise<Door> {
  const socket = createSocket('udp4');
  const displays: Record<string, string> = {};
  let malformed = 0;
  socket.on('message', (bytes, from) => {
    pass('in', `${from.address}:${from.port}`, hex(bytes), true, () => {
      const tally = decodeTally(bytes);
      if (!tally.ok) malformed += 1;
      else
        for (const display of tally.value.displays)
          displays[`display${display.index}`] = `${display.text} ${display.textLamp}`;
    });
  });
  await new Promise<void>((resolve, reject) => {
    socket.once('error', reject);
    socket.bind(port, LOOPBACK, () => resolve());
  });
  socket.on('error', () => undefined);
  return {
    port: socket.address().port,
    report: () => ({ points: displays, effects: [], malformed }),
    simulate: (what) => `Displays cannot be made to ${what}.`,
    close: () => socket.close(),
  };
}
