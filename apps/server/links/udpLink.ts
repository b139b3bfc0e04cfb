import { DEVICE_KINDS, ptzHead } from '@umbek/core/devices';
import type { Engine } from '@umbek/core/engine';
import type { ByteContext, ByteDriver } from '../drivers/context';
import { OscDriver } from '../drivers/oscDriver';
import { ViscaDriver } from '../drivers/viscaDriver';
import { HeadTally } from './headTally';
import { farewell, type Link, type LinkDependencies } from './link';

/** Datagrams from and to one address: VISCA over IP and OSC. */
export function openUdpLink({
  engine,
  network,
  clock,
  device,
  flush,
  idPrefix,
  messages,
  context,
  inTurn,
}: LinkDependencies): Link {
  const transmit = (datagram: Uint8Array): void => {
    flush();
    wire.send(datagram);
    messages.keep(datagram, true);
  };
  const bytes: ByteContext = { ...context, transmit };
  const kind = DEVICE_KINDS[device.kind] ?? ptzHead;
  const driver: ByteDriver =
    kind.wire === 'visca' ? new ViscaDriver(device.settings, bytes) : new OscDriver(kind, bytes, idPrefix);
  const wire = network.datagrams(device, {
    open: () => inTurn(() => driver.open()),
    message: (datagram) => {
      inTurn(() => driver.receive(datagram));
      messages.keep(datagram, false);
    },
    refused: () => inTurn(() => driver.unreachable()),
  });
  let lamps = 0;
  const tally =
    kind.wire !== 'visca'
      ? null
      : new HeadTally({
          board: engine.board,
          clock,
          camera: device.key,
          sources: () => tallySources(engine, device.key),
          send: (on, then) =>
            driver.send(`tally${(lamps += 1)}`, { command: 'tally', params: { on } }, (event) => {
              if (event.type === 'outcome') then(event.outcome === 'done');
            }),
          inTurn,
        });
  return {
    driver,
    followed: () => tally?.follow(),
    close: () => {
      tally?.close();
      const stops = driver.stops?.() ?? [];
      driver.close();
      farewell(
        clock,
        stops,
        (datagram) => wire.send(datagram),
        () => wire.close(),
      );
    },
  };
}

/** Sources that show a head's picture, when its lamp is to follow the air. */
function tallySources(engine: Engine, camera: string): string[] {
  const { document, devices } = engine.program;
  if (devices.get(camera)?.settings.tallyLamp !== 'onAir') return [];
  return document.sources.flatMap((source) => (source.camera === camera ? [source.key] : []));
}
