import { DEEPEST } from '../engine/deepest';
import { kindOf } from '../devices/index';
import { type AirShow, airOf, cameraSeen, graphOf } from '../engine/air';
import { CHANGES_PROGRAM } from '../engine/onAir';
import { seatOf } from '../engine/roles';
import { callReader, type Evaluate, plainOf } from '../engine/callReader';
import { compiledExpression, type ReadKey, UNKNOWN } from '../expression/index';
import {
  childrenOf,
  type Device,
  deviceNamed,
  type PlainValue,
  type ShowDocument,
  type Source,
  type Step,
  switchedOn,
} from '../show/index';
import { isHead } from '../show/part';

type CommandStep = Extract<Step, { kind: 'command' }>;

/** A source by its key, or the one that a role means now. */
function sourceNamed(
  key: string,
  document: ShowDocument,
  point: (key: string) => PlainValue | undefined,
): Source | undefined {
  const role = document.roles.find((candidate) => candidate.key === key);
  return role
    ? seatOf(role, document, (name) => point(name) ?? UNKNOWN).source
    : document.sources.find((source) => source.key === key);
}

/**
 * What these steps would show on air, as sentences; empty when nothing of it would be seen. Cameras count while they are seen anywhere on
 * air, which the steps themselves may change on the way.
 */
export function airEffect(
  steps: readonly Step[],
  document: ShowDocument,
  point: (key: string) => PlainValue | undefined,
): string[] {
  const deviceOf = (key: string): Device | undefined => document.devices.find((device) => device.key === key);
  const show: AirShow = { document, kindOf: (key) => kindOf(deviceOf(key), document) };
  const switcher = graphOf(show)?.key ?? '';
  /** What the steps have changed so far. */
  const changed = new Map<string, PlainValue>();
  const read = (key: string): PlainValue | typeof UNKNOWN => changed.get(key) ?? point(key) ?? UNKNOWN;
  const effects: string[] = [];
  const visited = new Set<string>();
  const once = (id: string, list: readonly Step[] | undefined, reader: ReadKey): void => {
    if (visited.has(id) || visited.size >= DEEPEST || list === undefined) return;
    visited.add(id);
    visit(list, reader);
    visited.delete(id);
  };
  const visit = (list: readonly Step[], reader: ReadKey): void => {
    for (const step of switchedOn(list)) {
      if (step.kind === 'command') say(withPlain(step, reader));
      else if (step.kind === 'run') {
        const macro = document.macros.find((candidate) => candidate.id === step.macro);
        if (macro) once(macro.id, macro.steps, callReader(step, macro, evaluated, reader).read);
      } else if (step.kind === 'press')
        once(step.button, document.buttons.find((button) => button.id === step.button)?.steps, reader);
      else childrenOf(step).forEach((inner) => visit(inner, reader));
    }
  };
  const taken = (step: CommandStep, source: Source | undefined): void => {
    const [program, preview] = [read(`${switcher}.program`), read(`${switcher}.preview`)];
    const next = step.command === 'program' ? source?.input : preview;
    const name = document.sources.find((candidate) => candidate.input === next)?.name;
    effects.push(`${name ?? 'Another picture'} goes on air`);
    if (step.command !== 'program' && typeof program !== 'symbol') changed.set(`${switcher}.preview`, program);
    if (typeof next === 'number') changed.set(`${switcher}.program`, next);
  };
  const say = (step: CommandStep): void => {
    const device = deviceOf(step.device.includes('.') ? String(point(step.device) ?? '') : step.device);
    const command = kindOf(device, document)?.commands[step.command];
    if (!device || !command) return;
    if (device.key === switcher) {
      const source = sourceNamed(String(step.params.source), document, point);
      if (step.command === 'preview' && typeof source?.input === 'number')
        changed.set(`${switcher}.preview`, source.input);
      if (CHANGES_PROGRAM.has(step.command)) return taken(step, source);
    }
    if (!command.seenOnAir) return;
    if (command.movesPicture !== true && !isHead(device, show.document))
      return void effects.push(`${device.name}: ${command.words.toLowerCase()}`);
    if (command.lane === 'stop') return;
    const { seen, how } = cameraSeen(device.key, show, airOf(show, read));
    if (seen === 'unseen') return;
    const where =
      seen === 'possibly' ? 'perhaps on air' : how === 'on program' || how === '' ? 'on air' : `on air ${how}`;
    effects.push(`${device.name}, ${where}: ${command.words.toLowerCase()}`);
  };
  visit(steps, read);
  return effects;
}

const evaluated: Evaluate = (cel, read) => {
  const compiled = compiledExpression(cel);
  return compiled.ok ? compiled.value.evaluate(read) : undefined;
};

/** A command with its device and parameters as they are now; those that are not known stay as they are written. */
const withPlain = (step: CommandStep, read: ReadKey): CommandStep => ({
  ...step,
  device: givenDevice(step, read) ?? step.device,
  params: Object.fromEntries(
    Object.entries(step.params).map(([key, argument]) => [key, plainOf(argument, evaluated, read) ?? argument]),
  ),
});

/** The device that a macro was given in place of the one that the step was written with. */
function givenDevice(step: CommandStep, read: ReadKey): string | undefined {
  const given = step.deviceFrom === undefined ? UNKNOWN : read(deviceNamed(step));
  return typeof given === 'string' ? given : undefined;
}
