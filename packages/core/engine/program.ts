import {
  type CommandDefinition,
  COMMON_POINTS,
  DEVICE_KINDS,
  type DeviceKind,
  GENERIC,
  kindOf,
  pointsOf,
} from '../devices/index';
import { compileProfile } from '../profile/compile';
import { compileExpression, compileLiveText, type Expression, type LiveText } from '../expression/index';
import {
  type AppError,
  type Argument,
  type Button,
  type Device,
  errorsOf,
  fail,
  type Macro,
  ok,
  type Position,
  type Result,
  type Role,
  type ShowDocument,
  type Source,
  type Step,
  unreachable,
} from '../show/index';
import { sentenceOf } from './sentence';

/** A show made ready to run: looked-up tables, parsed expressions, every reference known to hold. A press pins one of these. */
export interface Program {
  readonly document: ShowDocument;
  readonly revision: number;
  readonly devices: ReadonlyMap<string, Device>;
  readonly sources: ReadonlyMap<string, Source>;
  readonly positions: ReadonlyMap<string, Position>;
  readonly roles: ReadonlyMap<string, Role>;
  readonly buttons: ReadonlyMap<string, Button>;
  readonly macros: ReadonlyMap<string, Macro>;
  /** Parsed expressions by their text. */
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
}

const SELECTION_KEYS = /^chosen\.[a-z][A-Za-z0-9]{0,39}$/;

/**
 * Checks a show as a whole and prepares it.
 * @returns every fault with its path: unknown names, dangling references, parameters out of range, macros that call themselves
 */
export function compileProgram(document: ShowDocument, revision: number): Result<Program> {
  return new Compiler(document, revision).compile();
}

class Compiler {
  private readonly errors: AppError[] = [];
  private readonly expressions = new Map<string, Expression>();
  private readonly notes = new Map<string, LiveText>();
  private readonly devices: Map<string, Device>;
  private readonly sources: Map<string, Source>;
  private readonly positions: Map<string, Position>;
  private readonly macros: Map<string, Macro>;
  private readonly roles: Map<string, Role>;
  private readonly values: Set<string>;

  constructor(
    private readonly document: ShowDocument,
    private readonly revision: number,
  ) {
    this.devices = new Map(document.devices.map((device) => [device.key, device]));
    this.sources = new Map(document.sources.map((source) => [source.key, source]));
    this.positions = new Map(document.positions.map((position) => [position.key, position]));
    this.macros = new Map(document.macros.map((macro) => [macro.id, macro]));
    this.roles = new Map(document.roles.map((role) => [role.key, role]));
    this.values = new Set(document.values.map((value) => value.key));
  }

  compile(): Result<Program> {
    const { document } = this;
    this.checkProfiles();
    this.checkDevices();
    this.checkKeysOnce('sources', document.sources);
    this.checkKeysOnce('positions', document.positions);
    this.checkKeysOnce('values', document.values);
    document.positions.forEach((position, index) => this.needDevice(position.camera, `positions.${index}.camera`));
    document.strips.forEach((strip, index) => {
      if (!document.panels.some((panel) => panel.id === strip.panelId))
        this.dangling(`strips.${index}.panelId`, 'panel', strip.panelId);
    });
    const strips = new Set(document.strips.map((strip) => strip.id));
    document.buttons.forEach((button, index) => {
      const path = `buttons.${index}`;
      if (!strips.has(button.stripId)) this.dangling(`${path}.stripId`, 'strip', button.stripId);
      this.checkSteps(button.steps, `${path}.steps`, new Set());
      this.checkSteps(button.releaseSteps, `${path}.releaseSteps`, new Set());
      this.checkNote(button, `${path}.note`);
      button.lamps.forEach((lamp, at) => this.checkExpression(lamp.when, `${path}.lamps.${at}.when`, new Set()));
    });
    document.macros.forEach((macro, index) => {
      const params = new Set(macro.params.map((param) => param.key));
      this.checkSteps(macro.steps, `macros.${index}.steps`, params);
      this.checkSteps(macro.stopSteps, `macros.${index}.stopSteps`, params);
      macro.owns.forEach((key, at) => this.needDevice(key, `macros.${index}.owns.${at}`));
    });
    this.checkCalls();
    if (this.errors.length > 0) return fail(this.errors);
    const buttons = new Map(document.buttons.map((button) => [button.id, button]));
    const uses = new Map(
      document.buttons.map((button) => [button.id, this.devicesIn([...button.steps, ...button.releaseSteps])]),
    );
    const sentences = new Map<Step, string>();
    // Which device a selection means is not known here.
    const isLong = (device: string, command: string): boolean =>
      device.includes('.') || this.commandOf(device, command)?.long === true;
    const moves = (device: string, command: string): boolean => {
      const definition = device.includes('.') ? undefined : this.commandOf(device, command);
      return device.includes('.') || definition?.movesPicture === true || definition?.changesLine === true;
    };
    const lasting = this.buttonsWith(
      (step) =>
        step.kind === 'pause' || step.kind === 'wait' || (step.kind === 'command' && isLong(step.device, step.command)),
    );
    const moving = this.buttonsWith((step) => step.kind === 'command' && moves(step.device, step.command));
    const selecting = new Set(
      document.buttons
        .filter((button) => /chosen\.|"run"/.test(JSON.stringify([button.steps, button.releaseSteps])))
        .map((button) => button.id),
    );
    return ok({
      sentence: (step) => {
        let words = sentences.get(step);
        if (words === undefined) sentences.set(step, (words = sentenceOf(step, document)));
        return words;
      },
      selects: (id) => selecting.has(id),
      lasts: (id) => lasting.has(id),
      mayMove: (id) => moving.has(id),
      document,
      revision: this.revision,
      devices: this.devices,
      sources: this.sources,
      positions: this.positions,
      roles: this.roles,
      buttons,
      macros: this.macros,
      expression: (text) => this.expressions.get(text),
      noteOf: (id) => this.notes.get(id),
      kindOf: (key) => kindOf(this.devices.get(key), document),
      devicesOf: (id) => uses.get(id) ?? new Set(),
    });
  }

  private commandOf(device: string, command: string): CommandDefinition | undefined {
    return kindOf(this.devices.get(device), this.document)?.commands[command];
  }

  /** Buttons with such a step, also in macros that they call. Macros that call themselves are refused before this is asked. */
  private buttonsWith(matches: (step: Step) => boolean): Set<string> {
    // Each macro once: macros that call others twice each would otherwise be gone through without end.
    const known = new Map<string, boolean>();
    const inMacro = (id: string): boolean => {
      let found = known.get(id);
      if (found === undefined) known.set(id, (found = has(this.macros.get(id)?.steps ?? [])));
      return found;
    };
    const has = (steps: readonly Step[]): boolean =>
      steps.some(
        (step) =>
          matches(step) ||
          (step.kind === 'together' && has(step.steps)) ||
          (step.kind === 'run' && inMacro(step.macro)),
      );
    return new Set(this.document.buttons.filter((button) => has(button.steps)).map((button) => button.id));
  }

  private checkProfiles(): void {
    const { profiles, roles, reframes, setUps } = this.document;
    this.checkKeysOnce(
      'profiles',
      profiles.map((one) => ({ key: one.key, name: one.content.name })),
    );
    profiles.forEach(({ content }, index) => {
      const checked = compileProfile(content);
      if (!checked.ok)
        this.errors.push(
          ...checked.error.map((error) => ({ ...error, path: `profiles.${index}.content.${error.path ?? ''}` })),
        );
    });
    // A role stands wherever a source may: the two share their keys.
    this.checkKeysOnce('roles', [...roles, ...this.document.sources]);
    roles.forEach(
      (role, index) =>
        role.source !== null &&
        !this.sources.has(role.source) &&
        this.dangling(`roles.${index}.source`, 'source', role.source),
    );
    this.checkKeysOnce('reframes', reframes);
    reframes.forEach(
      (reframe, index) =>
        !this.sources.has(reframe.source) && this.dangling(`reframes.${index}.source`, 'source', reframe.source),
    );
    setUps.forEach((setUp, index) => this.needDevice(setUp.device, `setUps.${index}.device`));
  }

  private checkDevices(): void {
    this.checkKeysOnce('devices', this.document.devices);
    const addresses = new Map<string, Device>();
    this.document.devices.forEach((device, index) => {
      const kind = kindOf(device, this.document);
      if (kind === undefined) {
        this.add(
          'unknown-kind',
          `${device.name} is of a kind that is not known: ${device.kind}.`,
          `Choose one of ${Object.keys(DEVICE_KINDS).join(', ')}.`,
          `devices.${index}.kind`,
        );
        return;
      }
      const settings = kind.settings.safeParse(device.settings);
      if (!settings.success) this.errors.push(...errorsOf(settings.error, `devices.${index}.settings`));
      if (device.kind === GENERIC && !this.document.profiles.some((one) => one.key === device.settings.profile))
        this.dangling(`devices.${index}.settings.profile`, 'profile', String(device.settings.profile));
      const address = `${device.host}:${device.port}`;
      const other = addresses.get(address);
      if (other)
        this.add(
          'address-clash',
          `${device.name} and ${other.name} are both at ${address}.`,
          'Give one of them another port.',
          `devices.${index}.port`,
        );
      addresses.set(address, device);
    });
  }

  private checkKeysOnce(list: string, entries: readonly { readonly key: string; readonly name: string }[]): void {
    const seen = new Set<string>();
    entries.forEach((entry, index) => {
      if (seen.has(entry.key))
        this.add(
          'key-clash',
          `The key ${entry.key} is used twice.`,
          'Give this one another key.',
          `${list}.${index}.key`,
        );
      seen.add(entry.key);
    });
  }

  private checkSteps(steps: readonly Step[], path: string, params: ReadonlySet<string>): void {
    const ids = new Set<string>();
    steps.forEach((step, index) => {
      const at = `${path}.${index}`;
      if (ids.has(step.id))
        this.add(
          'step-clash',
          `Two steps of this list have the id ${step.id}.`,
          'Give one of them another id.',
          `${at}.id`,
        );
      ids.add(step.id);
      this.checkStep(step, at, params);
    });
  }

  private checkStep(step: Step, path: string, params: ReadonlySet<string>): void {
    switch (step.kind) {
      case 'command':
        this.checkCommand(step, path, params);
        break;
      case 'wait':
        this.checkExpression(step.until, `${path}.until`, params);
        break;
      case 'set':
        this.checkArgument(step.to, `${path}.to`, params);
        if (step.target.startsWith('value.') && !this.values.has(step.target.slice('value.'.length))) {
          this.add(
            'unknown-name',
            `There is no show value ${step.target}.`,
            'Make the value first, or correct the name.',
            `${path}.target`,
          );
        }
        break;
      case 'run': {
        const macro = this.macros.get(step.macro);
        if (macro === undefined) this.dangling(`${path}.macro`, 'macro', step.macro);
        for (const [key, argument] of Object.entries(step.params)) {
          if (macro !== undefined && !macro.params.some((param) => param.key === key)) {
            this.add(
              'unknown-parameter',
              `${macro.name} has no parameter ${key}.`,
              'Remove it or correct its name.',
              `${path}.params.${key}`,
            );
          }
          this.checkArgument(argument, `${path}.params.${key}`, params);
        }
        break;
      }
      case 'together':
        this.checkSteps(step.steps, `${path}.steps`, params);
        break;
      case 'pause':
        break;
      default:
        unreachable(step);
    }
  }

  private checkCommand(step: Extract<Step, { kind: 'command' }>, path: string, params: ReadonlySet<string>): void {
    for (const [key, argument] of Object.entries(step.params))
      this.checkArgument(argument, `${path}.params.${key}`, params);
    if (SELECTION_KEYS.test(step.device)) return;
    const device = this.devices.get(step.device);
    if (device === undefined) {
      this.dangling(`${path}.device`, 'device', step.device);
      return;
    }
    const kind = kindOf(device, this.document);
    const command = kind?.commands[step.command];
    if (kind === undefined) return;
    if (command === undefined) {
      this.add(
        'unknown-command',
        `${device.name} has no command ${step.command}.`,
        `Choose one of ${Object.keys(kind.commands).join(', ')}.`,
        `${path}.command`,
      );
      return;
    }
    this.checkParams(step, command, path);
  }

  /** Plain parameters are checked now; those given as expressions, when they are worked out. */
  private checkParams(step: Extract<Step, { kind: 'command' }>, command: CommandDefinition, path: string): void {
    const plain = Object.fromEntries(
      Object.entries(step.params).filter(([, argument]) => typeof argument !== 'object'),
    );
    const computed = new Set(Object.keys(step.params).filter((key) => !(key in plain)));
    const parsed = command.params.safeParse(plain);
    if (!parsed.success) {
      this.errors.push(
        ...errorsOf(parsed.error, `${path}.params`).filter(
          (error) => !computed.has(error.path?.split('.').pop() ?? ''),
        ),
      );
    }
    for (const [key, value] of Object.entries(plain)) {
      const reference = referenceOf(command, key);
      if (reference === 'position' && !this.positions.has(String(value)))
        this.dangling(`${path}.params.${key}`, 'position', String(value));
      if (reference === 'reframe' && !this.document.reframes.some((one) => one.key === value))
        this.dangling(`${path}.params.${key}`, 'reframe', String(value));
      if (reference === 'source' && !this.sources.has(String(value)) && !this.roles.has(String(value)))
        this.dangling(`${path}.params.${key}`, 'source', String(value));
    }
  }

  private checkArgument(argument: Argument, path: string, params: ReadonlySet<string>): void {
    if (typeof argument === 'object') this.checkExpression(argument.cel, path, params);
  }

  private checkExpression(text: string, path: string, params: ReadonlySet<string>): void {
    const known = this.expressions.get(text);
    const compiled = known ? ok(known) : compileExpression(text, path);
    if (!compiled.ok) {
      this.errors.push(compiled.error);
      return;
    }
    this.expressions.set(text, compiled.value);
    this.checkNames(compiled.value.reads, text, path, params);
  }

  private checkNames(reads: readonly string[], text: string, path: string, params: ReadonlySet<string>): void {
    for (const key of reads) {
      const problem = this.nameProblem(key, params);
      if (problem !== null)
        this.add(
          'unknown-name',
          `${problem} (at character ${text.indexOf(key) + 1} of "${text}")`,
          'Choose a name from the lists, or make it first.',
          path,
        );
    }
  }

  private checkNote(button: Button, path: string): void {
    if (!button.note.includes('{{')) return;
    const compiled = compileLiveText(button.note, path);
    if (!compiled.ok) {
      this.errors.push(compiled.error);
      return;
    }
    this.checkNames(compiled.value.reads, button.note, path, new Set());
    this.notes.set(button.id, compiled.value);
  }

  private nameProblem(key: string, params: ReadonlySet<string>): string | null {
    const [scope = '', field = ''] = key.split('.');
    if (scope === 'value') return this.values.has(field) ? null : `There is no show value ${field}.`;
    if (scope === 'param') return params.has(field) ? null : `This macro has no parameter ${field}.`;
    if (scope === 'chosen') return null;
    const device = this.devices.get(scope);
    if (device === undefined) return `There is no device ${scope}.`;
    const points = pointsOf(device, this.document);
    return field in points || field in COMMON_POINTS ? null : `${device.name} has no point ${field}.`;
  }

  private needDevice(key: string, path: string): void {
    if (!this.devices.has(key)) this.dangling(path, 'device', key);
  }

  /** A macro that reaches itself through the macros it runs would never end: refused, with the way it goes. */
  private checkCalls(): void {
    const clear = new Set<string>();
    const visit = (macro: Macro, way: readonly Macro[]): void => {
      if (clear.has(macro.id)) return;
      if (way.includes(macro)) {
        const names = [...way.slice(way.indexOf(macro)), macro].map((one) => one.name).join(' → ');
        const index = this.document.macros.indexOf(macro);
        this.add(
          'macro-circle',
          `${macro.name} calls itself: ${names}.`,
          'Take one of the calls out.',
          `macros.${index}.steps`,
        );
        return;
      }
      for (const id of callsIn([...macro.steps, ...macro.stopSteps])) {
        const called = this.macros.get(id);
        if (called) visit(called, [...way, macro]);
      }
      clear.add(macro.id);
    };
    this.document.macros.forEach((macro) => visit(macro, []));
  }

  private devicesIn(steps: readonly Step[], found = new Set<string>(), visited = new Set<string>()): Set<string> {
    for (const step of steps) {
      if (step.kind === 'command' && this.devices.has(step.device)) found.add(step.device);
      if (step.kind === 'together') this.devicesIn(step.steps, found, visited);
      if (step.kind === 'run' && !visited.has(step.macro)) {
        visited.add(step.macro);
        this.devicesIn(this.macros.get(step.macro)?.steps ?? [], found, visited);
      }
    }
    return found;
  }

  private dangling(path: string, what: string, id: string): void {
    this.add('dangling', `There is no ${what} ${id}.`, `Choose a ${what} that exists.`, path);
  }

  private add(code: string, message: string, mend: string, path: string): void {
    this.errors.push({ code, message, mend, path });
  }
}

/** What a parameter's text points at: a `source` or a `position`, or nothing. */
export function referenceOf(command: CommandDefinition, key: string): string | undefined {
  const schema = command.params.shape[key] as { meta?: () => { reference?: string } | undefined } | undefined;
  return schema?.meta?.()?.reference;
}

function callsIn(steps: readonly Step[]): string[] {
  return steps.flatMap((step) =>
    step.kind === 'run' ? [step.macro] : step.kind === 'together' ? callsIn(step.steps) : [],
  );
}
