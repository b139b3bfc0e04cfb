import { CapsScreen } from '../src/desk/CapsScreen';

export default CapsScreen;
