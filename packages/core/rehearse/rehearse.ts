import { type AppError, fail, listsOf, ok, type PlainValue, type Result, type Step } from '../show/index';
import { Engine, type JournalEvent, type Program } from '../engine/index';
import { devicesInvolved } from './involved';
import { ModelPort } from './modelPort';
import { VirtualClock } from './virtualClock';

/** What to rehearse: a button as pressed (and, when it is a hold button, released after `holdMs`), or a macro. */
export interface RehearsalRequest {
  readonly program: Program;
  readonly what:
    | { readonly buttonId: string; readonly holdMs?: number }
    | { readonly macroId: string; readonly params?: Readonly<Record<string, PlainValue>> };
  /** The board as it is now, so that cameras begin where they stand; empty: everything as just switched on. */
  readonly state?: Iterable<readonly [string, PlainValue]>;
  /** Settings of devices that are known better than the show declares them, by device key. */
  readonly settings?: ReadonlyMap<string, Readonly<Record<string, unknown>>>;
  readonly linkGroup?: string;
  /** Virtual milliseconds after which a rehearsal that has not ended is cut off. */
  readonly horizonMs?: number;
  /** Steps of the virtual clock after which it is cut off: bounds what a rehearsal may cost beside a live show. */
  readonly mostEvents?: number;
}

/** The predicted timeline: entries of the as-run's own type, times in milliseconds from the press. */
export interface Rehearsal {
  readonly entries: readonly JournalEvent[];
  readonly durationMs: number;
  /** Steps of the virtual clock that it took. */
  readonly events: number;
  readonly cutOff: boolean;
}

const DAY_MS = 86_400_000;

/** Runs a button or macro with the live engine on virtual time against device models. Nothing is sent. */
export function rehearse(request: RehearsalRequest): Result<Rehearsal, AppError> {
  const clock = new VirtualClock();
  const entries: JournalEvent[] = [];
  let counter = 0;
  const { program } = request;
  const involved = involvedOf(request.what, program);
  const engine = new Engine({
    clock,
    // Sources are asked for by name only where nothing could be said beforehand.
    watchAir: involved === null,
    // A button by itself: what rules would do besides is rehearsed with the show.
    rules: false,
    answerAsks: true,
    program,
    journal: { append: (event) => entries.push(event) },
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
  } else {
    const started = engine.runMacro(what.macroId, what.params ?? {}, { kind: 'rehearsal', id: '' }, linkGroup, 'all');
    if (!started.ok) return started;
  }
  const horizon = request.horizonMs ?? DAY_MS;
  const most = request.mostEvents ?? Number.POSITIVE_INFINITY;
  let events = 0;
  // A hold button has a moment between its two runs in which nothing runs; the release is still scheduled then.
  while (
    (engine.runner.busy || ('buttonId' in what && !released(entries, program, what.buttonId))) &&
    clock.now() <= horizon &&
    events < most
  ) {
    if (!clock.runNext()) break;
    events += 1;
  }
  return ok({ entries, durationMs: entries.at(-1)?.t ?? 0, events, cutOff: engine.runner.busy });
}

/** Devices to be modelled, worked out once for each macro or button of a program. */
const involvedBefore = new WeakMap<Program, Map<string, ReadonlySet<string> | null>>();

function involvedOf(what: RehearsalRequest['what'], program: Program): ReadonlySet<string> | null {
  let known = involvedBefore.get(program);
  if (known === undefined) involvedBefore.set(program, (known = new Map()));
  const id = 'buttonId' in what ? what.buttonId : what.macroId;
  const before = known.get(id);
  if (before !== undefined) return before;
  const button = 'buttonId' in what ? program.buttons.get(what.buttonId) : undefined;
  // A macro that somebody tries is pressed by its id.
  const macro = program.macros.get(id);
  const own = button
    ? listsOf(button).flatMap(([, steps]) => steps)
    : [...(macro?.steps ?? []), ...(macro?.stopSteps ?? [])];
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
