import { createSocket } from 'node:dgram';
import { createServer, type Socket } from 'node:net';
import { decodeOsc, encodeOsc, hex } from '@umbek/wire/osc';
import { type Door, type DoorHost, listenOn, LOOPBACK } from './door';
import { type Effect, EFFECTS_KEPT } from './port';

/** The devices of the sample profiles. They know nothing of us: one speaks plain OSC, the others lines of text. */
export function openSampleDoor(host: DoorHost): Promise<Door> {
  const { profile } = host.settings;
  return profile === 'domeSlit' ? openSlit(host) : profile === 'mastCam' ? openMast(host) : openLights(host);
}

const noted = (effects: Effect[], at: Date, from: string, command: string, params: Effect['params']): void => {
  effects.push({ at: at.getTime(), from, id: '', command, params });
  if (effects.length > EFFECTS_KEPT) effects.shift();
};

/** Lamps: `/area/<n>/level ,f 0–1` and `/dark`; `/levels` is answered with the level of each area. */
async function openLights({ port, pass, clock }: DoorHost): Promise<Door> {
  const socket = createSocket('udp4');
  const levels = [0.2, 0.2, 0.5, 0];
  const effects: Effect[] = [];
  let malformed = 0;
  const tell = (area: number, toPort: number, to: string): void => {
    const bytes = encodeOsc([{ address: `/area/${area}/level`, args: [{ type: 'f', value: levels[area - 1] ?? 0 }] }]);
    pass('out', `${to}:${toPort}`, hex(bytes), true, () => socket.send(bytes, toPort, to));
  };
  socket.on('message', (bytes, from) => {
    const peer = `${from.address}:${from.port}`;
    pass('in', peer, hex(bytes), true, () => {
      const decoded = decodeOsc(bytes);
      const [message] = decoded.ok ? decoded.value : [];
      const area = Number(/^\/area\/([1-4])\/level$/.exec(message?.address ?? '')?.[1] ?? 0);
      const [level] = message?.values ?? [];
      if (area > 0 && typeof level === 'number' && level >= 0 && level <= 1)
        levels[area - 1] = Math.round(level * 1000) / 1000;
      else if (message?.address === '/dark') levels.fill(0);
      else if (message?.address !== '/levels') malformed += 1;
      if (message && message.address !== '/levels')
        noted(effects, clock.wall(), peer, message.address, { values: message.values });
      if (message) [1, 2, 3, 4].forEach((item) => tell(item, from.port, from.address));
    });
  });
  await new Promise<void>((resolve, reject) => {
    socket.once('error', reject);
    socket.bind(port, LOOPBACK, () => resolve());
  });
  socket.on('error', () => undefined);
  return {
    port: socket.address().port,
    report: () => ({
      points: Object.fromEntries(levels.map((level, index) => [`area${index + 1}`, level])),
      effects,
      malformed,
    }),
    simulate: (what) => `The lamps cannot be made to ${what}.`,
    close: () => socket.close(),
  };
}

/** A door that answers each line with a line. */
async function openLines(
  { port, pass }: DoorHost,
  answerTo: (line: string, peer: string) => string,
  report: Door['report'],
  name: string,
): Promise<Door> {
  const sockets = new Set<Socket>();
  const server = createServer((socket) => {
    sockets.add(socket);
    const peer = `${socket.remoteAddress ?? ''}:${socket.remotePort ?? 0}`;
    let waiting = '';
    socket.setEncoding('utf8');
    socket.on('data', (text: string) => {
      waiting += text;
      const lines = waiting.split('\r\n');
      waiting = (lines.pop() ?? '').slice(-1000);
      for (const line of lines) {
        pass('in', peer, line, false, () => {
          const answer = `${answerTo(line, peer)}\r\n`;
          pass('out', peer, answer.trim(), false, () => socket.write(answer));
        });
      }
    });
    socket.on('error', () => undefined);
    socket.on('close', () => sockets.delete(socket));
  });
  return {
    port: await listenOn(server, port),
    report,
    simulate: (what) => `The ${name} cannot be made to ${what}.`,
    close: () => {
      for (const socket of sockets) socket.destroy();
      server.close();
    },
  };
}

/** Whole travel of the slit, milliseconds. */
const TRAVEL_MS = 4000;

/** The slit's motor: `SLIT <percent>`, `HALT` and `STATE?`, each answered `SLIT=<percent> MOTOR=RUN` or `MOTOR=STAND`; anything else `ERR`. */
function openSlit(host: DoorHost): Promise<Door> {
  const { clock } = host;
  const effects: Effect[] = [];
  let malformed = 0;
  let motion = { from: 0, to: 0, since: clock.now() };
  const openingAt = (now: number): number => {
    const gone = ((now - motion.since) / TRAVEL_MS) * 100;
    return Math.abs(motion.to - motion.from) <= gone
      ? motion.to
      : motion.from + Math.sign(motion.to - motion.from) * gone;
  };
  const answerTo = (line: string, peer: string): string => {
    // One moment for a whole line: a clock that goes on between two readings would halt the slit beside where it stands.
    const now = clock.now();
    const opening = openingAt(now);
    const wanted = /^SLIT (\d{1,3})$/.exec(line)?.[1];
    if (wanted !== undefined && Number(wanted) <= 100) motion = { from: opening, to: Number(wanted), since: now };
    else if (line === 'HALT') motion = { from: opening, to: opening, since: now };
    else if (line !== 'STATE?') {
      malformed += 1;
      return 'ERR';
    }
    if (line !== 'STATE?') noted(effects, clock.wall(), peer, line, {});
    return `SLIT=${Math.round(openingAt(now))} MOTOR=${openingAt(now) === motion.to ? 'STAND' : 'RUN'}`;
  };
  return openLines(
    host,
    answerTo,
    () => {
      const opening = openingAt(clock.now());
      return { points: { opening: Math.round(opening), moving: opening !== motion.to }, effects, malformed };
    },
    'slit',
  );
}

/** From one memory to another, milliseconds. */
const MAST_MS = 1200;

/**
 * The mast: `GO <memory>`, `RUN <x> <y>` until `HALT`, and `WHERE?`, each answered `AT <memory> STAND` or `AT <memory> RUN`; anything else `ERR`.
 * Away from every memory it names 0.
 */
function openMast(host: DoorHost): Promise<Door> {
  const { clock } = host;
  const effects: Effect[] = [];
  let malformed = 0;
  let [memory, arrivesAt, runs] = [0, 0, false];
  const moving = (): boolean => runs || clock.now() < arrivesAt;
  const answerTo = (line: string, peer: string): string => {
    const wanted = /^GO (\d{1,3})$/.exec(line)?.[1];
    if (wanted !== undefined) [memory, arrivesAt, runs] = [Number(wanted), clock.now() + MAST_MS, false];
    else if (/^RUN -?[\d.]+ -?[\d.]+$/.test(line)) [memory, arrivesAt, runs] = [0, 0, true];
    else if (line === 'HALT') {
      if (clock.now() < arrivesAt) memory = 0;
      [arrivesAt, runs] = [0, false];
    } else if (line !== 'WHERE?') {
      malformed += 1;
      return 'ERR';
    }
    if (line !== 'WHERE?') noted(effects, clock.wall(), peer, line, {});
    return `AT ${memory} ${moving() ? 'RUN' : 'STAND'}`;
  };
  return openLines(host, answerTo, () => ({ points: { memory, moving: moving() }, effects, malformed }), 'mast');
}
