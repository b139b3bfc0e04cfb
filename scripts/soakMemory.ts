import { readFileSync } from 'node:fs';
import { WebSocket } from 'ws';

/** Where Node's inspector listens when a process is asked to open it by a signal. Loopback only. */
const INSPECTOR = 'http://127.0.0.1:9229/json/list';
const LOOK_MS = 100;
const TRIES = 50;

/** What a process keeps, in megabytes. */
export interface Kept {
  /** Objects and buffers that are in use, after everything else was collected. */
  readonly usedMb: number;
  /** What the system counts as the process's memory then. */
  readonly residentMb: number;
}

/** Asks a process what it keeps: what only waits to be collected is no growth. */
export class MemoryOf {
  private asked = 0;

  private constructor(
    private readonly pid: number,
    private readonly inspector: WebSocket,
  ) {}

  static async process(pid: number): Promise<MemoryOf> {
    process.kill(pid, 'SIGUSR1');
    for (let left = TRIES; ; left -= 1) {
      await new Promise((next) => setTimeout(next, LOOK_MS));
      const list = await fetch(INSPECTOR).then(
        (reply) => reply.json() as Promise<{ webSocketDebuggerUrl: string; title: string }[]>,
        () => [],
      );
      const [found] = list;
      if (found !== undefined) {
        const socket = new WebSocket(found.webSocketDebuggerUrl);
        await new Promise((open, failed) => socket.once('open', open).once('error', failed));
        const memory = new MemoryOf(pid, socket);
        if ((await memory.evaluate('process.pid')) !== pid) throw new Error('Another process is being inspected.');
        return memory;
      }
      if (left === 0) throw new Error('The inspector of the engine did not open.');
    }
  }

  async kept(): Promise<Kept> {
    await this.ask('HeapProfiler.collectGarbage');
    await this.ask('HeapProfiler.collectGarbage');
    const usage = JSON.parse(
      String(await this.evaluate('JSON.stringify(process.memoryUsage())')),
    ) as NodeJS.MemoryUsage;
    const status = readFileSync(`/proc/${this.pid}/status`, 'utf8');
    return {
      usedMb: (usage.heapUsed + usage.external) / 1024 / 1024,
      residentMb: Number(/VmRSS:\s+(\d+)/.exec(status)?.[1] ?? 0) / 1024,
    };
  }

  close(): void {
    this.inspector.terminate();
  }

  private async evaluate(expression: string): Promise<unknown> {
    const reply = (await this.ask('Runtime.evaluate', { expression, returnByValue: true })) as {
      result: { value: unknown };
    };
    return reply.result.value;
  }

  private ask(method: string, params: object = {}): Promise<unknown> {
    const id = (this.asked += 1);
    return new Promise((answer) => {
      const collect = (data: Buffer): void => {
        const reply = JSON.parse(String(data)) as { id?: number; result?: unknown };
        if (reply.id !== id) return;
        this.inspector.off('message', collect);
        answer(reply.result);
      };
      this.inspector.on('message', collect);
      this.inspector.send(JSON.stringify({ id, method, params }));
    });
  }
}
