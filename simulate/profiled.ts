import type { Effect, HttpDevice } from '@umbek/standins';
import { decodeOsc, encodeOsc } from '@umbek/wire/osc';
import type { SimClock } from './processes';

/** A device as the simulated net reaches it. */
export interface Inner {
  /** A datagram for it. */
  datagram?(bytes: Uint8Array, from: string): void;
  connect?(peer: string, send: (bytes: Uint8Array) => void): { receive(bytes: Uint8Array): void; closed(): void };
  ask?: HttpDevice['ask'];
  report(): { points: Readonly<Record<string, unknown>>; effects: readonly Effect[] };
  /** Something happens at it that no command makes. */
  simulate?(what: string): string | null;
}

/** From being sent to a memory to standing there, of the head that a profile describes. */
const MAST_GOES_MS = 1500;

/** The wires of devices that a profile describes. */
export const OF_PROFILE: Readonly<Record<string, 'slit' | 'mast'>> = { domeSlit: 'slit', mastCam: 'mast' };

/** The sample profile's lamps: plain OSC without any answer but the levels. */
export function lights(send: (bytes: Uint8Array, to: string) => void): Inner {
  const levels = [0.2, 0.2, 0.5, 0];
  return {
    datagram: (bytes, from) => {
      const decoded = decodeOsc(bytes);
      const [message] = decoded.ok ? decoded.value : [];
      const area = Number(/^\/area\/([1-4])\/level$/.exec(message?.address ?? '')?.[1] ?? 0);
      const [level] = message?.values ?? [];
      if (area > 0 && typeof level === 'number') levels[area - 1] = level;
      if (message?.address === '/dark') levels.fill(0);
      levels.forEach((value, index) =>
        send(encodeOsc([{ address: `/area/${index + 1}/level`, args: [{ type: 'f', value }] }]), from),
      );
    },
    report: () => ({ points: {}, effects: [] }),
  };
}

/** A device that takes lines of text, and answers each with one or with none. */
const lines =
  (answer: (line: string) => string | null): NonNullable<Inner['connect']> =>
  (_peer, send) => {
    let waiting = '';
    return {
      receive: (bytes) => {
        waiting += Buffer.from(bytes).toString('latin1');
        const complete = waiting.split('\r\n');
        waiting = complete.pop() ?? '';
        for (const line of complete) {
          const said = answer(line);
          if (said !== null) send(Buffer.from(`${said}\r\n`));
        }
      },
      closed: () => undefined,
    };
  };

/** The sample profile's motor: lines of text over TCP. */
export function slit(): Inner {
  let opening = 0;
  return {
    connect: lines((line) => {
      const wanted = /^SLIT (\d{1,3})$/.exec(line)?.[1];
      if (wanted !== undefined) opening = Number(wanted);
      return `SLIT=${opening} MOTOR=STAND`;
    }),
    report: () => ({ points: {}, effects: [] }),
  };
}

/** The sample profile's head: it runs until it is halted, whoever is connected, and numbers nothing. */
export function mast(clock: SimClock): Inner {
  const effects: Effect[] = [];
  let running = false;
  let memory = 0;
  let goesUntil = -Infinity;
  const did = (command: string, params: Effect['params']): void =>
    void effects.push({ id: `m${effects.length}`, at: clock.now(), from: '', command, params });
  const moves = (): boolean => running || clock.now() < goesUntil;
  return {
    connect: lines((line) => {
      const [, x, y] = /^RUN (-?[\d.]+) (-?[\d.]+)$/.exec(line) ?? [];
      const number = /^GO (\d+)$/.exec(line)?.[1];
      if (x !== undefined && y !== undefined) {
        running = Number(x) !== 0 || Number(y) !== 0;
        goesUntil = -Infinity;
        did('drive', { pan: Number(x), tilt: Number(y) });
      } else if (number !== undefined) {
        [running, memory, goesUntil] = [false, Number(number), clock.now() + MAST_GOES_MS];
        did('recall', { number: memory });
      } else if (line === 'HALT') {
        [running, goesUntil] = [false, -Infinity];
        did('cancel', {});
      }
      return line === 'WHERE?' ? `AT ${memory} ${moves() ? 'RUN' : 'STAND'}` : null;
    }),
    report: () => ({ points: { travelling: moves() }, effects }),
  };
}
