/**
 * What goes between server, pages and whoever else speaks to the engine: bodies and replies as schemas. The server checks with them, the OpenAPI
 * document is derived from them, clients infer their types.
 */
export * from './crew';
export * from './devices';
export * from './edits';
export * from './errors';
export * from './header';
export * from './health';
export * from './joining';
export * from './live';
export * from './people';
export * from './shortcuts';
export * from './stations';
export * from './tokens';
export * from './presses';
export * from './runs';
export * from './pads';
export * from './triggers';
