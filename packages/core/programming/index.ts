/** What the editors offer and tell: parameter fields, steps and lamp rules to choose from, where a thing is used, what a try puts on air. */
export * from './airEffect';
export * from './changes';
export * from './chosen';
export * from './count/index';
export * from './fields';
export * from './lampChoices';
export * from './keys';
export * from './macroParams';
export * from './many';
export * from './newEntries';
export * from './order';
export * from './removals';
export * from './share';
export * from './stepChoices';
export * from './strips/index';
export * from './uses';
export * from './valueFields';
