import { writeSync } from 'node:fs';
import type { LineSink } from './engineJournal';

/** So much is kept here when the pipe takes nothing: the parent is stuck, or starved. */
const MOST_KEPT = 64 * 1024 * 1024;

/** Writes lines into the pipe to the parent, at once: what is in it is read also when this process is gone. */
export class PipeSink implements LineSink {
  private kept: Buffer[] = [];
  private keptBytes = 0;

  /** @param fd of a pipe that refuses what does not fit in place of holding us up */
  constructor(private readonly fd: number) {}

  write(line: string): void {
    if (this.kept.length > 0) {
      this.keep(Buffer.from(line));
      return this.drain();
    }
    this.putLine(line);
  }

  /** Nearly always all of it fits, and is never made bytes here. */
  private putLine(line: string): void {
    let done = 0;
    try {
      done = writeSync(this.fd, line);
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'EAGAIN') return;
    }
    const bytes = Buffer.byteLength(line);
    if (done < bytes) this.append(Buffer.from(line).subarray(done));
  }

  private append(bytes: Buffer): void {
    let done = 0;
    try {
      while (done < bytes.length) done += writeSync(this.fd, bytes, done);
    } catch (error) {
      // A parent that is gone takes nothing; this process ends with it.
      if ((error as NodeJS.ErrnoException).code !== 'EAGAIN') return;
      this.kept.unshift(bytes.subarray(done));
      this.keptBytes += bytes.length - done;
      setTimeout(() => this.drain(), 5);
    }
  }

  private keep(bytes: Buffer): void {
    if (this.keptBytes > MOST_KEPT) return;
    this.kept.push(bytes);
    this.keptBytes += bytes.length;
  }

  private drain(): void {
    const bytes = Buffer.concat(this.kept);
    this.kept = [];
    this.keptBytes = 0;
    if (bytes.length > 0) this.append(bytes);
  }
}
