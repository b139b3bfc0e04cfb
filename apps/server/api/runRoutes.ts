import type * as api from '@umbek/protocol';
import { compileProgram } from '@umbek/core/engine';
import { compare } from '@umbek/core/rehearse';
import type { Macro } from '@umbek/core/show';
import { decodeTime, isValid, ulid } from 'ulid';
import type { z } from 'zod';
import { rankOf } from '../access/who';
import type { RouteDependencies } from './dependencies';
import { lineWords } from './lineWords';
import { refuse } from './respond';
import type { Router } from './router';

/** Rehearsals, the as-run, runs under way and stops. */
export function addRunRoutes(router: Router, deps: RouteDependencies): void {
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
        : 'macroId' in body
          ? { macroId: body.macroId, params: body.params ?? {} }
          : 'triggerId' in body
            ? { triggerId: body.triggerId }
            : { presses: pressesOf(body.presses), ...(body.untilMs === undefined ? {} : { untilMs: body.untilMs }) };
    const timeline = await deps.helper
      .ask('rehearse', {
        what,
        ...(linkGroup === undefined ? {} : { linkGroup }),
        ...(body.from === undefined ? {} : { from: body.from }),
        ...('watch' in body && body.watch ? { watches: true } : {}),
      })
      .catch(() => null);
    if (timeline === null) return refuse(response, helperAway, 503);
    if (!timeline.ok) return refuse(response, timeline.error);
    const { entries, durationMs, cutOff, changes } = timeline.value;
    response.json({ entries, durationMs, cutOff, ...(changes === undefined ? {} : { changes }) });
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
    const real = await readRun(runId, deps);
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

  router.on('POST /api/steps/run', ({ body, who, response }) => {
    const { engine } = deps.host();
    const { document, revision } = engine.program;
    const number = Math.max(0, ...document.macros.map((macro) => macro.number)) + 1;
    // Compiled as one macro more, so that they are checked like any other.
    const macro: Macro = {
      id: ulid(),
      number,
      name: body.name,
      folder: '',
      params: [],
      steps: body.steps,
      stopSteps: [],
      atStop: 'steps',
      again: 'startOver',
      owns: body.owns,
    };
    const program = compileProgram({ ...document, macros: [...document.macros, macro] }, revision, engine.program);
    const started = engine.runSteps(program, macro, { kind: 'station', id: body.station }, rankOf(who));
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

  router.on('POST /api/runs/{runId}/next', ({ path: { runId = '' }, body, response }) => {
    const { engine } = deps.host();
    if (!engine.runner.has(runId)) return refuse(response, over);
    if (!engine.runner.next(runId, body.path))
      return refuse(response, {
        ...over,
        message: 'This step has begun already.',
        mend: 'Wait until the next one asks for a touch.',
      });
    response.status(202).json({});
  });

  router.on('GET /api/stop-all', ({ response }) => response.json(deps.host().engine.stopAhead()));
  router.on('POST /api/stop-all', ({ body, response }) => response.json(deps.host().engine.stopAll(body.station)));
}

/** Presses of a rehearsal, what is left out left out. */
const pressesOf = (presses: Extract<z.infer<typeof api.RehearseBody>, { presses: unknown }>['presses']) =>
  presses.map(({ atMs, buttonId, holdMs }) => ({ atMs, buttonId, ...(holdMs === undefined ? {} : { holdMs }) }));

/** What was just told is in the log that is shown now. */
async function latest(deps: RouteDependencies): Promise<void> {
  const { journal } = deps.host();
  journal.flush();
  await deps.projection.upTo(journal.lastSeq);
}

type Deps = Parameters<typeof latest>[0];

/** A run of the last moments is waited for so often, so long apart, in milliseconds. */
const MOST_LOOKS = 10;
const LOOK_MS = 100;
const RECENT_MS = 10_000;

/** The entries of a run. One that ended this moment may still be on its way into the as-run: who asks is not told that it never was. */
async function readRun(runId: string, deps: Deps): ReturnType<Deps['projection']['readRun']> {
  for (let looks = 1; ; looks += 1) {
    const entries = await latest(deps).then(() => deps.projection.readRun(runId));
    if (looks >= MOST_LOOKS || !isRecent(runId) || entries.some(({ kind }) => kind === 'runStart')) return entries;
    await new Promise((next) => setTimeout(next, LOOK_MS));
  }
}

/** Runs are named by the moment in which they began. */
const isRecent = (runId: string): boolean => isValid(runId) && Math.abs(Date.now() - decodeTime(runId)) < RECENT_MS;
