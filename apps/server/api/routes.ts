import { performance } from 'node:perf_hooks';
import * as api from '@umbek/protocol';
import { DEVICE_KINDS } from '@umbek/core/devices';
import { compileProgram, OLDEST_PRESS_MS } from '@umbek/core/engine';
import { compare } from '@umbek/core/rehearse';
import type { Macro } from '@umbek/core/show';
import express, { type ErrorRequestHandler, type Express } from 'express';
import helmet from 'helmet';
import { ulid } from 'ulid';
import { z } from 'zod';
import { lineWords } from './lineWords';
import type { RouteDependencies } from './dependencies';
import { openApiDocument } from './openapi';
import { servePage } from './page';
import { refuse } from './respond';
import { Router } from './router';
import { addShowRoutes } from './showRoutes';
import { addStandinRoutes } from './standinRoutes';
import { addVersionRoutes } from './versionRoutes';

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
  // Before anything is read of it: a page of another origin causes no work, by whatever method.
  app.use('/api', (request, response, next) => {
    if (deps.hostAllowed(request)) return next();
    refuse(response, {
      code: 'foreign-origin',
      message: 'This request comes from a page of another origin.',
      mend: 'Open Umbek at its own address.',
    });
  });
  // A deed carries the moment at which it was asked for: what a network that had died lets through later is not done.
  app.use('/api', (request, response, next) => {
    const asked = request.method === 'GET' ? undefined : request.headers[api.ASKED_AT];
    const late = asked === undefined ? null : lateness(String(asked), deps.host());
    if (late === null) return next();
    refuse(response, late);
  });
  const router = new Router(app, (where, error) => deps.host().trouble(where, error));
  addPressRoutes(router, deps);
  addDeviceRoutes(router, deps);
  addRunRoutes(router, deps);
  addShowRoutes(router, deps);
  addVersionRoutes(router, deps);
  addStandinRoutes(router, deps);
  let document: object | null = null;
  router.on('GET /api/openapi.json', ({ response }) => response.json((document ??= openApiDocument(deps.version))));
  router.whole();

  app.use('/api', (request, response) =>
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
  if (deps.page !== null) servePage(app, deps.page);
  app.use(badBody);
  return app;
}

/** Why a deed comes too late to be done; null when it does not. @param asked `epoch:milliseconds` of the engine's clock */
function lateness(asked: string, host: ReturnType<RouteDependencies['host']>): api.ErrorReply | null {
  const [epoch, at = NaN] = asked.split(':').map(Number);
  const mend = 'Look at what is on air, then ask again.';
  if (epoch !== host.journal.epoch || !Number.isFinite(at))
    return { code: 'too-old', message: 'The engine was started again meanwhile, so nothing was done.', mend };
  const age = host.clock.now() - at;
  if (age <= OLDEST_PRESS_MS) return null;
  return { code: 'too-old', message: `This came ${Math.round(age / 100) / 10} s late, so nothing was done.`, mend };
}

function addPressRoutes(router: Router, deps: RouteDependencies): void {
  router.on('GET /api/health', ({ response }) => {
    const host = deps.host();
    const { devices, engine, journal } = host;
    const { show } = engine.program.document;
    const states = devices.health();
    const well =
      !deps.projection.away && host.disk.trouble === null && states.every((device) => device.state === 'reached');
    const body: api.Health = {
      status: well ? 'ok' : 'degraded',
      version: deps.version,
      show: { id: show.id, name: show.name },
      database: deps.projection.away ? 'away' : 'reached',
      epoch: journal.epoch,
      disk: { ...host.disk, trouble: host.disk.trouble ?? deps.keeper.copyTrouble },
      troubles: host.allTroubles(),
      live: { pages: host.live.connectionCount, groups: host.live.roomCount },
      busyMs: Math.round(performance.eventLoopUtilization().active * 10) / 10,
      devices: states,
    };
    response.json(body);
  });

  const answered = (
    response: Parameters<typeof refuse>[0],
    answer: ReturnType<ReturnType<RouteDependencies['host']>['press']>,
  ): void => {
    if (answer.accepted) response.status(202).json(answer);
    else refuse(response, answer.error);
  };

  router.on('POST /api/press', ({ body: { person, linkGroup, at, ...press }, response }) =>
    answered(
      response,
      deps.host().press({
        ...press,
        ...(person === undefined ? {} : { person }),
        ...(linkGroup === undefined ? {} : { linkGroup }),
        // The touch came so long ago, whatever the time of day is.
        ...(at === undefined ? {} : { at: deps.host().clock.now() - (deps.host().clock.wall().getTime() - at) }),
      }),
    ),
  );

  router.on('POST /api/send', ({ body: { device, command, params, person, ...press }, response }) =>
    answered(
      response,
      deps.host().press({
        ...press,
        buttonId: `${device}.${command}`,
        direct: { device, command, params },
        ...(person === undefined ? {} : { person }),
      }),
    ),
  );

  router.on('POST /api/try', ({ body: { stepId, person, ...press }, response }) =>
    answered(response, deps.host().press({ ...press, only: stepId, ...(person === undefined ? {} : { person }) })),
  );

  router.on('GET /api/panels', ({ response }) => {
    const { panels, strips, buttons } = deps.host().engine.program.document;
    const body: api.PanelsReply = {
      panels: panels.map(({ id, name }) => ({
        id,
        name,
        strips: strips
          .filter((strip) => strip.panelId === id)
          .map((strip) => ({
            id: strip.id,
            name: strip.name,
            family: strip.family,
            buttons: buttons
              .filter((button) => button.stripId === strip.id)
              .map((button) => ({ id: button.id, legend: button.legend, note: button.note, mode: button.mode })),
          })),
      })),
    };
    response.json(body);
  });
}

function addDeviceRoutes(router: Router, deps: RouteDependencies): void {
  const unknown = (key: string, what = 'device'): api.ErrorReply => ({
    code: 'unknown-device',
    message: `There is no ${what} ${key.slice(0, 60)}.`,
    mend: 'Choose one of the show.',
    path: 'key',
  });

  router.on('GET /api/devices/{key}/messages', ({ path: { key = '' }, query, response }) => {
    const messages = deps.host().devices.messages(key, query.heartbeats === 'true');
    if (messages === undefined) return refuse(response, unknown(key));
    response.json({ messages });
  });

  router.on('GET /api/devices/{key}/points', ({ path: { key = '' }, response }) => {
    const { engine } = deps.host();
    if (!engine.program.devices.has(key)) return refuse(response, unknown(key));
    const prefix = `${key}.`;
    response.json({
      points: Object.fromEntries(
        [...engine.board.entries()].flatMap(([name, value]) =>
          name.startsWith(prefix) ? [[name.slice(prefix.length), value]] : [],
        ),
      ),
    });
  });

  router.on('GET /api/devices/{key}/travel', ({ path: { key = '' }, response }) => {
    const { engine, travels } = deps.host();
    const device = engine.program.devices.get(key);
    if (device?.kind !== 'ptzHead') return refuse(response, unknown(key, 'head'));
    response.json(travels.report(device));
  });

  router.on('POST /api/devices/{key}/travel/forget', async ({ path: { key = '' }, response }) => {
    try {
      await deps.host().travels.forget(key);
      response.json({});
    } catch {
      refuse(response, {
        code: 'database-away',
        message: 'The database does not answer, so the measurements were not deleted.',
        mend: 'Try again when it is back.',
      });
    }
  });

  const kinds = Object.fromEntries(
    Object.values(DEVICE_KINDS).map((kind) => [
      kind.key,
      {
        words: kind.words,
        protocol: kind.protocol,
        settings: z.toJSONSchema(kind.settings, { io: 'input' }),
        points: kind.points,
        commands: Object.fromEntries(
          Object.entries(kind.commands).map(([key, command]) => [
            key,
            {
              words: command.words,
              seenOnAir: command.seenOnAir,
              params: z.toJSONSchema(command.params, { io: 'input' }),
            },
          ]),
        ),
      },
    ]),
  );
  router.on('GET /api/kinds', ({ response }) => response.json(kinds));
}

function addRunRoutes(router: Router, deps: RouteDependencies): void {
  const over: api.ErrorReply = {
    code: 'unknown-run',
    message: 'This run is over.',
    mend: 'Nothing is left to stop.',
    path: 'runId',
  };
  const helperAway: api.ErrorReply = {
    code: 'helper-away',
    message: 'The rehearsal could not be worked out. The show goes on.',
    mend: 'Try again in a moment.',
  };

  router.on('POST /api/rehearse', async ({ body, response }) => {
    const { linkGroup } = body;
    const what =
      'buttonId' in body
        ? { buttonId: body.buttonId, holdMs: body.holdMs ?? 1000 }
        : { macroId: body.macroId, params: body.params ?? {} };
    const timeline = await deps.helper
      .ask('rehearse', { what, ...(linkGroup === undefined ? {} : { linkGroup }) })
      .catch(() => null);
    if (timeline === null) return refuse(response, helperAway, 503);
    if (!timeline.ok) return refuse(response, timeline.error);
    const { entries, durationMs, cutOff } = timeline.value;
    response.json({ entries, durationMs, cutOff });
  });

  router.on('GET /api/as-run', async ({ query, response }) => {
    const entries = await latest(deps).then(() => deps.projection.read(query.after, query.limit));
    response.json({ entries, next: entries.at(-1)?.seq ?? query.after });
  });

  router.on('GET /api/log', async ({ query: { before, device, kind, person, limit }, response }) => {
    const filter = {
      ...(before === undefined ? {} : { before }),
      ...(device === undefined ? {} : { device }),
      ...(person === undefined ? {} : { person }),
      ...(kind === undefined ? {} : { kinds: kind.split(',') }),
    };
    const entries = await latest(deps).then(() => deps.projection.readLatest(filter, limit));
    response.json({ entries, next: entries.at(-1)?.seq ?? 0 });
  });

  router.on('GET /api/runs', ({ response }) => {
    const runs = deps.host().engine.runner.list();
    response.json({ runs: runs.map(({ runId, name, step, stopping }) => ({ runId, name, step, stopping })) });
  });

  router.on('GET /api/runs/{runId}', async ({ path: { runId = '' }, response }) => {
    const host = deps.host();
    const real = await latest(deps).then(() => deps.projection.readRun(runId));
    const start = real.find((entry) => entry.kind === 'runStart');
    if (!start)
      return refuse(response, {
        code: 'unknown-run',
        message: `There was no run ${runId.slice(0, 60)}.`,
        mend: 'Choose one from the log.',
        path: 'runId',
      });
    // Only the last 200 runs of buttons since the engine began are held against a rehearsal; of others the real times are told.
    const predicted = await deps.helper.ask('compare', { runId, real }).catch(() => null);
    const comparison = predicted ?? compare([], real);
    const lines = comparison.lines.map((line) => ({ ...line, words: lineWords(line.what, host.engine.program) }));
    response.json({ runId, name: start.name, ...comparison, rehearsed: predicted !== null, lines });
  });

  router.on('POST /api/steps/run', ({ body, response }) => {
    const { engine } = deps.host();
    const { document, revision } = engine.program;
    const number = Math.max(0, ...document.macros.map((macro) => macro.number)) + 1;
    // Compiled as one macro more, so that they are checked like any other.
    const macro: Macro = {
      id: ulid(),
      number,
      name: body.name,
      params: [],
      steps: body.steps,
      stopSteps: [],
      again: 'startOver',
      owns: body.owns,
    };
    const program = compileProgram({ ...document, macros: [...document.macros, macro] }, revision, engine.program);
    const started = engine.runSteps(program, macro, { kind: 'station', id: body.station });
    if (!started.ok) return refuse(response, started.error);
    response.status(202).json({ accepted: true, runId: started.value });
  });

  router.on('POST /api/runs/{runId}/stop', ({ path: { runId = '' }, body, response }) => {
    const { engine } = deps.host();
    if (!engine.runner.has(runId)) return refuse(response, over);
    engine.board.turn(() => engine.runner.stop(runId, `Stopped by ${body.station}.`));
    response.status(202).json({});
  });

  router.on('POST /api/runs/{runId}/answer', ({ path: { runId = '' }, body, response }) => {
    const { engine } = deps.host();
    const taken = engine.board.turn(() => engine.runner.answer(runId, body.askId, body.answer));
    if (!taken) return refuse(response, { ...over, message: 'This question is over.', mend: 'Nothing is asked now.' });
    response.status(202).json({});
  });

  router.on('GET /api/stop-all', ({ response }) => response.json(deps.host().engine.stopAhead()));
  router.on('POST /api/stop-all', ({ body, response }) => response.json(deps.host().engine.stopAll(body.station)));
}

/** What was just told is in the log that is shown now. */
async function latest(deps: RouteDependencies): Promise<void> {
  const { journal } = deps.host();
  journal.flush();
  await deps.projection.upTo(journal.lastSeq);
}

/** What the JSON reader throws, as an error of ours. */
const badBody: ErrorRequestHandler = (
  error: { type?: string; status?: number; message?: string },
  _request,
  response,
  next,
) => {
  if (response.headersSent) return next(error);
  if (error.type === 'entity.too.large')
    return refuse(
      response,
      {
        code: 'too-large',
        message: 'The body is too large: over 1 MB, or 20 MB for a show file.',
        mend: 'Send less at a time.',
        path: '',
      },
      413,
    );
  if (error.type === 'entity.parse.failed')
    return refuse(
      response,
      { code: 'bad-json', message: 'This is not JSON.', mend: 'Send one JSON object.', path: '' },
      400,
    );
  if (error.type === 'nul')
    return refuse(
      response,
      { code: 'bad-field', message: 'A text holds the character NUL.', mend: 'Leave it out.', path: '' },
      400,
    );
  const status = error.status !== undefined && error.status >= 400 && error.status < 500 ? error.status : 500;
  refuse(
    response,
    {
      code: status === 500 ? 'internal' : 'bad-request',
      message: status === 500 ? 'The request failed inside Umbek.' : (error.message ?? 'The request failed.'),
      mend: status === 500 ? 'Try again; if it stays, report it with the time of day.' : 'Correct the request.',
    },
    status,
  );
};
