/** OSC 1.0 through its library, with every argument typed, and the envelope of request ids and numbered states that our OSC devices speak. */
export { type Decoded, hex, type WireError } from '../result';
export * from './envelope';
export * from './message';
