/**
 * The engine that runs a show, live and in rehearsal. Read in this order: `engine.ts` (how the parts hang together),
 * `pressIntake.ts`, `macroRunner.ts`, `stateBoard.ts`, `lamps.ts`. It is synchronous: time, devices and journal come from outside.
 */
export * from './clock';
export * from './devicePort';
export * from './engine';
export * from './journal';
export * from './lamps';
export * from './onAir';
export * from './air';
export { inputKey, onAirKey, onPreviewKey, pictureKey } from './airWatch';
export { callIdentity, type RunRequest, type RunView, type SecondPress } from './run';
export { MOST_STEPS_AN_INSTANT } from './stepKit';
export type { DirectCommand } from './directButton';
export type { PressAnswer, PressInput, Taken, TakenHand } from './pressInput';
export { LEASE_MS, OLDEST_PRESS_MS } from './pressIntake';
export { SECOND_TOUCH_MS } from './secondTouch';
export * from './program';
export * from './resolve';
export { reservedKey } from './reservations';
export { readerFor, selectionKey } from './scope';
export * from './sentence';
export * from './stateBoard';
export * from './dueQueue';
export { type Fired, type KeyChange, type KnownPress, type KnownRun } from './rules/causes';
export { armedKey, ruleKey, type ByHand, type RuleEdge, type RuleView, type WhyEntry } from './rules/ruleView';
export { isTimeZone, nextInstant } from './rules/timeOfDay';
export { whyOf } from './rules/why';
export { circleFaults } from './rules/circles';
export { claimsOn, leavingOf } from './rules/claims';
export { keyWords } from './rules/words';
