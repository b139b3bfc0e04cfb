/** What runs buttons and macros from outside the panels, as a station needs it: no schemas. */
export * from './dial';
export * from './find';
export { keyOn, type KeyEvent, type Layout } from './key';
export * from './on';
export * from './turn';
