/** The kinds of device, each declared once. */
import { captions } from './captions/index';
import { clipPlayer } from './clipPlayer/index';
import { guestGateway } from './guestGateway/index';
import type { DeviceKind, PointDefinition } from './kind';
import { ptzHead } from './ptzHead/index';
import { recorder } from './recorder/index';
import { replayServer } from './replayServer/index';
import { router } from './router/index';
import { slides } from './slides/index';
import { soundMixer } from './soundMixer/index';
import { streamEncoder } from './streamEncoder/index';
import { switcher } from './switcher/index';
import { tallyOut } from './tallyOut/index';
import { venueScreen } from './venueScreen/index';

export * from './kind';
export * from './ptzHead/index';
export * from './router/index';
export { captions, clipPlayer, guestGateway, recorder, replayServer, slides, soundMixer, streamEncoder, switcher, tallyOut, venueScreen };
export { voiceDb } from './soundMixer/index';

/** Every kind by its key. */
export const DEVICE_KINDS: Readonly<Record<string, DeviceKind>> = { ptzHead, switcher, captions, clipPlayer, replayServer, recorder, router, guestGateway, soundMixer, slides, venueScreen, streamEncoder, tallyOut };

const NO_POINTS = {};
const knownPoints = new WeakMap<object, Readonly<Record<string, PointDefinition>>>();

/** The points of one device: those of its kind, and those that follow from its settings. Settings that do not fit give only the first. */
export function pointsOf(device: { readonly kind: string; readonly settings: object }): Readonly<Record<string, PointDefinition>> {
  const kind = DEVICE_KINDS[device.kind];
  if (kind?.pointsFor === undefined) return kind?.points ?? NO_POINTS;
  let points = knownPoints.get(device.settings);
  if (points === undefined) {
    points = kind.settings.safeParse(device.settings).success ? { ...kind.points, ...kind.pointsFor(device.settings) } : kind.points;
    knownPoints.set(device.settings, points);
  }
  return points;
}


/** Points that each device has whatever its kind: given by the engine from what was heard. */
export const COMMON_POINTS = { reached: { words: 'Device answers', type: 'switch' } } as const;
