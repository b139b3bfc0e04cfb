import { createServer } from 'node:http';
import { DEVICE_KINDS } from '@umbek/core/devices';
import { RealClock } from '@umbek/host';
import { z } from 'zod';
import { announce } from './announce';
import { type DoorHost, type Fate, LOOPBACK } from './door';
import { Faults, seeded } from './faults';
import { bodyOf, openHttpDoor } from './httpDoor';
import type { Sender } from './port';
import { openRouterDoor } from './routerDoor';
import { openTallyDoor } from './tallyDoor';
import { openSampleDoor } from './sampleDoor';
import { openUdpDoor } from './udpDoor';

/** How a stand-in is started. Both ports are on loopback; port 0 takes a free one. */
export const StandinConfig = z.strictObject({
  name: z.string().min(1).max(120),
  kind: z.enum(Object.keys(DEVICE_KINDS) as [string, ...string[]]),
  port: z.number().int().min(0).max(65_535),
  controlPort: z.number().int().min(0).max(65_535),
  /** Its true limits, which need not be those that the show declares. */
  settings: z.record(z.string(), z.unknown()).default({}),
  /** What a request at the control port has to say; empty: anyone on this machine. */
  token: z.string().default(''),
  /** A head that answers a repeated sequence number with its first answers again. */
  repeats: z.boolean().default(false),
  /** Announces itself by multicast DNS, on loopback. */
  announce: z.boolean().default(false),
});
export type StandinConfig = z.input<typeof StandinConfig>;

/** One message as the stand-in saw it: bytes in hex of a datagram or a piece of a byte stream, text of HTTP. `dropped` ones never reached the device or the wire. */
export interface DatagramRecord {
  readonly at: number;
  readonly direction: 'in' | 'out';
  readonly peer: Sender;
  readonly bytes: string;
  readonly fate: Fate;
}

export interface RunningStandin {
  readonly port: number;
  readonly controlPort: number;
  close(): Promise<void>;
}

const RECORDS_KEPT = 50_000;

/** Opens a stand-in's device socket and its control port. @throws when a port is taken */
export async function serveStandin(input: StandinConfig): Promise<RunningStandin> {
  const config = StandinConfig.parse(input);
  const clock = new RealClock();
  let faults = Faults.parse({});
  let chance = seeded(faults.seed);
  const records: DatagramRecord[] = [];

  const pass: DoorHost['pass'] = (direction, peer, bytes, mayDouble, work) => {
    const [drop, double] = direction === 'in' ? [faults.dropIn, faults.doubleIn] : [faults.dropOut, faults.doubleOut];
    const dropped = faults.silent || chance() < drop;
    const doubled = !dropped && mayDouble && chance() < double;
    records.push({
      at: clock.wall().getTime(),
      direction,
      peer,
      bytes,
      fate: dropped ? 'dropped' : doubled ? 'doubled' : 'passed',
    });
    if (records.length > RECORDS_KEPT) records.shift();
    if (dropped) return;
    for (let copy = 0; copy < (doubled ? 2 : 1); copy += 1) {
      if (faults.delayMs === 0) work();
      else clock.at(clock.now() + chance() * faults.delayMs, work);
    }
  };
  const kind = DEVICE_KINDS[config.kind];
  if (kind === undefined) throw new Error(`There is no stand-in for ${config.kind}.`);
  const host: DoorHost = {
    kind,
    settings: config.settings,
    port: config.port,
    clock,
    faults: () => faults,
    chance: () => chance(),
    pass,
  };
  const door = await (kind.wire === 'http'
    ? openHttpDoor(host)
    : kind.wire === 'profile'
      ? openSampleDoor(host)
      : kind.wire === 'tsl'
        ? openTallyDoor(host)
        : kind.wire === 'swp08'
          ? openRouterDoor(host)
          : openUdpDoor(host, config.repeats));

  let flooding: NodeJS.Timeout | null = null;
  /** A device that has gone mad speaks unasked. */
  const flood = (): void => {
    if (flooding !== null) clearInterval(flooding);
    flooding = null;
    if (!faults.babbling && !faults.implausible) return;
    // Timers count whole milliseconds: what is due in between comes in one go.
    let owed = 0;
    flooding = setInterval(() => {
      for (owed += faults.badRate / 200; owed >= 1; owed -= 1) door.badly?.();
    }, 5);
  };

  const control = createServer((request, response) => {
    const answer = (status: number, body: unknown): void => {
      response.writeHead(status, { 'content-type': 'application/json' }).end(JSON.stringify(body));
    };
    void (async () => {
      const path = (request.url ?? '/').split('?')[0];
      const { remoteAddress = '' } = request.socket;
      const here = ['127.0.0.1', '::1', '::ffff:127.0.0.1'].includes(remoteAddress);
      if (!here || (config.token !== '' && request.headers['x-umbek-control'] !== config.token))
        return answer(403, {
          code: 'forbidden',
          message: 'This control port answers its own Umbek alone.',
          mend: 'Use the page.',
        });
      if (request.method === 'GET' && path === '/report')
        return answer(200, { name: config.name, faults, ...door.report() });
      if (request.method === 'GET' && path === '/records') return answer(200, { records });
      if (request.method === 'POST' && path === '/clear') {
        records.length = 0;
        return answer(200, {});
      }
      if (request.method === 'POST' && path === '/faults') {
        const parsed = Faults.safeParse(parsedBody(await bodyOf(request)));
        if (!parsed.success)
          return answer(400, {
            code: 'bad-field',
            message: z.prettifyError(parsed.error),
            mend: 'Correct the fault settings.',
          });
        faults = parsed.data;
        chance = seeded(faults.seed);
        door.faultsChanged?.();
        flood();
        return answer(200, { faults });
      }
      if (request.method === 'POST' && path === '/simulate') {
        const parsed = z.strictObject({ what: z.string().max(60) }).safeParse(parsedBody(await bodyOf(request)));
        const why = parsed.success ? door.simulate(parsed.data.what) : 'Say what is to happen.';
        if (why !== null) return answer(400, { code: 'cannot', message: why, mend: 'See /report for what there is.' });
        return answer(200, {});
      }
      answer(404, {
        code: 'not-found',
        message: 'The control port has /report, /records, /clear, /faults and /simulate.',
        mend: 'Use one of these.',
      });
    })().catch(() => answer(500, { code: 'internal', message: 'The stand-in failed at it.', mend: 'Try again.' }));
  });

  await new Promise<void>((resolve, reject) => {
    control.once('error', reject);
    control.listen(config.controlPort, LOOPBACK, () => resolve());
  });
  const address = control.address();
  const goodbye = config.announce ? await announce(config.name, kind, door.port) : null;
  return {
    port: door.port,
    controlPort: typeof address === 'object' && address !== null ? address.port : config.controlPort,
    close: () =>
      new Promise((resolve) => {
        if (flooding !== null) clearInterval(flooding);
        goodbye?.();
        door.close();
        control.closeAllConnections();
        control.close(() => resolve());
      }),
  };
}

function parsedBody(text: string | null): unknown {
  try {
    return JSON.parse(text === null || text === '' ? '{}' : text);
  } catch {
    return null;
  }
}
