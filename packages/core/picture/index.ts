/** Framing of a PTZ head: what part of the world is in its picture, and how to aim it. */
export * from './framing';
export * from './stick';
export * from './window';
