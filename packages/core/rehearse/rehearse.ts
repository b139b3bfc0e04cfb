import { type AppError, fail, listsOf, ok, type PlainValue, type Result, type Step } from '../show/index';
import { UNKNOWN } from '../expression/index';
import { armedKey, claimsOn, Engine, type JournalEvent, type Program } from '../engine/index';
import { devicesInvolved } from './involved';
import { ModelPort } from './modelPort';
import { VirtualClock } from './virtualClock';

/** What to rehearse: a button as pressed (and, when it is a hold button, released after `holdMs`), a macro, a trigger, or the show. */
export interface RehearsalRequest {
  readonly program: Program;
  readonly what:
    | { readonly buttonId: string; readonly holdMs?: number }
    | { readonly macroId: string; readonly params?: Readonly<Record<string, PlainValue>> }
    /** A trigger by itself, whatever its condition says; of a *while* rule both halves, `holdMs` apart. */
    | { readonly triggerId: string; readonly holdMs?: number }
    /** The show with its triggers, while somebody presses. */
    | { readonly presses: readonly RehearsedPress[]; readonly untilMs?: number };
  /** The board as it is now, so that cameras begin where they stand; empty: everything as just switched on. */
  readonly state?: Iterable<readonly [string, PlainValue]>;
  /** Settings of devices that are known better than the show declares them, by device key. */
  readonly settings?: ReadonlyMap<string, Readonly<Record<string, unknown>>>;
  readonly linkGroup?: string;
  /** Virtual milliseconds after which a rehearsal that has not ended is cut off. */
  readonly horizonMs?: number;
  /** Steps of the virtual clock after which it is cut off: bounds what a rehearsal may cost beside a live show. */
  readonly mostEvents?: number;
  /** Tells what becomes of each point and value on the way. */
  readonly watches?: boolean;
}

/** A press of a rehearsal, milliseconds from its beginning. */
export interface RehearsedPress {
  readonly atMs: number;
  readonly buttonId: string;
  readonly holdMs?: number;
}

/** The predicted timeline: entries of the as-run's own type, times in milliseconds from the press. */
export interface Rehearsal {
  readonly entries: readonly JournalEvent[];
  readonly durationMs: number;
  /** Steps of the virtual clock that it took. */
  readonly events: number;
  readonly cutOff: boolean;
  /** Where that was asked for: what became of points, values and selections, milliseconds from the press; null: no longer known. */
  readonly changes?: readonly RehearsedChange[];
}

export type RehearsedChange = readonly [t: number, key: string, value: PlainValue | null];

/** So many changes are told; what a rehearsal does after them is seen in its entries only. */
const MOST_CHANGES = 5000;

const DAY_MS = 86_400_000;
/** A hand renews its press so often, milliseconds. */
const HELD_EVERY_MS = 100;
/** How long a *while* rule holds in a rehearsal that does not say, milliseconds. */
const HOLDS_MS = 2000;
/** What a rehearsal goes on for after its last press, where nothing runs any more, milliseconds. */
const AFTERWARDS_MS = 5000;
/** For so long after a run's end the answers to what it had sent are waited for, milliseconds. */
const ANSWERS_WITHIN_MS = 1000;

/** Runs a button or macro with the live engine on virtual time against device models. Nothing is sent. */
export function rehearse(request: RehearsalRequest): Result<Rehearsal, AppError> {
  const clock = new VirtualClock();
  const entries: JournalEvent[] = [];
  let counter = 0;
  const { program } = request;
  const changes: RehearsedChange[] | null = request.watches === true ? [] : null;
  let begun = false;
  /** Commands that nobody has heard the end of. */
  const open = new Set<string>();
  let endedAt = Number.NEGATIVE_INFINITY;
  const involved = involvedOf(request.what, program);
  const engine = new Engine({
    clock,
    // Sources are asked for by name only where nothing could be said beforehand.
    watchAir: involved === null,
    // A button by itself: what rules would do besides is rehearsed with the show.
    rules: 'presses' in request.what || 'triggerId' in request.what,
    hears: false,
    restored: restoredFor(request),
    restoredClaims: 'presses' in request.what || 'triggerId' in request.what ? claimsOn(new Map(request.state)) : [],
    answerAsks: true,
    ...(changes === null
      ? {}
      : {
          onPublished: (keys) => {
            if (!begun) return;
            for (const key of keys) {
              if (changes.length >= MOST_CHANGES) return;
              const value = engine.board.read(key);
              changes.push([clock.now(), key, value === UNKNOWN ? null : (value as PlainValue)]);
            }
          },
        }),
    program,
    journal: {
      append: (event) => {
        entries.push(event);
        if (event.kind === 'command') open.add(event.commandId);
        else if (event.kind === 'outcome') open.delete(event.commandId);
        else if (event.kind === 'runEnd') endedAt = event.t;
      },
    },
    newId: () => `rehearsed-${(counter += 1)}`,
  });
  const state = new Map(request.state ?? []);
  for (const [key, value] of state)
    if (key.startsWith('value.') || key.startsWith('chosen@')) engine.board.set(key, value);
  const known = byDevice(state);
  for (const device of program.document.devices) {
    const kind = program.kindOf(device.key);
    if (kind === undefined) continue;
    if (involved !== null && !involved.has(device.key)) {
      engine.newsOf(device.key).reached(true, 'Rehearsed');
      continue;
    }
    const port = new ModelPort(
      kind,
      request.settings?.get(device.key) ?? device.settings,
      clock,
      engine.newsOf(device.key),
      known.get(device.key) ?? {},
    );
    engine.attach(device.key, port);
    port.begin();
  }
  entries.length = 0;
  begun = true;
  const linkGroup = request.linkGroup ?? 'main';
  const { what } = request;
  if ('buttonId' in what) {
    const press = { pressId: 'rehearsed', buttonId: what.buttonId, station: 'rehearsal', linkGroup, sure: true };
    const answer = engine.press({ ...press, phase: 'down' });
    if (!answer.accepted) return fail(answer.error);
    const holdMs = what.holdMs ?? 1000;
    if (program.buttons.get(what.buttonId)?.mode === 'hold') {
      for (let t = 100; t < holdMs; t += 100) clock.at(t, () => engine.press({ ...press, phase: 'hold' }));
    }
    clock.at(program.buttons.get(what.buttonId)?.mode === 'hold' ? holdMs : 0, () =>
      engine.press({ ...press, phase: 'up' }),
    );
  } else if ('triggerId' in what) {
    const why = engine.board.turn(() => engine.rules?.rehearse(what.triggerId, what.holdMs ?? HOLDS_MS) ?? null);
    if (why !== null)
      return fail({ code: 'not-rehearsed', message: why, mend: 'Correct the trigger, then rehearse it again.' });
  } else if ('presses' in what) schedule(what.presses, engine, clock, linkGroup);
  else {
    const started = engine.runMacro(what.macroId, what.params ?? {}, { kind: 'rehearsal', id: '' }, linkGroup, 'all');
    if (!started.ok) return started;
  }
  const horizon = 'presses' in what && what.untilMs !== undefined ? what.untilMs : (request.horizonMs ?? DAY_MS);
  const lasts = leastOf(what);
  const most = request.mostEvents ?? Number.POSITIVE_INFINITY;
  let events = 0;
  // A hold button has a moment between its two runs in which nothing runs; the release is still scheduled then.
  while (
    (engine.runner.busy ||
      ('buttonId' in what && !released(entries, program, what.buttonId)) ||
      // A run that failed is over; what it had sent is answered all the same.
      (open.size > 0 && (clock.dueAt() ?? Number.POSITIVE_INFINITY) <= endedAt + ANSWERS_WITHIN_MS) ||
      (clock.dueAt() ?? Number.POSITIVE_INFINITY) <= lasts) &&
    (clock.dueAt() ?? 0) <= horizon &&
    events < most
  ) {
    if (!clock.runNext()) break;
    events += 1;
  }
  // What the next engine would be told is of no use to whoever reads a rehearsal.
  const shown = entries.filter(({ kind }) => kind !== 'claim');
  return ok({
    entries: shown,
    durationMs: lasts < 0 && endedAt >= 0 ? endedAt : (shown.at(-1)?.t ?? 0),
    events,
    cutOff: engine.runner.busy,
    ...(changes === null ? {} : { changes }),
  });
}

/** Until when a rehearsal goes on whatever runs, milliseconds. */
function leastOf(what: RehearsalRequest['what']): number {
  if ('triggerId' in what) return (what.holdMs ?? HOLDS_MS) + AFTERWARDS_MS;
  if (!('presses' in what)) return -1;
  const last = Math.max(0, ...what.presses.map(({ atMs, holdMs }) => atMs + (holdMs ?? 0)));
  return what.untilMs ?? last + AFTERWARDS_MS;
}

/** A trigger by itself is rehearsed with all of them disarmed; a show with those armed that are armed now, or that begin so. */
function restoredFor({ what, program, state }: RehearsalRequest): ReadonlyMap<string, PlainValue> {
  if ('triggerId' in what) return new Map(program.document.triggers.map(({ id }) => [armedKey(id), false]));
  if (!('presses' in what)) return new Map();
  return new Map([...(state ?? [])].filter(([key]) => key.startsWith('armed@')));
}

function schedule(presses: readonly RehearsedPress[], engine: Engine, clock: VirtualClock, linkGroup: string): void {
  presses.forEach(({ atMs, buttonId, holdMs = 100 }, at) => {
    const press = { pressId: `rehearsed-${at}`, buttonId, station: 'rehearsal', linkGroup, sure: true };
    clock.at(atMs, () => {
      engine.press({ ...press, phase: 'down' });
      for (let held = HELD_EVERY_MS; held < holdMs; held += HELD_EVERY_MS)
        clock.at(atMs + held, () => engine.press({ ...press, phase: 'hold' }));
      clock.at(atMs + holdMs, () => engine.press({ ...press, phase: 'up' }));
    });
  });
}

/** Devices to be modelled, worked out once for each macro or button of a program. */
const involvedBefore = new WeakMap<Program, Map<string, ReadonlySet<string> | null>>();

function involvedOf(what: RehearsalRequest['what'], program: Program): ReadonlySet<string> | null {
  // Of what a show does by itself nothing can be said beforehand.
  if ('presses' in what) return null;
  let known = involvedBefore.get(program);
  if (known === undefined) involvedBefore.set(program, (known = new Map()));
  const id = 'buttonId' in what ? what.buttonId : 'triggerId' in what ? what.triggerId : what.macroId;
  const before = known.get(id);
  if (before !== undefined) return before;
  const button = 'buttonId' in what ? program.buttons.get(what.buttonId) : undefined;
  // A macro that somebody tries is pressed by its id.
  const macro = program.macros.get(id);
  const own = button
    ? listsOf(button).flatMap(([, steps]) => steps)
    : [...(macro?.steps ?? []), ...(macro?.stopSteps ?? []), ...(program.triggers.get(id)?.steps ?? [])];
  // A macro's own parameters may be expressions too.
  const starts: Step[] = macro
    ? macro.params.map((param, index) => ({
        id: `p${index}`,
        onFail: 'goOn',
        kind: 'set',
        target: 'value.x',
        to: param.start,
      }))
    : [];
  const found = devicesInvolved([...own, ...starts], program);
  known.set(id, found);
  return found;
}

/** What is known of each device, point by point. */
function byDevice(state: ReadonlyMap<string, PlainValue>): Map<string, Record<string, PlainValue>> {
  const known = new Map<string, Record<string, PlainValue>>();
  for (const [key, value] of state) {
    const dot = key.indexOf('.');
    const device = key.slice(0, dot);
    let points = known.get(device);
    if (points === undefined) known.set(device, (points = {}));
    points[key.slice(dot + 1)] = value;
  }
  return known;
}

const released = (entries: readonly JournalEvent[], program: Program, buttonId: string): boolean =>
  program.buttons.get(buttonId)?.mode !== 'hold' ||
  entries.some((entry) => entry.kind === 'press' && entry.phase === 'up');
