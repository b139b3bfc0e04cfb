import { stationOf } from '@umbek/core/shown';
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
export function addStationRoutes(router: Router, deps: Pick<RouteDependencies, 'host' | 'pads' | 'discovery'>): void {
  router.on('GET /api/stations', ({ response }) => response.json(deps.host().live.list()));

  router.on('POST /api/stations/{id}/show', ({ body: { panel }, path: { id = '' }, response }) => {
    const { engine, live } = deps.host();
    if (!engine.program.document.panels.some((candidate) => candidate.id === panel))
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

  router.on('GET /api/found', ({ response }) =>
    response.json(deps.discovery.list(deps.host().engine.program.document)),
  );

  router.on('POST /api/pads/place', async ({ body: { serial, station }, response }) => {
    if (station !== null && stationOf(deps.host().engine.program.document, station) === undefined)
      return refuse(
        response,
        {
          code: 'unknown-id',
          message: 'There is no such station in this show.',
          mend: 'Take its id from GET /api/stations.',
          path: 'station',
        },
        404,
      );
    try {
      await deps.pads.place(serial, station);
      response.json({});
    } catch {
      refuse(
        response,
        {
          code: 'not-kept',
          message: 'The disk does not take it: the pad keeps this place only until Umbek is started again.',
          mend: 'Make room on the disk, and give the pad its place again.',
        },
        507,
      );
    }
  });
}
