import { deviceNamed, type Step } from '../show/index';
import type { ReadKey } from '../expression/index';
import { type Deed, deedOfCommand } from './deeds';
import type { CommandEvent } from './devicePort';
import { guardedOnAir, slowOnAir } from './onAir';
import { resolveCommand } from './resolve';
import type { Run } from './run';
import { reservedAgainst } from './reservations';
import { reachedKey } from './scope';
import { motorlessOf } from './motorless';
import { windowStep } from './windowDrive';
import { bad, type StepKit } from './stepKit';
import { type Finish, FINE, type Hold, type Task } from './task';

/** In a list whose steps are each tried, a device that does not answer holds the next step up no longer than this. */
const PATIENCE_MS = 150;

const nameOf = (device: string, run: Run): string => run.request.program.devices.get(device)?.name ?? device;

/** Longest path that stands in a command's id as it is: devices take ids of a bounded length. */
const LONGEST_PATH = 100;

/** Names a command by its run and the place of its step, so that the same step of the same run is the same command. Long paths end in a hash (FNV-1a). */
function commandIdOf(runId: string, path: string): string {
  if (path.length <= LONGEST_PATH) return `${runId}/${path}`;
  let hash = 0x811c9dc5;
  for (let at = 0; at < path.length; at += 1) hash = Math.imul(hash ^ path.charCodeAt(at), 0x01000193) >>> 0;
  return `${runId}/${path.slice(0, LONGEST_PATH - 20)}~${path.length}.${hash.toString(36)}`;
}

/** A command to a device: asked about the air once more, journalled, and handed to its port. */
export function commandStep(
  kit: StepKit,
  task: Task,
  step: Extract<Step, { kind: 'command' }>,
  path: string,
  end: Finish,
): void {
  const { board, clock, journal } = kit.deps;
  const { run } = task;
  const { program } = run.request;
  const window = motorlessOf(deviceNamed(step), program, task.read);
  if (window !== null)
    return 'code' in window ? end(bad(window.message)) : windowStep(kit, task, step, path, window, end);
  const resolved = resolveCommand(step, program, task.read);
  if (!resolved.ok) return end(bad(resolved.error.message));
  const { device, unsettles, definition } = resolved.value;
  if (step.moveOnAir !== true && (definition.movesPicture === true || definition.changesLine === true)) {
    const seen = guardedOnAir(step, program, task.read, task.scope.sure);
    if (seen !== null) return end(bad(seen));
  }
  const reserved = reservedAgainst(device, step.command, program, task.scope, board);
  if (reserved !== null) return end(bad(reserved.message));
  const command = slowOnAir(device, resolved.value.command, program, board.read);
  const port = kit.deps.portOf(device);
  if (port === undefined || board.read(reachedKey(device)) !== true)
    return end(bad(`${nameOf(device, run)} does not answer.`));
  const commandId = commandIdOf(run.runId, path);
  const { runId } = run;
  const drives = definition.endedBy !== undefined && command.params.forSeconds === undefined;
  // Before its own command stands in the as-run: another hand on the device is let go first, and its stop goes out first.
  if (drives && definition.endedBy !== undefined) task.drives.began(device, definition.endedBy);
  journal.append({ kind: 'command', t: clock.now(), runId, commandId, device, command });
  // What is about to be forgotten is what stood before.
  const forgotten = task.deeds === null ? null : unsettles.map((key) => [key, board.read(key)] as const);
  for (const key of unsettles) board.forget(key);
  if (!drives) task.drives.sent(device, command.command);
  let deed: Deed | null = null;
  let hold: Hold | null = null;
  let stepOver = false;
  const ended: Finish = (result) => {
    if (hold !== null) task.letGo(hold);
    hold = null;
    stepOver = true;
    end(result);
  };
  const onEvent = (event: CommandEvent): void => {
    board.enter();
    try {
      const t = clock.now();
      if (event.type === 'accepted') {
        journal.append({ kind: 'accepted', t, runId, commandId, device });
        ended(FINE);
      } else if (event.type === 'settled') {
        journal.append({ kind: 'settled', t, runId, commandId, device, words: event.words });
      } else {
        const { outcome, why } = event;
        journal.append({
          kind: 'outcome',
          t,
          runId,
          commandId,
          device,
          outcome,
          ...(why === undefined ? {} : { why }),
        });
        run.pending.delete(commandId);
        if (deed !== null && outcome === 'refused') deed.refused = true;
        if (outcome === 'done' || outcome === 'sent') ended(FINE);
        else {
          const words = why ?? `${nameOf(device, run)}: ${outcome}.`;
          if (stepOver) kit.failedLate(task, step, words);
          else ended(bad(words));
        }
        kit.deps.maybeEnd(run);
      }
    } finally {
      board.leave();
    }
  };
  // A port never calls back from inside `send`, so the outcome finds kit.
  run.pending.set(commandId, port.send(commandId, command, onEvent, task.together));
  // Behind the datagram: what undoes it is nobody's hurry.
  if (task.deeds !== null) {
    const read: ReadKey = (key) => forgotten?.find(([gone]) => gone === key)?.[1] ?? board.read(key);
    deed = deedOfCommand(resolved.value, program.sentence(step), program, read, task.deeds);
    task.deeds.add(deed, clock.now());
  }
  if (task.eachTried) {
    const cancel = clock.at(clock.now() + PATIENCE_MS, () => board.turn(() => ended(FINE)));
    hold = { cancel, hurry: () => ended(FINE) };
    task.hold(hold);
  }
}
