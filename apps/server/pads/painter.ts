import { type ChildProcess, fork } from 'node:child_process';
import type { PadCap } from '@umbek/protocol';

export type PaintedCap = Omit<PadCap, 'key' | 'picture' | 'holds'>;
export interface Size {
  readonly width: number;
  readonly height: number;
}
/** What the painter's process is asked. */
export interface Painting extends Size {
  readonly id: number;
  readonly caps: readonly PaintedCap[];
}
/** A PNG for each cap, in order; `ready` once its letters are loaded. */
export type Painted = { readonly ready: true } | { readonly id: number; readonly pictures: readonly Uint8Array[] };

export interface Painter {
  /** @returns a PNG for each cap, in order; null: none can be drawn now */
  paint(caps: readonly PaintedCap[], size: Size): Promise<readonly string[] | null>;
}

/** A picture that is not there by then is not waited for: the words go out without it. */
const LIMIT_MS = 1000;
/** So long a busy machine may take to start the painter, with its letters. */
const START_MS = 15_000;
/** A painter that ended is started again at the earliest after so long. */
const AGAIN_MS = 2000;
/** Pictures that are kept, as base 64 of some 3 kB each. */
const KEPT = 3000;

/** Draws caps in a process of its own: a fault in the drawing library ends that, and never the engine. Started with the first pad that shows pictures. */
export class ProcessPainter implements Painter {
  private child: ChildProcess | null = null;
  private isReady = false;
  private startedAt = -Infinity;
  private endedAt = -Infinity;
  private closed = false;
  private asked = 0;
  private readonly waiting = new Map<number, (pictures: readonly Uint8Array[] | null) => void>();
  private readonly kept = new Map<string, string>();

  constructor(
    private readonly file: string,
    private readonly fonts: string,
    private readonly onTrouble: (error: unknown) => void,
  ) {}

  async paint(caps: readonly PaintedCap[], { width, height }: Size): Promise<readonly string[] | null> {
    const keys = caps.map((cap) => `${width}x${height} ${JSON.stringify(cap)}`);
    const missing = caps.flatMap((cap, index) =>
      this.kept.has(keys[index] ?? '') ? [] : [{ cap, key: keys[index] ?? '' }],
    );
    const pictures = new Map<string, string>();
    if (missing.length > 0) {
      const drawn = await this.ask({ width, height, caps: missing.map(({ cap }) => cap) });
      if (drawn === null) return null;
      missing.forEach(({ key }, index) => pictures.set(key, Buffer.from(drawn[index] ?? []).toString('base64')));
    }
    const all = keys.map((key) => pictures.get(key) ?? this.kept.get(key) ?? '');
    for (const [key, picture] of pictures) {
      if (this.kept.size >= KEPT) this.kept.clear();
      this.kept.set(key, picture);
    }
    return all;
  }

  close(): void {
    this.closed = true;
    this.child?.kill('SIGTERM');
  }

  private ask(what: Omit<Painting, 'id'>): Promise<readonly Uint8Array[] | null> {
    const child = this.running();
    if (child === null) return Promise.resolve(null);
    return new Promise((done) => {
      const id = (this.asked += 1);
      const limit = setTimeout(() => {
        if (!this.waiting.delete(id)) return;
        done(null);
        // While it starts on a busy machine the words do; what was asked for is asked for again.
        if (!this.isReady && performance.now() - this.startedAt < START_MS) return;
        this.onTrouble(new Error('The painter of pads does not draw; it is started again.'));
        child.kill('SIGKILL');
      }, LIMIT_MS);
      this.waiting.set(id, (pictures) => {
        clearTimeout(limit);
        done(pictures);
      });
      child.send({ ...what, id } satisfies Painting, (error) => error && this.ended(child));
    });
  }

  private running(): ChildProcess | null {
    if (this.child !== null) return this.child;
    if (this.closed || performance.now() - this.endedAt < AGAIN_MS) return null;
    const child = fork(this.file, [this.fonts], {
      serialization: 'advanced',
      stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    });
    child.on('message', (message: Painted) => {
      if ('ready' in message) {
        this.isReady = true;
        return;
      }
      const done = this.waiting.get(message.id);
      this.waiting.delete(message.id);
      done?.(message.pictures);
    });
    child.on('error', (error) => this.onTrouble(error));
    child.on('exit', () => this.ended(child));
    this.child = child;
    this.startedAt = performance.now();
    return child;
  }

  private ended(child: ChildProcess): void {
    if (this.child !== child) return;
    this.child = null;
    this.isReady = false;
    this.endedAt = performance.now();
    for (const done of this.waiting.values()) done(null);
    this.waiting.clear();
  }
}
