/** Every place but the Desk, in one piece: what they share is fetched once, and after the Desk. */
export { BenchScreen } from './bench/BenchScreen';
export { Picker } from './common/Picker';
export { CapsScreen } from './desk/CapsScreen';
export { LogScreen } from './log/LogScreen';
export { LogTail } from './log/LogTail';
export { ProfileScreen } from './rig/profiles/ProfileScreen';
export { DeviceScreen } from './rig/DeviceScreen';
export { RigScreen } from './rig/RigScreen';
