import { createConnection, type Socket } from 'node:net';
import { RouterDriver } from '../drivers/routerDriver';
import type { Link, LinkDependencies } from './link';

const CONNECT_LIMIT_MS = 1500;

/** A byte stream to one address: SW-P-08. The driver says when to connect again. */
export function openTcpLink({ engine, device, flush, messages, context }: LinkDependencies): Link {
  let socket: Socket | null = null;
  let open = false;
  let closed = false;
  const inTurn = (work: () => void): void => {
    if (!closed) engine.board.turn(work);
  };
  const driver = new RouterDriver(device.settings, {
    ...context,
    connect: () => {
      const made = createConnection({ port: device.port, host: device.host, noDelay: true });
      socket = made;
      made.setTimeout(CONNECT_LIMIT_MS, () => !open && made.destroy());
      made.on('connect', () => {
        open = true;
        inTurn(() => driver.connected());
      });
      made.on('data', (bytes) => {
        inTurn(() => driver.receive(bytes));
        messages.keep(bytes, false, Date.now());
      });
      made.on('error', (error: NodeJS.ErrnoException) =>
        inTurn(() => error.code === 'ECONNREFUSED' && driver.unreachable()),
      );
      made.on('close', () => {
        open = false;
        inTurn(() => driver.disconnected());
      });
    },
    transmit: (bytes) => {
      flush();
      if (!open) return;
      socket?.write(bytes);
      messages.keep(bytes, true, Date.now());
    },
  });
  driver.open();
  return {
    driver,
    close: () => {
      driver.close();
      closed = true;
      socket?.destroy();
    },
  };
}
