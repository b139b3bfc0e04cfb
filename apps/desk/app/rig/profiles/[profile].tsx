import { ProfileScreen } from '../../../src/rig/profiles/ProfileScreen';

export default ProfileScreen;
