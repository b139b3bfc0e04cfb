import * as api from '@umbek/protocol';
import { kindOf } from '@umbek/core/devices';
import type { Device } from '@umbek/core/show';
import type { Response } from 'express';
import { z } from 'zod';
import type { RouteDependencies } from './dependencies';
import { refuse } from './respond';
import type { Router } from './router';

/** A stand-in that does not answer its control port in this time is none. */
const ANSWER_MS = 500;
/** Longest file that is passed on from a recorder. */
const FILE_MS = 60_000;
const LOOPBACK = new Set(['127.0.0.1', 'localhost', '::1']);

const Report = z.object({ faults: z.looseObject({}), malformed: z.number() });

/** Stand-ins of this machine: what can go wrong with them, for rehearsing bad days. Real devices have no control port and are not among them. */
export function addStandinRoutes(router: Router, deps: RouteDependencies): void {
  const controlOf = (device: Device): string | null =>
    LOOPBACK.has(device.host) ? `http://127.0.0.1:${deps.controlPorts[device.key] ?? device.port + 1000}` : null;
  const deviceOf = (key: string, response: Response): Device | undefined => {
    const device = deps.host().engine.program.devices.get(key);
    if (!device)
      refuse(response, {
        code: 'unknown-device',
        message: `There is no device ${key.slice(0, 60)}.`,
        mend: 'Choose one of the show.',
        path: 'key',
      });
    return device;
  };
  const passOn = async (key: string, path: string, body: object, response: Response): Promise<void> => {
    const device = deviceOf(key, response);
    if (!device) return;
    const control = controlOf(device);
    try {
      const answer = await fetch(`${control ?? ''}${path}`, {
        method: 'POST',
        headers: { 'x-umbek-control': deps.controlToken },
        body: JSON.stringify(body),
        signal: AbortSignal.timeout(ANSWER_MS),
      });
      const report = (await answer.json()) as object;
      if (answer.ok) response.json(report);
      else
        refuse(response, {
          code: 'cannot',
          message: 'The stand-in refused it.',
          mend: 'See what it can be made to do.',
          ...report,
        } as api.ErrorReply);
    } catch {
      refuse(
        response,
        {
          code: 'no-standin',
          message: `${device.name} is no stand-in of this machine, or is not running.`,
          mend: 'Only stand-ins can be made to fail.',
        },
        409,
      );
    }
  };

  router.on('GET /api/standins', async ({ response }) => {
    const { document } = deps.host().engine.program;
    const found = await Promise.all(
      document.devices.map(async (device) => {
        const control = controlOf(device);
        if (control === null) return [];
        try {
          const report = Report.parse(
            await (
              await fetch(`${control}/report`, {
                headers: { 'x-umbek-control': deps.controlToken },
                signal: AbortSignal.timeout(ANSWER_MS),
              })
            ).json(),
          );
          const simulations = Object.entries(kindOf(device, document)?.simulations ?? {}).map(([what, { words }]) => ({
            what,
            words,
          }));
          return [
            { key: device.key, name: device.name, faults: report.faults, malformed: report.malformed, simulations },
          ];
        } catch {
          return [];
        }
      }),
    );
    response.json({ standins: found.flat() });
  });

  router.on('POST /api/standins/{key}/faults', ({ path: { key = '' }, body, response }) =>
    passOn(key, '/faults', body, response),
  );

  router.on('POST /api/standins/{key}/simulate', ({ path: { key = '' }, body, response }) =>
    passOn(key, '/simulate', body, response),
  );

  router.on('GET /api/devices/{key}/files/{file}', async ({ path: { key = '', file = '' }, response }) => {
    const device = deviceOf(key, response);
    if (!device) return;
    try {
      const answer = await fetch(`http://${device.host}:${device.port}/files/${encodeURIComponent(file)}`, {
        signal: AbortSignal.timeout(FILE_MS),
      });
      if (!answer.ok || device.kind !== 'recorder')
        return refuse(
          response,
          {
            code: 'unknown-file',
            message: `${device.name} has no file ${file.slice(0, 140)}.`,
            mend: 'Choose one that it lists.',
            path: 'file',
          },
          404,
        );
      response
        .attachment(file)
        .type('application/octet-stream')
        .send(Buffer.from(await answer.arrayBuffer()));
    } catch {
      refuse(response, {
        code: 'device-silent',
        message: `${device.name} does not answer; nothing was downloaded.`,
        mend: 'Check its power, address and port.',
      });
    }
  });
}
