import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Health, LiveClientMessage } from '@umbek/protocol';
import WebSocket from 'ws';
import { z } from 'zod';
import { freshDatabase } from '../../../e2e/support/database';
import { Chance } from '../../../simulate/chance';
import { NOTHING_LEFT } from '../journal/fold';
import { type RunningServer, serve } from '../serve';
import { ROUTES, type RouteSpec } from './table';

const ROUNDS = Number(process.env.UMBEK_FUZZ_ROUNDS ?? 30);

/** JSON texts: some of them no value of JavaScript writes by itself. */
const NASTY: readonly string[] = [
  '"__proto__"',
  '"constructor"',
  '"toString"',
  '"hasOwnProperty"',
  '{"__proto__":{"polluted":1}}',
  '{"constructor":{"prototype":{"polluted":1}}}',
  'null',
  'true',
  '-1',
  '1e308',
  '-1e308',
  '1e999',
  '0.1',
  '9007199254740993',
  '""',
  '"\\u0000"',
  '"NaN"',
  '[]',
  '{}',
  JSON.stringify('x'.repeat(20_000)),
  '['.repeat(400) + ']'.repeat(400),
  '{"a":'.repeat(400) + '1' + '}'.repeat(400),
  JSON.stringify('a ? '.repeat(2000)),
];

type Shape = Readonly<Record<string, unknown>>;
const shapes = (value: unknown): Shape[] => (Array.isArray(value) ? (value as Shape[]) : []);

/** A text of roughly the shape that a schema asks for, spoiled in places. */
class Spoiler {
  private readonly defs: Readonly<Record<string, Shape>>;

  constructor(
    private readonly chance: Chance,
    private readonly schema: Shape,
  ) {
    this.defs = (schema.$defs ?? {}) as Record<string, Shape>;
  }

  text(): string {
    return this.of(this.schema, 0);
  }

  private of(shape: Shape, depth: number): string {
    if (this.chance.whole(0, 7) === 0) return this.chance.pick(NASTY);
    if (depth > 8) return 'null';
    if (typeof shape.$ref === 'string') return this.of(this.defs[shape.$ref.split('/').at(-1) ?? ''] ?? {}, depth + 1);
    if ('const' in shape) return JSON.stringify(shape.const);
    if (Array.isArray(shape.enum)) return JSON.stringify(this.chance.pick(shape.enum as unknown[]));
    const options = [...shapes(shape.anyOf), ...shapes(shape.oneOf)];
    if (options.length > 0) return this.of(this.chance.pick(options), depth + 1);
    switch (shape.type) {
      case 'object':
        return this.object(shape, depth);
      case 'array':
        return `[${Array.from({ length: this.chance.whole(0, 3) }, () => this.of((shape.items ?? {}) as Shape, depth + 1)).join(',')}]`;
      case 'string':
        return JSON.stringify(
          this.chance.pick(['deskCam', 'switcher', 'main', 'recall', 'inesClose', '01J0C0RVANEH1PRESS00000001', 'a']),
        );
      case 'boolean':
        return this.chance.pick(['true', 'false']);
      default:
        return this.chance.pick(['0', '1', '2', '1000']);
    }
  }

  private object(shape: Shape, depth: number): string {
    const parts: string[] = [];
    for (const [name, inner] of Object.entries((shape.properties ?? {}) as Record<string, Shape>))
      if (this.chance.whole(0, 5) > 0) parts.push(`${JSON.stringify(name)}:${this.of(inner, depth + 1)}`);
    if (typeof shape.additionalProperties === 'object' || this.chance.whole(0, 9) === 0)
      parts.push(`${this.chance.pick(['"__proto__"', '"constructor"', '"a"'])}:${this.chance.pick(NASTY)}`);
    return `{${parts.join(',')}}`;
  }
}

const asShape = (schema: z.ZodType): Shape =>
  z.toJSONSchema(schema, { io: 'input', unrepresentable: 'any' }) as unknown as Shape;

describe('what comes in over the API and the live socket, spoiled along its own schemas', () => {
  let server: RunningServer;
  const url = () => `http://127.0.0.1:${server.port}`;

  beforeAll(async () => {
    server = await serve(
      {
        port: 0,
        folder: mkdtempSync(join(tmpdir(), 'umbek-fuzz-')),
        databaseUrl: await freshDatabase(),
        migrations: 'apps/server/database/migrations',
        helper: join(process.cwd(), 'dist/helper.mjs'),
      },
      { epoch: 1, left: NOTHING_LEFT, sink: { write: () => undefined }, guard: () => undefined },
    );
  }, 60_000);
  afterAll(() => server.close(), 60_000);

  const health = async (): Promise<Health> => (await fetch(`${url()}/api/health`)).json() as Promise<Health>;
  const works = async (): Promise<void> => {
    expect((await health()).troubles).toEqual([]);
    expect(({} as Record<string, unknown>).polluted).toBeUndefined();
  };

  it.each(Object.entries(ROUTES as Readonly<Record<string, RouteSpec>>).map(([key, spec]) => [key, spec] as const))(
    '%s answers in words and fails nothing else',
    async (key, spec) => {
      const chance = new Chance([...key].reduce((sum, letter) => (sum * 31 + letter.charCodeAt(0)) % 1e9, 7));
      const [method = 'GET', path = ''] = key.split(' ');
      const body = spec.body === undefined ? null : new Spoiler(chance, asShape(spec.body));
      for (let round = 0; round < ROUNDS; round += 1) {
        const at = path.replace(/\{\w+\}/g, () =>
          encodeURIComponent(
            chance.pick(['__proto__', 'constructor', 'deskCam', '../..', 'a\u0000', 'x'.repeat(3000)]),
          ),
        );
        const query = Object.keys(spec.query?.shape ?? {})
          .map(
            (name) =>
              `${name}=${encodeURIComponent(chance.pick(['__proto__', '1', '-1', '1e308', 'NaN', 'true', '', 'a\u0000', '{"a":1}']))}`,
          )
          .join('&');
        const response = await fetch(`${url()}${at}${query === '' ? '' : `?${query}`}`, {
          method,
          ...(method === 'POST'
            ? { headers: { 'content-type': 'application/json' }, body: body?.text() ?? chance.pick(NASTY) }
            : {}),
        });
        const said = await response.text();
        expect([key, response.status, response.status < 500 ? '' : said]).toEqual([key, response.status, '']);
      }
      await works();
    },
    60_000,
  );

  it('live messages are answered in words, and the socket stays open or says why', async () => {
    const spoiler = new Spoiler(new Chance(11), asShape(LiveClientMessage));
    for (let page = 0; page < 5; page += 1) {
      const socket = new WebSocket(`ws://127.0.0.1:${server.port}/api/live`);
      await new Promise((opened) => socket.once('open', opened));
      socket.send('{"type":"hello","station":"desk","linkGroup":"main"}');
      for (let count = 0; count < ROUNDS; count += 1) socket.send(spoiler.text());
      await new Promise((next) => setTimeout(next, 100));
      socket.terminate();
    }
    await works();
  }, 60_000);
});
