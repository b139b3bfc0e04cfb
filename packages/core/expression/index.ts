/** CEL conditions, the points they read, unknown values, and live text. */
export * from './expression';
export * from './liveText';
