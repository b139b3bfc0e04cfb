import { laterPlace } from '../src/shell/laterPlace';

export default laterPlace('CapsScreen');
