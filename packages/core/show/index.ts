/** The show as data: its schemas, the errors that reading it can give, and the edits that change it. */
export * from './errors';
export * from './primitives';
export * from './frames';
export * from './step';
export * from './profile';
export * from './entities';
export * from './stick';
export * from './issues';
export * from './apply';
export * from './edits';
export * from './entryWords';
export * from './reference';
export * from './back';
export * from './versions';
export * from './view';
export * from './shown';
export * from './upgrade/index';
