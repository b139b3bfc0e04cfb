/** What the editors offer and tell: parameter fields, steps and lamp rules to choose from, where a thing is used, what a try puts on air. */
export * from './airEffect';
export * from './fields';
export * from './lampChoices';
export * from './many';
export * from './order';
export * from './stepChoices';
export * from './uses';
