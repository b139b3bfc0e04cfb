import type { ReadKey } from '../expression/index';
import { FULL_WINDOW, type Window, windowMoved, windowTold } from '../picture/window';
import type { Argument, Step } from '../show/index';
import type { Cancel } from './clock';
import { deedOfCommand } from './deeds';
import { type Motorless, unfitForWindow } from './motorless';
import { guardedOnAir } from './onAir';
import type { Program } from './program';
import { resolveCommand, resolveArgument } from './resolve';
import { reachedKey } from './scope';
import { bad, type StepKit } from './stepKit';
import { type Finish, FINE, type Task } from './task';

type CommandStep = Extract<Step, { kind: 'command' }>;

/** A step goes out so often, each over as long as the next one takes to come: what ends the engine ends the move within one of them. */
const EVERY_MS = 100;
/** No hand holds on for longer. */
const LONGEST_MS = 30_000;
/** Frames over which the full view comes back. */
const BACK_FRAMES = 25;

/** Under this name a move of a window stands among the moves that have to be ended. */
export const windowKey = (source: string): string => `window:${source}`;
export const windowOfKey = (key: string): string | null =>
  key.startsWith('window:') ? key.slice('window:'.length) : null;

interface Drive {
  readonly name: string;
  readonly at: () => Window;
  /** @param rests it comes to rest here; otherwise another move takes it from here */
  readonly end: (rests: boolean) => void;
}

/** Windows that move while something is held, by source. The latest hand on a window has it. */
export class WindowDrives {
  private readonly drives = new Map<string, Drive>();

  begin(source: string, drive: Drive): void {
    this.drives.get(source)?.end(false);
    this.drives.set(source, drive);
  }

  /** Where a window that moves has been sent; the switcher may not have told of it yet. */
  at(source: string): Window | undefined {
    return this.drives.get(source)?.at();
  }

  /** @returns whether it moved */
  end(source: string): boolean {
    const drive = this.drives.get(source);
    this.drives.delete(source);
    drive?.end(true);
    return drive !== undefined;
  }

  endAll(): void {
    for (const source of [...this.drives.keys()]) this.end(source);
  }

  /** Names of sources whose window moves. */
  get moving(): string[] {
    return [...this.drives.values()].map(({ name }) => name);
  }
}

const number = (argument: Argument | undefined, program: Program, read: ReadKey): number | string => {
  if (argument === undefined) return 0;
  const value = resolveArgument(argument, program, read);
  return !value.ok ? value.error.message : typeof value.value === 'number' ? value.value : 0;
};

/** A command to the chosen camera that acts on the window of a source: nudge while held, stop, or the full view again. */
export function windowStep(
  kit: StepKit,
  task: Task,
  step: CommandStep,
  path: string,
  window: Motorless,
  end: Finish,
): void {
  const { source, switcher } = window;
  const { board, windows } = kit.deps;
  const { program } = task.run.request;
  const unfit = unfitForWindow(step, window);
  if (unfit !== null) return end(bad(unfit.message));
  if (step.command === 'stop') {
    task.drives.sent(windowKey(source.key), 'stop');
    windows.end(source.key);
    return end(FINE);
  }
  const seen = guardedOnAir(step, program, task.read, task.scope.sure);
  if (seen !== null) return end(bad(seen));
  if (board.read(reachedKey(switcher)) !== true)
    return end(bad(`${program.devices.get(switcher)?.name ?? 'The switcher'} does not answer.`));
  const known = windows.at(source.key) ?? windowTold(board.read(`${switcher}.input${window.input}Window`));
  if (known === null) return end(bad(`The window of ${source.name} is not known at present.`));
  if (step.command === 'home') {
    windows.end(source.key);
    new Sender(kit, task, path, window).send(FULL_WINDOW, BACK_FRAMES, true);
    return end(FINE);
  }
  const rates = (['x', 'y', 'zoom'] as const).map((key) => number(step.params[key], program, task.read));
  const wrong = rates.find((rate) => typeof rate === 'string');
  if (wrong !== undefined) return end(bad(String(wrong)));
  const [x = 0, y = 0, zoom = 0] = rates as number[];
  const seconds = number(step.params.forSeconds, program, task.read);
  if (step.params.forSeconds === undefined) task.drives.began(windowKey(source.key), { command: 'stop', params: {} });
  drive(
    kit,
    task,
    path,
    window,
    known,
    { x, y, zoom },
    typeof seconds === 'number' && seconds > 0 ? seconds * 1000 : LONGEST_MS,
  );
  end(FINE);
}

/** Moves a window step by step until it is told to end. */
function drive(
  kit: StepKit,
  task: Task,
  path: string,
  window: Motorless,
  from: Window,
  { x, y, zoom }: { readonly x: number; readonly y: number; readonly zoom: number },
  longest: number,
): void {
  const { clock, board, windows } = kit.deps;
  const sender = new Sender(kit, task, path, window);
  const frames = Math.max(1, Math.round((EVERY_MS / 1000) * task.run.request.program.document.show.frameRate));
  const began = clock.now();
  let now = from;
  let steps = 0;
  let cancel: Cancel = () => undefined;
  const { name, key } = window.source;
  const end = (rests: boolean): void => {
    cancel();
    if (rests) sender.over(now);
  };
  windows.begin(key, { name, at: () => now, end });
  const go = (): void => {
    const next = windowMoved(now, x, y, zoom, EVERY_MS / 1000);
    const rests = next.x === now.x && next.y === now.y && next.scale === now.scale;
    now = next;
    // At the edge of the frame nothing has to be said again.
    if (!rests || steps === 0) sender.send(now, frames, steps === 0);
    steps += 1;
    const due = began + steps * EVERY_MS;
    if (due - began >= longest) return void windows.end(window.source.key);
    cancel = clock.at(due, () => board.turn(go));
  };
  go();
}

/** Sends a window to the switcher. Of a move only its first and last step stand in the as-run. */
class Sender {
  private sent = 0;

  constructor(
    private readonly kit: StepKit,
    private readonly task: Task,
    private readonly path: string,
    private readonly window: Motorless,
  ) {}

  /** @param recorded it stands in the as-run, and can be taken back */
  send(to: Window, frames: number, recorded: boolean): void {
    const { clock, board, journal, portOf } = this.kit.deps;
    const { run } = this.task;
    const { program } = run.request;
    const { switcher, source } = this.window;
    const step: CommandStep = {
      id: 'window',
      onFail: 'goOn',
      kind: 'command',
      device: switcher,
      command: 'reframe',
      params: { source: source.key, ...to, frames },
    };
    const resolved = resolveCommand(step, program, board.read);
    const port = portOf(switcher);
    if (!resolved.ok || port === undefined || board.read(reachedKey(switcher)) !== true) return;
    const { command } = resolved.value;
    const commandId = `${run.runId}/${this.path}.window${(this.sent += 1)}`.slice(-100);
    if (recorded) {
      journal.append({ kind: 'command', t: clock.now(), runId: run.runId, commandId, device: switcher, command });
      this.task.deeds?.add(
        deedOfCommand(resolved.value, program.sentence(step), program, board.read, this.task.deeds),
        clock.now(),
      );
    }
    port.send(commandId, command, (event) => {
      if (!recorded || event.type !== 'outcome') return;
      const { outcome, why } = event;
      const words = why === undefined ? {} : { why };
      journal.append({
        kind: 'outcome',
        t: clock.now(),
        runId: run.runId,
        commandId,
        device: switcher,
        outcome,
        ...words,
      });
    });
  }

  /** Where it came to rest: told once more, so that a lost step leaves it nowhere else. */
  over(at: Window): void {
    this.send(at, 0, true);
  }
}
