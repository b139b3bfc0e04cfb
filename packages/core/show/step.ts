import { z } from 'zod';
import { Argument, Id, Key } from './primitives';

const common = {
  /** Names the step in the as-run and in outcomes; unique within its list. */
  id: z.string().min(1).max(40),
  /** What a failure does to the run: end it (with its stop steps) or go on. */
  onFail: z.enum(['stop', 'goOn']).default('stop'),
};

/** A device key, or a selection that holds one (`chosen.camera`), pinned when the press comes in. */
export const DeviceReference = z.union([Key, z.string().regex(/^chosen\.[a-z][A-Za-z0-9]{0,39}$/)]);

/** Tell a device one thing. Ends when the device has accepted it; a long command goes on beside the steps that follow. */
export const CommandStep = z.strictObject({
  ...common,
  kind: z.literal('command'),
  device: DeviceReference,
  command: z.string().min(1).max(60),
  params: z.record(z.string().max(60), Argument).default({}),
});

/** Let time pass, in milliseconds or in frames of the show. Counted from when the step was due, so lateness does not add up. */
export const PauseStep = z.strictObject({
  ...common,
  kind: z.literal('pause'),
  length: z.union([
    z.strictObject({ ms: z.number().min(0).max(86_400_000) }),
    z.strictObject({ frames: z.number().int().min(0).max(5_184_000) }),
  ]),
});

/** Wait until a condition holds; unknown points satisfy nothing. */
export const WaitStep = z.strictObject({
  ...common,
  kind: z.literal('wait'),
  until: z.string().min(1).max(2000),
  /** Milliseconds after which the wait has failed. */
  timeoutMs: z.number().min(1).max(86_400_000).default(10_000),
});

/** Put a show value (`value.count`) or a selection (`chosen.camera`) to something. */
export const SetStep = z.strictObject({
  ...common,
  kind: z.literal('set'),
  target: z.string().regex(/^(value|chosen)\.[a-z][A-Za-z0-9]{0,39}$/, 'Write value.name or chosen.name.'),
  to: Argument,
});

/** Run another macro in the same run, with its own parameters; ends when it has ended. */
export const RunStep = z.strictObject({
  ...common,
  kind: z.literal('run'),
  macro: Id,
  params: z.record(z.string().max(60), Argument).default({}),
});

/** Start all of these in the same instant; ends when each has ended. */
export interface TogetherStep {
  id: string;
  onFail: 'stop' | 'goOn';
  kind: 'together';
  steps: Step[];
}

export type Step =
  | z.infer<typeof CommandStep>
  | z.infer<typeof PauseStep>
  | z.infer<typeof WaitStep>
  | z.infer<typeof SetStep>
  | z.infer<typeof RunStep>
  | TogetherStep;

const TogetherStep: z.ZodType<TogetherStep> = z.lazy(() =>
  z.strictObject({ ...common, kind: z.literal('together'), steps: z.array(Step).max(200) }),
);

/** One line of a macro or of a button. */
export const Step: z.ZodType<Step> = z
  .union([CommandStep, PauseStep, WaitStep, SetStep, RunStep, TogetherStep])
  .meta({ id: 'Step' });

/** Steps in order; at most 5,000. */
export const Steps = z.array(Step).max(5000);
