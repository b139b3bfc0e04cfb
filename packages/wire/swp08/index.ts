/** SW-P-08, the router protocol: frames over a byte stream, and the messages in them. */
export * from './frame';
export * from './message';
export { type Decoded, hex, type WireError } from '../result';
