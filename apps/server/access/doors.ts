import type { IncomingMessage } from 'node:http';
import type { ErrorReply } from '@umbek/protocol';
import type { FoundStation, StationKeys } from './stationKeys';
import { HERE } from './who';

/** Sent back over TLS alone, to this address alone, never to a script and never from another site's page. */
const COOKIE = '__Host-umbek-station';
const YEAR_S = 31_536_000;

/** As a browser keeps it. */
export const keyCookie = (key: string): string =>
  `${COOKIE}=${key}; Path=/; Max-Age=${YEAR_S}; Secure; HttpOnly; SameSite=Strict`;

/** As a browser forgets it. */
export const noKeyCookie = `${COOKIE}=; Path=/; Max-Age=0; Secure; HttpOnly; SameSite=Strict`;

/** The key of a station: a browser's cookie, or what a program says in a header. */
function keyIn({ headers }: Pick<IncomingMessage, 'headers'>): string {
  const [, bearer] = /^Bearer ([\x21-\x7e]+)$/i.exec(headers.authorization ?? '') ?? [];
  if (bearer !== undefined) return bearer;
  for (const part of (headers.cookie ?? '').split(';')) {
    const [name, value = ''] = part.trim().split('=', 2);
    if (name === COOKIE) return value;
  }
  return '';
}

/**
 * The two ways in: the engine's own machine, by loopback, where whoever is at it may do all; and the room, over TLS, where a key says who
 * asks. Which one a request took is known by the port that it came to, not by an address that it could claim.
 */
export class Doors {
  private readonly room = new WeakSet<IncomingMessage>();

  constructor(private readonly keys: StationKeys) {}

  cameFromRoom(request: IncomingMessage): void {
    this.room.add(request);
  }

  fromRoom(request: IncomingMessage): boolean {
    return this.room.has(request);
  }

  who(request: IncomingMessage): FoundStation {
    if (!this.room.has(request)) return { kind: 'station', who: HERE };
    const key = keyIn(request);
    // A device without one guesses nothing.
    return key === '' ? { kind: 'unknown' } : this.keys.find(key, request.socket.remoteAddress ?? '');
  }
}

/** Why somebody is not let in, by what was found. */
export const NOT_IN: Readonly<Record<Exclude<FoundStation['kind'], 'station'>, ErrorReply>> = {
  unknown: {
    code: 'not-joined',
    message: 'This device has not been let in, or not any more.',
    mend: 'Join at /join with six figures from a station that may let others in.',
  },
  'too-many-guesses': {
    code: 'slow-down',
    message: 'Too many keys that are not known here came from this address.',
    mend: 'Join at /join, or wait some seconds.',
  },
  elsewhere: {
    code: 'elsewhere',
    message: 'The key of this device is in use at another address.',
    mend: 'It is taken again some seconds after that one is gone. If that was not you, have the station sent away: Rig, Stations.',
  },
  copied: {
    code: 'not-joined',
    message:
      'This key had been changed for a new one: somebody has a copy of it. Nobody is let in with either any more.',
    mend: 'Join again at /join.',
  },
  'not-yet': {
    code: 'database-away',
    message: 'The database does not answer yet, so no station is known.',
    mend: 'Try again in some seconds.',
  },
};

export const statusOf = (kind: keyof typeof NOT_IN): number =>
  kind === 'not-yet' ? 503 : kind === 'too-many-guesses' ? 429 : 401;
