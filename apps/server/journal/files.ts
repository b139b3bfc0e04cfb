import { open, readdir, stat } from 'node:fs/promises';
import { join } from 'node:path';

/** A file of the as-run: what one epoch wrote, in parts. */
export interface JournalFile {
  readonly file: string;
  readonly epoch: number;
  readonly part: number;
}

const NAME = /^epoch-(\d+)(?:\.(\d+))?\.jsonl$/;

export const fileName = (epoch: number, part: number): string =>
  part === 0 ? `epoch-${epoch}.jsonl` : `epoch-${epoch}.${part}.jsonl`;

/** Names among those of a folder that are journal files, oldest first. */
export const journalFilesIn = (names: readonly string[]): JournalFile[] =>
  names
    .flatMap((file) => {
      const [, epoch, part] = NAME.exec(file) ?? [];
      return epoch === undefined ? [] : [{ file, epoch: Number(epoch), part: Number(part ?? 0) }];
    })
    .sort((a, b) => a.epoch - b.epoch || a.part - b.part);

/** Journal files of a folder, oldest first; none where there is no folder. */
export const journalFiles = async (folder: string): Promise<JournalFile[]> =>
  journalFilesIn(await readdir(folder).catch(() => []));

/** A disk as the writer of the as-run sees it. Every call may fail, or take as long as it likes. */
export interface JournalDisk {
  names(): Promise<string[]>;
  size(file: string): Promise<number>;
  /** Cuts a file to a length and puts bytes behind that: a write that failed half way is made again whole. */
  write(file: string, at: number, bytes: Buffer): Promise<void>;
  /** Makes sure that it is on the medium, not in a cache. */
  sync(file: string): Promise<void>;
  read(file: string): Promise<Buffer>;
  /** A small text, whole or not at all. */
  replace(file: string, text: string): Promise<void>;
}

/** The disk of this machine. */
export class RealDisk implements JournalDisk {
  constructor(private readonly folder: string) {}

  names(): Promise<string[]> {
    return readdir(this.folder);
  }

  async size(file: string): Promise<number> {
    return (await stat(join(this.folder, file)).catch(() => ({ size: 0 }))).size;
  }

  async write(file: string, at: number, bytes: Buffer): Promise<void> {
    const handle = await open(join(this.folder, file), 'a+');
    try {
      if ((await handle.stat()).size > at) await handle.truncate(at);
      let done = 0;
      while (done < bytes.length) done += (await handle.write(bytes, done)).bytesWritten;
    } finally {
      await handle.close();
    }
  }

  async sync(file: string): Promise<void> {
    const handle = await open(join(this.folder, file), 'r+');
    try {
      await handle.datasync();
    } finally {
      await handle.close();
    }
  }

  async read(file: string): Promise<Buffer> {
    const handle = await open(join(this.folder, file), 'r');
    try {
      return await handle.readFile();
    } finally {
      await handle.close();
    }
  }

  async replace(file: string, text: string): Promise<void> {
    const { writeFile, rename } = await import('node:fs/promises');
    const path = join(this.folder, file);
    await writeFile(`${path}.new`, text);
    await rename(`${path}.new`, path);
  }
}
