import * as api from '@umbek/core/api';
import type { Express, Request, Response } from 'express';
import { UnreadableVersion } from '../database/versionStore';
import type { RouteDependencies } from './dependencies';
import { checked, refuse } from './respond';
import { sendShowFile } from './showRoutes';

const unknown = (response: Response, id: string): void =>
  refuse(response, {
    code: 'unknown-version',
    message: `There is no version ${id.slice(0, 60)}.`,
    mend: 'Choose one of the list; it may have been let go meanwhile.',
    path: 'id',
  });

/** Named versions of the show: kept, listed, read, let go. Going back to one is an edit that the page makes, so that it can be undone. */
export function addVersionRoutes(app: Express, deps: RouteDependencies): void {
  const { versions } = deps;
  const route =
    (work: (request: Request<{ id: string }>, response: Response) => Promise<void>) =>
    async (request: Request<{ id: string }>, response: Response): Promise<void> => {
      try {
        await work(request, response);
      } catch (error) {
        if (error instanceof UnreadableVersion)
          return refuse(response, {
            code: 'unreadable-version',
            message: `${error.message} was kept by an Umbek that described shows otherwise, and cannot be read here.`,
            mend: 'Open it with the Umbek that kept it and export it there.',
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

  app.get(
    '/api/versions',
    route(async (_request, response) => list(response)),
  );

  app.post(
    '/api/versions',
    route(async (request, response) => {
      const body = checked(api.VersionBody, request.body, response);
      if (!body) return;
      await versions.keep(body, deps.host().engine.program.document);
      await list(response, 201);
    }),
  );

  app.get(
    '/api/versions/:id',
    route(async (request, response) => {
      const version = await versions.read(request.params.id);
      if (version === null) unknown(response, request.params.id);
      else response.json(version);
    }),
  );

  app.get(
    '/api/versions/:id/file',
    route(async (request, response) => {
      const version = await versions.read(request.params.id);
      if (version === null) unknown(response, request.params.id);
      else sendShowFile(response, version.document, version.name);
    }),
  );

  app.delete(
    '/api/versions/:id',
    route(async (request, response) => {
      if (await versions.drop(request.params.id)) await list(response);
      else unknown(response, request.params.id);
    }),
  );
}
