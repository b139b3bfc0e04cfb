/** Rehearsal: the live engine on a virtual clock against device models, and how its timeline is held against the real one. */
export * from './compare';
export * from './modelPort';
export * from './rehearse';
export * from './virtualClock';
