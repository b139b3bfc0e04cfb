import { config } from 'zod';

// Zod tries to compile its checks, which the page's own security policy forbids: one engine tells each try as an error.
config({ jitless: true });

/** Every place but the Desk, in one piece: what they share is fetched once, and after the Desk. */
export { BenchScreen } from './bench/BenchScreen';
export { Picker } from './common/Picker';
export { CapsScreen } from './desk/CapsScreen';
export { LogScreen } from './log/LogScreen';
export { LogTail } from './log/LogTail';
export { ProfileScreen } from './rig/profiles/ProfileScreen';
export { DeviceScreen } from './rig/DeviceScreen';
export { RigScreen } from './rig/RigScreen';
export { applyEdit } from '@umbek/core/show';
