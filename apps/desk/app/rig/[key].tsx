import { DeviceScreen } from '../../src/rig/DeviceScreen';

export default DeviceScreen;
