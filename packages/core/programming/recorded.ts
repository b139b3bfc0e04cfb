import { kindOf, ptzHead } from '../devices/index';
import type { JournalEvent } from '../engine/journal';
import { referenceOf } from '../engine/program';
import type { PlainValue, ShowDocument, Step } from '../show/index';
import { fieldsOf } from './fields';

/** A gap of less than this is a hand that touches twice, not a pause: milliseconds. */
const SHORTEST_PAUSE_MS = 100;
/** Pauses are kept to so many milliseconds. */
const ROUNDED_TO_MS = 10;
/** A move that somebody held is repeated for at most so long, seconds. */
const LONGEST_MOVE_S = 30;
const LONGEST_HOLD_MS = 30_000;
/** So many steps are recorded. */
export const MOST_RECORDED = 500;

/** A line of the as-run, as far as a recording goes by it. */
export type RecordedLine = Pick<JournalEvent, 'kind' | 't'> & Readonly<Record<string, unknown>>;

interface Touch {
  readonly t: number;
  readonly step: Step;
}

/**
 * The touches of a station as steps: a button is pressed again, a command that was sent without one is sent again, a value that was set is set.
 * What was refused is left out, and so is what a macro or a button did by itself: that comes with it.
 * @param lines of the as-run, the oldest first
 * @param pauses with the real pauses between them, or one after the other at once
 */
export function recordedSteps(
  lines: readonly RecordedLine[],
  station: string,
  document: ShowDocument,
  pauses: boolean,
): Step[] {
  const touches: Touch[] = [];
  /** Presses of this station that are under way: where its step stands, and since when. */
  const held = new Map<string, { readonly at: number; readonly since: number }>();
  const direct = new Map<string, string>();
  const runs = new Map<string, string>();
  const add = (t: number, step: Step): number => touches.push({ t, step }) - 1;
  for (const line of lines) {
    const { kind, t } = line;
    const text = (name: string): string => (typeof line[name] === 'string' ? line[name] : '');
    if (kind === 'press' && isOf(text('station'), station)) {
      const [press, button] = [text('pressId'), text('buttonId')];
      if (line.phase === 'down') {
        if (document.buttons.some(({ id }) => id === button))
          held.set(press, { at: add(t, { id: '', onFail: 'stop', kind: 'press', button, holdMs: 100 }), since: t });
        else if (document.macros.some(({ id }) => id === button))
          add(t, { id: '', onFail: 'stop', kind: 'run', macro: button, params: {} });
        else direct.set(press, button);
        continue;
      }
      const down = held.get(press);
      const touch = down && touches[down.at];
      if (down === undefined || touch === undefined) continue;
      held.delete(press);
      const lasted = Math.min(LONGEST_HOLD_MS, Math.max(0, Math.round(t - down.since)));
      if (touch.step.kind === 'press') touches[down.at] = { ...touch, step: { ...touch.step, holdMs: lasted } };
      else if (touch.step.kind === 'command')
        touches[down.at] = {
          ...touch,
          step: { ...touch.step, params: { ...touch.step.params, forSeconds: movedFor(t - down.since) } },
        };
    } else if (kind === 'runStart') {
      const cause = line.cause as { readonly kind?: string; readonly id?: string } | undefined;
      if (cause?.kind === 'press' && cause.id !== undefined && direct.has(cause.id)) runs.set(text('runId'), cause.id);
    } else if (kind === 'command') {
      const press = runs.get(text('runId'));
      const step = press === undefined ? null : commandStep(line, document);
      if (press === undefined || step === null) continue;
      runs.delete(text('runId'));
      const at = add(t, step);
      // What moves until it is let go is moved for as long as it was held.
      if (step.kind === 'command' && endsItself(step.device, step.command, document)) held.set(press, { at, since: t });
    } else if (kind === 'refusal' && isOf(text('station'), station)) {
      const down = held.get(text('pressId'));
      if (down !== undefined && text('phase') === 'down') {
        touches.splice(down.at, 1);
        held.delete(text('pressId'));
      }
    }
  }
  return withPauses(touches.slice(0, MOST_RECORDED), pauses);
}

/** Pages that call themselves the same are told apart by a number. */
const isOf = (name: string, station: string): boolean => name === station || name.replace(/#\d+$/, '') === station;

const movedFor = (ms: number): number => Math.min(LONGEST_MOVE_S, Math.max(0.1, Math.round(ms / 100) / 10));

function withPauses(touches: readonly Touch[], pauses: boolean): Step[] {
  return touches.flatMap(({ t, step }, at): Step[] => {
    const gap = at === 0 ? 0 : t - (touches[at - 1]?.t ?? t);
    const ms = Math.round(gap / ROUNDED_TO_MS) * ROUNDED_TO_MS;
    return pauses && gap >= SHORTEST_PAUSE_MS
      ? [{ id: '', onFail: 'stop', kind: 'pause', length: { ms } }, step]
      : [step];
  });
}

const definitionOf = (device: string, command: string, document: ShowDocument) => {
  const kind = device.startsWith('chosen.')
    ? ptzHead
    : kindOf(
        document.devices.find(({ key }) => key === device),
        document,
      );
  return kind !== undefined && Object.hasOwn(kind.commands, command) ? kind.commands[command] : undefined;
};

const endsItself = (device: string, command: string, document: ShowDocument): boolean =>
  definitionOf(device, command, document)?.endedBy !== undefined;

/** A command as a step again: sources by their keys, and nothing that its device only counts by. */
function commandStep(line: RecordedLine, document: ShowDocument): Step | null {
  const { device, command: sent } = line;
  const { command, params } = (sent ?? {}) as { command?: string; params?: Readonly<Record<string, PlainValue>> };
  if (typeof device !== 'string' || command === undefined) return null;
  const definition = definitionOf(device, command, document);
  if (definition === undefined) return null;
  const known = new Set(fieldsOf(definition).map(({ key }) => key));
  const named = Object.entries(params ?? {}).flatMap(([key, value]): [string, PlainValue][] => {
    if (!known.has(key)) return [];
    if (referenceOf(definition, key) !== 'source' || typeof value !== 'number') return [[key, value]];
    return [[key, document.sources.find(({ input }) => input === value)?.key ?? `input:${value}`]];
  });
  return { id: '', onFail: 'stop', kind: 'command', device, command, params: Object.fromEntries(named) };
}
