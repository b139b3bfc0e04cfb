import {
  type Clock,
  Engine,
  prepareEntry,
  type PressAnswer,
  type PressInput,
  type Program,
  type RunView,
} from '@umbek/core/engine';
import { asStored, type Change, type PlainValue } from '@umbek/core/show';
import type { LiveStores, TakeBackReply } from '@umbek/protocol';
import type { Log } from '../border/log';
import type { Network } from '../border/network';
import type { Helper, Telling } from '../helper/helper';
import { EngineJournal, type LineSink } from '../journal/engineJournal';
import type { LeftBehind } from '../journal/fold';
import type { DiskState } from '../journal/journalWriter';
import { TravelKeeper } from '../learning/travelKeeper';
import type { TravelStore } from '../learning/travelStore';
import { LiveDesk } from '../live/liveDesk';
import { Reservers } from '../live/reservers';
import { BoardFeed } from './boardFeed';
import { DeviceSockets, type TellGuard } from './deviceSockets';

const PREPARED_AT_ONCE = 20;
/** A run is rehearsed for its end when it still goes on after this long, so that the press itself never waits for that. */
const PREDICT_AFTER_MS = 30;
/** So many predicted ends are kept; each belongs to a run that goes on. */
const MOST_EXPECTED = 1000;
/** Stops go out so long before the sockets close. */
const FAREWELL_LIMIT_MS = 400;

export interface HostOptions {
  readonly clock: Clock;
  readonly network: Network;
  readonly helper: Helper;
  readonly travels: TravelStore;
  readonly program: Program;
  readonly epoch: number;
  readonly left: LeftBehind;
  readonly sink: LineSink;
  readonly guard: TellGuard;
  /** Work that waits until the present piece is over. */
  readonly later: (work: () => void) => void;
  readonly log?: Log;
}

/** Something that threw inside a border: where, and how often since. */
export interface Trouble {
  readonly where: string;
  readonly words: string;
  readonly count: number;
}

/** The engine with what hangs on it. Clock, network, helper, stores and journal come from outside: real, or simulated. */
export class EngineHost {
  readonly engine: Engine;
  readonly devices: DeviceSockets;
  readonly journal: EngineJournal;
  readonly live: LiveDesk;
  readonly reservers: Reservers;
  readonly travels: TravelKeeper;
  readonly clock: Clock;
  disk: DiskState = { waiting: 0, dropped: 0, trouble: null };
  private stores: LiveStores = { disk: null, database: true };
  private readonly feed: BoardFeed;
  /** Counts runs and commands; with the epoch in front it is theirs alone. */
  private ids = 0;
  private readonly endings = new Map<string, { how: string; why?: string }>();
  private readonly runsUnderWay = new Set<string>();
  private readonly expectedEnds = new Map<string, number>();
  private readonly troubles = new Map<string, { words: string; count: number }>();
  private copyTrouble: string | null = null;
  private closed = false;

  constructor(private readonly options: HostOptions) {
    const { clock, epoch, left, helper } = options;
    this.clock = clock;
    this.feed = new BoardFeed(clock, helper);
    this.journal = new EngineJournal(options.sink, epoch, clock, options.later, (entry) => {
      if (entry.kind === 'runEnd')
        this.endings.set(entry.runId, { how: entry.how, ...(entry.why === undefined ? {} : { why: entry.why }) });
      if (entry.kind === 'device') options.log?.info({ device: entry.device, state: entry.state }, entry.words);
    });
    // The engine speaks while it is being made, before anybody can listen.
    let live: LiveDesk | null = null;
    this.engine = new Engine({
      clock,
      journal: this.journal,
      program: options.program,
      newId: () => `e${epoch}n${(this.ids += 1)}`,
      restored: new Map(left.values),
      restoredClaims: left.claims,
      onRun: (run, ended) => this.reportRun(run, ended),
      onTaken: (taken) => live?.taken(taken),
      onPublished: (keys) => {
        live?.published(keys);
        this.feed.changed(keys);
      },
      onFaces: () => live?.facesChanged(),
      onShow: (station, panel, page) => live?.show(station, panel, page),
      onTrouble: (where, error) => this.trouble(where, error),
    });
    this.feed.reads(this.engine);
    this.devices = new DeviceSockets({
      engine: this.engine,
      clock,
      network: options.network,
      flush: () => this.journal.flush(),
      guard: options.guard,
      idPrefix: `e${epoch}`,
      onState: () => this.live.deviceStates(),
      onTrouble: (where, error) => this.trouble(where, error),
      travelled: (device, run) => this.travels.add(device, run),
    });
    this.travels = new TravelKeeper(
      options.travels,
      helper,
      () => clock.wall(),
      () => this.tellLearned(),
    );
    this.live = new LiveDesk({
      engine: this.engine,
      devices: this.devices,
      clock,
      epoch,
      expectedEnd: (runId) => this.expectedEnds.get(runId),
      stores: () => this.stores,
      takeBack: (station) => this.takeBack(station),
      onTrouble: (where, error) => this.trouble(where, error),
      interrupted: left.interrupted.map(({ runId, name, buttonId }) => ({
        runId,
        name,
        ...(buttonId === undefined ? {} : { buttonId }),
        step: '',
        leftMs: null,
        ended: { how: 'interrupted', why: 'The engine ended before it was over.' },
      })),
    });
    live = this.live;
    this.reservers = new Reservers({ engine: this.engine, clock, isHere: (owner) => this.live.isHere(owner) });
    this.journal.append({ kind: 'engine', t: clock.now(), words: `The engine began epoch ${epoch}.` });
    for (const { phase, answer, ...press } of left.answers) this.engine.intake.restore(press, phase, answer);
  }

  open(): void {
    for (const telling of this.everything()) this.options.helper.tell(telling);
    this.devices.follow();
    this.followTravels();
    this.prepare();
  }

  /** All that a new helper has to know. */
  everything(): Telling[] {
    const { document, revision } = this.engine.program;
    return [
      { type: 'show', document, revision },
      { type: 'board', changes: [...this.engine.board.entries()] },
      { type: 'learned', settings: [...this.travels.all()] },
    ];
  }

  /** Something threw: it failed alone, is told with its place, and counted in health. */
  trouble(where: string, error: unknown): void {
    const words = error instanceof Error ? (error.stack ?? error.message) : String(error);
    const known = this.troubles.get(where);
    this.troubles.set(where, { words, count: (known?.count ?? 0) + 1 });
    // Told in full at first, and then ever more seldom: a flood must not fill the log.
    const count = (known?.count ?? 0) + 1;
    if (this.closed || (count & (count - 1)) !== 0) return;
    const [first = ''] = words.split('\n');
    const often = count === 1 ? '' : ` (${count} times)`;
    this.journal.append({
      kind: 'engine',
      t: this.clock.now(),
      words: `Something failed in ${where}${often}: ${first}`.slice(0, 500),
    });
    this.options.log?.error({ where, count, err: error }, 'something failed, alone');
  }

  allTroubles(): Trouble[] {
    return [...this.troubles].map(([where, { words, count }]) => ({ where, words: words.split('\n')[0] ?? '', count }));
  }

  /** Who was let in, sent away, or may do something else now. @param station who did it; empty: somebody at the engine's own machine */
  access(station: string, words: string, person = ''): void {
    this.journal.append({
      kind: 'access',
      t: this.clock.now(),
      station: station === '' ? "the engine's own machine" : station,
      ...(person === '' ? {} : { person }),
      words,
    });
    this.options.log?.info({ station }, words);
  }

  diskState(state: DiskState): void {
    this.disk = state;
    this.keeps({});
  }

  /** What the local copy of the show last said, and whether the database answers, as far as it is told here; every page is told what changes. */
  keeps({
    copy = this.copyTrouble,
    database = this.stores.database,
  }: {
    copy?: string | null;
    database?: boolean;
  }): void {
    this.copyTrouble = copy;
    const disk = this.disk.trouble ?? copy;
    if (disk === this.stores.disk && database === this.stores.database) return;
    this.stores = { disk, database };
    this.live.storesState();
  }

  /** Prepares the buttons that an edit changed, or all of a show, a few at a time between presses. */
  private prepare(changed?: readonly string[]): void {
    const { program } = this.engine;
    const ids = changed ?? [...program.buttons.keys(), ...program.macros.keys()];
    const left = [...ids];
    const some = (): void => {
      if (this.closed || this.engine.program !== program) return;
      for (const id of left.splice(0, PREPARED_AT_ONCE)) prepareEntry(id, program);
      if (left.length > 0) this.options.later(some);
      else program.complete();
    };
    this.options.later(some);
  }

  press(input: PressInput): PressAnswer {
    return this.engine.press(input);
  }

  /** What taking the last press of a station back would do, in words. */
  takeBack(station: string): TakeBackReply | null {
    const back = this.engine.takeBack(station);
    if (back === null) return null;
    const { program } = this.engine;
    return { ...back, steps: back.steps.map((step) => program.sentence(step)), stays: [...back.stays] };
  }

  /** Goes over to the show as it was edited. @param changes what the one edit since the last revision changed; left out when it is not one edit */
  edited(program: Program, changes?: readonly Change[]): void {
    const before = this.engine.program;
    this.engine.setProgram(program);
    if (changes !== undefined && program.revision === before.revision + 1)
      this.options.helper.tell({ type: 'edit', changes, revision: program.revision });
    else this.options.helper.tell({ type: 'show', document: program.document, revision: program.revision });
    const rigChanged =
      before.document.devices !== program.document.devices ||
      before.document.sources !== program.document.sources ||
      before.document.profiles !== program.document.profiles;
    if (rigChanged) {
      this.devices.follow();
      this.followTravels();
      this.live.deviceStates();
    }
    this.prepare(program.changedButtons === null ? undefined : [...program.changedButtons]);
    this.live.edited(
      changes === undefined ? undefined : { revision: program.revision, changes: asStored(program.document, changes) },
    );
  }

  /** Another show was opened: its values have the contents that they had when it was closed, or their starts. */
  opened(contents: Readonly<Record<string, PlainValue>>, station: string, person?: string): void {
    const { name } = this.engine.program.document.show;
    this.journal.append({
      kind: 'engine',
      t: this.clock.now(),
      words: `${person ?? station} opened the show ${name}.`,
    });
    this.engine.putValues(contents);
  }

  /** The show is another one than the engine thought: everybody is told. */
  otherShow(program: Program, words: string): void {
    this.journal.append({ kind: 'engine', t: this.clock.now(), words });
    this.options.log?.info({ revision: program.revision }, words);
    this.edited(program);
  }

  /** Ends everything in order: what is held is released, runs do their stop steps, what moves is stopped; then the sockets close. */
  async close(): Promise<void> {
    if (this.closed) return;
    const { engine, clock } = this;
    engine.stopAll('the end of the engine', false);
    const moving = this.devices.moving;
    if (engine.runner.busy || moving)
      await new Promise<void>((resolve) => void clock.at(clock.now() + FAREWELL_LIMIT_MS, resolve));
    this.live.close();
    this.devices.close();
    if (moving) await new Promise<void>((resolve) => void clock.at(clock.now() + FAREWELL_LIMIT_MS, resolve));
    this.journal.append({ kind: 'engine', t: clock.now(), words: 'The engine was ended.' });
    this.journal.flush();
    this.closed = true;
    this.feed.close();
  }

  private followTravels(): void {
    this.travels
      .follow(this.engine.program.document.devices)
      .catch((error: unknown) => this.trouble('learning', error));
  }

  private tellLearned(): void {
    this.options.helper.tell({ type: 'learned', settings: [...this.travels.all()] });
  }

  private reportRun(run: RunView, ended: boolean): void {
    if (ended) {
      const ending = this.endings.get(run.runId);
      this.endings.delete(run.runId);
      this.expectedEnds.delete(run.runId);
      this.runsUnderWay.delete(run.runId);
      return this.live.run(run, ending ?? { how: 'done' });
    }
    if (!this.runsUnderWay.has(run.runId)) this.began(run);
    this.live.run(run);
  }

  /** Taken within the press's own turn: what the run has changed so far are points made unknown, which a rehearsal finds out again. */
  private began(run: RunView): void {
    this.runsUnderWay.add(run.runId);
    const { buttonId } = run;
    const { buttons, macros } = this.engine.program;
    if (buttonId === undefined || run.part === true || !(buttons.has(buttonId) || macros.has(buttonId))) return;
    this.feed.runBegan(run.runId, buttonId);
    if (!this.engine.program.lasts(buttonId)) return;
    this.clock.at(this.clock.now() + PREDICT_AFTER_MS, () => this.predictEnd(run.runId, run.startedAt));
  }

  /** Rehearses a run that goes on, so that its stations can be told the time left. */
  private predictEnd(runId: string, startedAt: number): void {
    if (!this.engine.runner.has(runId)) return;
    this.options.helper.ask('predictEnd', { runId }).then(
      (endMs) => {
        const run = this.engine.runner.list().find((candidate) => candidate.runId === runId);
        if (endMs === null || run === undefined || run.stopping) return;
        if (this.expectedEnds.size < MOST_EXPECTED) this.expectedEnds.set(runId, startedAt + endMs);
        this.live.run(run);
      },
      // Without a prediction no time left is told.
      () => undefined,
    );
  }
}
