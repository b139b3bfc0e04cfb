import { DeskScreen } from '../src/desk/DeskScreen';

export default DeskScreen;
