import { type DeviceKind, kindOf } from '../devices/index';
import { compiledExpression, compiledLiveText, type Expression, type LiveText } from '../expression/index';
import {
  type Button,
  childrenOf,
  listsOf,
  type Device,
  type Macro,
  type Panel,
  type Person,
  type Position,
  type Reframe,
  type Role,
  type ShowDocument,
  type ShowValue,
  type Source,
  type Step,
  type Trigger,
} from '../show/index';
import {
  compileEntry,
  type CompiledEntry,
  type Fault,
  isMacro,
  isTrigger,
  type Lookup,
  type StepEntry,
} from './compileEntry';
import { LayeredMap } from './layeredMap';
import type { Program } from './program';
import { endlessFault, type Facts, factsOf } from './programFacts';
import { faultsOf, schemaFaultsOf } from './programFaults';
import { buttonAsDone, macroAsDone, triggerAsDone } from './asDone';
import { tableOf } from './programTables';
import { deviceFault } from './rigFaults';
import { sentenceOf } from './sentence';

const NONE: ReadonlySet<string> = new Set();
/** So many traces may be added before who names what is put together anew. */
const MOST_TRACES = 20_000;
/** So many entries are compiled with the edit that touches them; beyond that they wait to be asked for, or for `compileSome`. */
const AT_ONCE = 200;

/**
 * Who names what: `table/key` → ids of buttons and macros. Only ever added to: a program that is worked out and not taken (its edit was refused,
 * or could not be stored) must not make the one before it forget what it names. Whoever looks something up asks the entry itself whether it is so.
 */
class Naming {
  private readonly byName = new Map<string, Set<string>>();
  private traces = 0;

  static of(compiled: ReadonlyMap<string, CompiledEntry>): Naming {
    const naming = new Naming();
    for (const [, entry] of compiled.entries()) naming.add(entry);
    naming.traces = 0;
    return naming;
  }

  add({ entry, names }: CompiledEntry): void {
    for (const name of names) {
      const known = this.byName.get(name);
      // What names the same as before leaves no trace.
      if (known?.has(entry.id) === true) continue;
      this.traces += 1;
      if (known === undefined) this.byName.set(name, new Set([entry.id]));
      else known.add(entry.id);
    }
  }

  of(name: string): ReadonlySet<string> {
    return this.byName.get(name) ?? NONE;
  }

  get stale(): boolean {
    return this.traces > MOST_TRACES;
  }
}

/** A show by entry: each button and macro is compiled by itself, and an edit compiles what it changed and what names that. */
export class CompiledProgram implements Program {
  readonly devices: LayeredMap<Device>;
  readonly sources: LayeredMap<Source>;
  readonly positions: LayeredMap<Position>;
  readonly roles: LayeredMap<Role>;
  readonly reframes: LayeredMap<Reframe>;
  readonly people: LayeredMap<Person>;
  readonly values: LayeredMap<ShowValue>;
  readonly buttons: LayeredMap<Button>;
  readonly macros: LayeredMap<Macro>;
  readonly panels: LayeredMap<Panel>;
  readonly triggers: LayeredMap<Trigger>;
  readonly changedButtons: Set<string> | null;
  private readonly compiled: LayeredMap<CompiledEntry>;
  /** Who names what; shared along the way from one program to the next. */
  private readonly naming: Naming;
  private readonly facts: LayeredMap<Facts>;
  private readonly deviceFaults = new Map<string, Fault | null>();
  /** Words of the steps of an entry: they hold names, and an entry whose names change is compiled anew. */
  private readonly sentences: WeakMap<CompiledEntry, Map<Step, string>>;
  private allFaults: readonly Fault[] | null = null;
  /** Every entry is compiled. Until then one is compiled when it is asked for: a show opens sooner than all of it is read. */
  private whole = false;
  /** Entries that an edit touched by what they name, still to be compiled: thousands of buttons may run the one macro that was changed. */
  private readonly waiting = new Set<string>();

  constructor(
    readonly document: ShowDocument,
    readonly revision: number,
    before: CompiledProgram | null,
    changedBefore: ReadonlySet<string> | null = NONE,
  ) {
    const changed = new Set<string>();
    const was = before?.document;
    this.devices = tableOf('devices', document.devices, before?.devices, was?.devices, changed);
    this.sources = tableOf('sources', document.sources, before?.sources, was?.sources, changed);
    this.positions = tableOf('positions', document.positions, before?.positions, was?.positions, changed);
    this.roles = tableOf('roles', document.roles, before?.roles, was?.roles, changed);
    this.reframes = tableOf('reframes', document.reframes, before?.reframes, was?.reframes, changed);
    this.people = tableOf('people', document.people, before?.people, was?.people, changed);
    this.values = tableOf('values', document.values, before?.values, was?.values, changed);
    this.buttons = tableOf('buttons', document.buttons, before?.buttons, was?.buttons, changed, buttonAsDone);
    this.macros = tableOf('macros', document.macros, before?.macros, was?.macros, changed, macroAsDone);
    this.panels = tableOf('panels', document.panels, before?.panels, was?.panels, changed);
    this.triggers = tableOf('triggers', document.triggers, before?.triggers, was?.triggers, changed, triggerAsDone);
    // A profile describes commands and points of whatever devices follow it.
    const carriesOver = before !== null && was?.profiles === document.profiles;
    if (!carriesOver) {
      this.compiled = LayeredMap.of();
      this.naming = new Naming();
      this.facts = LayeredMap.of();
      this.sentences = new WeakMap();
      this.changedButtons = null;
      return;
    }
    before.complete();
    this.whole = true;
    this.compiled = before.compiled.next();
    this.naming = before.naming.stale ? Naming.of(this.compiled) : before.naming;
    // Two devices on one address are each other's matter, whoever names which.
    const devicesChanged = [...changed].some((name) => name.startsWith('devices/'));
    this.facts = devicesChanged ? LayeredMap.of() : before.facts.next();
    this.sentences = before.document.show === document.show ? before.sentences : new WeakMap();
    const affected = this.affectedBy(changed);
    for (const id of affected) {
      this.facts.delete(id);
      this.compiled.delete(id);
      if (this.entryOf(id) !== undefined) this.waiting.add(id);
    }
    if (this.waiting.size <= AT_ONCE) this.compileSome(AT_ONCE);
    const buttons = [...affected].filter((id) => this.buttons.has(id) || before.buttons.has(id));
    this.changedButtons = changedBefore === null ? null : new Set([...changedBefore, ...buttons]);
  }

  /** Entries that changed or name something that did, through whatever calls them. */
  private affectedBy(changed: ReadonlySet<string>): Set<string> {
    const affected = new Set<string>();
    const queue = [...changed];
    for (let name = queue.pop(); name !== undefined; name = queue.pop()) {
      const slash = name.indexOf('/');
      const [table, id] = [name.slice(0, slash), name.slice(slash + 1)];
      const own = table === 'macros' || table === 'buttons' || table === 'triggers' ? [id] : [];
      for (const item of [...own, ...this.naming.of(name)]) {
        // `compiled` is still that of the program before: what it does not name is a trace of another way.
        if (affected.has(item) || !(own.includes(item) || this.compiled.get(item)?.names.has(name))) continue;
        affected.add(item);
        queue.push(`macros/${item}`, `buttons/${item}`);
      }
    }
    return affected;
  }

  private readonly lookup: Lookup = (table, key) => (this[table] as ReadonlyMap<string, unknown>).get(key) as never;

  compileSome(most: number): boolean {
    let left = most;
    for (const id of this.waiting) {
      if (left === 0) return true;
      left -= 1;
      this.compiledOf(id);
      // What is gone by now is nothing to wait for.
      this.waiting.delete(id);
    }
    return false;
  }

  complete(): void {
    this.compileSome(Infinity);
    if (this.whole) return;
    for (const list of [this.document.macros, this.document.buttons, this.document.triggers])
      for (const { id } of list) this.compiledOf(id);
    this.whole = true;
  }

  compiledOf(id: string): CompiledEntry | undefined {
    const known = this.compiled.get(id);
    if (known !== undefined || (this.whole && !this.waiting.has(id))) return known;
    const entry = this.entryOf(id);
    this.waiting.delete(id);
    return entry && this.adopt(entry);
  }

  private entryOf(id: string): StepEntry | undefined {
    return this.buttons.get(id) ?? this.macros.get(id) ?? this.triggers.get(id);
  }

  private adopt(entry: StepEntry): CompiledEntry {
    const compiled = compileEntry(entry, this.document, this.lookup);
    own(entry.steps, entry.id);
    if (!isTrigger(entry))
      for (const [, steps] of isMacro(entry) ? [['stopSteps', entry.stopSteps] as const] : listsOf(entry))
        own(steps, entry.id);
    this.compiled.set(entry.id, compiled);
    this.naming.add(compiled);
    return compiled;
  }

  expression(text: string): Expression | undefined {
    const compiled = compiledExpression(text);
    return compiled.ok ? compiled.value : undefined;
  }

  liveOf(buttonId: string, line: 'legend' | 'note'): LiveText | undefined {
    const text = this.buttons.get(buttonId)?.[line];
    if (text === undefined || !text.includes('{{')) return undefined;
    const compiled = compiledLiveText(text);
    return compiled.ok ? compiled.value : undefined;
  }

  sentence(step: Step): string {
    const owner = this.compiled.get(ownerOf.get(step) ?? '');
    if (owner === undefined) return sentenceOf(step, this.document);
    let known = this.sentences.get(owner);
    if (known === undefined) this.sentences.set(owner, (known = new Map()));
    let words = known.get(step);
    if (words === undefined) known.set(step, (words = sentenceOf(step, this.document)));
    return words;
  }

  selects = (id: string): boolean => this.factsOf(id).selects;
  lasts = (id: string): boolean => this.factsOf(id).lasts;
  mayMove = (id: string): boolean => this.factsOf(id).mayMove;
  devicesOf = (id: string): ReadonlySet<string> => this.factsOf(id).devices;
  kindOf = (key: string): DeviceKind | undefined => kindOf(this.devices.get(key), this.document);

  faultOf(id: string): Fault | undefined {
    return this.factsOf(id).fault;
  }

  endlessOf(macroId: string): Fault | undefined {
    const { endless } = this.factsOf(macroId);
    return endless === null ? undefined : endlessFault(endless);
  }

  deviceFault(key: string): Fault | undefined {
    let known = this.deviceFaults.get(key);
    if (known === undefined) {
      const device = this.devices.get(key);
      known = (device && deviceFault(device, this.document)) ?? null;
      this.deviceFaults.set(key, known);
    }
    return known ?? undefined;
  }

  faults(): readonly Fault[] {
    if (this.allFaults !== null) return this.allFaults;
    this.complete();
    return (this.allFaults = faultsOf(this.document, this));
  }

  schemaFaults(ids: ReadonlySet<string>): readonly Fault[] {
    return schemaFaultsOf(ids, this.document, this);
  }

  factsOf(id: string): Facts {
    let facts = this.facts.get(id);
    if (facts === undefined) this.facts.set(id, (facts = factsOf(id, this)));
    return facts;
  }

  nameOf(id: string): string {
    return this.macros.get(id)?.name ?? this.buttons.get(id)?.legend ?? this.triggers.get(id)?.name ?? id;
  }
}

/** The entry that a step stands in, by id: a step belongs to one entry for as long as it lives. */
const ownerOf = new WeakMap<Step, string>();

function own(steps: readonly Step[], id: string): void {
  for (const step of steps) {
    ownerOf.set(step, id);
    for (const list of childrenOf(step)) own(list, id);
  }
}
