import type * as api from '@umbek/protocol';
import type { Express, Request, Response } from 'express';
import { ulid } from 'ulid';
import { gearRun } from '../access/gearRun';
import type { KeptToken } from '../access/tokenStore';
import { pressOf, TOKEN_LIMITS } from '../access/tokens';
import { GEAR_RANK } from '../access/who';
import type { RouteDependencies } from './dependencies';
import { guarded } from './guarded';
import { refuse } from './respond';
import type { Router } from './router';
import { ROUTES, type RouteSpec } from './table';

/** A link carries its token at the end of its address. */
const IN_ADDRESS = '/{token}';

const AWAY = 'The database does not answer, so tokens can neither be made nor revoked for good.';

const NOT_YET: api.ErrorReply = {
  code: 'database-away',
  message: 'The database does not answer yet, so no token is known.',
  mend: 'Try again in some seconds.',
};

/** Who asked, once it is known. */
const asking = new WeakMap<Request, KeptToken>();

/** Looks at the token of every route that wants one, before anything of the request is read. */
export function wantTokens(app: Express, deps: Pick<RouteDependencies, 'tokens'>): void {
  for (const [key, spec] of Object.entries(ROUTES) as [string, RouteSpec][]) {
    if (spec.token !== true) continue;
    const [, path = ''] = key.split(' ');
    const link = path.endsWith(IN_ADDRESS);
    app.all(path.replace(IN_ADDRESS, '/:token'), (request: Request, response: Response, next) => {
      const [, bearer = ''] = /^Bearer ([\x21-\x7e]+)$/i.exec(request.headers.authorization ?? '') ?? [];
      const token = link ? String(request.params.token ?? '') : bearer;
      // A browser that fetches ahead of its person presses nothing, and a look at the head alone neither.
      const ahead = /prefetch|prerender/i.test(
        `${String(request.headers['sec-purpose'])} ${String(request.headers.purpose)}`,
      );
      if (link && (ahead || request.method !== 'GET'))
        return refuse(
          response,
          {
            code: 'not-pressed',
            message: 'This link was fetched ahead, or only looked at; nothing was pressed.',
            mend: 'Open the link itself.',
          },
          409,
        );
      const found = deps.tokens.find(token, request.socket.remoteAddress ?? '', link ? 'link' : 'bearer');
      switch (found.kind) {
        case 'token':
          asking.set(request, found.token);
          return next();
        case 'not-yet':
          return refuse(response, NOT_YET);
        case 'too-many-runs':
          return refuse(
            response,
            {
              code: 'slow-down',
              message: `More than ${TOKEN_LIMITS.runsASecond} runs a second came with this token. This one was not done.`,
              mend: 'Ask less at a time.',
            },
            429,
          );
        case 'too-many-guesses':
          return refuse(
            response,
            {
              code: 'slow-down',
              message: 'Too many tokens that are not known here came from this address.',
              mend: 'Make a token in the Bench, under Shortcuts.',
            },
            429,
          );
        case 'unknown':
          if (!link) response.setHeader('www-authenticate', 'Bearer');
          return refuse(
            response,
            {
              code: 'unknown-token',
              message: link
                ? 'This link is not known here, or was revoked.'
                : token === ''
                  ? 'This wants a bearer token.'
                  : 'This token is not known here, or was revoked.',
              mend: 'Make a token in the Bench, under Shortcuts.',
            },
            401,
          );
      }
    });
  }
}

/** Runs of other gear, and the tokens by which it may. */
export function addTokenRoutes(router: Router, deps: RouteDependencies): void {
  /** What is kept; asked for now where it was not to be had at the start. */
  const known = async (): Promise<api.TokensReply['tokens'] | null> => {
    if (deps.tokens.list() === null) await deps.tokens.start();
    return deps.tokens.list();
  };
  const list = async (response: Response, status = 200): Promise<void> => {
    const tokens = await known();
    if (tokens === null) return refuse(response, NOT_YET);
    const body: api.TokensReply = { tokens, osc: deps.oscIn.summary() };
    response.status(status).json(body);
  };

  const tokenOf = (request: Request): KeptToken => {
    const token = asking.get(request);
    if (token === undefined) throw new Error('A run came without a token.');
    return token;
  };

  router.on('GET /api/run/{token}', ({ request, response }) => {
    const token = tokenOf(request);
    const [only] = token.may ?? [];
    // Nothing on the way answers for it the next time.
    response.setHeader('cache-control', 'no-store');
    if (only !== undefined) run(token, only, response);
  });

  router.on('POST /api/run', ({ body, request, response }) => run(tokenOf(request), body, response));

  function run(token: KeptToken, body: api.RunBody, response: Response): void {
    const host = deps.host();
    const found = gearRun(token, body, host.engine.program);
    if ('error' in found) return refuse(response, found.error, found.status);
    if ('button' in found && (found.button.dial !== null || found.button.mode === 'hold'))
      return refuse(response, {
        code: 'not-held',
        message: `${found.button.legend} is held or turned by a hand, and a request has none.`,
        mend: 'Run a button that is pressed once, or a macro.',
        path: 'button',
      });
    const press = {
      pressId: body.runKey === undefined ? ulid() : pressOf(token.id, body.runKey),
      buttonId: found.id,
      station: token.name,
      rank: GEAR_RANK,
      ...('params' in body && body.params !== undefined ? { given: body.params } : {}),
    };
    const answer = host.press({ ...press, phase: 'down' });
    // Nobody holds it: what it does at release comes at once.
    host.press({ ...press, phase: 'up' });
    if (answer.accepted) response.status(202).json(answer);
    else refuse(response, answer.error);
  }

  router.on('GET /api/tokens', ({ response }) => list(response));

  router.on('POST /api/tokens', ({ body, response }) =>
    guarded(response, AWAY, async () => {
      const before = await known();
      if (before === null) return refuse(response, NOT_YET);
      if (before.length >= TOKEN_LIMITS.tokens)
        return refuse(response, {
          code: 'too-many-tokens',
          message: `There are ${TOKEN_LIMITS.tokens} tokens already.`,
          mend: 'Revoke one that nothing uses.',
        });
      if (before.some(({ id }) => id === body.id))
        return refuse(
          response,
          {
            code: 'made-already',
            message: 'This token was made already, and is told only once.',
            mend: 'Revoke it and make another one.',
            path: 'id',
          },
          409,
        );
      const token = await deps.tokens.make(body.id, body.name, body.may, body.kind);
      await deps.oscIn.follow();
      const reply: api.NewTokenReply = { token, tokens: deps.tokens.list() ?? [], osc: deps.oscIn.summary() };
      response.setHeader('cache-control', 'no-store');
      response.status(201).json(reply);
    }),
  );

  router.on('DELETE /api/tokens/{id}', ({ path: { id = '' }, response }) =>
    guarded(
      response,
      'The database does not answer. The token is refused from now on, and may be known again after the next start.',
      async () => {
        // At once, also where the database has to be waited for.
        const revoked = deps.tokens.revoke(id);
        deps.oscIn.revoked(id);
        if (await revoked) return list(response);
        refuse(
          response,
          {
            code: 'unknown-id',
            message: `There is no token ${id.slice(0, 60)}.`,
            mend: 'It may have been revoked meanwhile.',
            path: 'id',
          },
          404,
        );
      },
    ),
  );
}
