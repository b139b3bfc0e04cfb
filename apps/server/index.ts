/** The server: Express API, live socket, drivers and the engine in one process, and the supervisor above it. */
export * from './serve';
export * from './supervisor/supervisor';
