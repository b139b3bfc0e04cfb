import * as api from '@umbek/core/api';
import { DEVICE_KINDS } from '@umbek/core/devices';
import { compileProgram } from '@umbek/core/engine';
import { compare, rehearse } from '@umbek/core/rehearse';
import express, { type ErrorRequestHandler, type Express } from 'express';
import helmet from 'helmet';
import { ulid } from 'ulid';
import { z } from 'zod';
import { openApiDocument } from './openapi';
import { servePage } from './page';
import type { RouteDependencies } from './dependencies';
import { checked, refuse, refuseAll } from './respond';
import { addStandinRoutes } from './standinRoutes';
import { addImportRoute, addShowRoutes } from './showRoutes';
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
  app.use('/api', (request, response, next) => {
    if (deps.hostAllowed(request)) return next();
    refuse(response, {
      code: 'foreign-origin',
      message: 'This request comes from a page of another origin.',
      mend: 'Open Umbek at its own address.',
    });
  });
  addImportRoute(app, deps);
  app.use('/api', express.json({ limit: '1mb', strict: true, type: () => true }));

  app.get('/api/health', (_request, response) => {
    const { devices, engine, journal } = deps.host();
    const { show } = engine.program.document;
    const states = devices.health();
    const body: api.Health = {
      status: deps.projection.away || states.some((device) => device.state !== 'reached') ? 'degraded' : 'ok',
      version: deps.version,
      show: { id: show.id, name: show.name },
      database: deps.projection.away ? 'away' : 'reached',
      epoch: journal.epoch,
      devices: states,
    };
    response.json(body);
  });

  app.post('/api/press', (request, response) => {
    const body = checked(api.PressBody, request.body, response);
    if (!body) return;
    const { person, linkGroup, at, ...press } = body;
    const answer = deps.host().press({
      ...press,
      ...(person === undefined ? {} : { person }),
      ...(linkGroup === undefined ? {} : { linkGroup }),
      ...(at === undefined ? {} : { at }),
    });
    if (answer.accepted) response.status(202).json(answer);
    else refuse(response, answer.error);
  });

  app.post('/api/send', (request, response) => {
    const body = checked(api.SendBody, request.body, response);
    if (!body) return;
    const { device, command, params, person, ...press } = body;
    const answer = deps.host().press({
      ...press,
      buttonId: `${device}.${command}`,
      direct: { device, command, params },
      ...(person === undefined ? {} : { person }),
    });
    if (answer.accepted) response.status(202).json(answer);
    else refuse(response, answer.error);
  });

  app.post('/api/try', (request, response) => {
    const body = checked(api.TryBody, request.body, response);
    if (!body) return;
    const { stepId, person, ...press } = body;
    const answer = deps
      .host()
      .press({ ...press, phase: 'down', only: stepId, ...(person === undefined ? {} : { person }) });
    if (answer.accepted) response.status(202).json(answer);
    else refuse(response, answer.error);
  });

  app.get('/api/devices/:key/messages', (request, response) => {
    const messages = deps.host().devices.messages(request.params.key, request.query.heartbeats === 'true');
    if (messages === undefined)
      return refuse(response, {
        code: 'unknown-device',
        message: `There is no device ${request.params.key}.`,
        mend: 'Choose one of the show.',
        path: 'key',
      });
    response.json({ messages });
  });

  app.get('/api/devices/:key/points', (request, response) => {
    const { engine } = deps.host();
    const { key } = request.params;
    if (!engine.program.devices.has(key))
      return refuse(response, {
        code: 'unknown-device',
        message: `There is no device ${key.slice(0, 60)}.`,
        mend: 'Choose one of the show.',
        path: 'key',
      });
    const prefix = `${key}.`;
    response.json({
      points: Object.fromEntries(
        [...engine.board.entries()].flatMap(([name, value]) =>
          name.startsWith(prefix) ? [[name.slice(prefix.length), value]] : [],
        ),
      ),
    });
  });

  app.get('/api/devices/:key/travel', (request, response) => {
    const { engine, travels } = deps.host();
    const device = engine.program.devices.get(request.params.key);
    if (device?.kind !== 'ptzHead')
      return refuse(response, {
        code: 'unknown-device',
        message: `There is no head ${request.params.key.slice(0, 60)}.`,
        mend: 'Choose one of the show.',
        path: 'key',
      });
    response.json(travels.report(device));
  });

  app.post('/api/devices/:key/travel/forget', async (request, response) => {
    try {
      await deps.host().travels.forget(request.params.key);
      response.json({});
    } catch {
      refuse(response, {
        code: 'database-away',
        message: 'The database does not answer, so nothing was forgotten for good.',
        mend: 'Try again when it is back.',
      });
    }
  });

  app.get('/api/panels', (_request, response) => {
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

  app.post('/api/rehearse', (request, response) => {
    const body = checked(api.RehearseBody, request.body, response);
    if (!body) return;
    const { engine } = deps.host();
    const { linkGroup } = body;
    const what =
      'buttonId' in body
        ? { buttonId: body.buttonId, holdMs: body.holdMs ?? 1000 }
        : { macroId: body.macroId, params: body.params ?? {} };
    const timeline = rehearse({
      program: engine.program,
      what,
      state: engine.board.entries(),
      settings: deps.host().travels.all(),
      ...(linkGroup === undefined ? {} : { linkGroup }),
    });
    if (!timeline.ok) return refuse(response, timeline.error);
    const { entries, durationMs, cutOff } = timeline.value;
    response.json({ entries, durationMs, cutOff });
  });

  app.get('/api/as-run', async (request, response) => {
    const query = checked(api.AsRunQuery, request.query, response);
    if (!query) return;
    deps.host().journal.flush();
    const entries = await deps.projection.read(query.after, query.limit);
    response.json({ entries, next: entries.at(-1)?.seq ?? query.after });
  });

  app.get('/api/log', async (request, response) => {
    const query = checked(api.LogQuery, request.query, response);
    if (!query) return;
    deps.host().journal.flush();
    const { before, device, kind, person, limit } = query;
    const filter = {
      ...(before === undefined ? {} : { before }),
      ...(device === undefined ? {} : { device }),
      ...(person === undefined ? {} : { person }),
      ...(kind === undefined ? {} : { kinds: kind.split(',') }),
    };
    const entries = await deps.projection.readLatest(filter, limit);
    response.json({ entries, next: entries.at(-1)?.seq ?? 0 });
  });

  app.get('/api/runs', (_request, response) => {
    const runs = deps.host().engine.runner.list();
    response.json({ runs: runs.map(({ runId, name, step, stopping }) => ({ runId, name, step, stopping })) });
  });

  app.get('/api/runs/:runId', async (request, response) => {
    const host = deps.host();
    host.journal.flush();
    const { runId } = request.params;
    const real = await deps.projection.readRun(runId);
    const start = real.find((entry) => entry.kind === 'runStart');
    if (!start)
      return refuse(response, {
        code: 'unknown-run',
        message: `There was no run ${runId}.`,
        mend: 'Choose one from the log.',
        path: 'runId',
      });
    // Only the last 200 runs of buttons since the engine began are held against a rehearsal; of others the real times are told.
    const predicted = host.comparison(runId, real);
    const comparison = predicted ?? compare([], real);
    const names = new Map(host.engine.program.document.devices.map((one) => [one.key, one.name]));
    const lines = comparison.lines.map((line) => ({
      ...line,
      words: line.what.replace(/^(\w+): /, (all, key: string) => (names.has(key) ? `${names.get(key) ?? ''}: ` : all)),
    }));
    response.json({ runId, name: start.name, ...comparison, rehearsed: predicted !== null, lines });
  });

  app.post('/api/steps/run', (request, response) => {
    const body = checked(api.RunStepsBody, request.body, response);
    if (!body) return;
    const { engine } = deps.host();
    const { document, revision } = engine.program;
    const id = ulid();
    const number = Math.max(0, ...document.macros.map((macro) => macro.number)) + 1;
    // Compiled as one macro more, so that they are checked like any other.
    const compiled = compileProgram(
      {
        ...document,
        macros: [
          ...document.macros,
          {
            id,
            number,
            name: body.name,
            params: [],
            steps: body.steps,
            stopSteps: [],
            again: 'restart',
            owns: body.owns,
          },
        ],
      },
      revision,
    );
    if (!compiled.ok)
      return refuseAll(
        response,
        compiled.error.map((error) => ({
          ...error,
          path: (error.path ?? '').replace(`macros.${document.macros.length}.`, ''),
        })),
      );
    response
      .status(202)
      .json({ accepted: true, runId: engine.runSteps(compiled.value, body.name, body.steps, body.owns, body.station) });
  });

  app.post('/api/runs/:runId/stop', (request, response) => {
    const body = checked(api.StopRunBody, request.body, response);
    if (!body) return;
    const { engine } = deps.host();
    if (!engine.runner.list().some((run) => run.runId === request.params.runId)) {
      return refuse(response, {
        code: 'unknown-run',
        message: 'This run is over.',
        mend: 'Nothing is left to stop.',
        path: 'runId',
      });
    }
    engine.board.turn(() => engine.runner.stop(request.params.runId, `Stopped by ${body.station}.`));
    response.status(202).json({});
  });

  app.post('/api/stop-all', (request, response) => {
    const body = checked(api.StopAllBody, request.body, response);
    if (body) response.json(deps.host().engine.stopAll(body.station));
  });

  addShowRoutes(app, deps);
  addVersionRoutes(app, deps);
  addStandinRoutes(app, deps);

  app.get('/api/kinds', (_request, response) => {
    response.json(
      Object.fromEntries(
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
      ),
    );
  });

  app.get('/api/openapi.json', (_request, response) => void response.json(openApiDocument(deps.version)));

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
      { code: 'bad-json', message: 'The body is not JSON.', mend: 'Send one JSON object.', path: '' },
      400,
    );
  const status = error.status !== undefined && error.status >= 400 && error.status < 500 ? error.status : 500;
  refuse(
    response,
    {
      code: status === 500 ? 'internal' : 'bad-request',
      message: error.message ?? 'The request failed.',
      mend: status === 500 ? 'Try again; if it stays, report it with the time of day.' : 'Correct the request.',
    },
    status,
  );
};
