import type { RunReply } from '@umbek/protocol';
import type { DeviceCommand } from '@umbek/core/devices';
import type { Step } from '@umbek/core/show';
import type { z } from 'zod';
import { act } from '../live/deeds';
import { readIdentity } from '../live/identity';
import { ask } from '../show/ask';
import { replyWords } from '../show/replyWords';

const LOOK_MS = 400;
/** A run that the as-run does not know after so many looks is not waited for any longer. */
const MOST_UNKNOWN = 25;

/** What became of steps that ran as one run. */
export interface RanSteps {
  /** Why not all of it went through; null when all did. */
  readonly why: string | null;
  /** Ids of the steps that went through. */
  readonly done: ReadonlySet<string>;
  /** Ids of the steps that failed, each with why. */
  readonly failed: ReadonlyMap<string, string>;
}

/** Runs steps on the engine as one run and waits for its end. Throws when the engine does not answer. */
export async function runSteps(name: string, steps: readonly Step[], owns: readonly string[]): Promise<RanSteps> {
  const started = await act('/api/steps/run', { name, steps, owns, station: readIdentity().station });
  const reply = (await started.json()) as { runId?: string; message?: string; mend?: string };
  if (!started.ok || reply.runId === undefined)
    return {
      why: replyWords(reply),
      done: new Set(),
      failed: new Map(),
    };
  for (let unknown = 0; unknown < MOST_UNKNOWN;) {
    await new Promise((next) => setTimeout(next, LOOK_MS));
    const response = await ask(`/api/runs/${reply.runId}`);
    if (!response.ok) {
      // The as-run may not have come so far yet.
      unknown += 1;
      continue;
    }
    const ran = ranSteps((await response.json()) as Pick<z.infer<typeof RunReply>, 'lines'>);
    if (ran !== null) return ran;
  }
  return {
    why: 'The log does not say how it ended. Look at the device before you try again.',
    done: new Set(),
    failed: new Map(),
  };
}

/** @returns null while the run goes on */
export function ranSteps({ lines }: Pick<z.infer<typeof RunReply>, 'lines'>): RanSteps | null {
  const end = lines.find((line) => line.what.kind === 'runEnd');
  if (end?.what.kind !== 'runEnd') return null;
  const done = new Set<string>();
  const failed = new Map<string, string>();
  for (const { what, why } of lines) {
    if (what.kind !== 'stepEnd') continue;
    if (what.ok) done.add(what.stepId);
    else failed.set(what.stepId, why ?? 'It failed.');
  }
  const [first] = failed.values();
  return { why: first ?? (end.what.how === 'done' ? null : (end.why ?? 'It was stopped.')), done, failed };
}

/** A command of a list, with what it is called when it is told which of them went through. */
export interface NamedCommand {
  readonly words: string;
  readonly command: DeviceCommand;
}

/** Sends commands to one device as one run, each tried whatever the others did. @returns in words which of them went through */
export async function sendAll(
  name: string,
  device: string,
  commands: readonly NamedCommand[],
): Promise<{ readonly words: string; readonly bad: boolean }> {
  const steps = commands.map(({ command: { command, params } }, at): Step => ({
    id: `command${at}`,
    onFail: 'goOn',
    kind: 'command',
    device,
    command,
    params,
  }));
  return sentWords(commands, await runSteps(name, steps, []));
}

/** Which of several commands went through, the others by name with what was said of the first of them. */
export function sentWords(
  commands: readonly NamedCommand[],
  { done, why }: RanSteps,
): { readonly words: string; readonly bad: boolean } {
  const missing = commands.filter((_, at) => !done.has(`command${at}`)).map(({ words }) => words);
  if (missing.length === 0) return { words: `All ${commands.length} went through.`, bad: false };
  const named =
    missing.length > 4 ? `${missing.slice(0, 3).join(', ')} and ${missing.length - 3} more` : missing.join(', ');
  const went = commands.length - missing.length;
  return {
    words: `${went === 0 ? 'None' : went} of ${commands.length} went through. Not: ${named}.${why === null ? '' : ` ${why}`}`,
    bad: true,
  };
}
