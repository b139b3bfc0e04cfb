import type * as api from '@umbek/protocol';
import type { PlainValue, ShowDocument } from '@umbek/core/show';
import type { Response } from 'express';
import { emptyShow } from '../engine/showKeeper';
import type { RouteDependencies } from './dependencies';
import { guarded } from './guarded';
import { refuse, refuseAll } from './respond';
import type { Router } from './router';

const AWAY = 'The database does not answer, so shows can neither be kept nor opened.';

const unknown = (response: Response, id: string): void =>
  refuse(response, {
    code: 'unknown-show',
    message: `There is no closed show ${id.slice(0, 60)}.`,
    mend: 'Choose one of the list; it may be open, or was deleted meanwhile.',
    path: 'id',
  });

/** Many shows on one installation: one is open, the others are put away whole. */
export function addShelfRoutes(router: Router, deps: RouteDependencies): void {
  const { shelf } = deps;
  const open = (): ShowDocument => deps.host().engine.program.document;
  const list = async (response: Response, status = 200): Promise<void> => {
    const { id, name } = open().show;
    // One that is open may have been put away before.
    const body: api.ShowsReply = {
      open: { id, name },
      shows: (await shelf.list()).filter((candidate) => candidate.id !== id),
    };
    response.status(status).json(body);
  };

  router.on('GET /api/shows', ({ response }) => guarded(response, AWAY, () => list(response)));

  router.on('POST /api/shows', ({ body: { id, name, from }, response }) =>
    guarded(response, AWAY, async () => {
      // Asked for twice, it is made once, and what was programmed into it since stays.
      if (id !== open().show.id && (await shelf.read(id)) === null) {
        const made = from === 'empty' ? emptyShow(id) : open();
        await shelf.save({ ...made, show: { ...made.show, id, name } }, {});
      }
      await list(response, 201);
    }),
  );

  router.on('POST /api/shows/{id}/open', ({ path: { id = '' }, body: { station, person }, response }) =>
    guarded(response, AWAY, async () => {
      const { engine } = deps.host();
      const present = open();
      if (id === present.show.id)
        return void response.json({ revision: engine.program.revision, name: present.show.name });
      const next = await shelf.read(id);
      if (next === null) return unknown(response, id);
      const contents: Record<string, PlainValue> = {};
      for (const { key } of present.values) {
        const value = engine.board.read(`value.${key}`);
        if (typeof value !== 'symbol') contents[key] = value;
      }
      // Put away first: whatever fails behind it, nothing of the present show is lost.
      await shelf.save(present, contents);
      const taken = await deps.keeper.replace(next.document);
      if (!taken.ok) return refuseAll(response, taken.error);
      deps.host().edited(taken.value);
      deps.host().opened(next.values, station, person);
      response.json({ revision: taken.value.revision, name: next.document.show.name });
    }),
  );

  router.on('POST /api/shows/{id}/name', ({ path: { id = '' }, body: { name }, response }) =>
    guarded(response, AWAY, async () => {
      if (await shelf.rename(id, name)) await list(response);
      else unknown(response, id);
    }),
  );

  router.on('DELETE /api/shows/{id}', ({ path: { id = '' }, response }) =>
    guarded(response, AWAY, async () => {
      if (id !== open().show.id && (await shelf.drop(id))) await list(response);
      else unknown(response, id);
    }),
  );
}
