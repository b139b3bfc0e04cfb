import type * as api from '@umbek/protocol';
import type { Response } from 'express';
import { UnreadableVersion } from '../database/versionStore';
import type { RouteDependencies } from './dependencies';
import { refuse } from './respond';
import type { Router } from './router';
import { sendShowFile } from './showRoutes';

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
  /** Whatever a store that is away throws, in words. */
  const guarded = async (response: Response, work: () => Promise<void>): Promise<void> => {
    try {
      await work();
    } catch (error) {
      if (error instanceof UnreadableVersion)
        return refuse(response, {
          code: 'unreadable-version',
          message: `${error.message} was kept by an older version of Umbek and cannot be read here.`,
          mend: 'Open it with that version of Umbek and export it there.',
          path: 'id',
        });
      refuse(response, {
        code: 'database-away',
        message: 'The database does not answer, so versions can neither be kept nor read.',
        mend: 'Try again when it is back.',
      });
    }
  };
  const list = async (response: Response, status = 200): Promise<void> => {
    const body: api.VersionsReply = { versions: await versions.list() };
    response.status(status).json(body);
  };

  router.on('GET /api/versions', ({ response }) => guarded(response, () => list(response)));

  router.on('POST /api/versions', ({ body, response }) =>
    guarded(response, async () => {
      await versions.keep(body, deps.host().engine.program.document);
      await list(response, 201);
    }),
  );

  router.on('GET /api/versions/{id}', ({ path: { id = '' }, response }) =>
    guarded(response, async () => {
      const version = await versions.read(id);
      if (version === null) unknown(response, id);
      else response.json(version);
    }),
  );

  router.on('GET /api/versions/{id}/file', ({ path: { id = '' }, response }) =>
    guarded(response, async () => {
      const version = await versions.read(id);
      if (version === null) unknown(response, id);
      else sendShowFile(response, version.document, version.name);
    }),
  );

  router.on('DELETE /api/versions/{id}', ({ path: { id = '' }, response }) =>
    guarded(response, async () => {
      if (await versions.drop(id)) await list(response);
      else unknown(response, id);
    }),
  );
}
