import { Worker } from 'node:worker_threads';
import type { Helper, QuestionName, Questions, Telling } from './helper';
import type { FromHelper, ToHelper } from './main';

/** A question that is not answered within this is given up, and a helper that answers nothing is started anew. */
const LIMIT_MS = 15_000;
/** A thread that dies again and again is started so often a minute at the most. */
const AGAIN_MS = 1000;

interface Waiting {
  readonly done: (value: never) => void;
  readonly failed: (error: Error) => void;
  readonly limit: NodeJS.Timeout;
}

/** The helper on a thread of its own. One that dies or hangs is replaced; what was asked of it fails in words. */
export class ThreadHelper implements Helper {
  private worker: Worker;
  private readonly waiting = new Map<number, Waiting>();
  private asked = 0;
  private closed = false;

  constructor(
    private readonly file: string,
    private readonly folder: string,
    /** Everything that a new helper has to know, in order. */
    private readonly everything: () => Telling[],
    private readonly onTrouble: (error: unknown) => void,
  ) {
    this.worker = this.start();
  }

  tell(telling: Telling): void {
    this.post({ tell: telling });
  }

  ask<Name extends QuestionName>(name: Name, question: Questions[Name]['in']): Promise<Questions[Name]['out']> {
    return new Promise((done, failed) => {
      const id = (this.asked += 1);
      const limit = setTimeout(() => {
        if (!this.waiting.has(id)) return;
        this.onTrouble(new Error(`The helper did not answer ${name} within ${LIMIT_MS / 1000} s.`));
        void this.worker.terminate();
      }, LIMIT_MS);
      limit.unref();
      this.waiting.set(id, { done: done as (value: never) => void, failed, limit });
      this.post({ id, name, question });
    });
  }

  close(): void {
    this.closed = true;
    void this.worker.terminate();
  }

  private post(message: ToHelper): void {
    if (!this.closed) this.worker.postMessage(message);
  }

  private start(): Worker {
    const worker = new Worker(this.file, { workerData: { folder: this.folder } });
    worker.on('message', (message: FromHelper) => {
      const waiting = this.waiting.get(message.id);
      this.waiting.delete(message.id);
      if (waiting === undefined) return;
      clearTimeout(waiting.limit);
      if ('failed' in message) waiting.failed(new Error(message.failed));
      else waiting.done(message.value as never);
    });
    worker.on('error', (error) => this.onTrouble(error));
    worker.on('exit', () => {
      for (const [id, { failed, limit }] of this.waiting) {
        this.waiting.delete(id);
        clearTimeout(limit);
        failed(new Error('The helper ended meanwhile.'));
      }
      if (this.closed) return;
      setTimeout(() => {
        if (this.closed) return;
        this.worker = this.start();
        for (const telling of this.everything()) this.tell(telling);
      }, AGAIN_MS).unref();
    });
    worker.unref();
    return worker;
  }
}
