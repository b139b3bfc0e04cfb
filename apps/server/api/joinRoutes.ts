import type * as api from '@umbek/protocol';
import QRCode from 'qrcode';
import type { Response } from 'express';
import { deviceWords } from '../access/deviceWords';
import { keyCookie } from '../access/doors';
import { INVITATION_LIMITS } from '../access/invitations';
import { STATION_LIMITS } from '../access/stationKeys';
import { ulid } from 'ulid';
import type { RouteDependencies } from './dependencies';
import { guarded } from './guarded';
import { refuse } from './respond';
import type { Router } from './router';

const AWAY = 'The database does not answer, so nobody can be let in or sent away for good.';
const NOT_OPEN: api.ErrorReply = {
  code: 'no-room',
  message: 'Umbek listens on its own machine only.',
  mend: 'Start it with npm start -- --room.',
};

const nameTaken = (response: Response, name: string): void =>
  refuse(
    response,
    {
      code: 'name-taken',
      message: `There is a station ${name} already.`,
      mend: 'Give this one another name: the log and undo go by it.',
      path: 'name',
    },
    409,
  );

/** A machine with more networks than these shows the first ones. */
const MOST_ADDRESSES = 8;

/** The dark modules of a QR code, row by row, as runs. */
function qrOf(text: string): api.InvitationReply['qrs'][number] {
  const { size, data } = QRCode.create(text, { errorCorrectionLevel: 'M' }).modules;
  let path = '';
  for (let y = 0; y < size; y += 1)
    for (let x = 0; x < size; x += 1) {
      const from = x;
      while (x < size && data[y * size + x] === 1) x += 1;
      if (x > from) path += `M${from} ${y}h${x - from}v1h-${x - from}z`;
    }
  return { size, path };
}

/** Joining: invitations, the question whether to let a device in, and the stations that were let in. */
export function addJoinRoutes(router: Router, deps: RouteDependencies): void {
  const { invitations, stations } = deps;
  const joining = async (response: Response): Promise<void> => {
    if (stations.list() === null) await stations.start();
    const room = deps.room();
    const reply: api.JoiningReply = {
      room:
        room === null
          ? null
          : {
              addresses: room.addresses(),
              fingerprint: room.certificate().fingerprint,
              until: room.certificate().until.toISOString(),
            },
      asking: invitations.waiting(),
      joined: stations.list() ?? [],
    };
    response.json(reply);
  };
  const unknown = (response: Response, message: string): void =>
    refuse(response, { code: 'unknown-id', message, mend: 'Look at the list again.', path: 'id' }, 404);

  router.on('POST /api/invitations', ({ response }) => {
    const room = deps.room();
    if (room === null) return refuse(response, NOT_OPEN, 409);
    const invitation = invitations.invite();
    if (invitation === null)
      return refuse(response, {
        code: 'too-many',
        message: `There are ${INVITATION_LIMITS.atOnce} invitations already.`,
        mend: 'Each of them is over after two minutes.',
      });
    const addresses = room.addresses().slice(0, MOST_ADDRESSES);
    const reply: api.InvitationReply = {
      id: invitation.id,
      code: invitation.code,
      leftMs: INVITATION_LIMITS.lastsMs,
      addresses,
      // Behind the hash it is sent to nobody, and stands in no log.
      qrs: addresses.map((address) => qrOf(`${address}/join#${invitation.secret}`)),
    };
    response.setHeader('cache-control', 'no-store');
    response.status(201).json(reply);
  });

  router.on('DELETE /api/invitations/{id}', ({ path: { id = '' }, response }) => {
    invitations.end(id);
    response.json({});
  });

  router.on('POST /api/join', ({ body, request, response }) => {
    if (!deps.doors.fromRoom(request))
      return refuse(response, {
        code: 'at-the-engine',
        message: 'This is the engine’s own machine: nobody has to be let in here.',
        mend: 'Open the page.',
      });
    const asked = invitations.ask(body, {
      name: body.name,
      device: deviceWords(request.headers['user-agent'] ?? ''),
      address: request.socket.remoteAddress ?? '',
    });
    switch (asked.kind) {
      case 'asking': {
        const reply: api.JoinReply = { id: asked.id, secret: asked.secret };
        response.setHeader('cache-control', 'no-store');
        return response.status(202).json(reply);
      }
      case 'wrong':
        return refuse(
          response,
          {
            code: 'wrong-code',
            message: 'No such invitation is open. Each is good once, and for two minutes.',
            mend: 'Look at the figures again, or ask for new ones.',
          },
          403,
        );
      case 'too-many-guesses':
        return refuse(
          response,
          {
            code: 'slow-down',
            message: 'Too many figures that were not right came from this address.',
            mend: 'Wait ten seconds, and take the figures that are shown then.',
          },
          429,
        );
      case 'too-many':
        return refuse(
          response,
          {
            code: 'too-many',
            message: 'Too many devices ask to be let in.',
            mend: 'Try again when some of them have an answer.',
          },
          429,
        );
    }
  });

  router.on('POST /api/join/wait', ({ body, response }) =>
    guarded(response, AWAY, async () => {
      const waited = await invitations.waited(body.id, body.secret, (device, grant) =>
        stations.admit(ulid(), { ...grant, device }),
      );
      response.setHeader('cache-control', 'no-store');
      if (waited.state === 'in') response.setHeader('set-cookie', keyCookie(waited.key));
      const reply: api.JoinWaitReply = waited;
      response.json(reply);
    }),
  );

  router.on('GET /api/joining', ({ response }) => joining(response));

  router.on('POST /api/joining/{id}', async ({ body, path: { id = '' }, who, response }) => {
    const known = stations.list();
    if (body.let && known !== null && known.length >= STATION_LIMITS.stations)
      return refuse(response, {
        code: 'too-many',
        message: `There are ${STATION_LIMITS.stations} stations already.`,
        mend: 'Send one away that nobody uses.',
      });
    if (body.let && known?.some(({ name }) => name === body.name) === true) return nameTaken(response, body.name);
    const waiting = invitations.waiting().find((candidate) => candidate.id === id);
    if (!invitations.answer(id, body.let ? body : null)) return unknown(response, 'Nobody waits for this answer.');
    deps
      .host()
      .access(
        who.name,
        body.let
          ? `${body.name} (${waiting?.device ?? 'a device'}, ${waiting?.address ?? 'no address'}) was let in: may ${body.rights.join(', ')}.`
          : `${waiting?.name ?? 'A device'} (${waiting?.address ?? 'no address'}) was not let in.`,
        who.person,
      );
    await joining(response);
  });

  router.on('POST /api/joined/{id}', ({ body, path: { id = '' }, who, response }) =>
    guarded(response, AWAY, async () => {
      if (stations.list()?.some((candidate) => candidate.name === body.name && candidate.id !== id) === true)
        return nameTaken(response, body.name);
      if (!(await stations.change(id, body))) return unknown(response, 'There is no such station any more.');
      deps
        .host()
        .access(
          who.name,
          `${body.name}${body.person === '' ? '' : ` (${body.person})`} may ${body.rights.join(', ')} now.`,
          who.person,
        );
      await joining(response);
    }),
  );

  router.on('DELETE /api/joined/{id}', ({ path: { id = '' }, who, response }) =>
    guarded(
      response,
      'The database does not answer. The station is sent away, and may be let in again after the next start.',
      async () => {
        const name = stations.list()?.find((candidate) => candidate.id === id)?.name;
        if (!(await stations.revoke(id))) return unknown(response, 'There is no such station any more.');
        deps.host().access(who.name, `${name ?? 'A station'} was sent away.`, who.person);
        await joining(response);
      },
    ),
  );
}
