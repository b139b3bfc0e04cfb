import { kindOf, pointsOf } from '../../devices/index';
import { compiledExpression, type Expression, ExpressionFault, UNKNOWN } from '../../expression/index';
import {
  type Argument,
  type Button,
  childrenOf,
  listsOf,
  type Macro,
  type PlainValue,
  type ShowDocument,
  type Step,
  switchedOn,
  type Trigger,
} from '../../show/index';
import type { Fault } from '../compileEntry';
import { DEEPEST } from '../deepest';

/** What a point or value may become by the steps of a trigger; null: something that cannot be told beforehand. */
type Writes = ReadonlyMap<string, ReadonlySet<PlainValue | null>>;

/** Board key under which a trigger that is fired by a step is written. */
const fired = (trigger: string): string => `fired@${trigger}`;
/** Stands for what a point was before: no point ever is this. */
const BEFORE = '\u0000before';

/**
 * Triggers that may set each other off without end, each circle once, as ids in the order in which one leads to the next. A trigger leads to another
 * where its steps write what that one reads, and could make its condition turn. It is judged by what the kinds of the devices declare, beforehand:
 * whether a circle is ever run through hangs on the show. Strongly connected sets by R. Tarjan, Depth-first search and linear graph algorithms, 1972.
 * *Follow* rules are left out: what others cut holds them off.
 */
export function circlesOf(document: ShowDocument): readonly (readonly string[])[] {
  const triggers = document.triggers.filter(({ kind }) => kind !== 'follow');
  if (triggers.length === 0) return [];
  const writer = new Writer(document);
  const readers = new Map<string, Reading[]>();
  for (const trigger of triggers) {
    const expression = expressionOf(trigger);
    const reading: Reading = { trigger, expression, equals: equalsOf(trigger), verdicts: new Map() };
    for (const key of [...(expression?.reads ?? []), fired(trigger.id)]) {
      const list = readers.get(key);
      if (list === undefined) readers.set(key, [reading]);
      else list.push(reading);
    }
  }
  const leadsTo = new Map<string, readonly string[]>();
  for (const trigger of triggers) {
    const writes = writer.of(trigger);
    const found = new Set<string>();
    for (const [key, values] of writes)
      for (const other of readers.get(key) ?? [])
        if (!surelyNot(other, key, values) && !found.has(other.trigger.id) && mayTurn(other, writes, writer))
          found.add(other.trigger.id);
    leadsTo.set(trigger.id, [...found]);
  }
  return strongSets(
    triggers.map(({ id }) => id),
    leadsTo,
  ).flatMap((set) => {
    const circle = shortest(set, leadsTo);
    return circle === null ? [] : [circle];
  });
}

/** Circles by the triggers that stand in them, for lists that ask for every one. */
const known = new WeakMap<ShowDocument, ReadonlyMap<string, readonly string[]>>();

/** The circle that a trigger stands in, as ids that begin with its own; null: none. */
export function circleWith(id: string, document: ShowDocument): readonly string[] | null {
  let circles = known.get(document);
  if (circles === undefined)
    known.set(
      document,
      (circles = new Map(circlesOf(document).flatMap((circle) => circle.map((item) => [item, circle] as const)))),
    );
  const circle = circles.get(id);
  if (circle === undefined) return null;
  const at = circle.indexOf(id);
  return [...circle.slice(at), ...circle.slice(0, at)];
}

/** So many of a circle are named; the rest is counted. */
const NAMED = 5;

/** "A may set itself off again: A, then B, then A." */
export function circleWords(circle: readonly string[], document: ShowDocument): string {
  const name = (id: string): string => document.triggers.find((trigger) => trigger.id === id)?.name ?? '…';
  const [first = ''] = circle;
  const more = circle.length - NAMED;
  const named = circle.slice(0, NAMED).map(name);
  return `${name(first)} may set itself off again: ${[...named, ...(more > 0 ? [`${more} more`] : []), name(first)].join(', then ')}.`;
}

/** Every circle as what a list of faults tells, at the first trigger of each. It keeps nothing from being done. */
export function circleFaults(document: ShowDocument): readonly Fault[] {
  const places = new Map(document.triggers.map(({ id }, index) => [id, index]));
  return circlesOf(document).map((circle) => {
    const first = circle.reduce((item, other) => ((places.get(item) ?? 0) <= (places.get(other) ?? 0) ? item : other));
    const at = circle.indexOf(first);
    return {
      weight: 'listed',
      code: 'trigger-circle',
      message: `${circleWords([...circle.slice(at), ...circle.slice(0, at)], document)} It is stopped when it comes round within 2 s.`,
      mend: 'Take one of the steps out that lead there.',
      path: `triggers.${places.get(first)}.steps`,
    };
  });
}

const expressionOf = ({ on }: Trigger): Expression | null => {
  const text = on.kind === 'turns' ? on.condition : on.kind === 'changes' ? on.of : null;
  const compiled = text === null ? null : compiledExpression(text);
  return compiled?.ok === true ? compiled.value : null;
};

/** What a trigger goes by, with what was found out of it: of a thousand rules a million pairs are looked at. */
interface Reading {
  readonly trigger: Trigger;
  readonly expression: Expression | null;
  /** The one content of one key at which it fires; null: it says more than that. */
  readonly equals: { readonly key: string; readonly value: PlainValue } | null;
  /** Whether it fires where just this is written of what it reads. */
  readonly verdicts: Map<string, boolean>;
}

const EQUALS = /^([a-z][A-Za-z0-9]*\.[A-Za-z0-9]+) == (-?\d+(?:\.\d+)?|"[^"\\]*")$/;

function equalsOf({ kind, on }: Trigger): Reading['equals'] {
  if (kind !== 'when' || on.kind !== 'turns' || !on.to) return null;
  const [, key, value] = EQUALS.exec(on.condition) ?? [];
  return key === undefined || value === undefined ? null : { key, value: JSON.parse(value) as PlainValue };
}

/** It fires at one content of this key, and others are written. */
function surelyNot({ equals }: Reading, key: string, values: ReadonlySet<PlainValue | null>): boolean {
  if (equals?.key !== key || values.has(equals.value)) return false;
  for (const value of values) if (value === null || typeof value !== typeof equals.value) return false;
  return true;
}

/** Whether what another trigger writes could be an event for this one. */
function mayTurn({ trigger, expression, verdicts }: Reading, writes: Writes, writer: Writer): boolean {
  if (writes.has(fired(trigger.id))) return true;
  if (expression === null) return false;
  const written = expression.reads.filter((key) => writes.has(key));
  if (written.length === 0) return false;
  const { on } = trigger;
  // Whatever changes what it reads may begin or end it.
  if (trigger.kind === 'while' || on.kind !== 'turns') return true;
  const turnsAt = (key: string, value: PlainValue): boolean => {
    const verdict = expression.evaluate((read) =>
      read === key ? value : writes.has(read) ? UNKNOWN : (writer.constant(read) ?? UNKNOWN),
    );
    // Only what surely says the opposite is no event.
    return verdict instanceof ExpressionFault || verdict !== !on.to;
  };
  return written.some((key) =>
    [...(writes.get(key) ?? [])].some((value) => {
      if (value === null) return true;
      // What else is written beside it makes another verdict.
      if (written.length > 1) return turnsAt(key, value);
      const name = `${key} ${typeof value} ${value}`;
      const known = verdicts.get(name) ?? turnsAt(key, value);
      verdicts.set(name, known);
      return known;
    }),
  );
}

/** What the parameters of a macro begin with. */
const startOf = ({ params }: Macro): Readonly<Record<string, Argument>> =>
  Object.fromEntries(params.map(({ key, start }) => [key, start]));

/** What steps write, over the macros that they run and the buttons that they press. */
class Writer {
  private readonly macros: ReadonlyMap<string, Macro>;
  private readonly buttons: ReadonlyMap<string, Button>;

  constructor(private readonly document: ShowDocument) {
    this.macros = new Map(document.macros.map((macro) => [macro.id, macro]));
    this.buttons = new Map(document.buttons.map((button) => [button.id, button]));
  }

  /** What never changes while a show runs: the number of a source. */
  constant(key: string): PlainValue | undefined {
    return key.startsWith('input@') ? this.inputOf(key.slice('input@'.length)) : undefined;
  }

  of(trigger: Trigger): Writes {
    const found = new Map<string, Set<PlainValue | null>>();
    const add = (key: string, value: PlainValue | null): void => {
      const values = found.get(key);
      if (values === undefined) found.set(key, new Set([value]));
      else values.add(value);
      // Leaving brings back what stood before.
      if (trigger.kind === 'while') found.get(key)?.add(null);
    };
    this.walk(trigger.steps, add, new Map(), new Set());
    return found;
  }

  private walk(
    steps: readonly Step[],
    add: (key: string, value: PlainValue | null) => void,
    now: Map<string, PlainValue | null>,
    visited: Set<string>,
    depth = 0,
    given: Readonly<Record<string, Argument>> = {},
  ): void {
    for (const step of switchedOn(steps)) {
      switch (step.kind) {
        case 'command': {
          const device = step.deviceFrom === undefined ? undefined : given[step.deviceFrom];
          this.command(typeof device === 'string' ? { ...step, device } : step, add, now);
          break;
        }
        case 'set':
          add(step.target, typeof step.to === 'object' || step.by !== undefined ? null : step.to);
          break;
        case 'trigger':
          if (step.does === 'fire') add(fired(step.trigger), true);
          break;
        case 'run': {
          const macro = this.macros.get(step.macro);
          if (macro === undefined || visited.has(macro.id) || depth >= DEEPEST) break;
          this.walk(macro.steps, add, now, visited.add(macro.id), depth + 1, { ...startOf(macro), ...step.params });
          break;
        }
        case 'press': {
          const button = this.buttons.get(step.button);
          if (button === undefined || visited.has(button.id) || depth >= DEEPEST) break;
          visited.add(button.id);
          for (const [, list] of listsOf(button)) this.walk(list, add, now, visited, depth + 1);
          break;
        }
        default:
      }
      for (const list of childrenOf(step)) this.walk(list, add, now, visited, depth, given);
    }
  }

  private command(
    step: Extract<Step, { kind: 'command' }>,
    add: (key: string, value: PlainValue | null) => void,
    now: Map<string, PlainValue | null>,
  ): void {
    const device = this.document.devices.find(({ key }) => key === step.device);
    const definition = device && kindOf(device, this.document)?.commands[step.command];
    if (device === undefined || definition === undefined) return;
    const points = pointsOf(device, this.document);
    const params = Object.fromEntries(
      Object.entries(step.params).map(([key, value]) => [key, typeof value === 'object' ? BEFORE : value]),
    );
    const write = (point: string, made: PlainValue | null): void => {
      const key = `${device.key}.${point}`;
      // A source is told by its number.
      const meant =
        made === BEFORE
          ? null
          : points[point]?.means === 'input' && typeof made === 'string'
            ? this.inputOf(made)
            : made;
      now.set(key, meant ?? null);
      add(key, meant ?? null);
      if (point === 'program') this.air(meant ?? null, add);
    };
    const made = definition.effect?.makes(params, (point) => now.get(`${device.key}.${point}`) ?? BEFORE) ?? {};
    for (const [point, value] of Object.entries(made)) write(point, value);
    for (const point of definition.unsettles ?? []) if (!(point in made)) write(point, null);
  }

  /** What is on air follows from what is on program. Keyers, layouts and outputs are left out: they would make a circle of nearly everything. */
  private air(input: PlainValue | null, add: (key: string, value: PlainValue | null) => void): void {
    for (const source of this.document.sources)
      if (source.input !== null) add(`onAir@${source.key}`, input === null ? null : source.input === input);
    for (const { key } of this.document.roles) add(`onAir@${key}`, null);
  }

  private inputOf(source: string): number | undefined {
    return this.document.sources.find(({ key }) => key === source)?.input ?? undefined;
  }
}

/** Sets of nodes that lead to each other; a node alone only where it leads to itself. Without recursion: a show has thousands of triggers. */
function strongSets(nodes: readonly string[], leadsTo: ReadonlyMap<string, readonly string[]>): string[][] {
  const index = new Map<string, number>();
  const low = new Map<string, number>();
  const stack: string[] = [];
  const stacked = new Set<string>();
  const sets: string[][] = [];
  const open = (node: string): void => {
    index.set(node, index.size);
    low.set(node, index.size - 1);
    stack.push(node);
    stacked.add(node);
  };
  const lower = (node: string, to: number): void => void low.set(node, Math.min(low.get(node) ?? to, to));
  for (const root of nodes) {
    if (index.has(root)) continue;
    const work: { readonly node: string; next: number }[] = [{ node: root, next: 0 }];
    open(root);
    for (let top = work.at(-1); top !== undefined; top = work.at(-1)) {
      const { node } = top;
      const to = leadsTo.get(node)?.[top.next];
      if (to !== undefined) {
        top.next += 1;
        if (!index.has(to)) {
          open(to);
          work.push({ node: to, next: 0 });
        } else if (stacked.has(to)) lower(node, index.get(to) ?? 0);
        continue;
      }
      work.pop();
      const above = work.at(-1);
      if (above !== undefined) lower(above.node, low.get(node) ?? 0);
      if (low.get(node) !== index.get(node)) continue;
      const set: string[] = [];
      for (let item = stack.pop(); item !== undefined; item = stack.pop()) {
        stacked.delete(item);
        set.push(item);
        if (item === node) break;
      }
      if (set.length > 1 || leadsTo.get(node)?.includes(node) === true) sets.push(set.reverse());
    }
  }
  return sets;
}

/** The shortest way from the first of a set back to itself; null: there is none. */
function shortest(
  [first, ...others]: readonly string[],
  leadsTo: ReadonlyMap<string, readonly string[]>,
): string[] | null {
  if (first === undefined) return null;
  const within = new Set([first, ...others]);
  const from = new Map<string, string>();
  const queue = [first];
  for (let node = queue.shift(); node !== undefined; node = queue.shift())
    for (const next of leadsTo.get(node) ?? []) {
      if (next === first) {
        const way = [node];
        for (let back = from.get(node); back !== undefined; back = from.get(back)) way.unshift(back);
        return way;
      }
      if (!within.has(next) || from.has(next)) continue;
      from.set(next, node);
      queue.push(next);
    }
  return null;
}
