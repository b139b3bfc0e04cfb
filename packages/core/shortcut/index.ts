/** What runs buttons and macros from outside the panels, as a station needs it: no schemas. */
export * from './find';
export * from './key';
