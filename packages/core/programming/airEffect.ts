import { kindOf } from '../devices/index';
import { CHANGES_PROGRAM } from '../engine/onAir';
import { seatOf } from '../engine/roles';
import { UNKNOWN } from '../expression/index';
import type { PlainValue, ShowDocument, Source, Step } from '../show/index';

/** A source by its key, or the one that a role means now. */
function sourceNamed(
  key: string,
  document: ShowDocument,
  point: (key: string) => PlainValue | undefined,
): Source | undefined {
  const role = document.roles.find((one) => one.key === key);
  return role
    ? seatOf(role, document, (name) => point(name) ?? UNKNOWN).source
    : document.sources.find((one) => one.key === key);
}

/**
 * What these steps would show on air, as sentences; empty when nothing of it would be seen. Cameras count while they are on air, which the
 * steps themselves may change on the way.
 */
export function airEffect(
  steps: readonly Step[],
  document: ShowDocument,
  point: (key: string) => PlainValue | undefined,
): string[] {
  const switcher = document.devices.find((one) => one.kind === 'switcher');
  const now = {
    program: switcher && point(`${switcher.key}.program`),
    preview: switcher && point(`${switcher.key}.preview`),
  };
  const effects: string[] = [];
  const visit = (list: readonly Step[], depth: number): void => {
    if (depth > 20) return;
    for (const step of list) {
      if (step.kind === 'together') visit(step.steps, depth + 1);
      else if (step.kind === 'run') visit(document.macros.find((one) => one.id === step.macro)?.steps ?? [], depth + 1);
      else if (step.kind === 'command') told(step);
    }
  };
  const told = (step: Extract<Step, { kind: 'command' }>): void => {
    const key = step.device.includes('.') ? String(point(step.device) ?? '') : step.device;
    const device = document.devices.find((one) => one.key === key);
    const command = kindOf(device, document)?.commands[step.command];
    if (!device || !command) return;
    if (device.kind === 'switcher') {
      const source = sourceNamed(String(step.params.source), document, point);
      if (step.command === 'preview') now.preview = source?.input ?? undefined;
      if (CHANGES_PROGRAM.has(step.command)) {
        const next = step.command === 'program' ? (source?.input ?? undefined) : now.preview;
        const name = document.sources.find((one) => one.input === next)?.name;
        effects.push(`${name ?? 'Another picture'} goes on air`);
        if (step.command !== 'program') now.preview = now.program;
        now.program = next;
        return;
      }
    }
    if (!command.seenOnAir) return;
    const camera = document.sources.find((one) => one.camera === device.key);
    if (device.kind === 'ptzHead') {
      if (camera && camera.input === now.program && command.lane !== 'stop')
        effects.push(`${device.name}, on air: ${command.words.toLowerCase()}`);
    } else effects.push(`${device.name}: ${command.words.toLowerCase()}`);
  };
  visit(steps, 0);
  return effects;
}
