import * as api from '@umbek/protocol';
import type { Program } from '@umbek/core/engine';
import { compileProfile } from '@umbek/core/profile';
import { Copied, inOrder, macroFile, panelFile, peopleFound } from '@umbek/core/programming';
import { ProfileFile, type Reference, referenceAt, type ShowDocument, viewOf } from '@umbek/core/show';
import type { Response } from 'express';
import { ulid } from 'ulid';
import { z } from 'zod';
import { readShowFile } from '../engine/readShowFile';
import { emptyShow } from '../engine/showKeeper';
import type { RouteDependencies } from './dependencies';
import { refuse, refuseAll } from './respond';
import type { Router } from './router';

const HISTORY_SHOWN = 200;

/** The show as a whole: read, edited, undone, exported, replaced, begun. */
export function addShowRoutes(router: Router, deps: RouteDependencies): void {
  router.on('POST /api/show', async ({ request, response }) => {
    // Beside the engine: a show of thousands of buttons takes a second to be read, and presses do not wait for it.
    const body: unknown = request.body;
    const read = await deps.helper.ask('readShow', { body }).catch(() => readShowFile(body));
    if (!read.ok) return refuseAll(response, read.error);
    await replace(read.value, deps, response, 'read');
  });

  router.on('POST /api/edits', async ({ body, response }) => {
    const before = deps.host().engine.program;
    const taken = await deps.keeper.edit(body);
    if (!taken.ok) return refuseAll(response, taken.error);
    const program = taken.value;
    // The same edit again changes nothing more.
    if (program !== deps.host().engine.program)
      deps.host().edited(program, program.revision === before.revision + 1 ? body.changes : undefined);
    const touched = new Set(body.changes.map(({ id }) => id));
    response.json({ revision: program.revision, kept: [], label: body.label, faults: faultsOf(program, touched) });
  });

  router.on('GET /api/edits', async ({ query, response }) => {
    try {
      const { keeper } = deps;
      const [entries, next, tonight] = await Promise.all([
        keeper.history(HISTORY_SHOWN),
        keeper.next(query.by ?? ''),
        keeper.since(),
      ]);
      const body: api.HistoryReply = { entries, ...next, tonight };
      response.json(body);
    } catch {
      refuse(response, {
        code: 'database-away',
        message: 'The database does not answer, so the history cannot be read.',
        mend: 'Try again when it is back.',
      });
    }
  });

  router.on('GET /api/edits/{editId}/back', async ({ path: { editId = '' }, response }) => {
    const back = await deps.keeper.back(editId).catch(() => undefined);
    if (back === undefined)
      return refuse(response, {
        code: 'database-away',
        message: 'The database does not answer, so the history cannot be read.',
        mend: 'Try again when it is back.',
      });
    if (back === null)
      return refuse(response, {
        code: 'unknown-edit',
        message: 'The history has no such row.',
        mend: 'Load the history again: another show may have taken the place of this one.',
        path: 'editId',
      });
    response.json(back);
  });

  router.on('POST /api/tonight', async ({ body, response }) => {
    const taken = await deps.keeper.tonight(body.what, body.by, body.editId);
    if (!taken.ok) return refuseAll(response, taken.error);
    deps.host().edited(taken.value, []);
    response.json({ revision: taken.value.revision, kept: [], label: '', faults: [] });
  });

  const step = async (which: 'undo' | 'redo', by: string, response: Response): Promise<void> => {
    const before = deps.host().engine.program;
    const taken = await deps.keeper.step(by, which, ulid());
    if (!taken.ok) return refuseAll(response, taken.error);
    const { program, label, kept, changes } = taken.value;
    deps.host().edited(program, program.revision === before.revision + 1 ? changes : undefined);
    response.json({ revision: program.revision, kept, label, faults: [] });
  };
  router.on('POST /api/undo', ({ body, response }) => step('undo', body.by, response));
  router.on('POST /api/redo', ({ body, response }) => step('redo', body.by, response));

  // Schemas are written out when somebody asks for them: a restart must not wait for it.
  router.on('GET /api/profiles/schema.json', ({ response }) =>
    response.json({
      $schema: 'https://json-schema.org/draft/2020-12/schema',
      ...z.toJSONSchema(ProfileFile, { io: 'input' }),
    }),
  );

  router.on('POST /api/profiles/check', ({ body, response }) => {
    const compiled = compileProfile(body);
    if (!compiled.ok) return refuseAll(response, compiled.error);
    response.json({ name: body.name, commands: body.commands.length, points: body.points.length });
  });

  router.on('GET /api/profiles/{key}/file', ({ path: { key = '' }, response }) => {
    const profile = deps.host().engine.program.document.profiles.find((candidate) => candidate.key === key);
    if (!profile)
      return refuse(response, {
        code: 'unknown-profile',
        message: `There is no profile ${key.slice(0, 60)}.`,
        mend: 'Choose one of the show.',
        path: 'key',
      });
    response.attachment(`${profile.key}.umbek-profile.json`).json(profile.content);
  });

  router.on('GET /api/show', async ({ response }) => {
    const text = await deps.helper.ask('showText', null).catch(() => null);
    if (text !== null) return response.type('json').send(text);
    const { document, revision } = deps.host().engine.program;
    response.json({ revision, ...document });
  });

  router.on('GET /api/panels/{panelId}/file', ({ path: { panelId = '' }, query, response }) => {
    const { document } = deps.host().engine.program;
    const panel = document.panels.find(({ id }) => id === panelId);
    if (panel === undefined)
      return refuse(response, {
        code: 'unknown-panel',
        message: 'There is no such panel.',
        mend: 'Load the show again.',
        path: 'panelId',
      });
    const only = query.strips === undefined ? undefined : new Set(query.strips.split(','));
    const strip = only?.size === 1 ? document.strips.find(({ id }) => only.has(id)) : undefined;
    attach(response, strip?.name ?? panel.name, 'panel');
    response.json(panelFile(document, panel, only));
  });

  router.on('GET /api/macros/file', ({ query, response }) => {
    const { document } = deps.host().engine.program;
    const ids = new Set(query.ids.split(','));
    const macros = document.macros.filter(({ id }) => ids.has(id));
    const [first] = macros;
    if (first === undefined)
      return refuse(response, {
        code: 'unknown-macro',
        message: 'There are no such macros.',
        mend: 'Load the show again.',
        path: 'ids',
      });
    attach(response, macros.length === 1 ? first.name : `${macros.length} macros`, 'macros');
    response.json(macroFile(document, macros));
  });

  router.on('GET /api/panels/schema.json', ({ response }) =>
    response.json({
      $schema: 'https://json-schema.org/draft/2020-12/schema',
      ...z.toJSONSchema(Copied, { io: 'input' }),
    }),
  );

  router.on('GET /api/people', ({ query, response }) => {
    const { people } = deps.host().engine.program.document;
    const found = peopleFound(people, query.search ?? '');
    response.json({ people: found.slice(0, api.PEOPLE_TOLD), found: found.length, all: people.length });
  });

  router.on('GET /api/show/desk', ({ query, response }) => {
    const { document, revision } = deps.host().engine.program;
    const known = new Set(document.panels.map(({ id }) => id));
    const asked = (query.panels ?? '').split(',').filter((id) => known.has(id));
    const [first] = inOrder(document.panels);
    const panels = asked.length > 0 || first === undefined ? asked : [first.id];
    response.json({ revision, held: panels, ...viewOf(document, new Set(panels)) });
  });

  router.on('GET /api/show/file', ({ response }) => {
    const { document } = deps.host().engine.program;
    sendShowFile(response, document, document.show.name);
  });

  router.on('GET /api/show/schema.json', ({ response }) =>
    response.json(z.toJSONSchema(api.ShowFile, { io: 'input' })),
  );

  router.on('POST /api/show/reset', ({ body, response }) =>
    replace(body.to === 'demo' ? deps.demo() : emptyShow(ulid()), deps, response),
  );

  router.on('POST /api/show/bring-back', async ({ response }) => {
    const document = await deps.keeper.replaced();
    if (document === null)
      return refuse(response, {
        code: 'nothing-to-undo',
        message: 'No show was replaced.',
        mend: 'Import a show file instead.',
      });
    await replace(document, deps, response);
  });

  router.on('POST /api/show/begin', ({ body, response }) =>
    response.json({ reset: deps.host().engine.beginShow(body.station, body.person) }),
  );

  router.on('GET /api/show/faults', async ({ response }) => {
    const circles = await deps.helper.ask('circles', null).catch(() => []);
    const { program } = deps.host().engine;
    response.json({
      faults: [...program.faults(), ...circles].map(({ code, message, mend, path = '', weight }) => ({
        code,
        message,
        mend,
        path,
        at: referenceAt(program.document, path),
        weight,
      })),
    });
  });
}

/** What keeps entries that an edit touched from doing what they say: told with its answer, so that nobody finds out live. */
function faultsOf(program: Program, ids: ReadonlySet<string>): { message: string; mend: string; at: Reference }[] {
  return [...ids].flatMap((id) => {
    const device = program.document.devices.find((candidate) => candidate.id === id);
    const fault = device === undefined ? program.faultOf(id) : program.deviceFault(device.key);
    if (fault === undefined) return [];
    const entity =
      device !== undefined
        ? 'devices'
        : program.buttons.has(id)
          ? 'buttons'
          : program.triggers.has(id)
            ? 'triggers'
            : 'macros';
    return [{ message: fault.message, mend: fault.mend, at: { entity, id, path: [] } }];
  });
}

/** A show as a file to be saved. */
export function sendShowFile(response: Response, document: ShowDocument, title: string): void {
  const file: z.infer<typeof api.ShowFile> = {
    format: 'umbek-show',
    version: api.SHOW_FILE_VERSION,
    savedAt: new Date().toISOString(),
    document,
  };
  attach(response, title, 'show');
  response.json(file);
}

/** The answer is saved as a file. @param title what its name is made from, in letters and digits @param otherwise its name where nothing is left */
function attach(response: Response, title: string, otherwise: string): void {
  const name =
    title
      .replace(/[^\p{L}\p{N} _-]/gu, '')
      .trim()
      .slice(0, 80) || otherwise;
  response.setHeader(
    'content-disposition',
    `attachment; filename="${otherwise}.json"; filename*=UTF-8''${encodeURIComponent(`${name}.json`)}`,
  );
}

async function replace(
  document: ShowDocument,
  deps: RouteDependencies,
  response: Response,
  checked?: 'read',
): Promise<void> {
  const taken = await deps.keeper.replace(document, checked === undefined);
  if (!taken.ok) return refuseAll(response, taken.error);
  deps.host().edited(taken.value);
  response.json({ revision: taken.value.revision, name: document.show.name });
}
