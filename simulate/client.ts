import type { LiveFace, LivePoint, LiveServerMessage, Shown } from '@umbek/protocol';
import type { LiveConnection } from '../apps/server/live/liveDesk';
import { type LiveClient, scopeOf } from '../apps/server/live/liveRoom';
import type { Chance } from './chance';
import type { SimMachine } from './machine';
import type { SimClock } from './processes';
import type { Meant } from './show';

const RENEW_MS = 100;

/** A press as its finger knows it. */
export interface SimPress {
  readonly pressId: string;
  readonly station: string;
  readonly meant: Meant;
  readonly sentAt: number;
  /** The way was clear when it was sent: it must be answered. */
  clear: boolean;
  /** Until when the engine may think that a finger is down. */
  heldUntil: number;
  /** When its last message reaches the engine. */
  arrivesAt: number;
  /** Its release overtook it on the way. */
  upFirst: boolean;
  /** First answer to each phase: accepted, or the code of the refusal. */
  readonly answers: Map<string, string>;
}

/** A page with a finger: connects again by itself, presses, holds, lets go, or does not. */
export class SimClient {
  readonly presses: SimPress[] = [];
  readonly faults: string[] = [];
  /** Longest delay on the way to the engine, milliseconds. */
  lagMs = 0;
  private connection: LiveConnection | null = null;
  private readonly byId = new Map<string, SimPress>();
  private there = 0;
  private generation = 0;
  /** What it shows; it is told that and nothing else. */
  shown: Shown = { strips: [], scopes: [] };
  linkGroup = 'main';
  /** Where it was when its connection went. */
  private last: { readonly epoch: number; readonly n: number } | null = null;
  /** What it was told and has not been told otherwise. */
  readonly points = new Map<string, LivePoint>();
  readonly faces = new Map<string, LiveFace>();

  constructor(
    readonly name: string,
    private readonly clock: SimClock,
    private readonly chance: Chance,
    private readonly machine: SimMachine,
    /** Draws what is shown, and nothing else: the rest of the story stays the same. */
    private readonly views: Chance,
    private readonly everything: Shown,
    /** Draws whether it goes on where it was when it comes back. */
    private readonly resumes: Chance,
  ) {}

  /** Another panel, another page. */
  private drawView(): Shown {
    const some = (of: readonly string[]): string[] => of.filter(() => this.views.is(0.6));
    return { strips: some(this.everything.strips), scopes: some(this.everything.scopes) };
  }

  /** Shows something else from now on, and forgets what is no longer told. */
  look(): void {
    if (this.connection === null) return;
    this.shown = this.drawView();
    this.say({ type: 'shows', ...this.shown });
    for (const key of this.points.keys()) if (!this.shown.scopes.includes(scopeOf(key))) this.points.delete(key);
    if (this.shown.strips.length === 0) this.faces.clear();
  }

  get connected(): boolean {
    return this.connection !== null;
  }

  connect(): void {
    const { host, process } = this.machine;
    if (host === null || process === null || !process.alive) return;
    const generation = (this.generation += 1);
    const linkGroup = this.chance.pick(['main', 'left']);
    this.linkGroup = linkGroup;
    this.shown = this.drawView();
    const resume = this.resumes.is(0.7) ? this.last : null;
    // A page that comes back still has what it knew, until it is told.
    if (resume === null) {
      this.points.clear();
      this.faces.clear();
    }
    const client: LiveClient = {
      bufferedAmount: 0,
      send: (text) => {
        this.clock.at(this.clock.now() + 0.5, () => {
          if (this.generation === generation) this.heard(JSON.parse(text) as LiveServerMessage);
        });
      },
      close: () => this.drop(),
    };
    process.reach(() => {
      if (this.generation !== generation) return;
      this.connection = host.live.connect(client);
      const hello = { type: 'hello', station: this.name, person: this.name, linkGroup, shows: this.shown };
      this.say({ ...hello, ...(resume === null ? {} : { resume }) });
    });
  }

  /** The connection is gone. @param announced whether the engine's machine notices at once */
  drop(announced = true): void {
    const { connection } = this;
    this.connection = null;
    this.generation += 1;
    // What was just under way may go unanswered.
    for (const press of this.presses) if (press.sentAt > this.clock.now() - 1000) press.clear = false;
    const { process } = this.machine;
    if (connection === null || process === null) return;
    // A network that died quietly is noticed by the ping.
    this.clock.at(this.clock.now() + (announced ? 1 : 10_000), () => process.reach(() => connection.closed()));
  }

  private say(message: object): void {
    const { connection } = this;
    const { process } = this.machine;
    if (connection === null || process === null) return;
    const text = JSON.stringify(message);
    const lag = this.lagMs === 0 ? 0 : this.chance.next() * this.lagMs;
    this.there = Math.max(this.there, this.clock.now() + 0.5 + lag);
    this.clock.at(this.there, () => process.reach(() => connection.message(text)));
  }

  /** A finger goes down on a button and up again. @param holdMs how long it stays down @param end how the press comes to its end @param more what the message says besides */
  press(meant: Meant, holdMs: number, end: 'up' | 'nothing' | 'closed', clear: boolean, more: object = {}): SimPress {
    const pressId = this.chance.ulid();
    const now = this.clock.now();
    const press: SimPress = {
      pressId,
      station: this.name,
      meant,
      sentAt: now,
      clear: clear && this.connected && this.lagMs === 0,
      heldUntil: now,
      arrivesAt: now,
      upFirst: false,
      answers: new Map(),
    };
    this.presses.push(press);
    this.byId.set(pressId, press);
    const { id } = meant.button;
    const send = (phase: string): void => {
      this.say({ type: 'press', pressId, buttonId: id, phase, at: this.now(), ...more });
      press.arrivesAt = Math.max(press.arrivesAt, this.there);
      if (phase !== 'up') press.heldUntil = Math.max(press.heldUntil, this.there);
    };
    // Now and then something comes twice, or the release overtakes the press.
    if (this.chance.is(0.04)) {
      press.upFirst = true;
      send('up');
    }
    send('down');
    if (this.chance.is(0.1)) send('down');
    const held = meant.button.mode === 'hold';
    if (!held) {
      send('up');
      return press;
    }
    for (let at = RENEW_MS; at < holdMs; at += RENEW_MS) this.clock.at(now + at, () => send('hold'));
    this.clock.at(now + holdMs, () => {
      if (end === 'up') send('up');
      if (end === 'closed') this.drop();
    });
    return press;
  }

  /** A hand turns a value: taken, turned on, and let go where it is then. @param values at least two @param everyMs between one and the next */
  turn(meant: Meant, values: readonly number[], everyMs: number, clear: boolean): SimPress {
    const [first, ...rest] = values;
    const press = this.press(meant, 0, 'nothing', clear, { value: first });
    for (const [index, value] of rest.entries())
      this.clock.at(this.clock.now() + (index + 1) * everyMs, () => {
        const phase = index === rest.length - 1 ? 'up' : 'hold';
        this.say({ type: 'press', pressId: press.pressId, buttonId: meant.button.id, phase, at: this.now(), value });
        press.arrivesAt = Math.max(press.arrivesAt, this.there);
      });
    return press;
  }

  private now(): number | undefined {
    return this.machine.host?.clock.now();
  }

  /** Presses of this page of which it was told that two hands are on one device, and whether it has it now. */
  readonly taken = new Map<string, boolean>();

  private heard(message: LiveServerMessage): void {
    if (message.type === 'snapshot' || message.type === 'changes') this.receive(message);
    if (message.type === 'taken') this.taken.set(message.pressId, message.mine);
    if (message.type !== 'answer' || message.phase === 'hold') return;
    const press = this.byId.get(message.pressId);
    if (press === undefined) return;
    const said = message.accepted ? `accepted ${String(message.runId)}` : (message.error?.code ?? 'refused');
    const before = press.answers.get(message.phase);
    if (before === undefined) press.answers.set(message.phase, said);
    else if (before !== said)
      this.faults.push(`press ${press.pressId} ${message.phase} was answered "${before}" and then "${said}"`);
  }

  private receive(message: Extract<LiveServerMessage, { type: 'snapshot' | 'changes' }>): void {
    this.last = { epoch: message.epoch, n: message.n };
    if (message.type === 'snapshot') this.faces.clear();
    const anew = message.type === 'snapshot' ? this.everything.scopes : (message.anew?.scopes ?? []);
    for (const key of this.points.keys()) if (anew.includes(scopeOf(key))) this.points.delete(key);
    for (const [key, value] of Object.entries(message.points ?? {})) {
      if (!this.everything.scopes.includes(scopeOf(key)))
        this.faults.push(`${this.name} was told ${key}, which it never showed`);
      if (value === null) this.points.delete(key);
      else if (this.shown.scopes.includes(scopeOf(key))) this.points.set(key, value);
    }
    for (const [id, face] of Object.entries(message.faces ?? {})) this.faces.set(id, face);
  }
}
