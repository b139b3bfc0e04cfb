import type * as api from '@umbek/protocol';
import type { Response } from 'express';
import { CREW_LIMITS } from '../access/crew';
import { may, type Who } from '../access/who';
import type { RouteDependencies } from './dependencies';
import { guarded } from './guarded';
import { refuse, refuseAll } from './respond';
import type { Router } from './router';

const AWAY = 'The database does not answer, so the crew cannot be changed.';
const UNKNOWN: api.ErrorReply = {
  code: 'unknown-id',
  message: 'There is nobody of this id in the crew any more.',
  mend: 'Look at the list again.',
  path: 'crew',
};

const NOT_PROVED: Readonly<Record<'wrong' | 'too-many-guesses' | 'busy', { status: number; error: api.ErrorReply }>> = {
  wrong: {
    status: 403,
    error: {
      code: 'wrong-phrase',
      message: 'That is not the pass phrase.',
      mend: 'Type it again. Large and small letters count.',
      path: 'phrase',
    },
  },
  'too-many-guesses': {
    status: 429,
    error: {
      code: 'slow-down',
      message: 'Too many pass phrases that were not right came from this station.',
      mend: 'Wait ten seconds, then type it again.',
      path: 'phrase',
    },
  },
  busy: {
    status: 429,
    error: { code: 'slow-down', message: 'Several people sign in at this moment.', mend: 'Try again.' },
  },
};

/** As whom the edits of a station count that has joined. */
export const editorOf = ({ name, person }: Pick<Who, 'name' | 'person'>): string => (person === '' ? name : person);

/** The crew, who signs in at a station, and to whom it is handed over. */
export function addCrewRoutes(router: Router, deps: RouteDependencies): void {
  const { crew, stations } = deps;
  const unknown = (response: Response): void => refuse(response, UNKNOWN, 404);
  const all = async (response: Response, status = 200): Promise<void> => {
    if (crew.list() === null) await crew.start();
    response.status(status).json(crew.list() ?? []);
  };
  const me = (response: Response, { rights, key, name, person, signedIn }: Who): void => {
    const reply: api.MeReply = { rights: [...rights], joined: key !== null, name, person, signedIn };
    response.json(reply);
  };
  /** Edits that somebody made are from now on another one's to undo. @returns how many */
  const handOver = async (from: string, to: string): Promise<number> => {
    const taken = await deps.keeper.handOver(from, to);
    if (!taken.ok) throw new Error(taken.error[0]?.message);
    if (taken.value.edits > 0) deps.host().edited(taken.value.program, []);
    return taken.value.edits;
  };

  router.on('GET /api/me', ({ who, response }) => me(response, who));

  router.on('GET /api/crew', ({ response }) => all(response));

  router.on('POST /api/crew', ({ body, who, response }) =>
    guarded(response, AWAY, async () => {
      if (crew.list() === null) await crew.start();
      const known = crew.list() ?? [];
      if (known.some(({ id, name }) => id !== body.id && name === body.name))
        return refuse(
          response,
          {
            code: 'name-taken',
            message: `There is ${body.name} in the crew already.`,
            mend: 'Give another name: the log and undo go by it.',
            path: 'name',
          },
          409,
        );
      const before = known.find(({ id }) => id === body.id);
      if (before === undefined && known.length >= CREW_LIMITS.members)
        return refuse(response, {
          code: 'too-many',
          message: `There are ${CREW_LIMITS.members} people in the crew already.`,
          mend: 'Delete those who do not work here any more.',
        });
      const { id, name, rights, phrase } = body;
      await crew.save(id, { name, rights, ...(phrase === undefined ? {} : { phrase }) });
      const words = [
        before === undefined ? `${name} is in the crew now, and may ${rights.join(', ')}.` : '',
        before !== undefined && before.name !== name ? `${before.name} of the crew is called ${name} now.` : '',
        before !== undefined && before.rights.join() !== rights.join() ? `${name} may ${rights.join(', ')} now.` : '',
        before !== undefined && phrase !== undefined
          ? `${name} ${phrase === null ? 'has no pass phrase any more' : 'has another pass phrase'}.`
          : '',
      ].filter(Boolean);
      if (words.length > 0) deps.host().access(who.name, words.join(' '), who.person);
      await all(response, before === undefined ? 201 : 200);
    }),
  );

  router.on('DELETE /api/crew/{id}', ({ path: { id = '' }, who, response }) =>
    guarded(
      response,
      'The database does not answer. This person is signed out everywhere now, and may be in the crew again after the next start of Umbek.',
      async () => {
        const name = crew.find(id)?.name;
        if (!(await crew.remove(id))) return unknown(response);
        deps.host().access(who.name, `${name ?? 'Somebody'} is not in the crew any more.`, who.person);
        await all(response);
      },
    ),
  );

  router.on('POST /api/me/sign-in', ({ body, who, response }) =>
    guarded(
      response,
      'The database does not answer. You are signed in, and will not be after the next start of Umbek.',
      async () => {
        if (who.key === null)
          return refuse(response, {
            code: 'at-the-engine',
            message: 'This is the engine’s own machine: whoever is at it may do all.',
            mend: 'Write your name under This station.',
          });
        const member = crew.find(body.crew);
        if (member === undefined) return unknown(response);
        const proof = await crew.prove(body.crew, body.phrase, who.key);
        if (proof === 'unknown')
          return refuse(response, {
            code: 'no-phrase',
            message: `${member.name} has no pass phrase, so nobody can tell that it is you.`,
            mend: 'Somebody who may let others in gives one, or hands this station to you: Rig, Stations.',
            path: 'crew',
          });
        if (proof !== 'right') {
          if (proof !== 'busy')
            deps.host().access(who.name, `A pass phrase for ${member.name} was not right.`, who.person);
          return refuse(response, NOT_PROVED[proof].error, NOT_PROVED[proof].status);
        }
        const from = editorOf(who);
        const was = who.person;
        await stations.signIn(who.key, member.id);
        const handed =
          body.handOver && may(who, 'program') && from !== member.name ? await handOver(from, member.name) : 0;
        deps
          .host()
          .access(
            who.name,
            `${member.name} signed in${was === '' || was === member.name ? '' : ` after ${was}`}.${handedWords(handed)}`,
            member.name,
          );
        me(response, who);
      },
    ),
  );

  router.on('POST /api/me/sign-out', ({ who, response }) =>
    guarded(
      response,
      'The database does not answer. You are signed out, and may be signed in again after the next start of Umbek.',
      async () => {
        const { key, person, signedIn } = who;
        if (key !== null && signedIn) {
          await stations.signIn(key, null);
          deps.host().access(who.name, `${person} signed out.`, person);
        }
        me(response, who);
      },
    ),
  );

  router.on('POST /api/hand-over', async ({ body: { from, to }, who, response }) => {
    if (who.key !== null && from !== editorOf(who) && !may(who, 'admit'))
      return refuse(
        response,
        {
          code: 'not-yours',
          message: `The edits of ${from} are not yours to hand over.`,
          mend: 'Hand over your own, or ask somebody who may let others in.',
          path: 'from',
        },
        403,
      );
    const taken = await deps.keeper.handOver(from, to);
    if (!taken.ok) return refuseAll(response, taken.error);
    const { edits, program } = taken.value;
    if (edits > 0) {
      deps.host().edited(program, []);
      deps.host().access(who.name, `${from} handed over to ${to}.${handedWords(edits)}`, who.person);
    }
    response.json({ edits });
  });

  router.on('POST /api/stations/{id}/hand-over', ({ body, path: { id = '' }, who, response }) =>
    guarded(response, AWAY, async () => {
      const member = 'crew' in body ? crew.find(body.crew) : undefined;
      if ('crew' in body && member === undefined) return unknown(response);
      const name = member?.name ?? ('person' in body ? body.person : '');
      const { live } = deps.host();
      const there = live.handTo(id, name);
      if (there === null)
        return refuse(
          response,
          {
            code: 'not-there',
            message: 'Nothing acts as this station now.',
            mend: 'Look at the list again.',
            path: 'id',
          },
          404,
        );
      let edits = 0;
      for (const item of there) {
        if (member !== undefined) await stations.signIn(item.key, member.id);
        else await stations.worksAt(item.key, name);
        if (item.from !== name) edits += await handOver(item.from, name);
      }
      deps.host().access(who.name, `The station was handed to ${name}.${handedWords(edits)}`, who.person);
      response.json({ edits });
    }),
  );
}

const handedWords = (edits: number): string =>
  edits === 0 ? '' : ` ${edits === 1 ? 'One edit is' : `${edits} edits are`} theirs to undo now.`;
