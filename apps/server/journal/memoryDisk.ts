import type { JournalDisk } from './files';

/** A disk in memory that can be full, slow or broken: for tests and the simulation. */
export class MemoryDisk implements JournalDisk {
  private readonly contents = new Map<string, Buffer>();
  /** Files that were read, in order. */
  readonly reads: string[] = [];
  /** What every write fails with; null while the disk is well. */
  fault: string | null = null;
  /** The next write fails after so many bytes. */
  failAfter: number | null = null;

  constructor(
    /** How a call comes back: at once, or when a virtual clock says so. */
    private readonly settle: () => Promise<void> = () => Promise.resolve(),
  ) {}

  files(): string[] {
    return [...this.contents.keys()].filter((file) => file.endsWith('.jsonl'));
  }

  text(file: string): string {
    return this.contents.get(file)?.toString('utf8') ?? '';
  }

  async names(): Promise<string[]> {
    await this.settle();
    return [...this.contents.keys()];
  }

  async size(file: string): Promise<number> {
    await this.settle();
    return this.contents.get(file)?.length ?? 0;
  }

  async write(file: string, at: number, bytes: Buffer): Promise<void> {
    await this.settle();
    const before = (this.contents.get(file) ?? Buffer.alloc(0)).subarray(0, at);
    if (this.failAfter !== null) {
      this.contents.set(file, Buffer.concat([before, bytes.subarray(0, this.failAfter)]));
      this.failAfter = null;
      throw new Error('EIO: the write was cut off');
    }
    if (this.fault !== null) throw new Error(this.fault);
    this.contents.set(file, Buffer.concat([before, bytes]));
  }

  async sync(): Promise<void> {
    await this.settle();
    if (this.fault !== null) throw new Error(this.fault);
  }

  async read(file: string): Promise<Buffer> {
    await this.settle();
    this.reads.push(file);
    const content = this.contents.get(file);
    if (content === undefined) throw new Error(`ENOENT: ${file}`);
    return content;
  }

  async replace(file: string, text: string): Promise<void> {
    await this.settle();
    if (this.fault !== null) throw new Error(this.fault);
    this.contents.set(file, Buffer.from(text));
  }
}
