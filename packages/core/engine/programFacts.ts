import { DEEPEST } from './deepest';
import { type CompiledEntry, type Fault, isMacro, isTrigger } from './compileEntry';

/** What of an entry and all that it calls can be said beforehand. */
export interface Facts {
  readonly selects: boolean;
  readonly lasts: boolean;
  readonly mayMove: boolean;
  readonly devices: ReadonlySet<string>;
  readonly fault: Fault | undefined;
  readonly endless: string | null;
  /** Ids of what calls itself, over others too; null when nothing does. */
  readonly circle: readonly string[] | null;
}

/** Where facts are worked out from. */
export interface FactSources {
  compiledOf(id: string): CompiledEntry | undefined;
  /** Name of a macro, or legend of a button. */
  nameOf(id: string): string;
  deviceFault(key: string): Fault | undefined;
}

/** Goes through everything that an entry calls, each once. */
export function factsOf(id: string, look: FactSources): Facts {
  const devices = new Set<string>();
  const top = look.compiledOf(id);
  let [selects, lasts, mayMove] = [false, false, false];
  let fault: Fault | undefined;
  let endless: string | null = null;
  let circle: readonly string[] | null = null;
  const visited = new Set<string>();
  const visit = (at: string, way: readonly string[]): void => {
    const compiled = look.compiledOf(at);
    if (compiled === undefined) return;
    if (way.includes(at)) {
      circle ??= way.slice(way.indexOf(at));
      const names = [...circle, at].map((item) => look.nameOf(item)).join(' → ');
      fault ??= {
        weight: 'press',
        code: 'macro-circle',
        message: `${look.nameOf(at)} calls itself: ${names}.`,
        mend: 'Take one of the calls out.',
        path: 'steps',
      };
      return;
    }
    if (visited.has(at)) return;
    if (way.length > DEEPEST) {
      fault ??= {
        weight: 'press',
        code: 'nested-too-deep',
        message: `${look.nameOf(id)} runs macros that run others, more than ${DEEPEST} deep.`,
        mend: 'Put steps of the inner ones into the outer ones.',
        path: 'steps',
      };
      return;
    }
    visited.add(at);
    selects ||= compiled.selects;
    lasts ||= compiled.lasts;
    mayMove ||= compiled.mayMove;
    // A held button that is pressed by a step is let go by that step.
    const lets = at !== id && isHeld(compiled.entry);
    if (!lets) endless ??= compiled.endless;
    for (const device of compiled.devices) devices.add(device);
    fault ??= compiled.faults.find(
      (candidate) =>
        candidate.weight !== 'listed' &&
        candidate.path?.startsWith('lamps') !== true &&
        candidate.path !== 'note' &&
        candidate.path !== 'legend' &&
        candidate.path !== 'dial.reads',
    );
    for (const called of compiled.calls) visit(called, [...way, at]);
  };
  visit(id, []);
  const held = top !== undefined && isHeld(top.entry);
  if (endless !== null && !held && top !== undefined && !isMacro(top.entry)) fault ??= endlessFault(endless);
  for (const device of devices) fault ??= look.deviceFault(device);
  return { selects, lasts, mayMove, devices, fault, endless, circle };
}

const isHeld = (entry: CompiledEntry['entry']): boolean =>
  !isMacro(entry) && !isTrigger(entry) && entry.mode === 'hold';

/** A press is over at once, and a move that nothing ends would outlive it. */
export const endlessFault = (name: string): Fault => ({
  weight: 'press',
  code: 'move-without-end',
  message: `${name} would move until it is told to stop, and nothing tells it.`,
  mend: 'Make it a hold button, or give the move a length.',
  path: 'steps',
});
