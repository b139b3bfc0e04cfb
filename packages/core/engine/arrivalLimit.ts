import { arrivalTimeoutMs, GENERIC, PtzSettings, travelMs } from '../devices/index';
import type { Device, Position, ShowDocument } from '../show/index';

/** Nobody has stored a second position yet: a wait of some seconds. */
const WAIT_MS = 6000;
/** Also the shortest way may be begun while the head still brakes. */
const SHORTEST_WAIT_MS = 2000;

/** How long to wait for a camera to arrive at a position, from wherever it stands, milliseconds. */
export const arrivalLimit = (document: ShowDocument, device: Device, position: Position): number => {
  // A head by profile takes as long as its profile says that a recall takes.
  const profile = document.profiles.find(({ key }) => key === device.settings.profile);
  const stated = profile?.content.commands.find(({ key }) => key === 'recall')?.delayMs;
  if (device.kind === GENERIC) return Math.max(WAIT_MS, arrivalTimeoutMs(stated ?? 0));
  const settings = PtzSettings.safeParse(device.settings);
  const ways = settings.success
    ? document.positions.flatMap((item) =>
        item.camera === device.key && item.key !== position.key ? [travelMs(item, position, settings.data)] : [],
      )
    : [];
  return ways.length === 0 ? WAIT_MS : Math.max(SHORTEST_WAIT_MS, arrivalTimeoutMs(Math.max(...ways)));
};
