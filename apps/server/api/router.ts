import express, { type Express, type Request, type Response } from 'express';
import type { z } from 'zod';
import type { Doors } from '../access/doors';
import type { Who } from '../access/who';
import { letIn, named, whoAsks } from './asking';
import { checked, refuse } from './respond';
import { type RouteKey, ROUTES, type RouteSpec } from './table';

type BodyOf<Key extends RouteKey> = (typeof ROUTES)[Key] extends { body: infer Body extends z.ZodType }
  ? z.infer<Body>
  : undefined;
type QueryOf<Key extends RouteKey> = (typeof ROUTES)[Key] extends { query: infer Query extends z.ZodType }
  ? z.infer<Query>
  : undefined;

/** What a handler is given: everything that came in, checked. */
export interface Asked<Key extends RouteKey> {
  readonly body: BodyOf<Key>;
  readonly query: QueryOf<Key>;
  readonly path: Readonly<Record<string, string>>;
  readonly who: Who;
  readonly request: Request;
  readonly response: Response;
}
export type Handler<Key extends RouteKey> = (asked: Asked<Key>) => unknown;

const USUAL = '1mb';
/** No key or id of ours is longer, and none holds what PostgreSQL cannot store. */
const LONGEST_PART = 200;
// eslint-disable-next-line no-control-regex
const CONTROL = /[\u0000-\u001f\u007f]/;

/**
 * PostgreSQL stores no NUL: a text with one is refused where it comes in, not told as a database that is away. Looked for in the bytes, where
 * it can only stand as an escape (RFC 8259, section 7): going through a parsed body would follow its nesting, however deep that is.
 */
function withoutNul(_request: unknown, _response: unknown, body: Buffer): void {
  for (let at = body.indexOf(NUL); at >= 0; at = body.indexOf(NUL, at + NUL.length)) {
    let slashes = 0;
    while (at - slashes > 0 && body[at - slashes - 1] === BACKSLASH) slashes += 1;
    // An escaped backslash and the letters u0000 are no NUL.
    if (slashes % 2 === 0)
      throw Object.assign(new Error('A text holds the character NUL.'), { type: 'nul', status: 400 });
  }
}
const NUL = Buffer.from('\\u0000');
const BACKSLASH = 0x5c;

/** Makes routes of the table: bodies and queries are checked before a handler sees them, and what a handler throws fails that one request. */
export class Router {
  private readonly made = new Set<string>();
  private readonly readers = new Map<string, ReturnType<typeof express.json>>();

  constructor(
    private readonly app: Express,
    private readonly doors: Doors,
    private readonly onTrouble: (where: string, error: unknown) => void,
  ) {}

  on<Key extends RouteKey>(key: Key, handle: Handler<Key>): void {
    this.made.add(key);
    const spec: RouteSpec = ROUTES[key];
    const [method = '', path = ''] = key.split(' ');
    const read = this.reader(spec.largest ?? USUAL);
    const serve = async (request: Request, response: Response): Promise<void> => {
      try {
        const parts = Object.fromEntries(Object.entries(request.params).map(([name, part]) => [name, String(part)]));
        const odd = Object.keys(parts).find(
          (name) => (parts[name]?.length ?? 0) > LONGEST_PART || CONTROL.test(parts[name] ?? ''),
        );
        if (odd !== undefined)
          return refuse(
            response,
            {
              code: 'not-found',
              message: 'Nothing has this name.',
              mend: 'Take a name from the lists of the API.',
              path: odd,
            },
            404,
          );
        const body =
          spec.body === undefined || spec.raw === true ? undefined : checked(spec.body, request.body, response);
        if (spec.body !== undefined && spec.raw !== true && body === undefined) return;
        const nul = Object.entries(request.query).find(([, value]) => String(value).includes('\0'));
        if (nul !== undefined)
          return refuse(
            response,
            { code: 'bad-field', message: 'A text holds the character NUL.', mend: 'Leave it out.', path: nul[0] },
            400,
          );
        const query = spec.query === undefined ? undefined : checked(spec.query, request.query, response);
        if (spec.query !== undefined && query === undefined) return;
        const who = whoAsks(request);
        await handle({ body: named(body, who), query, who, path: parts, request, response } as Asked<Key>);
      } catch (error) {
        this.onTrouble(key, error);
        if (response.headersSent) return void response.end();
        refuse(
          response,
          {
            code: 'internal',
            message: 'The request failed inside Umbek.',
            mend: 'Try again; if it stays, report it with the time of day.',
          },
          500,
        );
      }
    };
    const at = path.replace(/\{(\w+)\}/g, ':$1');
    const allow = letIn(spec, this.doors);
    if (method === 'GET') this.app.get(at, allow, serve);
    else if (method === 'DELETE') this.app.delete(at, allow, serve);
    else this.app.post(at, allow, read, serve);
  }

  /** @throws when a route of the table has no handler: the document must not promise what is not there */
  whole(): void {
    const missing = Object.keys(ROUTES).filter((key) => !this.made.has(key));
    if (missing.length > 0) throw new Error(`No handler for ${missing.join(', ')}.`);
  }

  private reader(largest: string): ReturnType<typeof express.json> {
    let reader = this.readers.get(largest);
    if (reader === undefined)
      this.readers.set(
        largest,
        (reader = express.json({ limit: largest, strict: true, type: () => true, verify: withoutNul })),
      );
    return reader;
  }
}
