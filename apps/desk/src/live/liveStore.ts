import type {
  DeviceHealth,
  LiveClientMessage,
  LiveEdit,
  LiveFace,
  LivePoint,
  LiveRun,
  LiveServerMessage,
  LivesLast,
} from '@umbek/protocol';
import { ulid } from 'ulid';
import { EngineClock } from './engineClock';
import { Heartbeat } from './heartbeat';
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
  /** This page's own clock, milliseconds; as all times here. */
  readonly since: number;
}

/** `live`: the engine has answered within the last 2.5 s. */
export type Connection = 'connecting' | 'live' | 'lost';

/** What became of the last press of a button: its run, or why there was none. */
export type LastRun =
  | { readonly how: 'done' | 'failed' | 'stopped' | 'interrupted'; readonly run: LiveRun; readonly why?: string }
  | { readonly how: 'refused'; readonly buttonId: string; readonly why: string };

/** The last that was known of a point that is unknown now. */
export interface LastKnown {
  readonly value: LivePoint;
  readonly since: number;
}

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
  /** When `devices` was told, on this page's clock. */
  readonly devicesAt: number;
  /** What a button started or was refused last. */
  readonly lastRun: LastRun | null;
  /** Since when there has been no contact; null while there is. */
  readonly lostAt: number | null;
}

/** Scope of a point that nothing has: what a component asks for that has no device. */
const NOTHING = 'none';
const RETRY_MS = [250, 500, 1000, 2000];
const HOLD_MS = 100;
const DONE_SHOWN_MS = 1200;
const FAILED_SHOWN_MS = 8000;
const ASKING_SHOWN_MS = 3000;
const ENDED_KEPT = 200;
/** A connection that is not there after so long is tried again. */
const CONNECT_MS = 3000;
/** What is not known for longer is not worth showing. */
const LAST_KNOWN_KEPT = 5000;
const UNANSWERED = 'Contact was lost before an answer came. It is asked for when contact is back.';
const NOT_DONE = 'Contact was lost, and this press never reached the engine: nothing was done.';

const now = (): number => performance.now();

type Pressed =
  | { readonly type: 'press'; readonly buttonId: string; readonly stepId?: string }
  | {
      readonly type: 'send';
      readonly device: string;
      readonly command: string;
      readonly params: Record<string, LivePoint>;
    };

/** Under what name the state of a press is told. */
const topicOf = (what: Pressed): string => (what.type === 'press' ? what.buttonId : `${what.device}.${what.command}`);

/**
 * The live state of the engine on this page, and the way that presses go. Points, faces and press states are told key by key, so that a
 * change draws only the caps that it concerns.
 */
export class LiveStore {
  private state: State = {
    connection: 'connecting',
    revision: 0,
    edits: [],
    runs: [],
    devices: [],
    devicesAt: 0,
    lastRun: null,
    lostAt: null,
  };
  private readonly points = new Map<string, LivePoint>();
  private readonly faces = new Map<string, LiveFace>();
  private readonly presses = new Map<string, PressState>();
  private readonly listeners = new Map<string, Set<() => void>>();
  /** What the page shows: nothing else is told to it. */
  private readonly shown = new ShownHere(() => this.sayShown());
  private readonly held = new Map<string, { what: Pressed; timer: ReturnType<typeof setInterval> }>();
  /** What each press means, until its release is answered. */
  private readonly pressed = new Map<string, Pressed>();
  private readonly endedRuns = new Set<string>();
  /** Presses whose answer a lost connection took along, by id, with their buttons. */
  private readonly unanswered = new Map<string, Pressed>();
  private readonly lastKnown_ = new Map<string, LastKnown>();
  private socket: WebSocket | null = null;
  private last: { epoch: number; n: number } | null = null;
  private tries = 0;
  private readonly clock = new EngineClock();
  private readonly heartbeat = new Heartbeat(
    () => this.send({ type: 'time', sent: now() }),
    () => this.lose(),
    now,
  );
  private connecting: ReturnType<typeof setTimeout> | null = null;
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
    this.lose();
  }

  /** The page was hidden or asleep: whether there is contact is found out at once. */
  woke(): void {
    this.heartbeat.woke();
  }

  /** `epoch:milliseconds` of the engine's clock now, as a deed is stamped with; null without contact. */
  moment(): string | null {
    const at = this.clock.at(now());
    return this.state.connection === 'live' && this.last !== null && at !== null ? `${this.last.epoch}:${at}` : null;
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
  /** Of a point that is unknown: what was known of it last. Only to be looked at; nothing goes by it. */
  lastKnown = (key: string): LastKnown | undefined =>
    this.state.lostAt !== null && this.points.has(key)
      ? this.lostValue(key, this.state.lostAt)
      : this.lastKnown_.get(key);
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
    const buttonId = topicOf(what);
    if (this.state.connection !== 'live') {
      this.tell(
        buttonId,
        { phase: 'failed', why: 'No contact with the engine; nothing was sent.', short: 'no contact', since: now() },
        FAILED_SHOWN_MS,
      );
      return pressId;
    }
    this.pressed.set(pressId, what);
    this.tell(buttonId, { phase: 'sent', since: now() });
    const at = this.clock.at(now());
    this.send({ ...what, pressId, phase: 'down', ...(at === null ? {} : { at }) });
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
    this.lose();
  }

  /** The page is hidden or left: nothing stays pressed. */
  releaseAll(): void {
    for (const pressId of [...this.held.keys()]) this.up(pressId);
  }

  // --- the socket ---

  private connect(): void {
    const socket = new WebSocket(this.url);
    this.socket = socket;
    this.connecting = setTimeout(() => this.lose(), CONNECT_MS);
    socket.onopen = () => {
      if (this.socket !== socket) return;
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
      // Contact is there when it answers, not when something on the way took the connection.
      this.clock.forget();
      this.heartbeat.begin();
    };
    socket.onmessage = (event) => {
      if (this.socket !== socket) return;
      this.heartbeat.heard();
      const message = JSON.parse(String(event.data)) as LiveServerMessage;
      if (this.state.connection !== 'live' && message.type !== 'error') this.reached();
      this.take(message);
    };
    socket.onclose = () => {
      if (this.socket === socket) this.lose();
    };
  }

  private reached(): void {
    if (this.connecting !== null) clearTimeout(this.connecting);
    this.tries = 0;
    this.set({ connection: 'live', lostAt: null });
    // A release asked for again tells whether its press was taken: an engine that never saw it says that it began no run.
    for (const [pressId, what] of this.unanswered) this.send({ ...what, pressId, phase: 'up' });
  }

  /** There is no contact any more, whether the socket knows it or not; soon it is tried anew, not by all pages in the same moment. */
  private lose(): void {
    const { socket } = this;
    if (socket === null) return;
    this.socket = null;
    this.heartbeat.end();
    if (this.connecting !== null) clearTimeout(this.connecting);
    for (const { timer } of this.held.values()) clearInterval(timer);
    this.held.clear();
    socket.close();
    if (this.state.connection !== 'lost') this.set({ connection: 'lost', lostAt: now() });
    for (const [pressId, what] of this.waiting()) {
      this.unanswered.set(pressId, what);
      this.tell(
        topicOf(what),
        { phase: 'failed', why: UNANSWERED, short: 'no contact', since: now() },
        FAILED_SHOWN_MS,
      );
    }
    this.pressed.clear();
    if (this.closed) return;
    const [shortest = 250] = RETRY_MS;
    const pause = RETRY_MS[Math.min(this.tries, RETRY_MS.length - 1)] ?? shortest;
    this.tries += 1;
    setTimeout(() => this.connect(), pause * (0.5 + Math.random() / 2));
  }

  /** Presses that have had no answer yet. */
  private waiting(): [string, Pressed][] {
    return [...this.pressed].filter(([, what]) => this.presses.get(topicOf(what))?.phase === 'sent');
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
        for (const key of keys) this.setPoint(key, message.points[key] ?? null);
        this.takeLast(message.last);
        for (const [id, face] of Object.entries(message.faces)) this.setFace(id, face);
        this.set({ revision: message.revision, edits: [], devices: message.devices, devicesAt: now() });
        this.takeAllRuns(message.runs, message.ended);
        break;
      }
      case 'changes':
        this.last = { epoch: message.epoch, n: message.n };
        if (message.anew) this.forget(new Set(message.anew.scopes), message.points ?? {});
        for (const [key, value] of Object.entries(message.points ?? {})) this.setPoint(key, value);
        this.takeLast(message.last);
        for (const [id, face] of Object.entries(message.faces ?? {})) this.setFace(id, face);
        for (const run of message.runs ?? []) this.takeRun(run);
        if (message.devices) this.set({ devices: message.devices, devicesAt: now() });
        if (message.revision !== undefined) this.set({ revision: message.revision, edits: message.edits ?? [] });
        break;
      case 'run':
        this.takeRun(message.run);
        break;
      case 'answer':
        this.takeAnswer(message);
        break;
      case 'time':
        this.clock.measured(message.sent, message.engine, now());
        break;
      case 'error':
        break;
    }
  }

  private takeAnswer(message: Extract<LiveServerMessage, { type: 'answer' }>): void {
    const { pressId, phase } = message;
    const lost = this.unanswered.get(pressId);
    if (lost !== undefined) {
      if (phase !== 'up') return;
      this.unanswered.delete(pressId);
      const { runId } = message;
      const topic = topicOf(lost);
      // Where it began a run, the runs tell what became of it.
      if (runId === null || runId === undefined) this.refused(topic, NOT_DONE);
      else if (this.presses.get(topic)?.why === UNANSWERED) this.tell(topic, undefined);
      return;
    }
    const what = this.pressed.get(pressId);
    if (phase === 'up') this.pressed.delete(pressId);
    if (message.accepted || what === undefined || phase !== 'down') return;
    const topic = topicOf(what);
    const why = message.error ? `${message.error.message} ${message.error.mend}` : 'The engine refused it.';
    if (message.error?.code !== 'second-touch') return this.refused(topic, why);
    this.tell(
      topic,
      { phase: 'asking', why, short: message.error.short ?? message.error.mend, since: now() },
      ASKING_SHOWN_MS,
    );
  }

  private refused(topic: string, why: string): void {
    this.tell(topic, { phase: 'failed', why, since: now() }, FAILED_SHOWN_MS);
    this.set({ lastRun: { how: 'refused', buttonId: topic, why } });
  }

  /** After a gap: what runs is what the engine says, and what ended meanwhile ended so. */
  private takeAllRuns(runs: readonly LiveRun[], ended: readonly LiveRun[]): void {
    const before = new Set(this.state.runs.map(({ runId }) => runId));
    this.set({ runs });
    const going = new Set(runs.flatMap(({ buttonId }) => buttonId ?? []));
    for (const [topic, press] of this.presses)
      if ((press.phase === 'working' || press.phase === 'sent') && !going.has(topic)) this.tell(topic, undefined);
    for (const run of runs) this.showRun(run);
    for (const run of ended) {
      // A page that comes for the first time is told how the last one ended; it did not press the others.
      if (this.endedRuns.has(run.runId) || (!before.has(run.runId) && run !== ended.at(-1))) continue;
      this.takeRun(run, before.has(run.runId));
    }
  }

  private setPoint(key: string, value: LivePoint | null): void {
    const known = this.points.get(key);
    if (value !== null) {
      this.points.set(key, value);
      this.lastKnown_.delete(key);
    } else {
      this.points.delete(key);
      if (known !== undefined) this.keepLast(key, known);
    }
    this.notify(`point:${key}`);
  }

  private takeLast(last: LivesLast = {}): void {
    for (const [key, { value, agoMs }] of Object.entries(last)) {
      this.keepLast(key, value, now() - agoMs);
      this.notify(`point:${key}`);
    }
  }

  private keepLast(key: string, value: LivePoint, since = now()): void {
    this.lastKnown_.delete(key);
    this.lastKnown_.set(key, { value, since });
    const [oldest] = this.lastKnown_.keys();
    if (this.lastKnown_.size > LAST_KNOWN_KEPT && oldest !== undefined) this.lastKnown_.delete(oldest);
  }

  private lostValue(key: string, since: number): LastKnown | undefined {
    const value = this.points.get(key);
    if (value === undefined) return undefined;
    const known = this.lastKnown_.get(key);
    if (known?.value === value && known.since === since) return known;
    const told = { value, since };
    this.lastKnown_.set(key, told);
    return told;
  }

  /** Everything of these scopes is told anew. */
  private forget(scopes: ReadonlySet<string>, told: Readonly<Record<string, unknown>>): void {
    for (const key of this.points.keys())
      if (scopes.has(scopeOf(key)) && !Object.hasOwn(told, key)) this.setPoint(key, null);
  }

  /** A run may be told twice: at once to the station that pressed, and with the changes that all get. The first end counts. */
  private takeRun(run: LiveRun, show = true): void {
    if (this.endedRuns.has(run.runId)) return;
    const others = this.state.runs.filter((one) => one.runId !== run.runId);
    if (!run.ended) {
      this.set({ runs: [...others, run] });
      return this.showRun(run);
    }
    this.endedRuns.add(run.runId);
    const [oldest] = this.endedRuns;
    if (this.endedRuns.size > ENDED_KEPT && oldest !== undefined) this.endedRuns.delete(oldest);
    const { why } = run.ended;
    const how = run.ended.how as Exclude<LastRun['how'], 'refused'>;
    const lastRun = run.buttonId === undefined ? {} : { lastRun: { how, run, ...(why === undefined ? {} : { why }) } };
    this.set({ runs: others, ...lastRun });
    if (show) this.showRun(run);
  }

  /** On the cap of its button. */
  private showRun({ buttonId, ended, leftMs }: LiveRun): void {
    if (buttonId === undefined) return;
    const since = now();
    if (!ended) this.tell(buttonId, { phase: 'working', leftMs, since });
    else if (ended.how === 'done') this.tell(buttonId, { phase: 'done', since }, DONE_SHOWN_MS);
    else if (ended.how === 'stopped') this.tell(buttonId, undefined);
    else this.tell(buttonId, { phase: 'failed', why: ended.why ?? ended.how, since }, FAILED_SHOWN_MS);
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
    const before = this.state.connection;
    this.state = { ...this.state, ...change };
    this.notify('state');
    if (before !== this.state.connection) this.notify('connection');
  }

  private notify(topic: string): void {
    for (const listener of this.listeners.get(topic) ?? []) listener();
  }
}
