import type { Counting } from './counting';
import type { Clock } from './clock';
import { closingOf, restores } from './restoreStep';
import { DeedLedger } from './deeds';
import type { CommandEvent, DevicePort } from './devicePort';
import { DriveLedger } from './driveLedger';
import type { Journal } from './journal';
import { Owners } from './owners';
import { callIdentity, type Run, type RunRequest, type RunView, viewOf } from './run';
import { pinsOf, readerOf, type Scope } from './scope';
import { SecondPresses } from './secondPress';
import type { ByHand } from './rules/ruleView';
import type { StateBoard } from './stateBoard';
import { StepRunner } from './stepRunner';
import { type Closing, type StepResult, Task } from './task';
import { WindowDrives, windowOfKey } from './windowDrive';

export { callIdentity, type RunRequest, type RunView };

export interface RunnerDependencies {
  readonly clock: Clock;
  readonly board: StateBoard;
  readonly journal: Journal;
  readonly newId: () => string;
  /** What counts in seconds, between them. */
  readonly counting?: Counting;
  readonly portOf: (device: string) => DevicePort | undefined;
  /** A run began, went on or ended. */
  readonly onRun?: (run: RunView, ended: boolean) => void;
  /** A station is to show a panel, or a page of one. */
  readonly onShow?: (station: string, panel: string, page: string) => void;
  /** A run arms, disarms or fires a trigger. Left out: the show does nothing by itself here. @returns why it cannot; null when it is done */
  readonly rules?: (trigger: string, does: 'arm' | 'disarm' | 'fire', by: ByHand, runId: string) => string | null;
  /** In a rehearsal nobody is there to ask: a question is answered at once. */
  readonly answerAsks?: boolean;
  /** Something inside threw: it failed alone. */
  readonly onTrouble?: (where: string, error: unknown) => void;
}

/** Runs macros and the steps of buttons: each run a tree of tasks, live and in rehearsal. */
export class MacroRunner {
  private readonly runs = new Map<string, Run>();
  private readonly steps: StepRunner;
  private readonly owners = new Owners((task, why) => this.endTask(task, why));
  /** Windows of sources without motors that move now. */
  readonly windows = new WindowDrives();
  private readonly second = new SecondPresses((task, why) => this.endTask(task, why));

  constructor(private readonly deps: RunnerDependencies) {
    this.steps = new StepRunner({
      ...deps,
      owners: this.owners,
      second: this.second,
      windows: this.windows,
      fail: (run, why) => this.wind(run, 'failed', why),
      stop: (run, why) => this.wind(run, 'stopped', why),
      close: (run, closings) => this.runClosings(run, closings),
      maybeEnd: (run) => this.maybeEnd(run),
      onChange: (run) => deps.onRun?.(viewOf(run), false),
    });
  }

  /** Whether anything runs. */
  get busy(): boolean {
    return this.runs.size > 0;
  }

  list(): RunView[] {
    return [...this.runs.values()].map(viewOf);
  }

  has(runId: string): boolean {
    return this.runs.has(runId);
  }

  /** Starts a run, or does what the rule for a second press says when one of this identity is under way. @returns the id of the run that answers for it */
  start(request: RunRequest): string {
    const verdict = this.second.meet(request.identity, request.again, null, () => {
      this.start(request);
      return true;
    });
    if (verdict.kind === 'instead') return verdict.runId;
    return this.begin(request);
  }

  /** Stops a run: what waits is dropped, its stop steps run, then it is over. Commands already sent are not taken back. */
  stop(runId: string, why: string): void {
    const run = this.runs.get(runId);
    if (run) this.wind(run, 'stopped', why);
  }

  /** Stops everything, and lets nothing wait any more: stop steps run to their end without pauses and waits. */
  stopEverything(why: string): number {
    this.second.clear();
    const runs = [...this.runs.values()];
    const open = runs.filter((run) => run.stopping === null && run.request.eachTried !== true);
    for (const run of runs) {
      run.hurried = true;
      // What only tidies up already is not ended: it goes on without its pauses.
      if (run.stopping === null && run.request.eachTried !== true) this.wind(run, 'stopped', why);
      else {
        run.root?.hurry();
        for (const closing of [...run.closings]) closing.hurry();
      }
    }
    return open.length;
  }

  /** Answers the question that a run waits for. @returns false when it asks nothing of this name any more */
  answer(runId: string, askId: string, what: 'goOn' | 'stop'): boolean {
    const question = this.runs.get(runId)?.questions.get(askId);
    question?.answer(what);
    return question !== undefined;
  }

  /** Begins the step that a run waits with, in one that is stepped through. @returns false when no step of this path waits any more */
  next(runId: string, path: string): boolean {
    const gate = this.runs.get(runId)?.gates.get(path);
    gate?.open();
    return gate !== undefined;
  }

  /** What stopping everything now would still do, by run: the lists that would run. */
  closingsAhead(): { readonly run: Run; readonly closings: readonly Closing[] }[] {
    const found: { run: Run; closings: Closing[] }[] = [];
    for (const run of this.runs.values()) {
      const closings: Closing[] = [];
      const visit = (task: Task): void => {
        for (const child of task.children) visit(child);
        if (task.closing !== null) closings.push(task.closing);
      };
      if (run.root !== null && run.stopping === null) visit(run.root);
      found.push({ run, closings });
    }
    return found;
  }

  private begin(request: RunRequest): string {
    const { clock, journal } = this.deps;
    // Field by field: copying an object that grows further fields is slow the first times, and most presses are first times.
    const run: Run = {
      request,
      runId: this.deps.newId(),
      startedAt: clock.now(),
      root: null,
      closings: new Set(),
      pending: new Map(),
      questions: new Map(),
      gates: new Map(),
      stopping: null,
      trouble: null,
      hurried: request.hurried === true,
      ended: false,
      step: '',
      stepPath: '',
      until: null,
      instant: -1,
      turn: -1,
      stepsInInstant: 0,
    };
    this.runs.set(run.runId, run);
    journal.append({
      kind: 'runStart',
      t: run.startedAt,
      runId: run.runId,
      name: request.name,
      cause: request.cause,
      buttonId: request.buttonId,
      macroId: request.macroId,
    });
    const { scope } = request;
    const eachTried = request.eachTried === true;
    const drives = request.drives ?? new DriveLedger();
    const root = new Task(
      run,
      null,
      scope,
      readerOf(this.deps.board, scope),
      'steps',
      clock.now(),
      0,
      eachTried,
      drives,
    );
    run.root = root;
    if (root.deeds === null && (request.stopSteps === 'asBefore' || restores(request.steps)))
      root.deeds = new DeedLedger();
    root.closing = closingOf(root, 'stopSteps', request.stopSteps ?? [], this.deps.board);
    this.second.began(request.identity, root);
    for (const device of request.owns ?? []) this.owners.claim(device, root, request.name);
    this.steps.list(root, request.steps, (result) => this.rootEnded(run, root, result));
    if (!run.ended) this.deps.onRun?.(viewOf(run), false);
    return run.runId;
  }

  private rootEnded(run: Run, root: Task, result: StepResult): void {
    if (!result.ok) return this.wind(run, 'failed', result.why);
    root.closing = null;
    if (run.request.drives === undefined) this.endDrives(run, root);
    root.end();
    this.maybeEnd(run);
  }

  /** Ends one part of a run because something else took its place: the whole run when the part is all there is of it. */
  private endTask(task: Task, why: string): void {
    if (task.over) return;
    const { run } = task;
    if (task === run.root) this.wind(run, 'stopped', why);
    else task.fail(why);
  }

  /** Ends what the run still does, sees to what has to follow, then closes it. */
  private wind(run: Run, how: 'failed' | 'stopped', why: string): void {
    if (run.ended || run.stopping !== null) return;
    run.stopping = { how, why };
    const closings = run.root?.cancel() ?? [];
    for (const takeBack of [...run.pending.values()]) takeBack();
    run.pending.clear();
    run.questions.clear();
    run.gates.clear();
    run.until = null;
    this.runClosings(run, closings);
    this.maybeEnd(run);
  }

  /** Ends what still moves, then runs the lists, all from this instant: none waits for another one's device. */
  private runClosings(run: Run, closings: readonly Closing[]): void {
    // A held press ends its moves itself, with its release.
    if (run.request.drives === undefined && run.root !== null) this.endDrives(run, run.root);
    for (const { owner, path, steps } of closings) {
      if (owner !== run.root) this.endDrives(run, owner);
      const list = new Task(run, null, owner.scope, owner.read, path, this.deps.clock.now(), 0, true, owner.drives);
      run.closings.add(list);
      this.steps.list(list, typeof steps === 'function' ? steps() : steps, () => {
        list.end();
        run.closings.delete(list);
        this.maybeEnd(run);
      });
    }
  }

  private endDrives(run: Run, task: Task): void {
    const { clock, journal } = this.deps;
    for (const [device, command] of task.drives.drain()) {
      const source = windowOfKey(device);
      if (source !== null) {
        this.windows.end(source);
        continue;
      }
      const port = this.deps.portOf(device);
      if (port === undefined) continue;
      const commandId = `${run.runId}/end.${device}`;
      journal.append({ kind: 'command', t: clock.now(), runId: run.runId, commandId, device, command });
      port.send(commandId, command, (event: CommandEvent) => {
        if (event.type !== 'outcome') return;
        const record = { t: clock.now(), runId: run.runId, commandId, device, outcome: event.outcome };
        journal.append({ kind: 'outcome', ...record, ...(event.why === undefined ? {} : { why: event.why }) });
      });
    }
  }

  private maybeEnd(run: Run): void {
    if (run.ended || run.root?.over !== true || run.closings.size > 0 || run.pending.size > 0) return;
    const { stopping, trouble } = run;
    if (stopping !== null)
      this.end(run, stopping.how, trouble === null ? stopping.why : `${stopping.why} Then: ${trouble}`);
    else if (trouble !== null) this.end(run, 'failed', trouble);
    else this.end(run, 'done');
  }

  private end(run: Run, how: 'done' | 'failed' | 'stopped', why?: string): void {
    run.ended = true;
    this.runs.delete(run.runId);
    this.deps.journal.append({ kind: 'runEnd', t: this.deps.clock.now(), runId: run.runId, how, why });
    run.request.onEnd?.(how === 'done');
    this.deps.onRun?.(viewOf(run), true);
    if (run.root !== null) this.second.over(run.request.identity, run.root);
  }

  /** A scope for steps that no press began. */
  freshScope(linkGroup: string): Scope {
    return { linkGroup, params: {}, pins: pinsOf(this.deps.board, linkGroup), sure: null };
  }
}
