import { ASKED_AT } from '@umbek/protocol/header';
import express, { type Express } from 'express';
import helmet from 'helmet';
import { badBody } from './badBody';
import type { RouteDependencies } from './dependencies';
import { addDeviceRoutes } from './deviceRoutes';
import { lateness } from './lateness';
import { LIMITS, RequestAllowances } from '../live/limits';
import { openApiDocument } from './openapi';
import { letIn } from './asking';
import { addCrewRoutes } from './crewRoutes';
import { addTriggerRoutes } from './triggerRoutes';
import { addJoinRoutes } from './joinRoutes';
import { roomPages } from './roomPages';
import { servePage } from './page';
import { addPressRoutes } from './pressRoutes';
import { refuse } from './respond';
import { Router } from './router';
import { addRunRoutes } from './runRoutes';
import { addShowRoutes } from './showRoutes';
import { addStationRoutes } from './stationRoutes';
import { addStandinRoutes } from './standinRoutes';
import { addShelfRoutes } from './shelfRoutes';
import { addTokenRoutes, wantTokens } from './tokenRoutes';
import { addVersionRoutes } from './versionRoutes';

/** A link is its own key: it stands in no log. */
const LINK = /^(\/api\/run\/).*$/;

/** The HTTP API. Every body is checked by its schema; every error carries a message, a mend and, where there is one, a path. */
export function makeApp(deps: RouteDependencies): Express {
  const app = express();
  app.disable('x-powered-by');
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          'script-src': ["'self'", "'unsafe-inline'"],
          'connect-src': ["'self'", 'ws:', 'wss:'],
          'upgrade-insecure-requests': null,
        },
      },
      strictTransportSecurity: false,
    }),
  );
  app.use('/api', (request, response, next) => {
    const began = performance.now();
    response.once('finish', () => {
      const { method, originalUrl } = request;
      const ms = Math.round((performance.now() - began) * 10) / 10;
      const level = response.statusCode >= 500 ? 'error' : 'debug';
      deps.log?.[level](
        { method, path: originalUrl.replace(LINK, '$1…').slice(0, 200), status: response.statusCode, ms },
        'request',
      );
    });
    next();
  });
  // Before anything is read of it: a page of another origin causes no work, by whatever method.
  app.use('/api', (request, response, next) => {
    if (deps.hostAllowed(request)) return next();
    refuse(response, {
      code: 'foreign-origin',
      message: 'This request comes from a page of another origin.',
      mend: 'Open Umbek at its own address.',
    });
  });
  // One client that asks without end leaves the engine's thread to the others.
  let requests: RequestAllowances | null = null;
  app.use('/api', (request, response, next) => {
    requests ??= new RequestAllowances(deps.host().clock);
    if (requests.allow(request.socket.remoteAddress ?? '')) return next();
    refuse(
      response,
      {
        code: 'slow-down',
        message: `More than ${LIMITS.requestsASecond} requests a second came from this address.`,
        mend: 'Ask less at a time; what came too much was not done.',
      },
      429,
    );
  });
  // A deed carries the moment at which it was asked for: what a network that had died lets through later is not done.
  app.use('/api', (request, response, next) => {
    const asked = request.method === 'GET' ? undefined : request.headers[ASKED_AT];
    const late = asked === undefined ? null : lateness(String(asked), deps.host());
    if (late === null) return next();
    refuse(response, late);
  });
  wantTokens(app, deps);
  const router = new Router(app, deps.doors, (where, error) => deps.host().trouble(where, error));
  addPressRoutes(router, deps);
  addDeviceRoutes(router, deps);
  addRunRoutes(router, deps);
  addShowRoutes(router, deps);
  addVersionRoutes(router, deps);
  addShelfRoutes(router, deps);
  addStandinRoutes(router, deps);
  addTokenRoutes(router, deps);
  addJoinRoutes(router, deps);
  addCrewRoutes(router, deps);
  addTriggerRoutes(router, deps);
  addStationRoutes(router, deps);
  let document: object | null = null;
  router.on('GET /api/openapi.json', ({ response }) => response.json((document ??= openApiDocument(deps.version))));
  router.whole();

  app.use('/api', letIn({}, deps.doors), (request, response) =>
    refuse(
      response,
      {
        code: 'not-found',
        message: `There is nothing at ${request.method} ${request.originalUrl.slice(0, 200)}.`,
        mend: 'See /api/openapi.json for what there is.',
      },
      404,
    ),
  );
  roomPages(app, deps);
  if (deps.page !== null) servePage(app, deps.page);
  app.use(badBody);
  return app;
}
