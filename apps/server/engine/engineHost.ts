import type { IncomingMessage, Server } from 'node:http';
import { RealClock } from '@umbek/host';
import { Engine, prepareButton, type PressAnswer, type PressInput, type RunView } from '@umbek/core/engine';
import { compare, type Comparison, rehearse } from '@umbek/core/rehearse';
import type { Change, PlainValue } from '@umbek/core/show';
import type { TravelKeeper } from '../learning/travelKeeper';
import { LocalJournal } from '../journal/localJournal';
import { readLeftBehind } from '../journal/recovery';
import { LiveServer } from '../live/liveServer';
import { DeviceSockets, type TellGuard } from './deviceSockets';
import type { ShowKeeper } from './showKeeper';

/** State before a run, kept so that the run can be rehearsed afterwards from the same beginning. */
interface Beginning {
  readonly request: { readonly buttonId: string } | { readonly macroId: string };
  readonly program: Engine['program'];
  readonly state: Iterable<readonly [string, PlainValue]>;
  /** Settings of heads with what was learned of them by then. */
  readonly settings: ReturnType<TravelKeeper['all']>;
}
const BEGINNINGS_KEPT = 200;
const PREPARED_AT_ONCE = 20;
/** A run is rehearsed for its end when it still goes on after this long, so that the press itself never waits for that. */
const PREDICT_AFTER_MS = 30;
/** Bounds what that may cost: at some 5 µs an event a few milliseconds. */
const PREDICT_EVENTS = 600;

/** The engine on real time, real sockets and a durable journal, with what hangs on it. */
export class EngineHost {
  readonly clock = new RealClock();
  readonly engine: Engine;
  readonly devices: DeviceSockets;
  readonly journal: LocalJournal;
  readonly live: LiveServer;
  readonly travels: TravelKeeper;
  /** Counts runs and commands; with the epoch in front it is theirs alone. */
  private ids = 0;
  private readonly endings = new Map<string, { how: string; why?: string }>();
  private readonly beginnings = new Map<string, Beginning>();
  private readonly expectedEnds = new Map<string, number>();

  constructor(options: {
    readonly server: Server;
    readonly keeper: ShowKeeper;
    readonly folder: string;
    readonly epoch: number;
    readonly guard: TellGuard;
    readonly hostAllowed: (request: IncomingMessage) => boolean;
    readonly travels: TravelKeeper;
  }) {
    this.travels = options.travels;
    const { folder, epoch, keeper } = options;
    // The engine speaks while it is being made, before anybody can listen.
    let live: LiveServer | null = null;
    this.journal = new LocalJournal(folder, epoch, this.clock, (entry) => {
      if (entry.kind === 'runEnd')
        this.endings.set(entry.runId, { how: entry.how, ...(entry.why === undefined ? {} : { why: entry.why }) });
    });
    this.engine = new Engine({
      clock: this.clock,
      journal: this.journal,
      program: keeper.current(),
      newId: () => `e${epoch}n${(this.ids += 1)}`,
      onRun: (run, ended) => this.told(run, ended),
      onPublished: (keys) => live?.published(keys),
    });
    this.devices = new DeviceSockets({
      engine: this.engine,
      clock: this.clock,
      flush: () => this.journal.flush(),
      guard: options.guard,
      idPrefix: `e${epoch}`,
      onState: () => this.live.deviceStates(),
      travelled: (device, run) => this.travels.add(device, run),
    });
    this.live = new LiveServer(options.server, {
      engine: this.engine,
      devices: this.devices,
      clock: this.clock,
      epoch,
      expectedEnd: (runId) => this.expectedEnds.get(runId),
      hostAllowed: options.hostAllowed,
    });
    live = this.live;
    const { closing, answers } = readLeftBehind(folder, epoch, this.clock.now());
    this.journal.append({ kind: 'engine', t: this.clock.now(), words: `The engine began epoch ${epoch}.` });
    for (const event of closing) this.journal.append(event);
    for (const { phase, answer, ...press } of answers) this.engine.intake.restore(press, phase, answer);
  }

  open(): void {
    this.devices.follow();
    void this.travels.follow(this.engine.program.document.devices);
    this.prepare();
  }

  /** Prepares the buttons a few at a time, between presses. */
  private prepare(): void {
    const { program } = this.engine;
    const ids = [...program.buttons.keys()];
    const some = (): void => {
      if (this.engine.program !== program) return;
      for (const id of ids.splice(0, PREPARED_AT_ONCE)) prepareButton(id, program);
      if (ids.length > 0) setImmediate(some);
    };
    some();
  }

  press(input: PressInput): PressAnswer {
    return this.engine.press(input);
  }

  /** Goes over to the show as it was edited. @param changes what the one edit since the last revision changed; left out when it is not one edit */
  edited(program: Engine['program'], changes?: readonly Change[]): void {
    this.engine.setProgram(program);
    this.devices.follow();
    void this.travels.follow(program.document.devices);
    this.prepare();
    this.live.edited(changes === undefined ? undefined : { revision: program.revision, changes });
    this.live.deviceStates();
  }

  /** A live run beside a rehearsal from the state it began in; null when that state is no longer kept. */
  comparison(runId: string, real: Parameters<typeof compare>[1]): Comparison | null {
    const beginning = this.beginnings.get(runId);
    if (!beginning) return null;
    const { request, program, state, settings } = beginning;
    const predicted = rehearse({ program, what: request, state, settings });
    return predicted.ok ? compare(predicted.value.entries, real) : null;
  }

  close(): void {
    this.live.close();
    this.travels.close();
    this.devices.close();
    this.journal.append({ kind: 'engine', t: this.clock.now(), words: 'The engine was ended.' });
    this.journal.close();
  }

  private told(run: RunView, ended: boolean): void {
    if (ended) {
      const ending = this.endings.get(run.runId);
      this.endings.delete(run.runId);
      this.expectedEnds.delete(run.runId);
      return this.live.run(run, ending ?? { how: 'done' });
    }
    if (!this.beginnings.has(run.runId)) this.keepBeginning(run);
    this.live.run(run);
  }

  /** Rehearses a run that goes on, so that its stations can be told the time left. */
  private predictEnd(runId: string): void {
    const beginning = this.beginnings.get(runId);
    if (!beginning || !this.engine.runner.list().some((run) => run.runId === runId && !run.stopping)) return;
    const { request, program, state, settings } = beginning;
    const predicted = rehearse({ program, what: request, state, settings, mostEvents: PREDICT_EVENTS });
    const end = predicted.ok ? predicted.value.entries.find((entry) => entry.kind === 'runEnd') : undefined;
    const run = this.engine.runner.list().find((one) => one.runId === runId);
    if (end === undefined || run === undefined) return;
    this.expectedEnds.set(runId, run.startedAt + end.t);
    this.live.run(run);
  }

  /** Taken within the press's own turn: what the run has changed so far are points made unknown, which a rehearsal finds out again. */
  private keepBeginning(run: RunView): void {
    const request = run.buttonId === undefined ? undefined : { buttonId: run.buttonId };
    if (request === undefined || run.name.endsWith('release')) return;
    this.beginnings.set(run.runId, {
      request,
      program: this.engine.program,
      state: this.engine.board.snapshot(),
      settings: this.travels.all(),
    });
    if (this.engine.program.lasts(request.buttonId)) setTimeout(() => this.predictEnd(run.runId), PREDICT_AFTER_MS);
    const oldest = this.beginnings.keys().next();
    if (this.beginnings.size > BEGINNINGS_KEPT && !oldest.done) this.beginnings.delete(oldest.value);
  }
}
