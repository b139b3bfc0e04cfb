/** Stand-ins: a core model behind a real socket on loopback, with a control port for what was received and for bad days. */
export * from './faults';
export * from './oscDevice';
export * from './port';
export * from './ptzHead';
export * from './serve';
export * from './badBytes';
export * from './badDatagrams';
export * from './httpDevice';
export * from './routerDevice';
