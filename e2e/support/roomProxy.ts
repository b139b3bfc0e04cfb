import { connect, createServer, type Server, type Socket } from 'node:net';

/** Another machine of the room: what comes to its address goes on to Umbek from that address. Another address of loopback stands for it. */
export class RoomProxy {
  private readonly sockets = new Set<Socket>();

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
      for (const [one, other] of [
        [near, far],
        [far, near],
      ] as const) {
        proxy.sockets.add(one);
        one.on('error', () => one.destroy());
        one.on('close', () => {
          proxy.sockets.delete(one);
          other.destroy();
        });
        one.pipe(other);
      }
    });
    return proxy;
  }

  async close(): Promise<void> {
    for (const socket of this.sockets) socket.destroy();
    await new Promise((done) => this.server.close(done));
  }
}
