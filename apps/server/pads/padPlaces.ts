import { readFileSync } from 'node:fs';
import { rename, writeFile } from 'node:fs/promises';
import { z } from 'zod';

/** Pads that are remembered; beyond them the one that was placed first is forgotten. */
const MOST = 500;
const Kept = z.array(z.tuple([z.string(), z.string()]));

/**
 * Which pad acts as which station, by serial number: of this installation and of no show. In a file, so that a pad finds its place while the
 * database is away.
 */
export class PadPlaces {
  private readonly places: Map<string, string>;
  private last: Promise<void> = Promise.resolve();

  constructor(private readonly file: string) {
    this.places = new Map(readKept(file));
  }

  /** Id of the station of a pad; null: it was given none. */
  of(serial: string): string | null {
    return this.places.get(serial) ?? null;
  }

  /** @throws when it cannot be written: it holds until the next start */
  place(serial: string, station: string | null): Promise<void> {
    this.places.delete(serial);
    if (station !== null) this.places.set(serial, station);
    for (const first of this.places.keys()) {
      if (this.places.size <= MOST) break;
      this.places.delete(first);
    }
    const text = JSON.stringify([...this.places]);
    const written = this.last.then(async () => {
      await writeFile(`${this.file}.new`, text);
      await rename(`${this.file}.new`, this.file);
    });
    this.last = written.catch(() => undefined);
    return written;
  }
}

/** What a file that is not there, or was cut off, says: nothing. */
function readKept(file: string): z.infer<typeof Kept> {
  try {
    return Kept.parse(JSON.parse(readFileSync(file, 'utf8')));
  } catch {
    return [];
  }
}
