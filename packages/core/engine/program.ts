import type { DeviceKind } from '../devices/index';
import type { Expression, LiveText } from '../expression/index';
import type {
  Button,
  Device,
  Macro,
  Person,
  Position,
  Reframe,
  Role,
  ShowDocument,
  Source,
  Step,
  Trigger,
} from '../show/index';
import type { Fault } from './compileEntry';
import { CompiledProgram } from './compiledProgram';

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
  readonly people: ReadonlyMap<string, Person>;
  readonly buttons: ReadonlyMap<string, Button>;
  readonly macros: ReadonlyMap<string, Macro>;
  readonly triggers: ReadonlyMap<string, Trigger>;
  /** A condition by its text; undefined when it cannot be read. */
  expression(text: string): Expression | undefined;
  /** Legend or second line of a cap, when it holds live text. */
  liveOf(buttonId: string, line: 'legend' | 'note'): LiveText | undefined;
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
  /** Why a button or macro refuses its press, or a trigger does not fire; undefined when it does not. */
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
  /** Compiles so many of the entries that an edit left waiting. @returns whether more wait; what is asked for meanwhile is compiled then */
  compileSome(most: number): boolean;
  /** Buttons that have to be shown anew after this one took the place of another; null: all of them. */
  readonly changedButtons: ReadonlySet<string> | null;
}

/**
 * Makes a show ready. With the program before it only what an edit changed, and what names that, is compiled; the rest is taken over.
 * @param before the program that this one follows; leave it out for another show
 * @param changedBefore buttons that changed on the way to `before`, where that is itself a slice of the same edit; null: all of them
 */
export function compileProgram(
  document: ShowDocument,
  revision: number,
  before?: Program,
  changedBefore?: ReadonlySet<string> | null,
): Program {
  return new CompiledProgram(document, revision, before instanceof CompiledProgram ? before : null, changedBefore);
}
