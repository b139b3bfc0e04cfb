import { RigScreen } from '../../src/rig/RigScreen';

export default RigScreen;
