import { onAirKey, onPreviewKey } from '@umbek/core/engine';
import { z } from 'zod';
import { TallyDriver, type TallySource } from '../drivers/tallyDriver';
import type { Link, LinkDependencies } from './link';

const Settings = z.object({ screen: z.number().default(0), brightness: z.number().default(3) });

/** Packets to under-monitor displays whenever a source comes on air, is next, or gets another name. */
export function openTallyLink({ engine, network, device, flush, messages, context, inTurn }: LinkDependencies): Link {
  const { board } = engine;
  const sources = (): TallySource[] =>
    engine.program.document.sources.flatMap(({ key, input, name }) =>
      input === null
        ? []
        : [
            {
              input,
              name,
              onProgram: board.read(onAirKey(key)) === true,
              onPreview: board.read(onPreviewKey(key)) === true,
            },
          ],
    );
  const driver = new TallyDriver(
    Settings.parse(device.settings),
    {
      ...context,
      transmit: (packet) => {
        flush();
        wire.send(packet);
        messages.keep(packet, true);
      },
    },
    sources,
  );
  const reader = { wake: () => driver.changed() };
  let keys: string[] = [];
  /** Which sources there are follows the show; what is told of them follows at once. */
  const follow = (): void => {
    board.unsubscribe(keys, reader);
    keys = engine.program.document.sources.flatMap(({ key }) => [onAirKey(key), onPreviewKey(key)]);
    board.subscribe(keys, reader);
  };
  follow();
  const wire = network.datagrams(device, {
    open: () => inTurn(() => driver.open()),
    message: () => undefined,
    refused: () => inTurn(() => driver.unreachable()),
  });
  return {
    driver,
    followed: () => {
      follow();
      driver.changed();
    },
    close: () => {
      board.unsubscribe(keys, reader);
      driver.close();
      wire.close();
    },
  };
}
