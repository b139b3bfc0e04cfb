import type { AppError } from '../show/index';

/** A stored position is a place of one head: on another, the same pan and tilt show something else. */
export function otherCamera(
  position: string,
  camera: string,
  device: string,
  devices: { get(key: string): { readonly name: string } | undefined },
): AppError {
  const name = (key: string): string => devices.get(key)?.name ?? key;
  return {
    code: 'other-camera',
    message: `${position} is a position of ${name(camera)}, not of ${name(device)}.`,
    mend: 'Choose a position of that camera, or the other camera.',
  };
}
