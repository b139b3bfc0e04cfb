/** Rehearsals, the as-run, runs and stops. */
import { z } from 'zod';
import { PlainValue, Steps } from '@umbek/core/show';

/** How a rehearsal of one thing begins, and what it tells. */
const begin = {
  from: z
    .enum(['live', 'start'])
    .optional()
    .meta({ description: 'From how things are now (left out), or from devices just switched on.' }),
  watch: z.boolean().default(false).meta({ description: 'Also tells what becomes of points and values.' }),
  linkGroup: z.string().max(40).optional(),
};

export const RehearseBody = z
  .union([
    z.strictObject({
      buttonId: z.string().min(1).max(40),
      holdMs: z.number().min(0).max(60_000).optional(),
      ...begin,
    }),
    z.strictObject({
      macroId: z.string().min(1).max(40),
      params: z.record(z.string().max(60), PlainValue).optional(),
      ...begin,
    }),
    z.strictObject({ triggerId: z.string().min(1).max(40), ...begin }),
    z
      .strictObject({
        presses: z
          .array(
            z.strictObject({
              atMs: z.number().min(0).max(86_400_000),
              buttonId: z.string().min(1).max(40),
              holdMs: z.number().min(0).max(60_000).optional(),
            }),
          )
          .max(20_000),
        untilMs: z.number().min(0).max(86_400_000).optional(),
        from: z.enum(['live', 'start']).default('live'),
        linkGroup: z.string().max(40).optional(),
      })
      .meta({
        description:
          'The show with its triggers, while somebody presses; from how things are now, or from devices just switched on.',
      }),
  ])
  .meta({ id: 'Rehearse' });

const JournalLine = z.looseObject({ kind: z.string(), t: z.number() });

export const RehearseReply = z
  .object({
    durationMs: z.number(),
    cutOff: z.boolean(),
    entries: z.array(JournalLine),
    changes: z
      .array(z.tuple([z.number(), z.string(), PlainValue.nullable()]))
      .optional()
      .meta({ description: 'With `watch`: time, key, and what it becomes; null: no longer known.' }),
  })
  .meta({
    id: 'Timeline',
    description:
      'The predicted timeline; entries are of the same type as those of the as-run, t counts milliseconds from the press.',
  });

export const LogQuery = z.object({
  before: z.coerce.number().int().min(0).optional(),
  limit: z.coerce.number().int().min(1).max(1000).default(200),
  device: z.string().max(40).optional(),
  kind: z.string().max(200).optional().meta({ description: 'One or more kinds of entry, with commas between.' }),
  person: z.string().max(120).optional().meta({ description: 'Person or station of a press.' }),
});

export const AsRunQuery = z.object({
  after: z.coerce.number().int().min(0).default(0),
  limit: z.coerce.number().int().min(1).max(5000).default(500),
});

export const AsRunReply = z
  .object({ entries: z.array(JournalLine.extend({ seq: z.number(), at: z.string() })), next: z.number() })
  .meta({ id: 'AsRun' });

const LineSubjectSchema = z
  .discriminatedUnion('kind', [
    z.object({ kind: z.literal('step'), stepId: z.string(), path: z.string(), words: z.string() }),
    z.object({ kind: z.literal('stepEnd'), stepId: z.string(), path: z.string(), ok: z.boolean() }),
    z.object({ kind: z.literal('command'), device: z.string(), command: z.string() }),
    z.object({ kind: z.literal('accepted'), device: z.string() }),
    z.object({
      kind: z.literal('outcome'),
      device: z.string(),
      outcome: z.enum(['done', 'sent', 'refused', 'lost', 'late']),
    }),
    z.object({ kind: z.literal('runStart') }),
    z.object({ kind: z.literal('runEnd'), how: z.enum(['done', 'failed', 'stopped', 'interrupted']) }),
  ])
  .meta({ id: 'LineSubject', description: 'What a line of a run is about; equal in a rehearsal and in the run.' });

export const RunReply = z
  .object({
    runId: z.string(),
    name: z.string(),
    rehearsed: z
      .boolean()
      .meta({ description: 'False when nothing is known to hold it against: predicted times are then missing.' }),
    sameOrder: z.boolean(),
    worstMs: z.number().nullable(),
    lines: z.array(
      z.object({
        what: LineSubjectSchema,
        words: z.string().meta({ description: 'The same in words, with the names of today.' }),
        why: z.string().optional().meta({ description: 'Why a step or the run failed, where it did.' }),
        predictedMs: z.number().nullable(),
        realMs: z.number().nullable(),
        errorMs: z.number().nullable(),
      }),
    ),
  })
  .meta({
    id: 'RunComparison',
    description: 'A live run beside its rehearsal; error is real minus predicted, in milliseconds.',
  });

export const RunsReply = z
  .object({ runs: z.array(z.object({ runId: z.string(), name: z.string(), step: z.string(), stopping: z.boolean() })) })
  .meta({ id: 'Runs' });

export const RunStepsBody = z
  .strictObject({
    name: z.string().min(1).max(120),
    steps: Steps.min(1),
    owns: z.array(z.string().min(1).max(40)).max(40).default([]),
    station: z.string().min(1).max(120),
  })
  .meta({ id: 'RunSteps' });

export const StopAllBody = z.strictObject({ station: z.string().min(1).max(120) }).meta({ id: 'StopAll' });

export const StopAheadReply = z
  .object({
    runs: z.array(z.object({ name: z.string(), steps: z.array(z.string()) })),
    holds: z.array(z.object({ legend: z.string(), steps: z.array(z.string()) })),
    moving: z.array(z.string()),
    /** Names of triggers that it disarms. */
    triggers: z.array(z.string()).default([]),
  })
  .meta({ id: 'StopAhead', description: 'What stopping everything now would do.' });

export type StopAheadReply = z.infer<typeof StopAheadReply>;

export const AnswerBody = z
  .strictObject({
    askId: z.string().min(1).max(400),
    answer: z.enum(['goOn', 'stop']),
    station: z.string().min(1).max(120),
  })
  .meta({ id: 'Answer', description: 'The answer to a question that a run waits for.' });

export const NextBody = z
  .strictObject({
    path: z
      .string()
      .min(1)
      .max(400)
      .meta({ description: 'Path of the step that waits: a touch that comes twice begins one step.' }),
    station: z.string().min(1).max(120),
  })
  .meta({ id: 'Next', description: 'The next step of a run that is stepped through.' });

export const StopAllReply = z.object({ runs: z.number(), holds: z.number() }).meta({ id: 'Stopped' });

export const StopRunBody = z.strictObject({ station: z.string().min(1).max(120) }).meta({ id: 'StopRun' });
