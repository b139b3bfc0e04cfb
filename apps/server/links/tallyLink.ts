import { createSocket } from 'node:dgram';
import { z } from 'zod';
import { TallyDriver, type TallySource } from '../drivers/tallyDriver';
import type { Link, LinkDependencies } from './link';

const Settings = z.object({ screen: z.number().default(0), brightness: z.number().default(3) });

/** Packets to under-monitor displays whenever program, preview or a name changes. */
export function openTallyLink({ engine, device, flush, messages, context }: LinkDependencies): Link {
  const socket = createSocket('udp4');
  let connected = false;
  let closed = false;
  const switcher = engine.program.document.devices.find((one) => one.kind === 'switcher')?.key ?? 'switcher';
  const sources = (): TallySource[] => {
    const [program, preview, mixing] = ['program', 'preview', 'mixing'].map((point) =>
      engine.board.read(`${switcher}.${point}`),
    );
    return engine.program.document.sources.flatMap(({ input, name }) =>
      // While it mixes both pictures are on air.
      input === null
        ? []
        : [
            {
              input,
              name,
              onProgram: input === program || (mixing === true && input === preview),
              onPreview: input === preview,
            },
          ],
    );
  };
  const driver = new TallyDriver(
    Settings.parse(device.settings),
    {
      ...context,
      transmit: (packet) => {
        flush();
        if (!connected) return;
        socket.send(packet);
        messages.keep(packet, true, Date.now());
      },
    },
    sources,
  );
  const keys = ['program', 'preview', 'mixing'].map((point) => `${switcher}.${point}`);
  const reader = { wake: () => driver.changed() };
  engine.board.subscribe(keys, reader);
  socket.on('error', () => engine.board.turn(() => driver.unreachable()));
  socket.connect(device.port, device.host, (error?: Error) => {
    connected = error === undefined || error === null;
    if (!closed) engine.board.turn(() => driver.open());
  });
  return {
    driver,
    close: () => {
      closed = true;
      engine.board.unsubscribe(keys, reader);
      driver.close();
      socket.close();
    },
  };
}
