import type {
  DeviceHealth,
  LiveClientMessage,
  LiveEdit,
  LiveFace,
  LivePoint,
  LiveRun,
  LiveServerMessage,
} from '@umbek/core/api';
import { ulid } from 'ulid';
import { scopeOf, ShownHere } from './shownHere';

/** What a cap shows of its own last press. */
export interface PressState {
  /** `asking`: guarded; a second touch does it. */
  readonly phase: 'sent' | 'working' | 'done' | 'failed' | 'asking';
  readonly why?: string;
  /** The same in so few words that they fit a cap. */
  readonly short?: string;
  /** Engine's own time that is left of the present wait or pause, at `since`. */
  readonly leftMs?: number | null;
  readonly since: number;
}

export type Connection = 'connecting' | 'live' | 'lost';

export interface StationIdentity {
  readonly station: string;
  readonly person: string;
}

interface State {
  readonly connection: Connection;
  readonly revision: number;
  /** The edits that led to the revision, where they were told. */
  readonly edits: readonly LiveEdit[];
  readonly runs: readonly LiveRun[];
  readonly devices: readonly DeviceHealth[];
  /** The run that ended last, of those that a button started. */
  readonly lastRun: { readonly runId: string } | null;
}

/** Scope of a point that nothing has: what a component asks for that has no device. */
const NOTHING = 'none';
const RETRY_MS = [250, 500, 1000, 2000];
const HOLD_MS = 100;
const DONE_SHOWN_MS = 1200;
const FAILED_SHOWN_MS = 8000;
const ASKING_SHOWN_MS = 3000;
const ENDED_KEPT = 200;

type Pressed =
  | { readonly type: 'press'; readonly buttonId: string; readonly stepId?: string }
  | {
      readonly type: 'send';
      readonly device: string;
      readonly command: string;
      readonly params: Record<string, LivePoint>;
    };

/**
 * The live state of the engine on this page, and the way that presses go. Points, faces and press states are told key by key, so that a
 * change draws only the caps that it concerns.
 */
export class LiveStore {
  private state: State = { connection: 'connecting', revision: 0, edits: [], runs: [], devices: [], lastRun: null };
  private readonly points = new Map<string, LivePoint>();
  private readonly faces = new Map<string, LiveFace>();
  private readonly presses = new Map<string, PressState>();
  private readonly listeners = new Map<string, Set<() => void>>();
  /** What the page shows: nothing else is told to it. */
  private readonly shown = new ShownHere(() => this.sayShown());
  private readonly held = new Map<string, { what: Pressed; timer: ReturnType<typeof setInterval> }>();
  private readonly buttonOf = new Map<string, string>();
  private readonly endedRuns = new Set<string>();
  private socket: WebSocket | null = null;
  private last: { epoch: number; n: number } | null = null;
  private tries = 0;
  private clockOffset = 0;
  private closed = false;

  constructor(
    private readonly url: string,
    private readonly identity: () => StationIdentity,
  ) {}

  open(): void {
    this.connect();
  }

  close(): void {
    this.closed = true;
    this.socket?.close();
  }

  // --- reading; `topic` is `state`, `point:key`, `face:id` or `press:id` ---

  subscribe(topic: string, listener: () => void): () => void {
    const set = this.listeners.get(topic) ?? new Set();
    this.listeners.set(topic, set.add(listener));
    const scope = topic.startsWith('point:') ? scopeOf(topic.slice('point:'.length)) : NOTHING;
    const end = scope === NOTHING ? null : this.shown.use('scopes', scope);
    return () => {
      set.delete(listener);
      if (set.size === 0 && this.listeners.get(topic) === set) this.listeners.delete(topic);
      end?.();
    };
  }

  /** The faces of a strip's buttons are shown. @returns what ends it */
  showStrip(stripId: string): () => void {
    return this.shown.use('strips', stripId);
  }

  getState = (): State => this.state;
  point = (key: string): LivePoint | undefined => this.points.get(key);
  face = (buttonId: string): LiveFace | undefined => this.faces.get(buttonId);
  pressState = (buttonId: string): PressState | undefined => this.presses.get(buttonId);

  // --- pressing ---

  /** The finger is down: told at once, renewed while it is held. @returns the press id for the release */
  down(buttonId: string): string {
    return this.begin({ type: 'press', buttonId });
  }

  /** One step of a button alone, held and let go like a press. */
  downStep(buttonId: string, stepId: string): string {
    return this.begin({ type: 'press', buttonId, stepId });
  }

  /** A command without a button, from a camera's own controls or "send now"; held and let go like a press. Its state is told under `device.command`. */
  downCommand(device: string, command: string, params: Readonly<Record<string, LivePoint>>): string {
    return this.begin({ type: 'send', device, command, params: { ...params } });
  }

  /** Sends a command once. */
  sendCommand(device: string, command: string, params: Readonly<Record<string, LivePoint>>): void {
    this.up(this.downCommand(device, command, params));
  }

  private begin(what: Pressed): string {
    const pressId = ulid();
    const buttonId = what.type === 'press' ? what.buttonId : `${what.device}.${what.command}`;
    if (this.state.connection !== 'live') {
      this.tell(
        buttonId,
        { phase: 'failed', why: 'No connection to the engine; nothing was sent.', since: Date.now() },
        FAILED_SHOWN_MS,
      );
      return pressId;
    }
    this.buttonOf.set(pressId, buttonId);
    this.tell(buttonId, { phase: 'sent', since: Date.now() });
    this.send({ ...what, pressId, phase: 'down', at: Date.now() + this.clockOffset });
    this.held.set(pressId, { what, timer: setInterval(() => this.send({ ...what, pressId, phase: 'hold' }), HOLD_MS) });
    return pressId;
  }

  /** Gives a held command other parameters; they go with its next renewal, at once when it is none too soon. */
  steer(pressId: string, params: Readonly<Record<string, LivePoint>>): void {
    const held = this.held.get(pressId);
    if (held?.what.type !== 'send') return;
    const what = { ...held.what, params: { ...params } };
    clearInterval(held.timer);
    this.send({ ...what, pressId, phase: 'hold' });
    this.held.set(pressId, { what, timer: setInterval(() => this.send({ ...what, pressId, phase: 'hold' }), HOLD_MS) });
  }

  up(pressId: string): void {
    const held = this.held.get(pressId);
    if (!held) return;
    clearInterval(held.timer);
    this.held.delete(pressId);
    this.send({ ...held.what, pressId, phase: 'up' });
  }

  /** Says anew who this station is. */
  introduce(): void {
    this.socket?.close();
  }

  /** The page is hidden or left: nothing stays pressed. */
  releaseAll(): void {
    for (const pressId of [...this.held.keys()]) this.up(pressId);
  }

  // --- the socket ---

  private connect(): void {
    const socket = new WebSocket(this.url);
    this.socket = socket;
    socket.onopen = () => {
      this.tries = 0;
      const { station, person } = this.identity();
      this.send({
        type: 'hello',
        station,
        person,
        operate: true,
        program: true,
        linkGroup: 'main',
        shows: this.shown.now(),
        ...(this.last ? { resume: this.last } : {}),
      });
      this.send({ type: 'time', sent: Date.now() });
      this.set({ connection: 'live' });
    };
    socket.onmessage = (event) => this.take(JSON.parse(String(event.data)) as LiveServerMessage);
    socket.onclose = () => {
      if (this.socket !== socket) return;
      for (const { timer } of this.held.values()) clearInterval(timer);
      this.held.clear();
      this.set({ connection: 'lost' });
      // What was sent and not answered is not known to have been done; the engine's own record will tell.
      for (const [buttonId, press] of this.presses) {
        if (press.phase === 'sent')
          this.tell(
            buttonId,
            { phase: 'failed', why: 'The connection was lost before an answer came.', since: Date.now() },
            FAILED_SHOWN_MS,
          );
      }
      if (this.closed) return;
      setTimeout(() => this.connect(), RETRY_MS[Math.min(this.tries, RETRY_MS.length - 1)]);
      this.tries += 1;
    };
  }

  private sayShown(): void {
    const shows = this.shown.now();
    this.send({ type: 'shows', ...shows });
    // What is no longer told is no longer known.
    const scopes = new Set(shows.scopes);
    for (const key of this.points.keys()) if (!scopes.has(scopeOf(key))) this.points.delete(key);
  }

  private send(message: LiveClientMessage): void {
    if (this.socket?.readyState === WebSocket.OPEN) this.socket.send(JSON.stringify(message));
  }

  private take(message: LiveServerMessage): void {
    switch (message.type) {
      case 'snapshot': {
        this.last = { epoch: message.epoch, n: message.n };
        const keys = new Set([...this.points.keys(), ...Object.keys(message.points)]);
        this.points.clear();
        for (const [key, value] of Object.entries(message.points)) this.points.set(key, value);
        for (const key of keys) this.notify(`point:${key}`);
        for (const [id, face] of Object.entries(message.faces)) this.setFace(id, face);
        this.set({ revision: message.revision, edits: [], runs: message.runs, devices: message.devices });
        break;
      }
      case 'changes':
        this.last = { epoch: message.epoch, n: message.n };
        if (message.anew) this.forget(new Set(message.anew.scopes), message.points ?? {});
        for (const [key, value] of Object.entries(message.points ?? {})) {
          if (value === null) this.points.delete(key);
          else this.points.set(key, value);
          this.notify(`point:${key}`);
        }
        for (const [id, face] of Object.entries(message.faces ?? {})) this.setFace(id, face);
        for (const run of message.runs ?? []) this.takeRun(run);
        if (message.devices) this.set({ devices: message.devices });
        if (message.revision !== undefined) this.set({ revision: message.revision, edits: message.edits ?? [] });
        break;
      case 'run':
        this.takeRun(message.run);
        break;
      case 'answer': {
        const buttonId = this.buttonOf.get(message.pressId);
        if (message.phase === 'up') this.buttonOf.delete(message.pressId);
        if (!message.accepted && buttonId !== undefined && message.phase === 'down') {
          const asking = message.error?.code === 'second-touch';
          const why = message.error ? `${message.error.message} ${message.error.mend}` : 'Refused.';
          this.tell(
            buttonId,
            {
              phase: asking ? 'asking' : 'failed',
              why,
              ...(asking && message.error ? { short: message.error.mend } : {}),
              since: Date.now(),
            },
            asking ? ASKING_SHOWN_MS : FAILED_SHOWN_MS,
          );
        }
        break;
      }
      case 'time': {
        const now = Date.now();
        this.clockOffset = message.now - (message.sent + now) / 2;
        break;
      }
      case 'error':
        break;
    }
  }

  /** Everything of these scopes is told anew. */
  private forget(scopes: ReadonlySet<string>, told: Readonly<Record<string, unknown>>): void {
    for (const key of this.points.keys())
      if (scopes.has(scopeOf(key)) && !Object.hasOwn(told, key)) {
        this.points.delete(key);
        this.notify(`point:${key}`);
      }
  }

  /** A run may be told twice: at once to the station that pressed, and with the changes that all get. The first end counts. */
  private takeRun(run: LiveRun): void {
    if (this.endedRuns.has(run.runId)) return;
    if (run.ended) {
      this.endedRuns.add(run.runId);
      const [oldest] = this.endedRuns;
      if (this.endedRuns.size > ENDED_KEPT && oldest !== undefined) this.endedRuns.delete(oldest);
    }
    const others = this.state.runs.filter((one) => one.runId !== run.runId);
    this.set({
      runs: run.ended ? others : [...others, run],
      ...(run.ended && run.buttonId !== undefined ? { lastRun: { runId: run.runId } } : {}),
    });
    if (run.buttonId === undefined) return;
    const since = Date.now();
    if (!run.ended) this.tell(run.buttonId, { phase: 'working', leftMs: run.leftMs, since });
    else if (run.ended.how === 'done') this.tell(run.buttonId, { phase: 'done', since }, DONE_SHOWN_MS);
    else if (run.ended.how === 'stopped') this.tell(run.buttonId, undefined);
    else this.tell(run.buttonId, { phase: 'failed', why: run.ended.why ?? run.ended.how, since }, FAILED_SHOWN_MS);
  }

  private tell(buttonId: string, press: PressState | undefined, shownMs?: number): void {
    if (press) this.presses.set(buttonId, press);
    else this.presses.delete(buttonId);
    this.notify(`press:${buttonId}`);
    if (shownMs === undefined) return;
    setTimeout(() => {
      if (this.presses.get(buttonId) === press) this.tell(buttonId, undefined);
    }, shownMs);
  }

  private setFace(id: string, face: LiveFace): void {
    this.faces.set(id, face);
    this.notify(`face:${id}`);
  }

  private set(change: Partial<State>): void {
    this.state = { ...this.state, ...change };
    this.notify('state');
  }

  private notify(topic: string): void {
    for (const listener of this.listeners.get(topic) ?? []) listener();
  }
}
