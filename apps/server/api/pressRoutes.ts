import { performance } from 'node:perf_hooks';
import type * as api from '@umbek/protocol';
import { readerFor } from '@umbek/core/engine';
import {
  buttonCsv,
  buttonSheet,
  numberDialled,
  shortcutCsv,
  shortcutRows,
  shortcutSheet,
} from '@umbek/core/programming';
import { runsWords } from '@umbek/core/entryWords';
import { dialled, longerCodes } from '@umbek/core/shortcut';
import { rankOf } from '../access/who';
import type { RouteDependencies } from './dependencies';
import { refuse } from './respond';
import type { Router } from './router';

/** A lamp is tried for so long. */
const TRIED_MS = 2500;

/** Presses, commands without a button, and how all of it is. */
export function addPressRoutes(router: Router, deps: RouteDependencies): void {
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

  router.on('POST /api/press', ({ body: { person, linkGroup, at, ...press }, who, response }) =>
    answered(
      response,
      deps.host().press({
        ...press,
        rank: rankOf(who),
        ...(person === undefined ? {} : { person }),
        ...(linkGroup === undefined ? {} : { linkGroup }),
        // The touch came so long ago, whatever the time of day is.
        ...(at === undefined ? {} : { at: deps.host().clock.now() - (deps.host().clock.wall().getTime() - at) }),
      }),
    ),
  );

  router.on('POST /api/send', ({ body: { device, command, params, person, ...press }, who, response }) =>
    answered(
      response,
      deps.host().press({
        ...press,
        rank: rankOf(who),
        buttonId: `${device}.${command}`,
        direct: { device, command, params },
        ...(person === undefined ? {} : { person }),
      }),
    ),
  );

  router.on('POST /api/try', ({ body: { stepId, person, ...press }, who, response }) =>
    answered(
      response,
      deps.host().press({
        ...press,
        rank: rankOf(who),
        ...(stepId === undefined ? {} : { only: stepId }),
        ...(person === undefined ? {} : { person }),
      }),
    ),
  );

  router.on('POST /api/lamps/try', ({ body: { buttonId, sign }, response }) => {
    const { engine } = deps.host();
    if (!engine.program.buttons.has(buttonId))
      return refuse(response, {
        code: 'unknown-button',
        message: `There is no button ${buttonId}.`,
        mend: 'Load the panel again.',
        path: 'buttonId',
      });
    engine.tryLamp(buttonId, sign, TRIED_MS);
    response.status(202).json({});
  });

  router.on(
    'GET /api/take-back',
    ({ query: { station }, response }) => void response.json({ back: deps.host().takeBack(station) }),
  );

  router.on('GET /api/dial', ({ query: { code, station = null, takes = 'code', linkGroup = 'main' }, response }) => {
    const { program, board } = deps.host().engine;
    const { document } = program;
    if (takes !== 'code') {
      const read = readerFor(board, linkGroup);
      const { sends, words, longer } = numberDialled(document, takes, code, {
        camera: read('chosen.camera'),
        destination: read('chosen.destination'),
      });
      const numbered: api.DialReply = { runs: null, ...(sends === null ? {} : { sends }), words, longer };
      return response.json(numbered);
    }
    const found = dialled(document, code, station);
    const reply: api.DialReply = {
      runs: found?.runs ?? null,
      words: found === null ? '' : runsWords(document, found.runs) || 'something that is gone',
      ...(found?.shortcut === undefined ? {} : { shortcut: found.shortcut }),
      longer: longerCodes(document, code, station),
    };
    response.json(reply);
  });

  router.on('GET /api/shortcuts', ({ response }) => {
    const rows = shortcutRows(deps.host().engine.program.document);
    const reply: api.ShortcutsReply = rows.map(({ shortcut: { id, on, runs, station }, words, clashes }) => ({
      id,
      kind: on.kind,
      words,
      runs,
      ...(station === null ? {} : { station }),
      clashes: [...clashes],
    }));
    response.json(reply);
  });

  for (const [name, csv, sheet] of [
    ['buttons', buttonCsv, buttonSheet],
    ['shortcuts', shortcutCsv, shortcutSheet],
  ] as const) {
    router.on(`GET /api/${name}.csv`, ({ response }) => {
      response.setHeader('content-disposition', `attachment; filename="${name}.csv"`);
      response.type('text/csv').send(csv(deps.host().engine.program.document));
    });

    router.on(`GET /api/${name}.html`, ({ response }) => {
      // Nothing of it may run: it holds what people wrote.
      response.setHeader('content-security-policy', "default-src 'none'; style-src 'unsafe-inline'");
      response.type('text/html').send(sheet(deps.host().engine.program.document));
    });
  }

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
