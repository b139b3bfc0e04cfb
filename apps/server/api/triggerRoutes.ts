import type { Engine, RuleView, WhyEntry } from '@umbek/core/engine';
import { whyOf } from '@umbek/core/engine';
import type { Trigger } from '@umbek/core/show';
import type { TriggerRow } from '@umbek/protocol';
import type { Response } from 'express';
import { rankOf } from '../access/who';
import type { RouteDependencies } from './dependencies';
import { refuse } from './respond';
import type { Router } from './router';

const notThere = (response: Response): void =>
  refuse(
    response,
    {
      code: 'unknown-trigger',
      message: 'There is no such trigger in this show.',
      mend: 'Take its id from GET /api/triggers.',
      path: 'id',
    },
    404,
  );

/** What a show does by itself: its triggers, and why things are as they are. */
export function addTriggerRoutes(router: Router, deps: Pick<RouteDependencies, 'host' | 'helper'>): void {
  /** An engine's time as a time of day. */
  const wall = (t: number): string => {
    const { clock } = deps.host();
    return new Date(clock.wall().getTime() - (clock.now() - t)).toISOString();
  };
  const withWallTime = ({ t, ...entry }: WhyEntry) => ({ ...entry, at: t === null ? null : wall(t) });
  const rowOf = ({ id, name, group, kind }: Trigger, view: RuleView): TriggerRow => ({
    id,
    name,
    group,
    kind,
    armed: view.armed,
    ...(kind === 'when' ? {} : { holds: view.state === 'holds' || (kind === 'while' && view.state === 'changed') }),
    state: view.state,
    ...(view.lastFired === null ? {} : { lastFired: wall(view.lastFired) }),
    lastWords: view.lastWords,
  });
  const found = (id: string): { trigger: Trigger; engine: Engine; rules: NonNullable<Engine['rules']> } | null => {
    const { engine } = deps.host();
    const trigger = engine.program.triggers.get(id);
    return trigger === undefined || engine.rules === null ? null : { trigger, engine, rules: engine.rules };
  };

  router.on('GET /api/triggers', ({ response }) => {
    const { engine } = deps.host();
    const { rules } = engine;
    const all = [...engine.program.document.triggers].sort((a, b) => (a.order < b.order ? -1 : 1));
    response.json(rules === null ? [] : all.map((trigger) => rowOf(trigger, rules.view(trigger.id))));
  });

  router.on('GET /api/triggers/{id}', ({ path: { id = '' }, response }) => {
    const item = found(id);
    if (item === null) return notThere(response);
    const view = item.rules.view(id);
    response.json({
      ...rowOf(item.trigger, view),
      edges: [...view.edges].reverse().map(({ t, what, words, read, runId, because }) => ({
        at: wall(t),
        what,
        words,
        read,
        ...(runId === undefined ? {} : { runId }),
        because: because.map(withWallTime),
      })),
      leaving: item.rules.leavingAhead(id).map((step) => item.engine.program.sentence(step)),
    });
  });

  router.on('POST /api/triggers/arm', ({ body: { armed, ids, station, person }, response }) => {
    const { engine } = deps.host();
    const { rules } = engine;
    const by = { station, person };
    const changed = engine.board.turn(() => {
      if (rules === null) return 0;
      if (!armed && ids === undefined) return rules.disarmAll(by);
      // All at once: those that were armed before all were disarmed, or else those that begin armed.
      const again = rules.armableAgain;
      const usual = engine.program.document.triggers
        .filter(({ atStart }) => atStart === 'armed')
        .map((trigger) => trigger.id);
      const meant = ids ?? (again.length > 0 ? again : usual);
      const other = meant.filter((id) => engine.program.triggers.has(id) && rules.isArmed(id) !== armed);
      for (const id of other) rules.arm(id, armed, by);
      return other.length;
    });
    response.json({ changed });
  });

  router.on('POST /api/triggers/{id}/arm', ({ path: { id = '' }, body: { armed, station, person }, response }) => {
    const item = found(id);
    if (item === null) return notThere(response);
    item.engine.board.turn(() => item.rules.arm(id, armed, { station, person }));
    response.json(rowOf(item.trigger, item.rules.view(id)));
  });

  router.on('POST /api/triggers/{id}/fire', async ({ path: { id = '' }, body, who, response }) => {
    const item = found(id);
    if (item === null) return notThere(response);
    if (body.rehearse) {
      const timeline = await deps.helper.ask('rehearse', { what: { triggerId: id } }).catch(() => null);
      if (timeline === null)
        return refuse(
          response,
          {
            code: 'helper-away',
            message: 'The rehearsal could not be worked out. The show goes on.',
            mend: 'Try again in a moment.',
          },
          503,
        );
      if (!timeline.ok) return refuse(response, timeline.error);
      const { entries, durationMs, cutOff } = timeline.value;
      return void response.json({ rehearsed: true, entries, durationMs, cutOff });
    }
    const { station, person } = body;
    const fired = item.engine.board.turn(() => item.rules.fire(id, { station, person, rank: rankOf(who) }));
    if (!fired.ok) return refuse(response, fired.error);
    response.json({ rehearsed: false, runId: fired.value });
  });

  router.on('GET /api/why', ({ query: { key }, response }) => {
    const { engine } = deps.host();
    const chain = whyOf(engine, key).map(withWallTime);
    if (chain.length === 0)
      return refuse(
        response,
        {
          code: 'unknown-key',
          message: 'Nothing has this name.',
          mend: 'Give a point such as switcher.program, or the id of a button, macro, run, press or trigger.',
          path: 'key',
        },
        404,
      );
    response.json({ chain });
  });
}
