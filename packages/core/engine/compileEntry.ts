import { type CommandDefinition, COMMON_POINTS, kindOf, pointsOf, ptzHead } from '../devices/index';
import { compiledExpression, compiledLiveText } from '../expression/index';
import {
  type AppError,
  type Argument,
  type Button,
  childrenOf,
  type Device,
  errorsOf,
  type Macro,
  numberListed,
  PEOPLE_LIST,
  type ShowDocument,
  type Step,
  type Trigger,
  unreachable,
} from '../show/index';
import { deviceOfParam, useOfParam } from './paramUse';
import { noMemoryWords } from './noMemory';
import { otherCamera } from './otherCamera';
import { toldInput } from './toldInput';
import { IS_SO } from './isSo';
import { isPeoplePlace, PEOPLE_SCOPE } from './liveLists';
import { CHOSEN_PERSON } from './people';
import type { Table } from './programTables';
import { isKeepable } from './rules/keepable';
import { SELECTIONS, selectionOf } from './selections';
import { sentenceOf } from './sentence';

/** Something of a show that does not hold together. */
export interface Fault extends AppError {
  /** `schema`: no edit may bring it in. `press`: what it stands in refuses its press. `listed`: it is told, and nothing else. */
  readonly weight: 'schema' | 'press' | 'listed';
}

/** What an entry may name, looked up by table and key. */
export type Lookup = <T extends Table>(table: T, key: string) => LookupEntry<T> | undefined;
type LookupEntry<T extends Table> = ShowDocument[T][number];

/** What has steps of its own. */
export type StepEntry = Button | Macro | Trigger;

/** A button, macro or trigger made ready: what is wrong with it, what it names, and what of it can be said beforehand. */
export interface CompiledEntry {
  readonly entry: StepEntry;
  readonly faults: readonly Fault[];
  /** Everything that it names, as `table/key`: when one of these changes, it is compiled anew. */
  readonly names: ReadonlySet<string>;
  readonly calls: readonly string[];
  /** Devices that its own steps speak to; selections are left out. */
  readonly devices: ReadonlySet<string>;
  readonly selects: boolean;
  /** A pause, a condition, a move: a press of it waits for something. */
  readonly lasts: boolean;
  /** Can move the picture of a camera, or change what a guest line carries. */
  readonly mayMove: boolean;
  /** Words for a move that its steps begin and nothing ends; null when there is none. Only a held press may hold one. */
  readonly endless: string | null;
}

const SELECTION_KEYS = /^chosen\.[a-z][A-Za-z0-9]{0,39}$/;
const NO_PARAMS: ReadonlySet<string> = new Set();
export const isMacro = (entry: StepEntry): entry is Macro => 'owns' in entry;
export const isTrigger = (entry: StepEntry): entry is Trigger => 'atStart' in entry;

/** What a parameter's text points at: a `source`, a `position`, a `reframe` or a `person`, or nothing. */
export function referenceOf(command: CommandDefinition, key: string): string | undefined {
  const schema = command.params.shape[key] as { meta?: () => { reference?: string } | undefined } | undefined;
  return schema?.meta?.()?.reference;
}

export function compileEntry(entry: StepEntry, document: ShowDocument, lookup: Lookup): CompiledEntry {
  return new EntryCompiler(entry, document, lookup).compile();
}

class EntryCompiler {
  private readonly faults: Fault[] = [];
  private readonly names = new Set<string>();
  private readonly calls = new Set<string>();
  private readonly devices = new Set<string>();
  private selects = false;
  private lasts = false;
  private mayMove = false;
  private endless: string | null = null;

  constructor(
    private readonly entry: StepEntry,
    private readonly document: ShowDocument,
    private readonly lookup: Lookup,
  ) {}

  compile(): CompiledEntry {
    const { entry } = this;
    if (isMacro(entry)) {
      const params = new Set(entry.params.map((param) => param.key));
      for (const [at, param] of entry.params.entries()) this.argument(param.start, `params.${at}.start`, NO_PARAMS);
      this.steps(entry.steps, 'steps', params);
      this.steps(entry.stopSteps, 'stopSteps', params);
      for (const [at, key] of entry.owns.entries())
        if (!this.find('devices', key)) this.dangling(`owns.${at}`, 'device', key);
    } else if (isTrigger(entry)) this.trigger(entry);
    else this.button(entry);
    const { faults, names, devices, selects, lasts, mayMove, endless } = this;
    return { entry, faults, names, calls: [...this.calls], devices, selects, lasts, mayMove, endless };
  }

  private trigger({ kind, on, steps, onlyIf }: Trigger): void {
    this.steps(steps, 'steps', NO_PARAMS);
    if (on.kind === 'turns') this.expression(on.condition, 'on.condition', NO_PARAMS, 'press');
    if (on.kind === 'changes') this.expression(on.of, 'on.of', NO_PARAMS, 'press');
    if (onlyIf !== '') this.expression(onlyIf, 'onlyIf', NO_PARAMS, 'press');
    if (kind === 'follow' || on.kind === 'voices') return this.voices(kind, on);
    if (kind !== 'while') return;
    if (on.kind !== 'turns' || !on.to)
      this.add(
        'press',
        'no-condition',
        'A while rule goes by a condition that holds.',
        'Choose what has to be so for as long as it is to hold.',
        'on',
      );
    steps.forEach((step, at) => this.kept(step, `steps.${at}`));
  }

  /** Microphones that choose the shot: each level, source and position is there, and no camera has to be at two places. */
  private voices(kind: Trigger['kind'], on: Trigger['on']): void {
    if (kind !== 'follow' || on.kind !== 'voices')
      return this.add(
        'press',
        'no-voices',
        'A follow rule goes by microphones.',
        'Make a new trigger from “Microphones choose the shot”.',
        'on',
      );
    const { document } = this;
    const switcher = this.find('devices', on.switcher);
    const commands = switcher === undefined ? undefined : kindOf(switcher, document)?.commands;
    const needed = on.mixFrames === 0 ? ['program'] : ['preview', 'mix'];
    if (switcher === undefined) this.dangling('on.switcher', 'device', on.switcher);
    else if (needed.some((command) => commands?.[command] === undefined))
      this.add(
        'press',
        'no-switcher',
        `${switcher.name} cannot ${on.mixFrames === 0 ? 'put a source on program' : 'mix'}.`,
        'Choose the switcher that takes the shots.',
        'on.switcher',
      );
    else this.devices.add(switcher.key);
    if (on.mics.length < 2)
      this.add(
        'press',
        'few-microphones',
        'It needs two microphones at least.',
        'Add a microphone and its shot.',
        'on.mics',
      );
    const stands = new Map<string, string>();
    const shot = ({ source, position }: { source: string; position: string }, path: string): void => {
      const found = this.find('sources', source);
      if (found === undefined && !this.find('roles', source)) this.dangling(`${path}.source`, 'source', source);
      if (position === '') return;
      const stored = this.find('positions', position);
      if (stored === undefined) return this.dangling(`${path}.position`, 'position', position);
      if (found === undefined || stored.camera !== found.camera)
        return this.add(
          'press',
          'other-camera',
          `${stored.name} is no position of ${found?.name ?? source}.`,
          'Choose a position of its camera, or none.',
          `${path}.position`,
        );
      const other = stands.get(stored.camera);
      if (other !== undefined && other !== position)
        this.add(
          'press',
          'two-positions',
          `${found.name} would have to be at two positions: it cannot move while it is on air.`,
          'Give both shots the same position, or another camera.',
          `${path}.position`,
        );
      stands.set(stored.camera, position);
      this.mayMove = true;
    };
    for (const [at, mic] of on.mics.entries()) {
      const [device = '', point = ''] = mic.level.split('.');
      const found = this.find('devices', device);
      if (found === undefined) this.dangling(`on.mics.${at}.level`, 'device', device);
      else if (pointsOf(found, document)[point]?.type !== 'number')
        this.add(
          'press',
          'no-level',
          `${found.name} tells no level ${point}.`,
          'Choose another microphone.',
          `on.mics.${at}.level`,
        );
      shot(mic, `on.mics.${at}`);
    }
    if (on.wide !== null) shot(on.wide, 'on.wide');
  }

  /** A *while* rule keeps only what it can take back by itself. */
  private kept(step: Step, path: string): void {
    if (isKeepable(step, this.document)) return;
    const device = step.kind === 'command' ? this.lookup('devices', step.device) : undefined;
    const command =
      device === undefined || step.kind !== 'command'
        ? undefined
        : kindOf(device, this.document)?.commands[step.command];
    // What is not there is told already.
    if (step.kind === 'command' && command === undefined && !SELECTION_KEYS.test(step.device)) return;
    this.add(
      'press',
      'not-kept',
      `${sentenceOf(step, this.document)}: a while rule cannot take this back by itself.`,
      'Take the step out, or make two when rules of it.',
      path,
    );
  }

  private button(button: Button): void {
    this.steps(button.steps, 'steps', NO_PARAMS);
    for (const [at, { steps, so }] of button.sets.entries()) {
      this.steps(steps, `sets.${at}.steps`, NO_PARAMS);
      if (so !== '') this.expression(so, `sets.${at}.so`, NO_PARAMS, 'press');
    }
    const held = this.endless;
    this.endless = null;
    this.steps(button.releaseSteps, 'releaseSteps', NO_PARAMS);
    for (const [at, { steps }] of button.additions.entries()) this.steps(steps, `additions.${at}.steps`, NO_PARAMS);
    if (this.endless !== null)
      this.add(
        'press',
        'move-without-end',
        `${this.endless} moves until it is told to stop, and nothing tells it where this stands.`,
        'Give the move a length, or take it out.',
        'releaseSteps',
      );
    this.endless = held;
    button.lamps.forEach((lamp, at) => this.expression(lamp.when, `lamps.${at}.when`, NO_PARAMS, 'listed'));
    if (button.there !== '') this.expression(button.there, 'there', NO_PARAMS, 'press');
    if (button.dial !== null) this.expression(button.dial.reads, 'dial.reads', NO_PARAMS, 'listed');
    for (const line of ['legend', 'note'] as const) if (button[line].includes('{{')) this.liveText(button[line], line);
  }

  private find<T extends Table>(table: T, key: string): LookupEntry<T> | undefined {
    this.names.add(`${table}/${key}`);
    return this.lookup(table, key);
  }

  /** A macro that hands on what it is given: whoever names it is compiled anew with it. */
  private readonly macroOf = (id: string): Macro | undefined => this.find('macros', id);

  private steps(steps: readonly Step[], path: string, params: ReadonlySet<string>): void {
    const ids = new Set<string>();
    steps.forEach((step, index) => {
      // Told by where it stands in the show, with what is switched off before it.
      const at = `${path}.${numberListed(steps, index)}`;
      if (ids.has(step.id))
        this.add(
          'listed',
          'step-clash',
          `Two steps of this list have the id ${step.id}.`,
          'Give one of them another id.',
          `${at}.id`,
        );
      ids.add(step.id);
      this.step(step, at, params);
    });
  }

  private step(step: Step, path: string, params: ReadonlySet<string>): void {
    const inner = step.kind === 'repeat' && 'as' in step.over ? new Set([...params, step.over.as]) : params;
    switch (step.kind) {
      case 'command':
        this.command(step, path, params);
        break;
      case 'wait':
        this.lasts = true;
        this.expression(step.until, `${path}.until`, params, 'press');
        break;
      case 'if':
        this.expression(step.when, `${path}.when`, params, 'press');
        break;
      case 'repeat':
        if ('while' in step.over) this.expression(step.over.while, `${path}.over.while`, params, 'press');
        this.lasts ||= 'while' in step.over;
        break;
      case 'set':
        this.argument(step.to, `${path}.to`, params);
        if (step.by !== undefined && step.target !== CHOSEN_PERSON)
          this.add(
            'press',
            'unknown-name',
            `Only the chosen person can be the next of a list, not ${step.target}.`,
            'Set it to something.',
            `${path}.by`,
          );
        if (step.target.startsWith('chosen.')) this.choice(step, path);
        if (step.target.startsWith('value.') && !this.find('values', step.target.slice('value.'.length)))
          this.add(
            'press',
            'unknown-name',
            `There is no show value ${step.target}.`,
            'Make the value first, or correct the name.',
            `${path}.target`,
          );
        break;
      case 'run':
        this.run(step, path, params);
        break;
      case 'press':
        this.calls.add(step.button);
        if (!this.find('buttons', step.button)) this.dangling(`${path}.button`, 'button', step.button);
        break;
      case 'show': {
        if (step.panel === PEOPLE_LIST) break;
        const panel = this.find('panels', step.panel);
        if (panel === undefined) this.dangling(`${path}.panel`, 'panel', step.panel);
        else if (step.page !== '' && !panel.pages.some(({ id }) => id === step.page))
          this.dangling(`${path}.page`, 'page', step.page);
        break;
      }
      case 'trigger':
        if (!this.find('triggers', step.trigger)) this.dangling(`${path}.trigger`, 'trigger', step.trigger);
        break;
      case 'pause':
      case 'ask':
        this.lasts = true;
        break;
      case 'restore':
        // Bringing back a camera or a caption takes its time.
        this.lasts = true;
        for (const [at, key] of step.devices.entries())
          if (!this.find('devices', key)) this.dangling(`${path}.devices.${at}`, 'device', key);
        break;
      case 'group':
      case 'together':
      case 'note':
        break;
      default:
        unreachable(step);
    }
    childrenOf(step).forEach((list, at) =>
      this.steps(list, `${path}.${step.kind === 'if' && at === 1 ? 'otherwise' : 'steps'}`, inner),
    );
  }

  /** What is chosen by its key has to be there; what devices count is asked when it is chosen. */
  private choice({ target, to, by }: Extract<Step, { kind: 'set' }>, path: string): void {
    this.selects = true;
    const key = target.slice('chosen.'.length);
    const selection = selectionOf(target);
    if (selection === undefined)
      return this.add(
        'listed',
        'unknown-name',
        `There is no selection called ${key}, so nothing follows it.`,
        `Use one of these: ${Object.keys(SELECTIONS).join(', ')}.`,
        `${path}.target`,
      );
    if (selection.tables.length === 0 || by !== undefined || typeof to === 'object') return;
    const there = selection.tables.map((table) => this.find(table, String(to)));
    if (there.every((entry) => entry === undefined)) this.dangling(`${path}.to`, selection.words, String(to));
  }

  private run(step: Extract<Step, { kind: 'run' }>, path: string, params: ReadonlySet<string>): void {
    this.calls.add(step.macro);
    const macro = this.find('macros', step.macro);
    if (macro === undefined) this.dangling(`${path}.macro`, 'macro', step.macro);
    for (const [key, argument] of Object.entries(step.params)) {
      if (macro !== undefined && !macro.params.some((param) => param.key === key))
        this.add(
          'press',
          'unknown-parameter',
          `${macro.name} has no parameter ${key}.`,
          'Remove it or correct its name.',
          `${path}.params.${key}`,
        );
      this.argument(argument, `${path}.params.${key}`, params);
      if (macro !== undefined && typeof argument === 'string')
        this.meant(macro, key, argument, `${path}.params.${key}`);
    }
    for (const { key, start } of macro?.params ?? []) {
      const given = step.params[key] ?? start;
      const use = macro === undefined ? null : deviceOfParam(macro, key, this.macroOf);
      if (use !== null && typeof given === 'string') this.givenDevice(given, use, `${path}.params.${key}`);
    }
  }

  /** A device that a macro is given in place of the one that it was written with: it has to take what that one takes. */
  private givenDevice(key: string, use: Extract<Step, { kind: 'command' }>, path: string): void {
    const device = this.find('devices', key);
    if (device === undefined) return this.dangling(path, 'device', key);
    this.devices.add(device.key);
    const example = this.find('devices', use.device);
    const commands = kindOf(device, this.document)?.commands;
    if (example === undefined || (commands !== undefined && Object.hasOwn(commands, use.command))) return;
    this.add(
      'press',
      'unknown-command',
      `${device.name} cannot do this: the macro is written for devices like ${example.name}.`,
      'Choose a device of that kind.',
      path,
    );
  }

  /** What a macro gives on to a command is held to what that command means by it. */
  private meant(macro: Macro, key: string, name: string, path: string): void {
    const use = useOfParam(macro, key, this.document, this.macroOf);
    if (use !== null) this.reference(referenceOf(use.definition, use.param), name, path);
  }

  private command(step: Extract<Step, { kind: 'command' }>, path: string, params: ReadonlySet<string>): void {
    for (const [key, argument] of Object.entries(step.params)) this.argument(argument, `${path}.params.${key}`, params);
    if (SELECTION_KEYS.test(step.device)) {
      this.selects = true;
      // Which device a selection means is not known here: the chosen camera is a head.
      this.lasts = true;
      this.mayMove = true;
      this.mayBeEndless(step, ptzHead.commands[step.command], 'The chosen camera');
      return;
    }
    const device = this.find('devices', step.device);
    if (device === undefined) return this.dangling(`${path}.device`, 'device', step.device);
    // The one that is given in its place is known where the macro is run.
    if (step.deviceFrom === undefined) this.devices.add(device.key);
    else if (!params.has(step.deviceFrom))
      return this.add(
        'press',
        'unknown-parameter',
        `Nothing gives this step its ${step.deviceFrom}.`,
        'Set it in the step.',
        `${path}.deviceFrom`,
      );
    const kind = kindOf(device, this.document);
    if (kind === undefined)
      return this.add(
        'press',
        'unknown-kind',
        `${device.name} is of a kind that is not known: ${device.kind}.`,
        'Give it another kind in the Rig.',
        `${path}.device`,
      );
    const command = Object.hasOwn(kind.commands, step.command) ? kind.commands[step.command] : undefined;
    if (command === undefined)
      return this.add(
        'press',
        'unknown-command',
        `${device.name} has no command ${step.command}.`,
        `Choose one of ${Object.keys(kind.commands).join(', ')}.`,
        `${path}.command`,
      );
    this.lasts ||= command.long === true;
    this.mayMove ||= command.movesPicture === true || command.changesLine === true;
    this.mayBeEndless(step, command, device.name);
    this.params(step, command, device, path);
  }

  private mayBeEndless(
    step: Extract<Step, { kind: 'command' }>,
    command: CommandDefinition | undefined,
    name: string,
  ): void {
    if (command?.endedBy !== undefined && step.params.forSeconds === undefined) this.endless ??= name;
  }

  /** Plain parameters are checked now; those given as expressions, when they are worked out. */
  private params(
    step: Extract<Step, { kind: 'command' }>,
    command: CommandDefinition,
    device: Device,
    path: string,
  ): void {
    const plain = Object.fromEntries(
      Object.entries(step.params).filter(([, argument]) => typeof argument !== 'object'),
    );
    const computed = new Set(Object.keys(step.params).filter((key) => !Object.hasOwn(plain, key)));
    const parsed = command.params.safeParse(plain);
    if (!parsed.success)
      for (const error of errorsOf(parsed.error, `${path}.params`))
        if (!computed.has(error.path?.split('.').pop() ?? '')) this.faults.push({ ...error, weight: 'schema' });
    for (const [key, value] of Object.entries(plain)) {
      const reference = referenceOf(command, key);
      this.reference(reference, String(value), `${path}.params.${key}`);
      if (reference !== 'position') continue;
      const position = this.find('positions', String(value));
      if (position !== undefined && position.camera !== device.key && step.deviceFrom === undefined) {
        const named = { get: (item: string) => this.find('devices', item) };
        const { code, message, mend = '' } = otherCamera(position.name, position.camera, device.key, named);
        this.add('press', code, message, mend, `${path}.params.${key}`);
      }
      if (command.byMemory === true && position?.headNumber === null)
        this.add('press', 'no-memory', ...noMemoryWords(position.name), `${path}.params.${key}`);
    }
  }

  private reference(reference: string | undefined, name: string, at: string): void {
    if (reference === 'position' && !this.find('positions', name)) this.dangling(at, 'position', name);
    if (reference === 'reframe' && !this.find('reframes', name)) this.dangling(at, 'reframe', name);
    if (reference === 'person' && !this.find('people', name)) this.dangling(at, 'person', name);
    if (
      reference === 'source' &&
      toldInput(name) === undefined &&
      !this.find('sources', name) &&
      !this.find('roles', name)
    )
      this.dangling(at, 'source', name);
  }

  private argument(argument: Argument, path: string, params: ReadonlySet<string>): void {
    if (typeof argument === 'object') this.expression(argument.cel, path, params, 'press');
    // A plain value may name something too, so that a rename reaches the words of the step.
    else if (typeof argument === 'string')
      for (const table of ['positions', 'sources', 'roles', 'reframes', 'people', 'devices'] as const)
        this.names.add(`${table}/${argument}`);
  }

  private expression(text: string, path: string, params: ReadonlySet<string>, weight: 'press' | 'listed'): void {
    const compiled = compiledExpression(text);
    if (!compiled.ok) {
      this.faults.push({ ...compiled.error, path, weight: 'schema' });
      return;
    }
    this.reads(compiled.value.reads, text, path, params, weight);
  }

  private liveText(text: string, path: 'legend' | 'note'): void {
    const compiled = compiledLiveText(text);
    if (!compiled.ok) this.faults.push({ ...compiled.error, path, weight: 'schema' });
    else this.reads(compiled.value.reads, text, path, NO_PARAMS, 'listed');
  }

  private reads(
    reads: readonly string[],
    text: string,
    path: string,
    params: ReadonlySet<string>,
    weight: 'press' | 'listed',
  ): void {
    for (const key of reads) {
      const problem = this.nameProblem(key, params, weight === 'listed');
      if (problem === null) continue;
      const at = text.indexOf(key.includes('@') ? key.slice(key.indexOf('@') + 1) : key) + 1;
      this.add(
        weight,
        'unknown-name',
        `${problem} (at character ${at} of "${text}")`,
        'Choose a name from the lists, or make it first.',
        path,
      );
    }
  }

  private nameProblem(key: string, params: ReadonlySet<string>, lamp: boolean): string | null {
    const source = key.indexOf('@');
    if (source > 0) {
      const name = key.slice(source + 1);
      if (key.startsWith('armed@') || key.startsWith('holds@'))
        return this.find('triggers', name) ? null : `There is no trigger ${name}.`;
      return this.find('sources', name) || this.find('roles', name) ? null : `There is no source ${name}.`;
    }
    const dot = key.indexOf('.');
    const [scope, field] = [key.slice(0, dot), key.slice(dot + 1)];
    if (scope === 'value') return this.find('values', field) ? null : `There is no show value ${field}.`;
    if (scope === 'param') return params.has(field) ? null : `This macro has no parameter ${field}.`;
    if (scope === 'chosen') {
      this.selects = true;
      return null;
    }
    const device = this.find('devices', scope);
    if (device === undefined && scope === PEOPLE_SCOPE)
      return isPeoplePlace(field) ? null : `The people list has no place ${field}.`;
    if (device === undefined && key === IS_SO)
      return lamp ? null : 'Only a lamp or a legend can ask whether what its button does is so.';
    if (device === undefined) return `There is no device ${scope}.`;
    const known = Object.hasOwn(COMMON_POINTS, field) || Object.hasOwn(pointsOf(device, this.document), field);
    return known ? null : `${device.name} has no point ${field}.`;
  }

  private dangling(path: string, what: string, id: string): void {
    this.add('press', 'dangling', `There is no ${what} ${id}.`, `Choose a ${what} that exists.`, path);
  }

  private add(weight: Fault['weight'], code: string, message: string, mend: string, path: string): void {
    this.faults.push({ code, message, mend, path, weight });
  }
}
