import type { LiveServerMessage } from '@umbek/core/api';
import type { LiveConnection } from '../apps/server/live/liveDesk';
import type { LiveClient } from '../apps/server/live/liveRoom';
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

  constructor(
    readonly name: string,
    private readonly clock: SimClock,
    private readonly chance: Chance,
    private readonly machine: SimMachine,
  ) {}

  get connected(): boolean {
    return this.connection !== null;
  }

  connect(): void {
    const { host, process } = this.machine;
    if (host === null || process === null || !process.alive) return;
    const generation = (this.generation += 1);
    const linkGroup = this.chance.pick(['main', 'left']);
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
      this.say({ type: 'hello', station: this.name, person: this.name, linkGroup });
    });
  }

  /** The connection is gone. @param told whether the engine's machine notices at once */
  drop(told = true): void {
    const { connection } = this;
    this.connection = null;
    this.generation += 1;
    // What was just under way may go unanswered.
    for (const press of this.presses) if (press.sentAt > this.clock.now() - 1000) press.clear = false;
    const { process } = this.machine;
    if (connection === null || process === null) return;
    // A network that died quietly is noticed by the ping.
    this.clock.at(this.clock.now() + (told ? 1 : 10_000), () => process.reach(() => connection.closed()));
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

  /** A finger goes down on a button and up again. @param holdMs how long it stays down @param end how the press comes to its end */
  press(meant: Meant, holdMs: number, end: 'up' | 'nothing' | 'closed', clear: boolean): SimPress {
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
      this.say({ type: 'press', pressId, buttonId: id, phase, at: this.clock.wall().getTime() });
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

  private heard(message: LiveServerMessage): void {
    if (message.type !== 'answer' || message.phase === 'hold') return;
    const press = this.byId.get(message.pressId);
    if (press === undefined) return;
    const said = message.accepted ? `accepted ${String(message.runId)}` : (message.error?.code ?? 'refused');
    const before = press.answers.get(message.phase);
    if (before === undefined) press.answers.set(message.phase, said);
    else if (before !== said)
      this.faults.push(`press ${press.pressId} ${message.phase} was answered "${before}" and then "${said}"`);
  }
}
