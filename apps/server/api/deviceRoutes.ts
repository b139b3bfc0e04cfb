import type * as api from '@umbek/protocol';
import { DEVICE_KINDS } from '@umbek/core/devices';
import { reservedKey } from '@umbek/core/engine';
import { z } from 'zod';
import type { RouteDependencies } from './dependencies';
import { refuse } from './respond';
import type { Router } from './router';

/** What devices said and show, what heads taught, and which kinds there are. */
export function addDeviceRoutes(router: Router, deps: RouteDependencies): void {
  const unknown = (key: string, what = 'device'): api.ErrorReply => ({
    code: 'unknown-device',
    message: `There is no ${what} ${key.slice(0, 60)}.`,
    mend: 'Choose one of the show.',
    path: 'key',
  });

  router.on('GET /api/devices/{key}/messages', ({ path: { key = '' }, query, response }) => {
    const messages = deps.host().devices.messages(key, query.heartbeats === 'true');
    if (messages === undefined) return refuse(response, unknown(key));
    response.json({ messages });
  });

  router.on('GET /api/devices/{key}/points', ({ path: { key = '' }, response }) => {
    const { engine } = deps.host();
    if (!engine.program.devices.has(key)) return refuse(response, unknown(key));
    const prefix = `${key}.`;
    response.json({
      points: Object.fromEntries(
        [...engine.board.entries()].flatMap(([name, value]) =>
          name.startsWith(prefix) ? [[name.slice(prefix.length), value]] : [],
        ),
      ),
    });
  });

  router.on('GET /api/devices/{key}/travel', ({ path: { key = '' }, response }) => {
    const { engine, travels } = deps.host();
    const device = engine.program.devices.get(key);
    if (device?.kind !== 'ptzHead') return refuse(response, unknown(key, 'head'));
    response.json(travels.report(device));
  });

  router.on('POST /api/devices/{key}/reserve', ({ body, path: { key = '' }, who, response }) => {
    const { engine, reservers } = deps.host();
    const device = engine.program.devices.get(key);
    if (device?.kind !== 'ptzHead') return refuse(response, unknown(key, 'head'));
    if (!reservers.set(key, body.on, who, body.station, body.person ?? ''))
      return refuse(
        response,
        {
          code: 'reserved',
          message: `${device.name} is reserved by ${String(engine.board.read(reservedKey(key)))}, who has more rights.`,
          mend: 'Ask them to free it.',
        },
        409,
      );
    response.json({});
  });

  router.on('POST /api/devices/{key}/travel/forget', async ({ path: { key = '' }, response }) => {
    try {
      await deps.host().travels.forget(key);
      response.json({});
    } catch {
      refuse(response, {
        code: 'database-away',
        message: 'The database does not answer, so the measurements were not deleted.',
        mend: 'Try again when it is back.',
      });
    }
  });

  const kinds = Object.fromEntries(
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
  );
  router.on('GET /api/kinds', ({ response }) => response.json(kinds));
}
