import type { LiveClientMessage, LiveServerMessage } from '@umbek/protocol';
import { Heartbeat } from './heartbeat';

const RETRY_MS = [250, 500, 1000, 2000];
/** A connection that is not there after so long is tried again. */
const CONNECT_MS = 3000;
/** An engine that answers and does not tell how things are, as one that has no room, is tried again after so long. */
const STATE_MS = 10_000;

/**
 * The live socket as a page needs it: contact is there while the engine answers, whatever the socket says. Lost contact is tried anew, not by all
 * pages in the same moment.
 */
export class Contact {
  private socket: WebSocket | null = null;
  private tries = 0;
  private connecting: ReturnType<typeof setTimeout> | null = null;
  private closed = false;
  private there = false;
  private readonly heartbeat: Heartbeat;

  constructor(
    private readonly url: string,
    private readonly listener: {
      /** A socket is open: who this is comes first, and then `begin`, which finds out whether the engine answers. */
      opened(begin: () => void): void;
      /** The engine is about to tell how things are: what is shown from then on is so. */
      reached(): void;
      message(message: LiveServerMessage): void;
      lost(): void;
    },
    now: () => number,
  ) {
    this.heartbeat = new Heartbeat(
      () => this.send({ type: 'time', sent: now() }),
      () => this.lose(),
      now,
    );
  }

  open(): void {
    const socket = new WebSocket(this.url);
    this.socket = socket;
    this.connecting = setTimeout(() => this.lose(), CONNECT_MS);
    socket.onopen = () => {
      if (this.socket !== socket) return;
      if (this.connecting !== null) clearTimeout(this.connecting);
      // Contact is there when it answers, not when something on the way took the connection: the heartbeat finds that out.
      this.listener.opened(() => {
        if (this.socket !== socket) return;
        this.connecting = setTimeout(() => this.lose(), STATE_MS);
        this.heartbeat.begin();
      });
    };
    socket.onmessage = (event) => {
      if (this.socket !== socket) return;
      this.heartbeat.heard();
      const message = JSON.parse(String(event.data)) as LiveServerMessage;
      // What else it says may come sooner: until it has told how things are, what is shown is of the time before.
      if (!this.there && message.type === 'snapshot') {
        this.there = true;
        this.tries = 0;
        if (this.connecting !== null) clearTimeout(this.connecting);
        this.listener.reached();
      }
      this.listener.message(message);
    };
    socket.onclose = () => {
      if (this.socket === socket) this.lose();
    };
  }

  close(): void {
    this.closed = true;
    this.lose();
  }

  /** The page was hidden or asleep: whether there is contact is found out at once. */
  woke(): void {
    this.heartbeat.woke();
  }

  send(message: LiveClientMessage): void {
    if (this.socket?.readyState === WebSocket.OPEN) this.socket.send(JSON.stringify(message));
  }

  /** There is no contact any more, whether the socket knows it or not. */
  lose(): void {
    const { socket } = this;
    if (socket === null) return;
    this.socket = null;
    this.there = false;
    this.heartbeat.end();
    if (this.connecting !== null) clearTimeout(this.connecting);
    socket.close();
    this.listener.lost();
    if (this.closed) return;
    const [shortest = 250] = RETRY_MS;
    const pause = RETRY_MS[Math.min(this.tries, RETRY_MS.length - 1)] ?? shortest;
    this.tries += 1;
    setTimeout(() => this.open(), pause * (0.5 + Math.random() / 2));
  }
}
