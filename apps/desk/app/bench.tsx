import { BenchScreen } from '../src/bench/BenchScreen';

export default BenchScreen;
