import { type ChildProcess, spawn } from 'node:child_process';
import { once } from 'node:events';
import { freshFolder, until } from './demo';

/** The example of the pad's protocol as a program of its own: what it prints, and touches as lines. */
export class ExamplePad {
  private printed = '';

  private constructor(private readonly child: ChildProcess) {
    child.stdout?.setEncoding('utf8').on('data', (text: string) => (this.printed += text));
    child.stderr?.setEncoding('utf8').on('data', (text: string) => (this.printed += text));
  }

  /** @param args as its head tells them */
  static start(...args: string[]): ExamplePad {
    const given = ['examples/pad.mjs', '--key', `${freshFolder()}/pad.key`, ...args];
    return new ExamplePad(spawn(process.execPath, given, { stdio: 'pipe' }));
  }

  /** What it shows now: its head, a line for each row, and what it tells. */
  screen(rows: number): string[] {
    return this.printed
      .trimEnd()
      .split('\n')
      .slice(-(rows + 2));
  }

  /** Waits until it has printed something. */
  async shows(what: string | RegExp): Promise<void> {
    await until(`the pad shows ${String(what)}`, () =>
      Promise.resolve(typeof what === 'string' ? this.printed.includes(what) : what.test(this.printed)),
    ).catch((error: Error) => {
      throw new Error(`${error.message}\n${this.printed.slice(-2000)}`);
    });
  }

  /** Forgets what it printed before. */
  from(): void {
    this.printed = '';
  }

  do(line: string): void {
    this.child.stdin?.write(`${line}\n`);
  }

  /** Number of the key that shows this legend now. */
  async key(legend: string, columns: number, rows: number): Promise<number> {
    return until(`a key shows ${legend}`, () => {
      const cells = this.screen(rows)
        .slice(1, -1)
        .flatMap((line) => line.split('│').map((cell) => cell.slice(2).trim()));
      const at = cells.length === columns * rows ? cells.indexOf(legend.slice(0, 12).trim()) : -1;
      return Promise.resolve(at < 0 ? null : { at });
    }).then(({ at }) => at);
  }

  async kill(): Promise<void> {
    if (this.child.exitCode !== null || this.child.signalCode !== null) return;
    const gone = once(this.child, 'exit');
    this.child.kill('SIGKILL');
    await gone;
  }
}
