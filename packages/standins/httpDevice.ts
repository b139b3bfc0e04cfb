import type { DeviceKind } from '@umbek/core/devices';
import type { Clock } from '@umbek/core/engine';
import type { PlainValue } from '@umbek/core/show';
import { z } from 'zod';
import { seeded } from './faults';
import { ModelDevice } from './modelDevice';
import type { StandinReport } from './port';

const ANSWERS_KEPT = 5000;

export interface HttpAnswer {
  readonly status: number;
  /** JSON, or the bytes of a file. */
  readonly body: string | Buffer;
}

/**
 * A device behind HTTP with JSON, free of sockets:
 * - `GET /state` → `{ device, number, points }`, `GET /alive` → `{ device, number }`
 * - `GET /events`: server-sent events `{ number, point, value }`, numbered without a gap
 * - `POST /commands/<command>` `{ id, …parameters }` → `{ outcome: "done" }` or 409 `{ outcome: "refused", why }`; done once for each id
 */
export class HttpDevice {
  private readonly device: ModelDevice;
  /** By id: the answer, or who waits for it. */
  private readonly answers = new Map<string, HttpAnswer | ((answer: HttpAnswer) => void)[]>();
  private number = 0;

  constructor(
    private readonly kind: DeviceKind,
    settings: Readonly<Record<string, unknown>>,
    clock: Clock,
    private readonly refusing: () => boolean,
    /** One change, as the data of an event; for every stream that is open. */
    onEvent: (data: string) => void,
  ) {
    this.device = new ModelDevice(kind, settings, clock, (changes) => {
      for (const [point, value] of Object.entries(changes))
        onEvent(JSON.stringify({ number: (this.number += 1), point, value }));
    });
  }

  report(): StandinReport {
    return this.device.report();
  }

  simulate(what: string): string | null {
    return this.device.simulate(what);
  }

  /** @param text the body; null when it was too long @param say called once, at once or when the device is done */
  ask(method: string, path: string, text: string | null, peer: string, say: (answer: HttpAnswer) => void): void {
    if (text === null) return say(refusal(413, 'The body is too long.'));
    const { kind, number, device } = this;
    if (method === 'GET' && path === '/alive') return say(json(200, { device: kind.key, number }));
    if (method === 'GET' && path === '/state')
      return say(json(200, { device: kind.key, number, points: device.points }));
    const file = method === 'GET' ? /^\/files\/([^/]+)$/.exec(path)?.[1] : undefined;
    if (file !== undefined) return say(this.file(decodeURIComponent(file)));
    const name = /^\/commands\/([A-Za-z]+)$/.exec(path)?.[1];
    if (method === 'POST' && name !== undefined) return this.command(name, text, peer, say);
    device.malformed += 1;
    say(refusal(404, 'There are /state, /alive, /events and /commands/<command>.'));
  }

  private command(name: string, text: string, peer: string, say: (answer: HttpAnswer) => void): void {
    const definition = this.kind.commands[name];
    if (definition === undefined) return say(refusal(404, `There is no command ${name}.`));
    const parsed = z.looseObject({ id: z.string().min(1).max(200) }).safeParse(parse(text));
    if (!parsed.success) {
      this.device.malformed += 1;
      return say(refusal(400, 'A command is a JSON object with an id.'));
    }
    const { id, ...given } = parsed.data;
    const known = this.answers.get(id);
    if (Array.isArray(known)) return void known.push(say);
    if (known !== undefined) return say(known);
    const params = definition.params.safeParse(given);
    if (!params.success) {
      this.device.malformed += 1;
      return say(refusal(400, z.prettifyError(params.error)));
    }
    if (this.refusing()) return say(refusal(409, 'Refused, as it was told to.'));
    const waiting = [say];
    this.answers.set(id, waiting);
    const oldest = this.answers.keys().next();
    if (this.answers.size > ANSWERS_KEPT && !oldest.done) this.answers.delete(oldest.value);
    this.device.command({ command: name, params: params.data as Record<string, PlainValue> }, peer, id, (reply) => {
      if (reply.event === 'accepted') return;
      const answer = reply.event === 'done' ? json(200, { outcome: 'done' }) : refusal(409, reply.why ?? 'Refused.');
      this.answers.set(id, answer);
      for (const item of waiting) item(answer);
    });
  }

  private file(name: string): HttpAnswer {
    const files = String(this.device.points.files ?? '').split('\n');
    return files.includes(name) ? { status: 200, body: fileBytes(name) } : refusal(404, `There is no file ${name}.`);
  }
}

const json = (status: number, body: object): HttpAnswer => ({ status, body: JSON.stringify(body) });
const refusal = (status: number, why: string): HttpAnswer => json(status, { outcome: 'refused', why });

/** A small file as a recorder would have it: its name, then bytes that only depend on that. */
function fileBytes(name: string): Buffer {
  const chance = seeded([...name].reduce((sum, letter) => sum * 31 + letter.charCodeAt(0), 7) >>> 0);
  return Buffer.concat([
    Buffer.from(`umbek stand-in recording ${name}\n`),
    Buffer.from(Uint8Array.from({ length: 4096 }, () => Math.floor(chance() * 256))),
  ]);
}

function parse(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
