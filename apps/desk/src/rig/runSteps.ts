import type { Step } from '@umbek/core/show';
import { readIdentity } from '../live/identity';
import { ask } from '../show/ask';
import { act } from '../live/deeds';

const LOOK_MS = 400;

/** Runs steps on the engine and waits for their end. @returns null when all went well, or why not */
export async function runSteps(name: string, steps: readonly Step[], owns: readonly string[]): Promise<string | null> {
  const started = await act('/api/steps/run', { name, steps, owns, station: readIdentity().station });
  const reply = (await started.json()) as { runId?: string; message?: string; mend?: string };
  if (!started.ok || reply.runId === undefined)
    return `${reply.message ?? 'It was refused.'} ${reply.mend ?? ''}`.trim();
  for (;;) {
    await new Promise((next) => setTimeout(next, LOOK_MS));
    const { runs } = (await (await ask('/api/runs')).json()) as { runs: { runId: string }[] };
    if (runs.some((run) => run.runId === reply.runId)) continue;
    const { entries } = (await (await ask('/api/log?kind=runEnd&limit=100')).json()) as {
      entries: { runId: string; how: string; why?: string }[];
    };
    const end = entries.find((entry) => entry.runId === reply.runId);
    return end === undefined || end.how === 'done' ? null : (end.why ?? 'It was stopped.');
  }
}
