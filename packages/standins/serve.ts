import { createSocket } from 'node:dgram';
import { createServer, type IncomingMessage } from 'node:http';
import { DEVICE_KINDS } from '@umbek/core/devices';
import { RealClock } from '@umbek/host';
import { hex } from '@umbek/wire/osc';
import { z } from 'zod';
import { Faults, seeded } from './faults';
import { OscStandin } from './oscDevice';
import type { Sender, StandinDevice, StandinOptions } from './port';
import { PtzHeadStandin } from './ptzHead';

/** How a stand-in is started. Both ports are on loopback; port 0 takes a free one. */
export const StandinConfig = z.strictObject({
  name: z.string().min(1).max(120),
  kind: z.enum(['ptzHead', 'switcher', 'captions']),
  port: z.number().int().min(0).max(65_535),
  controlPort: z.number().int().min(0).max(65_535),
  /** Its true limits, which need not be those that the show declares. */
  settings: z.record(z.string(), z.unknown()).default({}),
  /** A head that answers a repeated sequence number with its first answers again. */
  repeats: z.boolean().default(false),
});
export type StandinConfig = z.input<typeof StandinConfig>;

/** One datagram as the stand-in saw it. `dropped` ones never reached the device or the wire. */
export interface DatagramRecord {
  readonly at: number;
  readonly direction: 'in' | 'out';
  readonly peer: Sender;
  readonly bytes: string;
  readonly fate: 'passed' | 'dropped' | 'doubled';
}

export interface RunningStandin {
  readonly port: number;
  readonly controlPort: number;
  close(): Promise<void>;
}

const RECORDS_KEPT = 50_000;
const LOOPBACK = '127.0.0.1';

/** Opens a stand-in's device socket and its control port. @throws when a port is taken */
export async function serveStandin(input: StandinConfig): Promise<RunningStandin> {
  const config = StandinConfig.parse(input);
  const clock = new RealClock();
  let faults = Faults.parse({});
  let chance = seeded(faults.seed);
  const records: DatagramRecord[] = [];
  const socket = createSocket('udp4');

  const record = (direction: 'in' | 'out', peer: Sender, bytes: Uint8Array, fate: DatagramRecord['fate']): void => {
    records.push({ at: clock.wall().getTime(), direction, peer, bytes: hex(bytes), fate });
    if (records.length > RECORDS_KEPT) records.shift();
  };
  /** Lets a datagram through once, twice or not at all, now or later. */
  const pass = (direction: 'in' | 'out', peer: Sender, bytes: Uint8Array, drop: number, double: number, work: () => void): void => {
    const dropped = faults.silent || chance() < drop;
    const doubled = !dropped && chance() < double;
    record(direction, peer, bytes, dropped ? 'dropped' : doubled ? 'doubled' : 'passed');
    if (dropped) return;
    for (let copy = 0; copy < (doubled ? 2 : 1); copy += 1) {
      if (faults.delayMs === 0) work();
      else clock.at(clock.now() + chance() * faults.delayMs, work);
    }
  };
  const options: StandinOptions = {
    clock,
    refusing: () => faults.refuse,
    send: (bytes, to) => {
      const cut = to.lastIndexOf(':');
      pass('out', to, bytes, faults.dropOut, faults.doubleOut, () => socket.send(bytes, Number(to.slice(cut + 1)), to.slice(0, cut)));
    },
  };
  const device = makeDevice(config, options);
  socket.on('message', (bytes, from) => {
    const peer = `${from.address}:${from.port}`;
    pass('in', peer, bytes, faults.dropIn, faults.doubleIn, () => device.receive(bytes, peer));
  });
  socket.on('error', () => undefined);

  const control = createServer((request, response) => {
    const answer = (status: number, body: unknown): void => {
      response.writeHead(status, { 'content-type': 'application/json' }).end(JSON.stringify(body));
    };
    void (async () => {
      const path = (request.url ?? '/').split('?')[0];
      if (request.method === 'GET' && path === '/report') return answer(200, { name: config.name, faults, ...device.report() });
      if (request.method === 'GET' && path === '/records') return answer(200, { records });
      if (request.method === 'POST' && path === '/clear') {
        records.length = 0;
        return answer(200, {});
      }
      if (request.method === 'POST' && path === '/faults') {
        const parsed = Faults.safeParse(await bodyOf(request));
        if (!parsed.success) return answer(400, { code: 'bad-field', message: z.prettifyError(parsed.error), mend: 'Correct the fault settings.' });
        faults = parsed.data;
        chance = seeded(faults.seed);
        return answer(200, { faults });
      }
      answer(404, { code: 'not-found', message: 'The control port has /report, /records, /clear and /faults.', mend: 'Use one of these.' });
    })();
  });

  await new Promise<void>((resolve, reject) => {
    socket.once('error', reject);
    socket.bind(config.port, LOOPBACK, () => resolve());
  });
  await new Promise<void>((resolve, reject) => {
    control.once('error', reject);
    control.listen(config.controlPort, LOOPBACK, () => resolve());
  });
  const address = control.address();
  return {
    port: socket.address().port,
    controlPort: typeof address === 'object' && address !== null ? address.port : config.controlPort,
    close: () =>
      new Promise((resolve) => {
        socket.close();
        control.closeAllConnections();
        control.close(() => resolve());
      }),
  };
}

function makeDevice(config: z.output<typeof StandinConfig>, options: StandinOptions): StandinDevice {
  if (config.kind === 'ptzHead') return new PtzHeadStandin(config.settings, config.repeats, options);
  const kind = DEVICE_KINDS[config.kind];
  if (kind === undefined) throw new Error(`No stand-in for ${config.kind}`);
  return new OscStandin(kind, config.settings, options);
}

async function bodyOf(request: IncomingMessage): Promise<unknown> {
  let text = '';
  for await (const chunk of request) {
    text += String(chunk);
    if (text.length > 10_000) return null;
  }
  try {
    return JSON.parse(text || '{}');
  } catch {
    return null;
  }
}
