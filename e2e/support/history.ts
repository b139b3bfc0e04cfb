/** One command as the as-run tells it. */
export interface ToldCommand {
  readonly commandId: string;
  readonly command: string;
  readonly outcome: string | null;
  readonly why?: string;
}

/** One effect as the device's own record tells it. `key` is the same for the same request. */
export interface DoneEffect {
  readonly key: string;
  readonly command: string;
}

/** What a person is owed: the command did what was told, once; or failed visibly, having done it once or not at all. Never twice. */
export function historyFaults(
  commands: readonly ToldCommand[],
  effects: readonly DoneEffect[],
  keyOf: (command: ToldCommand) => string,
): string[] {
  const counts = new Map<string, number>();
  for (const effect of effects) counts.set(effect.key, (counts.get(effect.key) ?? 0) + 1);
  const faults: string[] = [];
  const known = new Set<string>();
  for (const command of commands) {
    const key = keyOf(command);
    known.add(key);
    const count = counts.get(key) ?? 0;
    if (count > 1) faults.push(`${command.command} ${command.commandId} was done ${count} times.`);
    if (command.outcome === null) faults.push(`${command.command} ${command.commandId} has no outcome.`);
    if (command.outcome === 'done' && count !== 1)
      faults.push(`${command.command} ${command.commandId} is told as done but was done ${count} times.`);
    if (command.outcome === 'refused' && count > 0)
      faults.push(`${command.command} ${command.commandId} is told as refused but was done.`);
  }
  for (const [key] of counts) if (!known.has(key)) faults.push(`The device did ${key}, which nobody sent.`);
  return faults;
}

/** The commands to one device with their outcomes, from as-run entries. */
export function toldCommands(entries: readonly Record<string, unknown>[], device: string): ToldCommand[] {
  const outcomes = new Map(
    entries.filter((entry) => entry.kind === 'outcome').map((entry) => [entry.commandId, entry]),
  );
  return entries
    .filter((entry) => entry.kind === 'command' && entry.device === device)
    .map((entry) => {
      const outcome = outcomes.get(entry.commandId);
      return {
        commandId: String(entry.commandId),
        command: (entry.command as { command: string }).command,
        outcome: outcome ? String(outcome.outcome) : null,
      };
    });
}
