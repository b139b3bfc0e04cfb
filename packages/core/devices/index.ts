/** The kinds of device, each declared once. */
import { captions } from './captions/index';
import type { DeviceKind } from './kind';
import { ptzHead } from './ptzHead/index';
import { switcher } from './switcher/index';

export * from './kind';
export * from './ptzHead/index';
export { captions, switcher };

/** Every kind by its key. */
export const DEVICE_KINDS: Readonly<Record<string, DeviceKind>> = { ptzHead, switcher, captions };

/** Points that each device has whatever its kind: given by the engine from what was heard. */
export const COMMON_POINTS = { reached: { words: 'Device answers', type: 'switch' } } as const;
