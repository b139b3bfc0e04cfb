import { join } from 'node:path';
import type { Express, Request, Response } from 'express';
import { keyCookie, NOT_IN, noKeyCookie } from '../access/doors';
import type { RouteDependencies } from './dependencies';
import { joinPage } from './joinPage';

const JOIN = '/join';
/** Letters of the join page. */
const LETTERS = ['plex-400-latin.woff2', 'plex-600-latin.woff2'];

/** What a device from the room is given that asks for no route of the API: the page where it has been let in, else the page on which it asks for that, and nothing more. */
export function roomPages(
  app: Express,
  { doors, stations, room, page }: Pick<RouteDependencies, 'doors' | 'stations' | 'room' | 'page'>,
): void {
  app.use((request: Request, response: Response, next) => {
    const open = room();
    if (open === null || !doors.fromRoom(request)) return next();
    const { authority, fingerprint } = open.certificate();
    const found = doors.who(request);
    if (request.path === `${JOIN}/umbek.crt` && authority !== null) {
      response.setHeader('content-disposition', 'attachment; filename="umbek.crt"');
      return void response.type('application/x-x509-ca-cert').send(authority);
    }
    const letters = LETTERS.find((file) => request.path === `${JOIN}/${file}`);
    if (letters !== undefined && page !== null) return void response.sendFile(join(page, 'fonts', letters));
    const plain = !/\.[a-z0-9]+$/.test(request.path);
    if (found.kind === 'station') {
      if (request.path === JOIN) return response.redirect(303, '/');
      if (!plain || found.who.key === null) return next();
      // A page is loaded: its key is changed for a new one where it has had it for long.
      stations.nextKey(found.who.key).then(
        (key) => {
          if (key !== null) response.setHeader('set-cookie', keyCookie(key));
          next();
        },
        () => next(),
      );
      return;
    }
    response.setHeader('cache-control', 'no-store');
    if (request.method !== 'GET' || !plain) return void response.status(401).type('text').send('Join at /join.');
    if (found.kind === 'not-yet' || found.kind === 'elsewhere') {
      const { message, mend } = NOT_IN[found.kind];
      return void response.status(503).type('text').send(`${message} ${mend}`);
    }
    if (request.path !== JOIN) return response.redirect(303, JOIN);
    // A key that is good for nothing is forgotten.
    response.setHeader('set-cookie', noKeyCookie);
    response.type('html').send(joinPage(fingerprint, authority !== null));
  });
}
