/** What the start script takes: the supervisor, and the stand-ins of the demo show. */
export { demoStandins } from '@umbek/demo';
export * from './supervisor';
