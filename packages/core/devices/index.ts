/** The kinds of device, each declared once. */
import { captions } from './captions/index';
import { clipPlayer } from './clipPlayer/index';
import { generic, GENERIC, kindOfProfile } from './generic/index';
import { guestGateway } from './guestGateway/index';
import { type DeviceKind, ownKeys, placeOf, type PointDefinition } from './kind';
import type { Device, ShowDocument } from '../show/index';
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

export * from './generic/index';
export * from './kind';
export * from './ptzHead/index';
export * from './router/index';
export {
  captions,
  clipPlayer,
  guestGateway,
  recorder,
  replayServer,
  slides,
  soundMixer,
  streamEncoder,
  switcher,
  tallyOut,
  venueScreen,
};
export { isSwitcherInput } from './switcher/index';
export { switcherLayoutOf } from './switcher/numbers';
export { SoundSettings, voiceDb } from './soundMixer/index';

/** Every kind by its key. */
export const DEVICE_KINDS: Readonly<Record<string, DeviceKind>> = ownKeys<DeviceKind>({
  ptzHead,
  switcher,
  captions,
  clipPlayer,
  replayServer,
  recorder,
  router,
  guestGateway,
  soundMixer,
  slides,
  venueScreen,
  streamEncoder,
  tallyOut,
  generic,
});

const NO_POINTS = {};
const knownPoints = new WeakMap<object, Readonly<Record<string, PointDefinition>>>();

const knownPlaces = new WeakMap<DeviceKind, Readonly<Record<string, PointDefinition>>>();

/** The points of a kind with the places of its lists, which the engine keeps. */
function withPlaces(kind: DeviceKind): Readonly<Record<string, PointDefinition>> {
  let points = knownPlaces.get(kind);
  if (points === undefined) {
    const places = Object.entries(kind.lists ?? {}).flatMap(([list, { words, type, most }]) =>
      Array.from({ length: most }, (_, at): [string, PointDefinition] => [
        placeOf(list, at + 1),
        { words: `${words}, place ${at + 1}`, type },
      ]),
    );
    points = places.length === 0 ? kind.points : { ...kind.points, ...Object.fromEntries(places) };
    knownPlaces.set(kind, points);
  }
  return points;
}

/** What is needed of a device to know its kind. */
type Kinded = Pick<Device, 'kind' | 'settings'>;
type Profiles = Pick<ShowDocument, 'profiles'>;

/** The kind of a device: one of ours, or the one that its profile describes. Undefined when there is no such kind. */
export function kindOf(device: Kinded | undefined, { profiles }: Profiles): DeviceKind | undefined {
  if (device === undefined) return undefined;
  if (device.kind !== GENERIC) return DEVICE_KINDS[device.kind];
  const profile = profiles.find((candidate) => candidate.key === device.settings.profile);
  return profile === undefined ? generic : kindOfProfile(profile.content);
}

/** The points of one device: those of its kind, and those that follow from its settings. Settings that do not fit give only the first. */
export function pointsOf(device: Kinded, show: Profiles): Readonly<Record<string, PointDefinition>> {
  const kind = kindOf(device, show);
  if (kind === undefined) return NO_POINTS;
  if (kind.pointsFor === undefined) return kind.lists === undefined ? kind.points : withPlaces(kind);
  let points = knownPoints.get(device.settings);
  if (points === undefined) {
    points = kind.settings.safeParse(device.settings).success
      ? { ...withPlaces(kind), ...kind.pointsFor(device.settings) }
      : withPlaces(kind);
    knownPoints.set(device.settings, points);
  }
  return points;
}

/** Points that each device has whatever its kind: given by the engine from what was heard. */
export const COMMON_POINTS = { reached: { words: 'Device answers', type: 'switch' } } as const;
