import { connect, createServer, type Server, type Socket } from 'node:net';

/** While more follows, TCP sends again what got lost after one way there and back (fast retransmit, RFC 5681). */
const AGAIN_MS = 300;

/** Another machine of the room: what comes to its address goes on to Umbek from that address. Another address of loopback stands for it. */
export class RoomProxy {
  private readonly sockets = new Set<Socket>();
  private delayMs = 0;
  private lossPercent = 0;
  private stalledUntil = 0;
  private seed = 20_260_812;

  private constructor(
    private readonly server: Server,
    readonly address: string,
    readonly url: string,
  ) {}

  /** @param address of 127.0.0.0/8 @param to the room address of Umbek */
  static async open(address: string, to: string): Promise<RoomProxy> {
    const { hostname, port } = new URL(to);
    const server = createServer();
    await new Promise<void>((done, failed) => server.once('error', failed).listen(0, address, done));
    const at = server.address();
    const proxy = new RoomProxy(
      server,
      address,
      `https://${address}:${typeof at === 'object' && at !== null ? at.port : 0}`,
    );
    server.on('connection', (near) => {
      const far = connect({ host: hostname, port: Number(port), localAddress: address });
      for (const [socket, other] of [
        [near, far],
        [far, near],
      ] as const) {
        proxy.sockets.add(socket);
        socket.on('error', () => socket.destroy());
        socket.on('close', () => {
          proxy.sockets.delete(socket);
          other.destroy();
        });
        proxy.carry(socket, other);
      }
    });
    return proxy;
  }

  /** From now on: what is carried takes so long, and of a hundred pieces so many get lost and are sent again by TCP, which takes longer and holds up what follows. */
  worsen({ delayMs, lossPercent }: { readonly delayMs: number; readonly lossPercent: number }): void {
    this.delayMs = delayMs;
    this.lossPercent = lossPercent;
  }

  /** Nothing is carried for so long, and what came meanwhile is carried then: a network that dies quietly, or a phone that sleeps. */
  stall(ms: number): void {
    this.stalledUntil = performance.now() + ms;
  }

  private carry(from: Socket, to: Socket): void {
    // One line, in order: timers of a piece each may fire the wrong way round within a millisecond, and TLS ends at the first byte out of place.
    const line: { readonly piece: Buffer | null; readonly due: number }[] = [];
    let timer: NodeJS.Timeout | null = null;
    const flush = (): void => {
      timer = null;
      for (let first = line[0]; first !== undefined; first = line[0]) {
        const left = first.due - performance.now();
        if (left > 0) {
          timer = setTimeout(flush, left);
          return;
        }
        line.shift();
        if (to.destroyed) continue;
        if (first.piece === null) to.end();
        else to.write(first.piece);
      }
    };
    const pass = (piece: Buffer | null, due: number): void => {
      line.push({ piece, due: Math.max(due, line.at(-1)?.due ?? 0) });
      if (timer === null) flush();
    };
    from.on('data', (piece: Buffer) => {
      this.seed = (this.seed * 48_271) % 2_147_483_647;
      const lost = this.seed % 100 < this.lossPercent ? AGAIN_MS : 0;
      pass(piece, Math.max(performance.now() + this.delayMs + lost, this.stalledUntil));
    });
    from.on('end', () => pass(null, 0));
  }

  async close(): Promise<void> {
    for (const socket of this.sockets) socket.destroy();
    await new Promise((done) => this.server.close(done));
  }
}
