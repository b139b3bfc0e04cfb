import * as api from '@umbek/core/api';
import { compileProfile } from '@umbek/core/profile';
import { errorsOf, ProfileFile, type ShowDocument } from '@umbek/core/show';
import express, { type Express, type Request, type Response } from 'express';
import { ulid } from 'ulid';
import { z } from 'zod';
import { emptyShow } from '../engine/showKeeper';
import type { RouteDependencies } from './dependencies';
import { checked, refuse, refuseAll } from './respond';

/** Largest show file that is taken. */
const LARGEST = '20mb';
const HISTORY_SHOWN = 200;

/** Reading a whole show comes before the limit that all other bodies have. */
export function addImportRoute(app: Express, deps: RouteDependencies): void {
  app.post('/api/show', express.json({ limit: LARGEST, strict: true, type: () => true }), async (request, response) => {
    const document = readShowFile(request.body, response);
    if (document) await replace(document, deps, response);
  });
}

/** The show as a whole: read, edited, undone, exported, replaced. */
export function addShowRoutes(app: Express, deps: RouteDependencies): void {
  app.post('/api/edits', async (request, response) => {
    const body = checked(api.EditBody, request.body, response);
    if (!body) return;
    const taken = await deps.keeper.edit(body);
    if (!taken.ok) return refuseAll(response, taken.error);
    deps.host().edited(taken.value, body.changes);
    response.json({ revision: taken.value.revision, kept: [], label: body.label });
  });

  app.get('/api/edits', async (request: Request, response) => {
    const by = typeof request.query.by === 'string' ? request.query.by : '';
    try {
      const [entries, next] = await Promise.all([deps.keeper.history(HISTORY_SHOWN), deps.keeper.next(by)]);
      const body: api.HistoryReply = { entries, ...next };
      response.json(body);
    } catch {
      refuse(response, {
        code: 'database-away',
        message: 'The database does not answer, so the history cannot be read.',
        mend: 'Try again when it is back.',
      });
    }
  });

  for (const which of ['undo', 'redo'] as const) {
    app.post(`/api/${which}`, async (request, response) => {
      const body = checked(api.UndoBody, request.body, response);
      if (!body) return;
      const taken = await deps.keeper.step(body.by, which, ulid());
      if (!taken.ok) return refuseAll(response, taken.error);
      const { program, label, kept } = taken.value;
      deps.host().edited(program);
      response.json({ revision: program.revision, kept, label });
    });
  }

  app.get(
    '/api/profiles/schema.json',
    (_request, response) =>
      void response.json({
        $schema: 'https://json-schema.org/draft/2020-12/schema',
        ...z.toJSONSchema(ProfileFile, { io: 'input' }),
      }),
  );

  app.post('/api/profiles/check', (request, response) => {
    const file = checked(ProfileFile, request.body, response);
    if (!file) return;
    const compiled = compileProfile(file);
    if (!compiled.ok) return refuseAll(response, compiled.error);
    response.json({ name: file.name, commands: file.commands.length, points: file.points.length });
  });

  app.get('/api/profiles/:key/file', (request, response) => {
    const profile = deps.host().engine.program.document.profiles.find((one) => one.key === request.params.key);
    if (!profile)
      return refuse(response, {
        code: 'unknown-profile',
        message: `There is no profile ${request.params.key.slice(0, 60)}.`,
        mend: 'Choose one of the show.',
        path: 'key',
      });
    response.attachment(`${profile.key}.umbek-profile.json`).json(profile.content);
  });

  app.get('/api/show', (_request, response) => {
    const { document, revision } = deps.host().engine.program;
    response.json({ revision, ...document });
  });

  app.get('/api/show/file', (_request, response) => {
    const { document } = deps.host().engine.program;
    sendShowFile(response, document, document.show.name);
  });

  app.get('/api/show/schema.json', (_request, response) => {
    response.json(z.toJSONSchema(api.ShowFile, { io: 'input' }));
  });

  app.post('/api/show/reset', async (request, response) => {
    const body = checked(api.ResetBody, request.body, response);
    if (body) await replace(body.to === 'demo' ? deps.demo() : emptyShow(ulid()), deps, response);
  });

  app.post('/api/show/bring-back', async (_request, response) => {
    const document = deps.keeper.replaced();
    if (document === null)
      return refuse(response, {
        code: 'nothing-to-undo',
        message: 'No show was replaced.',
        mend: 'Import a show file instead.',
      });
    await replace(document, deps, response);
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
  const name =
    title
      .replace(/[^\p{L}\p{N} _-]/gu, '')
      .trim()
      .slice(0, 80) || 'show';
  response.setHeader(
    'content-disposition',
    `attachment; filename="show.json"; filename*=UTF-8''${encodeURIComponent(`${name}.json`)}`,
  );
  response.json(file);
}

async function replace(document: ShowDocument, deps: RouteDependencies, response: Response): Promise<void> {
  const taken = await deps.keeper.replace(document);
  if (!taken.ok) return refuseAll(response, taken.error);
  deps.host().edited(taken.value);
  response.json({ revision: taken.value.revision, name: document.show.name });
}

/** A show file, or undefined when it was refused: not ours, of a newer making, or with faults, each with its place. */
function readShowFile(body: unknown, response: Response): ShowDocument | undefined {
  const { format, version } = (typeof body === 'object' && body !== null ? body : {}) as Record<string, unknown>;
  if (format !== 'umbek-show') {
    refuse(response, {
      code: 'not-a-show',
      message: 'This is not a show file of Umbek.',
      mend: 'Choose a file that was exported here.',
      path: 'format',
    });
    return undefined;
  }
  if (typeof version === 'number' && version > api.SHOW_FILE_VERSION) {
    refuse(response, {
      code: 'newer-file',
      message: `This show file has version ${version}; this Umbek reads up to ${api.SHOW_FILE_VERSION}.`,
      mend: 'Open it with a newer Umbek, or export it from there in the older version.',
      path: 'version',
    });
    return undefined;
  }
  try {
    const parsed = api.ShowFile.safeParse(body);
    if (parsed.success) return parsed.data.document;
    refuseAll(response, errorsOf(parsed.error).slice(0, 20));
  } catch {
    // A file nested thousands of levels deep runs the reader out of stack.
    refuse(response, {
      code: 'too-deep',
      message: 'The file is nested too deep to be read.',
      mend: 'Choose a file that was exported here.',
      path: 'document',
    });
  }
  return undefined;
}
