/** VISCA over IP as bytes: packets with their sequence numbers, commands, inquiries and replies. */
export { type Decoded, hex, type WireError } from '../result';
export * from './message';
export * from './packet';
