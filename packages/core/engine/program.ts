import { type DeviceKind, kindOf } from '../devices/index';
import { compiledExpression, compiledLiveText, type Expression, type LiveText } from '../expression/index';
import {
  type Button,
  childrenOf,
  type Device,
  type Macro,
  placesOf,
  type Position,
  type Reframe,
  type Role,
  type ShowDocument,
  type ShowValue,
  type Source,
  type Step,
} from '../show/index';
import { compileEntry, type CompiledEntry, type Fault, isMacro, type Lookup } from './compileEntry';
import { LayeredMap } from './layeredMap';
import { deviceFault, rigFaults } from './rigFaults';
import { sentenceOf } from './sentence';

export { type Fault, referenceOf } from './compileEntry';

/** A show made ready to run. A press pins one of these. Nothing in a show keeps it from being made: what does not hold together refuses its press. */
export interface Program {
  readonly document: ShowDocument;
  readonly revision: number;
  readonly devices: ReadonlyMap<string, Device>;
  readonly sources: ReadonlyMap<string, Source>;
  readonly positions: ReadonlyMap<string, Position>;
  readonly roles: ReadonlyMap<string, Role>;
  readonly reframes: ReadonlyMap<string, Reframe>;
  readonly buttons: ReadonlyMap<string, Button>;
  readonly macros: ReadonlyMap<string, Macro>;
  /** A condition by its text; undefined when it cannot be read. */
  expression(text: string): Expression | undefined;
  /** The second line of a cap, when it holds live text. */
  noteOf(buttonId: string): LiveText | undefined;
  /** A step as a sentence, with the names of this revision. */
  sentence(step: Step): string;
  /** True when a button's press or release reads a selection, so that its choices must be pinned. */
  selects(buttonId: string): boolean;
  /** True when a press of this button waits for something: a pause, a condition, a move. Others are over as soon as their devices answer. */
  lasts(buttonId: string): boolean;
  /** False when no press of this button can move the picture of a camera, or change what a guest line carries. */
  mayMove(buttonId: string): boolean;
  kindOf(deviceKey: string): DeviceKind | undefined;
  /** Keys of the devices that a button's steps speak to, called macros included; selections are left out. */
  devicesOf(buttonId: string): ReadonlySet<string>;
  /** Why a button or macro refuses its press; undefined when it does not. */
  faultOf(id: string): Fault | undefined;
  /** Why a macro cannot be run by itself, beside its own faults: it begins a move that nothing ends. */
  endlessOf(macroId: string): Fault | undefined;
  /** Why nothing is sent to a device; undefined when nothing speaks against it. */
  deviceFault(key: string): Fault | undefined;
  /** Everything that does not hold together, with the path of each in the show. */
  faults(): readonly Fault[];
  /** Faults of the weight `schema` in these entries: what an edit may not bring in. */
  schemaFaults(ids: ReadonlySet<string>): readonly Fault[];
  /** Compiles what nobody has asked for yet. */
  complete(): void;
  /** Buttons that have to be shown anew after this one took the place of another; null: all of them. */
  readonly changedButtons: ReadonlySet<string> | null;
}

/** What of an entry and all that it calls can be said beforehand. */
interface Facts {
  readonly selects: boolean;
  readonly lasts: boolean;
  readonly mayMove: boolean;
  readonly devices: ReadonlySet<string>;
  readonly fault: Fault | undefined;
  readonly endless: string | null;
  /** Ids of what calls itself, over others too; null when nothing does. */
  readonly circle: readonly string[] | null;
}

type Table = 'devices' | 'sources' | 'positions' | 'values' | 'roles' | 'reframes' | 'macros' | 'buttons';
const keyOf = (table: Table, entry: { readonly id: string; readonly key?: string }): string =>
  table === 'macros' || table === 'buttons' ? entry.id : (entry.key ?? entry.id);

/**
 * Makes a show ready. With the program before it only what an edit changed, and what names that, is compiled; the rest is taken over.
 * @param before the program that this one follows; leave it out for another show
 */
export function compileProgram(document: ShowDocument, revision: number, before?: Program): Program {
  return new CompiledProgram(document, revision, before instanceof CompiledProgram ? before : null);
}

class CompiledProgram implements Program {
  readonly devices: LayeredMap<Device>;
  readonly sources: LayeredMap<Source>;
  readonly positions: LayeredMap<Position>;
  readonly roles: LayeredMap<Role>;
  readonly reframes: LayeredMap<Reframe>;
  readonly values: LayeredMap<ShowValue>;
  readonly buttons: LayeredMap<Button>;
  readonly macros: LayeredMap<Macro>;
  readonly changedButtons: Set<string> | null;
  private readonly compiled: LayeredMap<CompiledEntry>;
  /** Who names what: `table/key` → ids of buttons and macros. Belongs to the newest program; older ones need it no more. */
  private naming: Map<string, Set<string>>;
  private readonly facts: LayeredMap<Facts>;
  private readonly deviceFaults = new Map<string, Fault | null>();
  /** Words of the steps of an entry: they hold names, and an entry whose names change is compiled anew. */
  private readonly sentences: WeakMap<CompiledEntry, Map<Step, string>>;
  private allFaults: readonly Fault[] | null = null;
  /** Every entry is compiled. Until then one is compiled when it is asked for: a show opens sooner than all of it is read. */
  private whole = false;

  constructor(
    readonly document: ShowDocument,
    readonly revision: number,
    before: CompiledProgram | null,
  ) {
    const changed = new Set<string>();
    const table = <T extends { readonly id: string; readonly key?: string }>(
      name: Table,
      list: readonly T[],
      old: LayeredMap<T> | undefined,
      oldList: readonly T[] | undefined,
    ): LayeredMap<T> => {
      if (old !== undefined && list === oldList) return old;
      const followed = old && oldList && follow(name, list, old, oldList, changed);
      if (followed) return followed;
      const map = new Map<string, T>();
      // The first of two with one key stands, as everywhere a thing is looked for in a list.
      for (const entry of list) {
        const key = keyOf(name, entry);
        if (map.has(key)) continue;
        map.set(key, entry);
        if (old?.get(key) !== entry) changed.add(`${name}/${key}`);
      }
      if (old !== undefined) for (const key of old.keys()) if (!map.has(key)) changed.add(`${name}/${key}`);
      return LayeredMap.of(map);
    };
    const was = before?.document;
    this.devices = table('devices', document.devices, before?.devices, was?.devices);
    this.sources = table('sources', document.sources, before?.sources, was?.sources);
    this.positions = table('positions', document.positions, before?.positions, was?.positions);
    this.roles = table('roles', document.roles, before?.roles, was?.roles);
    this.reframes = table('reframes', document.reframes, before?.reframes, was?.reframes);
    this.values = table('values', document.values, before?.values, was?.values);
    this.buttons = table('buttons', document.buttons, before?.buttons, was?.buttons);
    this.macros = table('macros', document.macros, before?.macros, was?.macros);
    // A profile describes commands and points of whatever devices follow it.
    const carriesOver = before !== null && was?.profiles === document.profiles;
    if (!carriesOver) {
      this.compiled = LayeredMap.of();
      this.naming = new Map();
      this.facts = LayeredMap.of();
      this.sentences = new WeakMap();
      this.changedButtons = null;
      return;
    }
    before.complete();
    this.whole = true;
    this.naming = before.naming;
    this.compiled = before.compiled.next();
    // Two devices on one address are each other's matter, whoever names which.
    const devicesChanged = [...changed].some((name) => name.startsWith('devices/'));
    this.facts = devicesChanged ? LayeredMap.of() : before.facts.next();
    this.sentences = before.document.show === document.show ? before.sentences : new WeakMap();
    const affected = this.affectedBy(changed);
    for (const id of affected) {
      this.facts.delete(id);
      this.forget(id);
      const entry = this.buttons.get(id) ?? this.macros.get(id);
      if (entry !== undefined) this.take(entry);
    }
    this.changedButtons = new Set([...affected].filter((id) => this.buttons.has(id) || before.buttons.has(id)));
  }

  /** Entries that changed or name something that did, through whatever calls them. */
  private affectedBy(changed: ReadonlySet<string>): Set<string> {
    const affected = new Set<string>();
    const queue = [...changed];
    for (let name = queue.pop(); name !== undefined; name = queue.pop()) {
      const slash = name.indexOf('/');
      const [table, id] = [name.slice(0, slash), name.slice(slash + 1)];
      const own = table === 'macros' || table === 'buttons' ? [id] : [];
      for (const one of [...own, ...(this.naming.get(name) ?? [])]) {
        if (affected.has(one)) continue;
        affected.add(one);
        queue.push(`macros/${one}`, `buttons/${one}`);
      }
    }
    return affected;
  }

  private readonly lookup: Lookup = (table, key) => (this[table] as ReadonlyMap<string, unknown>).get(key) as never;

  complete(): void {
    if (this.whole) return;
    for (const { id } of [...this.document.macros, ...this.document.buttons]) this.compiledOf(id);
    this.whole = true;
  }

  private compiledOf(id: string): CompiledEntry | undefined {
    const known = this.compiled.get(id);
    if (known !== undefined || this.whole) return known;
    const entry = this.buttons.get(id) ?? this.macros.get(id);
    return entry && this.take(entry);
  }

  private take(entry: Button | Macro): CompiledEntry {
    const compiled = compileEntry(entry, this.document, this.lookup);
    own(entry.steps, entry.id);
    own(isMacro(entry) ? entry.stopSteps : entry.releaseSteps, entry.id);
    this.compiled.set(entry.id, compiled);
    for (const name of compiled.names) {
      const naming = this.naming.get(name);
      if (naming) naming.add(entry.id);
      else this.naming.set(name, new Set([entry.id]));
    }
    return compiled;
  }

  private forget(id: string): void {
    const compiled = this.compiled.get(id);
    this.compiled.delete(id);
    for (const name of compiled?.names ?? []) this.naming.get(name)?.delete(id);
  }

  expression(text: string): Expression | undefined {
    const compiled = compiledExpression(text);
    return compiled.ok ? compiled.value : undefined;
  }

  noteOf(buttonId: string): LiveText | undefined {
    const note = this.buttons.get(buttonId)?.note;
    if (note === undefined || !note.includes('{{')) return undefined;
    const compiled = compiledLiveText(note);
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
    const found = [...rigFaults(this.document)];
    const told = new Set<string>();
    const add = (list: 'buttons' | 'macros', index: number, id: string): void => {
      for (const fault of this.compiledOf(id)?.faults ?? [])
        found.push({ ...fault, path: `${list}.${index}.${fault.path ?? ''}` });
      const { fault, circle } = this.factsOf(id);
      // A circle is told once, at the first macro of it.
      const isNew =
        circle === null
          ? fault?.code === 'move-without-end' && fault.path === 'steps'
          : circle.includes(id) && !told.has([...circle].sort().join());
      if (circle !== null) told.add([...circle].sort().join());
      if (fault !== undefined && isNew) found.push({ ...fault, path: `${list}.${index}.steps` });
    };
    this.document.macros.forEach((macro, index) => add('macros', index, macro.id));
    this.document.buttons.forEach((button, index) => add('buttons', index, button.id));
    return (this.allFaults = found);
  }

  schemaFaults(ids: ReadonlySet<string>): readonly Fault[] {
    const found: Fault[] = [];
    for (const list of ['buttons', 'macros'] as const)
      for (const id of ids) {
        const index = placesOf(this.document, list).get(id);
        if (index === undefined) continue;
        for (const fault of this.compiledOf(id)?.faults ?? [])
          if (fault.weight === 'schema') found.push({ ...fault, path: `${list}.${index}.${fault.path ?? ''}` });
      }
    for (const id of ids) {
      const index = placesOf(this.document, 'devices').get(id);
      const fault = this.deviceFault(this.document.devices[index ?? -1]?.key ?? '');
      if (fault?.weight === 'schema') found.push({ ...fault, path: `devices.${index}.${fault.path ?? ''}` });
    }
    if (this.document.profiles.some((profile) => ids.has(profile.id)))
      found.push(
        ...rigFaults(this.document).filter(
          (fault) => fault.weight === 'schema' && fault.path?.startsWith('profiles.') === true,
        ),
      );
    return found;
  }

  private factsOf(id: string): Facts {
    let facts = this.facts.get(id);
    if (facts === undefined) this.facts.set(id, (facts = this.workOut(id)));
    return facts;
  }

  /** Goes through everything that an entry calls, each once. */
  private workOut(id: string): Facts {
    const devices = new Set<string>();
    const top = this.compiledOf(id);
    let [selects, lasts, mayMove] = [false, false, false];
    let fault: Fault | undefined;
    let endless: string | null = null;
    let circle: readonly string[] | null = null;
    const visited = new Set<string>();
    const visit = (at: string, way: readonly string[]): void => {
      const compiled = this.compiledOf(at);
      if (compiled === undefined) return;
      if (way.includes(at)) {
        circle ??= way.slice(way.indexOf(at));
        const names = [...circle, at].map((one) => this.nameOf(one)).join(' → ');
        fault ??= {
          weight: 'press',
          code: 'macro-circle',
          message: `${this.nameOf(at)} calls itself: ${names}.`,
          mend: 'Take one of the calls out.',
          path: 'steps',
        };
        return;
      }
      if (visited.has(at)) return;
      visited.add(at);
      selects ||= compiled.selects;
      lasts ||= compiled.lasts;
      mayMove ||= compiled.mayMove;
      // A held button that is pressed by a step is let go by that step.
      const lets = at !== id && !isMacro(compiled.entry) && compiled.entry.mode === 'hold';
      if (!lets) endless ??= compiled.endless;
      for (const device of compiled.devices) devices.add(device);
      fault ??= compiled.faults.find(
        (one) => one.weight !== 'listed' && one.path?.startsWith('lamps') !== true && one.path !== 'note',
      );
      for (const called of compiled.calls) visit(called, [...way, at]);
    };
    visit(id, []);
    const held = top !== undefined && !isMacro(top.entry) && top.entry.mode === 'hold';
    if (endless !== null && !held && top !== undefined && !isMacro(top.entry)) fault ??= endlessFault(endless);
    for (const device of devices) fault ??= this.deviceFault(device);
    return { selects, lasts, mayMove, devices, fault, endless, circle };
  }

  private nameOf(id: string): string {
    return this.macros.get(id)?.name ?? this.buttons.get(id)?.legend ?? id;
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

/** A list in which entries were replaced in place or added at the end; null when more has changed. */
function follow<T extends { readonly id: string; readonly key?: string }>(
  name: Table,
  list: readonly T[],
  old: LayeredMap<T>,
  oldList: readonly T[],
  changed: Set<string>,
): LayeredMap<T> | null {
  if (list.length < oldList.length) return null;
  const map = old.next();
  const found: string[] = [];
  for (const [at, entry] of list.entries()) {
    const before = oldList[at];
    if (entry === before) continue;
    const key = keyOf(name, entry);
    // Another key, or one of two with the same key: not as simple as it looks.
    if (before === undefined ? map.has(key) : keyOf(name, before) !== key || old.get(key) !== before) return null;
    map.set(key, entry);
    found.push(`${name}/${key}`);
  }
  for (const one of found) changed.add(one);
  return map;
}

/** A press is over at once, and a move that nothing ends would outlive it. */
const endlessFault = (name: string): Fault => ({
  weight: 'press',
  code: 'move-without-end',
  message: `${name} would move until it is told to stop, and nothing tells it.`,
  mend: 'Make it a hold button, or give the move a length.',
  path: 'steps',
});
