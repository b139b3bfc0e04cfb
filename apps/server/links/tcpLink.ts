import type { StreamSide } from '../border/network';
import { RouterDriver } from '../drivers/routerDriver';
import type { Link, LinkDependencies } from './link';

const CONNECT_LIMIT_MS = 1500;

/** A byte stream to one address: SW-P-08. The driver says when to connect again. */
export function openTcpLink({ network, device, flush, messages, context, inTurn }: LinkDependencies): Link {
  let stream: StreamSide | null = null;
  const driver = new RouterDriver(device.settings, {
    ...context,
    connect: () => {
      const made = network.stream(device, CONNECT_LIMIT_MS, {
        connected: () => inTurn(() => driver.connected()),
        data: (bytes) => {
          if (stream !== made) return;
          inTurn(() => driver.receive(bytes));
          messages.keep(bytes, false);
        },
        refused: () => inTurn(() => driver.unreachable()),
        closed: () => {
          if (stream !== made) return;
          stream = null;
          inTurn(() => driver.disconnected());
        },
      });
      stream = made;
    },
    hangUp: () => stream?.destroy(),
    transmit: (bytes) => {
      flush();
      if (stream === null) return;
      stream.write(bytes);
      messages.keep(bytes, true);
    },
  });
  driver.open();
  return {
    driver,
    close: () => {
      driver.close();
      stream?.destroy();
    },
  };
}
