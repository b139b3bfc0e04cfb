/** How a cap looks, for whatever draws it: colours, and the words of its lamps. */
export * from './colours';
export * from './lampWords';
