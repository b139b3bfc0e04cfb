import type { Response } from 'express';
import type { RouteDependencies } from './dependencies';
import { refuse } from './respond';
import type { Router } from './router';

const notThere = (response: Response): void =>
  refuse(
    response,
    {
      code: 'unknown-id',
      message: 'Nothing acts as this station now.',
      mend: 'Open Umbek there, and choose the station under This station.',
      path: 'id',
    },
    404,
  );

/** Stations: who is there, what each shows, and what they are sent. */
export function addStationRoutes(router: Router, deps: Pick<RouteDependencies, 'host'>): void {
  router.on('GET /api/stations', ({ response }) => response.json(deps.host().live.list()));

  router.on('POST /api/stations/{id}/show', ({ body: { panel }, path: { id = '' }, response }) => {
    const { engine, live } = deps.host();
    if (!engine.program.document.panels.some((one) => one.id === panel))
      return refuse(
        response,
        {
          code: 'unknown-panel',
          message: 'There is no such panel in this show.',
          mend: 'Take its id from GET /api/panels.',
          path: 'panel',
        },
        404,
      );
    if (!live.sendTo(id, panel)) return notThere(response);
    response.status(202).json({});
  });

  router.on('POST /api/stations/{id}/flash', ({ path: { id = '' }, response }) => {
    if (!deps.host().live.flash(id)) return notThere(response);
    response.status(202).json({});
  });
}
