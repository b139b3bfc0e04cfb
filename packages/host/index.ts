/** What the core takes from a real machine: its clock. Server and stand-ins share it. */
export * from './realClock';
