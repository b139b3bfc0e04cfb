import { parentPort, workerData } from 'node:worker_threads';
import { LogReader } from '../journal/logReader';
import type { QuestionName, Questions, Telling } from './helper';
import { HelperWork } from './helperWork';

/** The helper's thread. */
export type ToHelper =
  | { readonly tell: Telling }
  | { readonly id: number; readonly name: QuestionName; readonly question: Questions[QuestionName]['in'] };
export type FromHelper = { readonly id: number } & ({ readonly value: unknown } | { readonly failed: string });

const work = new HelperWork(new LogReader(String((workerData as { folder: string }).folder)));

parentPort?.on('message', (message: ToHelper) => {
  if ('tell' in message) {
    try {
      work.tell(message.tell);
    } catch {
      // A show that cannot be made ready here leaves questions about it unanswered, in words; the engine goes on.
    }
    return;
  }
  const { id, name, question } = message;
  work.ask(name, question).then(
    (value) => parentPort?.postMessage({ id, value } satisfies FromHelper),
    (error: unknown) =>
      parentPort?.postMessage({
        id,
        failed: error instanceof Error ? error.message : String(error),
      } satisfies FromHelper),
  );
});
