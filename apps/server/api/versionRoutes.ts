import type * as api from '@umbek/protocol';
import type { Response } from 'express';
import type { RouteDependencies } from './dependencies';
import { guarded } from './guarded';
import { refuse } from './respond';
import type { Router } from './router';
import { sendShowFile } from './showRoutes';

const AWAY = 'The database does not answer, so versions can neither be kept nor read.';

const unknown = (response: Response, id: string): void =>
  refuse(response, {
    code: 'unknown-version',
    message: `There is no version ${id.slice(0, 60)}.`,
    mend: 'Choose one of the list; it may have been deleted meanwhile.',
    path: 'id',
  });

/** Versions of the show under a name. Going back to one is an edit that the page makes, so that it can be undone. */
export function addVersionRoutes(router: Router, deps: RouteDependencies): void {
  const { versions } = deps;
  const list = async (response: Response, status = 200): Promise<void> => {
    const body: api.VersionsReply = { versions: await versions.list() };
    response.status(status).json(body);
  };

  router.on('GET /api/versions', ({ response }) => guarded(response, AWAY, () => list(response)));

  router.on('POST /api/versions', ({ body, response }) =>
    guarded(response, AWAY, async () => {
      await versions.keep(body, deps.host().engine.program.document);
      await list(response, 201);
    }),
  );

  router.on('GET /api/versions/{id}', ({ path: { id = '' }, response }) =>
    guarded(response, AWAY, async () => {
      const version = await versions.read(id);
      if (version === null) unknown(response, id);
      else response.json(version);
    }),
  );

  router.on('GET /api/versions/{id}/file', ({ path: { id = '' }, response }) =>
    guarded(response, AWAY, async () => {
      const version = await versions.read(id);
      if (version === null) unknown(response, id);
      else sendShowFile(response, version.document, version.name);
    }),
  );

  router.on('DELETE /api/versions/{id}', ({ path: { id = '' }, response }) =>
    guarded(response, AWAY, async () => {
      if (await versions.drop(id)) await list(response);
      else unknown(response, id);
    }),
  );
}
