import { LogScreen } from '../src/log/LogScreen';

export default LogScreen;
