import { createServer, type Server, type Socket, connect } from 'node:net';

/** A way to a port of this machine that can die quietly: nothing is closed, nothing goes through, and all that waited comes when it is thawed. */
export class FrozenNetwork {
  private readonly pairs = new Set<readonly [Socket, Socket]>();
  private frozen = false;

  private constructor(private readonly server: Server) {}

  static async to(port: number): Promise<FrozenNetwork> {
    const server = createServer();
    const network = new FrozenNetwork(server);
    server.on('connection', (near) => network.carry(near, connect(port, '127.0.0.1')));
    await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
    return network;
  }

  get port(): number {
    const address = this.server.address();
    return typeof address === 'object' && address !== null ? address.port : 0;
  }

  freeze(): void {
    this.frozen = true;
    for (const pair of this.pairs) for (const socket of pair) socket.pause();
  }

  thaw(): void {
    this.frozen = false;
    for (const pair of this.pairs) for (const socket of pair) socket.resume();
  }

  close(): void {
    for (const pair of this.pairs) for (const socket of pair) socket.destroy();
    this.server.close();
  }

  private carry(near: Socket, far: Socket): void {
    const pair = [near, far] as const;
    this.pairs.add(pair);
    const end = (): void => {
      // A dead network tells nobody that the other end has gone.
      if (this.frozen) return;
      this.pairs.delete(pair);
      near.destroy();
      far.destroy();
    };
    for (const [from, to] of [pair, [far, near] as const]) {
      from.on('data', (data) => to.write(data));
      from.on('error', end);
      from.on('close', end);
      if (this.frozen) from.pause();
    }
  }
}
