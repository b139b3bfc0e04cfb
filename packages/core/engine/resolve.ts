import type { CommandDefinition, DeviceCommand } from '../devices/index';
import { ExpressionFault, type ReadKey, UNKNOWN } from '../expression/index';
import {
  type AppError,
  type Argument,
  deviceNamed,
  errorsOf,
  fail,
  listsOf,
  ok,
  type PlainValue,
  type Result,
  type Step,
  stepsWithin,
  type Device,
  type Reframe,
  type ShowDocument,
} from '../show/index';
import { noMemoryWords } from './noMemory';
import { type Program, referenceOf } from './program';
import { seatOf } from './roles';
import { selectionOf } from './selections';
import { otherCamera } from './otherCamera';
import { toldInput } from './toldInput';

/** A command step with its device found and every parameter a plain value the device counts in. */
export interface ResolvedCommand {
  readonly device: string;
  readonly definition: CommandDefinition;
  readonly command: DeviceCommand;
  /** Board keys of the points that nobody can vouch for once it is sent. */
  readonly unsettles: readonly string[];
}

/** Works out one argument. Unknown and faulty results are errors: nothing is sent on a guess. */
export function resolveArgument(argument: Argument, program: Program, read: ReadKey): Result<PlainValue, AppError> {
  if (typeof argument !== 'object') return ok(argument);
  const value = program.expression(argument.cel)?.evaluate(read) ?? new ExpressionFault('It was never parsed.');
  const selection = value === UNKNOWN ? /^\s*chosen\.([A-Za-z0-9]+)\s*$/.exec(argument.cel)?.[1] : undefined;
  if (selection !== undefined) return fail(notChosen(selection));
  if (value === UNKNOWN) {
    return fail({
      code: 'unknown-value',
      message: `"${argument.cel}" is not known at present.`,
      mend: 'Choose it first, or wait until its device answers.',
    });
  }
  if (value instanceof ExpressionFault) {
    return fail({
      code: 'expression-fault',
      message: `"${argument.cel}" cannot be worked out: ${value.message}`,
      mend: 'Correct the expression.',
    });
  }
  return ok(value);
}

/** The device key of a command step: as written, the one that is chosen, or the one that its macro was given. */
export function resolveDevice(
  step: Pick<CommandStep, 'device' | 'deviceFrom'>,
  program: Program,
  read: ReadKey,
): Result<string, AppError> {
  const reference = deviceNamed(step);
  if (!reference.includes('.')) return ok(reference);
  const named = read(reference);
  if (typeof named === 'string' && program.devices.has(named)) return ok(named);
  if (step.deviceFrom === undefined) return fail(notChosen(reference.slice('chosen.'.length)));
  return fail({
    code: 'dangling',
    message: `There is no device ${typeof named === 'symbol' ? `given as ${step.deviceFrom}` : String(named)}.`,
    mend: 'Choose a device that exists, where the macro is run.',
  });
}

function notChosen(key: string): AppError {
  const words = selectionOf(`chosen.${key}`)?.words ?? key;
  return {
    code: 'nothing-chosen',
    message: key === 'person' ? 'Nobody of the people list is chosen.' : `Nothing is chosen as ${words}.`,
    mend: `Choose the ${words} first, then press again.`,
  };
}

/** Id of the step of a button that was made up for one press; never kept. */
export const DIRECT_STEP = 'send';

type CommandStep = Extract<Step, { kind: 'command' }>;

/** A command of which nothing depends on the state, with all that it was worked out from. */
interface Kept {
  readonly device: Device | undefined;
  readonly profiles: ShowDocument['profiles'];
  readonly named: readonly (readonly [
    table: 'sources' | 'positions' | 'reframes' | 'people',
    key: string,
    entry: object | undefined,
  ])[];
  readonly result: Result<ResolvedCommand, AppError>;
}

/** Worked out once, and again when something that it names is another entry. */
const kept = new WeakMap<CommandStep, Kept>();

const stillHolds = (known: Kept, step: CommandStep, program: Program): boolean =>
  program.devices.get(step.device) === known.device &&
  program.document.profiles === known.profiles &&
  known.named.every(([table, key, entry]) => program[table].get(key) === entry);

/** Turns a command step into what its device counts in: sources into input numbers, positions into places. */
export function resolveCommand(step: CommandStep, program: Program, read: ReadKey): Result<ResolvedCommand, AppError> {
  const known = kept.get(step);
  if (known !== undefined && stillHolds(known, step, program)) return known.result;
  const result = workOut(step, program, read);
  const texts = Object.values(step.params);
  // What depends on the state, and a direct command's step that nobody will ask for again, are worked out each time.
  if (step.id === DIRECT_STEP || deviceNamed(step).includes('.')) return result;
  if (
    texts.some(
      (argument) => typeof argument === 'object' || (typeof argument === 'string' && program.roles.has(argument)),
    )
  )
    return result;
  const named = texts.flatMap((argument): Kept['named'][number][] =>
    typeof argument !== 'string'
      ? []
      : (['sources', 'positions', 'reframes', 'people'] as const).flatMap((table) => {
          const entry = program[table].get(argument);
          if (entry === undefined) return [];
          const source = table === 'reframes' ? (entry as Reframe).source : undefined;
          const of: Kept['named'][number] = [table, argument, entry];
          return source === undefined ? [of] : [of, ['sources', source, program.sources.get(source)]];
        }),
  );
  kept.set(step, { device: program.devices.get(step.device), profiles: program.document.profiles, named, result });
  return result;
}

/**
 * Works out ahead of time, for a button or macro, all that a press needs and that does not depend on the state, so that the first press is as quick as
 * the thousandth.
 */
export function prepareEntry(id: string, program: Program): void {
  program.faultOf(id);
  const button = program.buttons.get(id);
  if (button === undefined) return;
  for (const step of listsOf(button).flatMap(([, steps]) => [...stepsWithin(steps)])) {
    program.sentence(step);
    if (step.kind === 'command') resolveCommand(step, program, () => UNKNOWN);
  }
}

/** Number that the switcher counts a source by: of the source itself, of a role's, or as a device told it (`input:4`). */
function inputOf(key: string, program: Program, read: ReadKey): Result<number, AppError> {
  const ofInput = toldInput(key);
  if (ofInput !== undefined) return ok(ofInput);
  const role = program.roles.get(key);
  const { source, line } =
    role === undefined ? { source: program.sources.get(key), line: undefined } : seatOf(role, program.document, read);
  const name = role?.name ?? source?.name ?? key;
  if (role !== undefined && source === undefined) {
    const where =
      line === undefined ? 'sits on no line and has no source' : `sits on line ${line.number}, which no source carries`;
    return fail({
      code: 'no-source',
      message: `${name} ${where}.`,
      mend: 'Bring the person onto a line, or give the role a source.',
    });
  }
  const input = source?.input ?? null;
  return input === null
    ? fail({
        code: 'no-input',
        message: `${name} is on no input of the switcher.`,
        mend: 'Give the source its input number.',
      })
    : ok(input);
}

/** What to say when an expression is nothing but a show value that stands for a choice, and nobody has made it. */
function unchosen(cel: string, program: Program): AppError | null {
  const [, key] = /^\s*value\.([A-Za-z0-9]+)\s*$/.exec(cel) ?? [];
  const value = key === undefined ? undefined : program.document.values.find((candidate) => candidate.key === key);
  if (value === undefined || !CHOSEN.has(value.type)) return null;
  return {
    code: 'nothing-chosen',
    message: `Nothing is chosen as ${value.name}.`,
    mend: `Choose the ${value.name} first, then press again.`,
  };
}

/** Types of show values that stand for a choice. */
const CHOSEN: ReadonlySet<string> = new Set(['choice', 'source', 'role', 'camera', 'destination']);

function workOut(step: CommandStep, program: Program, read: ReadKey): Result<ResolvedCommand, AppError> {
  const device = resolveDevice(step, program, read);
  if (!device.ok) return device;
  const definition = program.kindOf(device.value)?.commands[step.command];
  if (definition === undefined) {
    return fail({
      code: 'unknown-command',
      message: `${device.value} has no command ${step.command}.`,
      mend: 'Choose a device that has it.',
    });
  }
  const plain = Object.create(null) as Record<string, PlainValue>;
  for (const [key, argument] of Object.entries(step.params)) {
    const value = resolveArgument(argument, program, read);
    if (!value.ok) return value;
    if (value.value === '' && typeof argument === 'object') {
      const missing = unchosen(argument.cel, program);
      if (missing !== null) return fail(missing);
    }
    plain[key] = value.value;
  }
  const parsed = definition.params.safeParse(plain);
  if (!parsed.success) {
    return fail(
      errorsOf(parsed.error, 'params')[0] ?? {
        code: 'bad-field',
        message: 'The parameters do not fit.',
        mend: 'Correct them.',
      },
    );
  }
  const params: Record<string, PlainValue> = {};
  for (const [key, value] of Object.entries(parsed.data as Record<string, PlainValue>)) {
    const reference = referenceOf(definition, key);
    if (reference === 'source') {
      const input = inputOf(String(value), program, read);
      if (!input.ok) return input;
      params[key] = input.value;
    } else if (reference === 'position') {
      const position = program.positions.get(String(value));
      if (position === undefined)
        return fail({
          code: 'dangling',
          message: `There is no position ${String(value)}.`,
          mend: 'Choose a position that exists.',
        });
      if (position.camera !== device.value)
        return fail(otherCamera(position.name, position.camera, device.value, program.devices));
      if (definition.byMemory === true && position.headNumber === null) {
        const [message, mend] = noMemoryWords(position.name);
        return fail({ code: 'no-memory', message, mend });
      }
      Object.assign(params, {
        position: position.key,
        number: position.headNumber ?? -1,
        pan: position.pan,
        tilt: position.tilt,
        zoom: position.zoom,
      });
      if (position.focus !== null) params.focus = position.focus;
      if (position.iris !== null) params.iris = position.iris;
    } else if (reference === 'reframe') {
      const reframe = program.reframes.get(String(value));
      const input = reframe === undefined ? undefined : inputOf(reframe.source, program, read);
      if (reframe === undefined || input === undefined)
        return fail({
          code: 'dangling',
          message: `There is no reframe ${String(value)}.`,
          mend: 'Choose a reframe that exists.',
        });
      if (!input.ok) return input;
      Object.assign(params, { source: input.value, x: reframe.x, y: reframe.y, scale: reframe.scale });
    } else if (reference === 'person') {
      const person = program.people.get(String(value));
      if (person === undefined)
        return fail({
          code: 'dangling',
          message: `There is nobody called ${String(value)} in the people list.`,
          mend: 'Choose somebody of the list.',
        });
      Object.assign(params, { name: person.name, title: person.title });
    } else params[key] = value;
  }
  return ok({
    device: device.value,
    definition,
    command: { command: definition.sentAs ?? step.command, params },
    unsettles: (definition.unsettles ?? []).map((point) => `${device.value}.${point}`),
  });
}
