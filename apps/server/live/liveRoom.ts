import type { DeviceHealth, LiveEdit, LiveFace, LivePoint, LiveRun, LiveServerMessage } from '@umbek/core/api';
import type { Cancel, Clock } from '@umbek/core/engine';

/** One page's connection, whatever carries it. */
export interface LiveClient {
  send(text: string): void;
  /** Bytes that its peer has not taken yet. */
  readonly bufferedAmount: number;
  /** Ends it: it behaves as no page of ours does. */
  close(): void;
}

/** How long a client may be away and still resume. */
const RESUME_MS = 30_000;
const COALESCE_MS = 20;
/** What changes often is told so often. */
const OFTEN_MS = 200;
/** A client further behind than this gets a fresh snapshot instead of the rest. */
const BEHIND_BYTES = 1_000_000;
/** So often it is looked whether such a client has caught up: there may be no change for a long time that would show it. */
const CAUGHT_UP_MS = 250;

export interface RoomSource {
  readonly epoch: number;
  revision(): number;
  point(key: string): LivePoint | null;
  points(): Record<string, LivePoint>;
  faces(): Record<string, LiveFace>;
  changedFaces(): Record<string, LiveFace>;
  runs(): LiveRun[];
  devices(): DeviceHealth[];
  readonly clock: Clock;
  /** Whether a key of the board is one that changes many times a second and is only looked at. */
  often(key: string): boolean;
}

interface Client {
  readonly socket: LiveClient;
  stale: boolean;
}

/**
 * All clients of one link group. Each change is turned into text once, whatever the number of clients. What changed is
 * collected for 20 ms, so that fifty stations cost one message each and a press does not wait behind them. The station that pressed has its
 * answer and its outcome before that, from the server directly.
 */
export class LiveRoom {
  private readonly clients = new Map<LiveClient, Client>();
  private readonly recent: { readonly n: number; readonly at: number; readonly text: string }[] = [];
  private n = 0;
  private readonly changedKeys = new Set<string>();
  private readonly changedRuns = new Map<string, LiveRun>();
  private devicesChanged = false;
  private revisionChanged = false;
  private edits: LiveEdit[] = [];
  private editsWhole = true;
  private timer: Cancel | null = null;
  private readonly oftenKeys = new Set<string>();
  private oftenTimer: Cancel | null = null;
  private staleTimer: Cancel | null = null;

  constructor(private readonly source: RoomSource) {}

  get size(): number {
    return this.clients.size;
  }

  join(socket: LiveClient, resume: { epoch: number; n: number } | undefined): void {
    this.publish();
    const client: Client = { socket, stale: false };
    this.clients.set(socket, client);
    const oldest = this.recent[0]?.n ?? this.n + 1;
    if (resume && resume.epoch === this.source.epoch && resume.n <= this.n && resume.n >= oldest - 1) {
      for (const message of this.recent) if (message.n > resume.n) socket.send(message.text);
    } else this.snapshot(client);
  }

  leave(socket: LiveClient): void {
    this.clients.delete(socket);
  }

  /** Keys of the board that changed. */
  changed(keys: Iterable<string>): void {
    let soon = false;
    for (const key of keys) {
      if (this.source.often(key)) this.oftenKeys.add(key);
      else {
        this.changedKeys.add(key);
        soon = true;
      }
    }
    if (soon) this.arm();
    else if (this.oftenKeys.size > 0)
      this.oftenTimer ??= this.after(OFTEN_MS, () => {
        this.oftenTimer = null;
        for (const key of this.oftenKeys) this.changedKeys.add(key);
        this.oftenKeys.clear();
        this.arm();
      });
  }

  deviceStates(): void {
    this.devicesChanged = true;
    this.arm();
  }

  /** @param edit what was changed, where that is known and small */
  edited(edit?: LiveEdit): void {
    this.revisionChanged = true;
    if (edit) this.edits.push(edit);
    else this.editsWhole = false;
    this.arm();
  }

  run(run: LiveRun): void {
    this.changedRuns.set(run.runId, run);
    this.arm();
  }

  close(): void {
    this.timer?.();
    this.oftenTimer?.();
    this.staleTimer?.();
  }

  private after(ms: number, work: () => void): Cancel {
    const { clock } = this.source;
    return clock.at(clock.now() + ms, work);
  }

  private arm(): void {
    this.timer ??= this.after(COALESCE_MS, () => this.publish());
  }

  private publish(): void {
    this.timer?.();
    this.timer = null;
    const faces = this.source.changedFaces();
    const points: Record<string, LivePoint | null> = {};
    for (const key of this.changedKeys) points[key] = this.source.point(key);
    const [hasFaces, hasPoints] = [Object.keys(faces).length > 0, this.changedKeys.size > 0];
    const runs = [...this.changedRuns.values()];
    if (!hasFaces && !hasPoints && runs.length === 0 && !this.devicesChanged && !this.revisionChanged) return;
    this.changedKeys.clear();
    this.changedRuns.clear();
    const message: LiveServerMessage = {
      type: 'changes',
      epoch: this.source.epoch,
      n: (this.n += 1),
      ...(hasPoints ? { points } : {}),
      ...(hasFaces ? { faces } : {}),
      ...(runs.length > 0 ? { runs } : {}),
      ...(this.devicesChanged ? { devices: this.source.devices() } : {}),
      ...(this.revisionChanged
        ? { revision: this.source.revision(), ...(this.editsWhole ? { edits: this.edits } : {}) }
        : {}),
    };
    this.devicesChanged = false;
    this.revisionChanged = false;
    this.edits = [];
    this.editsWhole = true;
    this.send(message);
  }

  private send(message: LiveServerMessage & { n: number }): void {
    const text = JSON.stringify(message);
    const now = this.source.clock.now();
    this.recent.push({ n: message.n, at: now, text });
    while ((this.recent[0]?.at ?? now) < now - RESUME_MS) this.recent.shift();
    for (const client of this.clients.values()) {
      if (client.socket.bufferedAmount > BEHIND_BYTES) client.stale = true;
      else if (client.stale) this.snapshot(client);
      else client.socket.send(text);
    }
    this.watchStale();
  }

  private watchStale(): void {
    if (this.staleTimer !== null || ![...this.clients.values()].some((client) => client.stale)) return;
    this.staleTimer = this.after(CAUGHT_UP_MS, () => {
      this.staleTimer = null;
      for (const client of this.clients.values())
        if (client.stale && client.socket.bufferedAmount <= BEHIND_BYTES) this.snapshot(client);
      this.watchStale();
    });
  }

  private snapshot(client: Client): void {
    client.stale = false;
    const { source } = this;
    const message: LiveServerMessage = {
      type: 'snapshot',
      epoch: source.epoch,
      n: this.n,
      revision: source.revision(),
      points: source.points(),
      faces: source.faces(),
      runs: source.runs(),
      devices: source.devices(),
      now: source.clock.wall().getTime(),
    };
    client.socket.send(JSON.stringify(message));
  }
}
