import { type ChildProcess, fork } from 'node:child_process';
import { WebSocket } from 'ws';
import type { Demo } from '../e2e/support/demo';
import { keyOf, withKey } from '../e2e/support/room';
import { RoomProxy } from '../e2e/support/roomProxy';
import { behindTheEngine } from './press';

/** What the process of far stations is told at its start. */
interface Far {
  /** Where the engine's own machine reaches it. */
  readonly url: string;
  /** Where the room reaches it, with TLS. */
  readonly room: string;
  readonly count: number;
}
export type FarOrder = 'return' | { readonly stallMs: number };

/** The network between: each way, and of a hundred pieces so many get lost. */
const NETWORK = { delayMs: 150, lossPercent: 5 };
/** The first of the addresses that they come from. */
const FIRST_ADDRESS = 60;

/** As many phones of the room, each at an address of its own behind a bad network and let in with a key of its own. */
export class FarStations {
  private constructor(private readonly process: ChildProcess) {}

  /** @returns when each of them has been told how things are */
  static async start(url: string, room: string, count: number): Promise<FarStations> {
    const config: Far = { url, room, count };
    const child = fork(process.argv[1] ?? '', ['far', JSON.stringify(config)], {
      stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    });
    behindTheEngine(child);
    const far = new FarStations(child);
    await far.next();
    return far;
  }

  /** `return`: all end at once and come back. `stallMs`: nothing is carried for so long. @returns when each has been told how things are, or has heard something after the stall */
  order(order: FarOrder): Promise<void> {
    this.process.send(order);
    return this.next();
  }

  close(): void {
    this.process.removeAllListeners('exit');
    this.process.disconnect();
  }

  private next(): Promise<void> {
    return new Promise((done, failed) => {
      const ended = (code: number | null): void =>
        failed(new Error(`The far stations ended with ${code ?? 'a signal'}.`));
      this.process.once('exit', ended);
      this.process.once('message', () => {
        this.process.off('exit', ended);
        done();
      });
    });
  }
}

/** The work of that process. */
export async function farStations(text: string): Promise<void> {
  const { url, room, count } = JSON.parse(text) as Far;
  process.on('disconnect', () => process.exit(0));
  const post: Demo['post'] = async (path, body) => {
    const response = await fetch(`${url}${path}`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    });
    return { status: response.status, body: (await response.json()) as Record<string, unknown> };
  };
  const phones: { proxy: RoomProxy; key: string; socket: WebSocket | null }[] = [];
  for (let at = 0; at < count; at += 1) {
    const proxy = await RoomProxy.open(`127.0.0.${FIRST_ADDRESS + at}`, room);
    phones.push({ proxy, key: await keyOf({ post }, proxy, `Phone ${at + 1}`, ['see', 'operate']), socket: null });
    proxy.worsen(NETWORK);
  }
  /** Whoever has not heard anything since it was last asked. */
  let silent = new Set<number>();
  const heard = (at: number): void => {
    if (silent.delete(at) && silent.size === 0) process.send?.('ready');
  };
  const wait = (): void => void (silent = new Set(phones.keys()));
  const open = (): void =>
    phones.forEach((phone, at) => {
      phone.socket?.terminate();
      const socket = new WebSocket(`${phone.proxy.url.replace('https', 'wss')}/api/live`, {
        headers: withKey(phone.key),
        rejectUnauthorized: false,
      });
      phone.socket = socket;
      socket.once('open', () => socket.send(JSON.stringify({ type: 'hello', station: `phone ${at + 1}` })));
      socket.on('message', (data: Buffer) => {
        JSON.parse(String(data));
        if (phone.socket === socket) heard(at);
      });
      // A station that is refused is a figure that says nothing.
      socket.on('error', (error) => {
        if (phone.socket !== socket) return;
        console.error(`Phone ${at + 1}: ${error.message}`);
        process.exit(1);
      });
    });
  process.on('message', (order: FarOrder) => {
    if (order === 'return') {
      wait();
      open();
      return;
    }
    for (const { proxy } of phones) proxy.stall(order.stallMs);
    setTimeout(wait, order.stallMs / 2);
  });
  wait();
  open();
}
