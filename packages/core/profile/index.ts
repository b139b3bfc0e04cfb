/** Profiles at work: whether one holds together, what its commands are on the wire, and what the device's words mean. */
export * from './compile';
export * from './samples';
