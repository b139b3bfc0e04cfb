/** Which kind of device a device is as far as the show goes. Without schemas: a page that only operates asks it too. */
import type { Device, ShowDocument } from './entities';

type Kinded = Pick<Device, 'kind' | 'settings'>;
type Profiles = Pick<ShowDocument, 'profiles'>;

/** Its kind by its key, or the one whose part its profile fills. */
export const partOf = (device: Kinded, { profiles }: Profiles): string =>
  device.kind === 'generic'
    ? (profiles.find(({ key }) => key === device.settings.profile)?.content.part ?? device.kind)
    : device.kind;

/** Whether a device is a head that can be chosen as the camera. */
export const isHead = (device: Kinded, show: Profiles): boolean => partOf(device, show) === 'ptzHead';
