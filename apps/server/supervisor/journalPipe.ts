import { execFileSync } from 'node:child_process';
import { closeSync, constants, mkdtempSync, openSync, readSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { StringDecoder } from 'node:string_decoder';

const AT_ONCE = 256 * 1024;

/**
 * The pipe that carries the as-run from an engine to its parent. The parent looks into it now and then and never waits in it: a reader that
 * waits is woken by each write, and on a busy machine takes the processor from the engine just before its datagram goes (a third of a
 * millisecond a press, measured). What was written is in the kernel's hands all the same and outlives the engine. It refuses when it is full
 * (O_NONBLOCK, pipe(7)) and is open for both directions, so that neither end waits for the other.
 */
export class JournalPipe {
  readonly fd: number;
  private readonly bytes = Buffer.alloc(AT_ONCE);
  private readonly decoder = new StringDecoder('utf8');
  private closed = false;

  constructor() {
    const folder = mkdtempSync(join(tmpdir(), 'umbek-pipe-'));
    const path = join(folder, 'as-run');
    execFileSync('mkfifo', ['-m', '600', path]);
    // The descriptors do not need the name.
    this.fd = openSync(path, constants.O_RDWR | constants.O_NONBLOCK);
    rmSync(folder, { recursive: true });
  }

  /** @returns what is in it by now, without waiting for more */
  read(): string {
    let text = '';
    while (!this.closed) {
      try {
        const length = readSync(this.fd, this.bytes, 0, AT_ONCE, null);
        if (length === 0) break;
        text += this.decoder.write(this.bytes.subarray(0, length));
      } catch (error) {
        if ((error as NodeJS.ErrnoException).code !== 'EAGAIN') throw error;
        break;
      }
    }
    return text;
  }

  close(): void {
    if (this.closed) return;
    this.closed = true;
    closeSync(this.fd);
  }
}
