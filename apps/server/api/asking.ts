import type { IncomingMessage } from 'node:http';
import type { NextFunction, Request, Response } from 'express';
import { type Doors, NOT_IN, statusOf } from '../access/doors';
import { HERE, may, mayNot, type Who } from '../access/who';
import { refuse } from './respond';
import type { RouteSpec } from './table';

const asking = new WeakMap<IncomingMessage, Who>();

/** Who asks, once `letIn` has found out. */
export const whoAsks = (request: Request): Who => asking.get(request) ?? HERE;

/** Looks, before anything of a request is read, whether whoever asks may. Routes for gear look at their tokens, and those for joining at codes. */
export const letIn =
  (spec: Pick<RouteSpec, 'needs' | 'token' | 'open'>, doors: Doors) =>
  (request: Request, response: Response, next: NextFunction): void => {
    if (spec.token === true || spec.open === true) return next();
    const found = doors.who(request);
    if (found.kind !== 'station') return refuse(response, NOT_IN[found.kind], statusOf(found.kind));
    const needs = spec.needs ?? 'see';
    if (!may(found.who, needs)) return refuse(response, mayNot(needs), 403);
    asking.set(request, found.who);
    next();
  };

/**
 * A station that was let in is called what those who let it in call it, whatever it says of itself: in the as-run, for undo, for what it holds.
 * @param body checked already
 */
export function named<T>(body: T, who: Who): T {
  if (who.key === null || typeof body !== 'object' || body === null) return body;
  return {
    ...body,
    ...('station' in body ? { station: who.name, ...(who.person === '' ? {} : { person: who.person }) } : {}),
    ...('by' in body ? { by: who.person === '' ? who.name : who.person } : {}),
  };
}
