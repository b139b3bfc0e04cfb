import { RIGHTS } from '@umbek/protocol';
import type { Request } from 'express';
import { Doors, keyCookie } from '../access/doors';
import { HERE, mayNot, type Who } from '../access/who';
import type { StationKeys } from '../access/stationKeys';
import { letIn, named, whoAsks } from './asking';
import { ROUTES, type RouteSpec } from './table';

const PHONE: Who = { key: 'a', name: 'Phone', person: 'Ines', rights: ['see', 'operate'], signedIn: false };
const keys = { find: (key: string) => (key === 'right' ? { kind: 'station', who: PHONE } : { kind: 'unknown' }) };
const doors = new Doors(keys as unknown as StationKeys);

function ask(spec: Pick<RouteSpec, 'needs' | 'token' | 'open'>, headers: Record<string, string> | null) {
  const request = { headers: headers ?? {}, socket: { remoteAddress: '10.0.0.7' } } as unknown as Request;
  if (headers !== null) doors.cameFromRoom(request);
  let said: unknown = null;
  const response = { status: (status: number) => ({ json: (body: { code: string }) => (said = [status, body.code]) }) };
  letIn(spec, doors)(request, response as never, () => (said = 'let in'));
  return { said, who: whoAsks(request) };
}
const KEY = { authorization: 'Bearer right' };

describe('who may ask for a route', () => {
  it('every route that changes something says what right it needs, and is not open', () => {
    const bare = Object.entries(ROUTES as Record<string, RouteSpec>).filter(
      ([route, { needs, token, open }]) =>
        !route.startsWith('GET ') && needs === undefined && token !== true && open !== true,
    );
    expect(bare.map(([route]) => route)).toEqual([]);
    const open = Object.entries(ROUTES as Record<string, RouteSpec>).filter((candidate) => candidate[1].open === true);
    expect(open.map(([route]) => route)).toEqual(['POST /api/join', 'POST /api/join/wait']);
  });

  it('at the engine’s own machine everybody, whatever key they show', () => {
    for (const needs of RIGHTS) expect(ask({ needs }, null)).toEqual({ said: 'let in', who: HERE });
  });

  it('from the room a station with the right, by cookie or header', () => {
    expect(ask({ needs: 'operate' }, KEY)).toEqual({ said: 'let in', who: PHONE });
    const cookie = `other=1; ${keyCookie('right').split(';')[0] ?? ''}`;
    expect(ask({}, { cookie })).toEqual({ said: 'let in', who: PHONE });
    expect(ask({ needs: 'program' }, KEY).said).toEqual([403, 'may-not-program']);
    expect(ask({ needs: 'admit' }, KEY).said).toEqual([403, 'may-not-admit']);
    expect(ask({}, {}).said).toEqual([401, 'not-joined']);
    expect(ask({}, { authorization: 'Bearer wrong' }).said).toEqual([401, 'not-joined']);
    expect(ask({ open: true }, {}).said).toBe('let in');
    expect(mayNot('program').message).toBe('This station may not change the show.');
  });

  it('is called what those who let it in call it, whatever it says', () => {
    const said = { pressId: 'p', station: 'Engineer', person: 'Tomasz' };
    expect(named(said, PHONE)).toEqual({ pressId: 'p', station: 'Phone', person: 'Ines' });
    expect(named(said, HERE)).toBe(said);
    expect(named({ by: 'Tomasz', changes: [] }, PHONE)).toEqual({ by: 'Ines', changes: [] });
    expect(named({ by: 'Tomasz' }, { ...PHONE, person: '' })).toEqual({ by: 'Phone' });
    expect(named({ name: 'as it is' }, PHONE)).toEqual({ name: 'as it is' });
  });
});
