import type { Expression, LiveText, ReadKey } from '../expression/index';
import type { Button, LampSign } from '../show/index';
import type { Program } from './program';
import { boardKey, readerFor } from './scope';
import type { Reader, StateBoard } from './stateBoard';

/** What a cap shows beside its legend, worked out from the devices' truth for one link group. */
export interface Face {
  readonly sign: LampSign | null;
  /** A device that this button speaks to does not answer. */
  readonly lost: boolean;
  /** The second line with its live parts filled in. */
  readonly note: string;
}

/** Keeps the faces of the buttons that a link group shows; only those whose keys changed are worked out again. */
export class LampBoard {
  private readonly faces = new Map<string, Face>();
  private readonly readers = new Map<string, FaceReader>();
  private readonly changed = new Set<string>();

  constructor(
    private readonly board: StateBoard,
    private program: Program,
    readonly linkGroup: string,
    /** Strips whose buttons are shown; null: all. */
    private strips: ReadonlySet<string> | null,
  ) {
    for (const button of program.document.buttons) if (this.shows(button)) this.read(program, button);
  }

  private shows(button: Button): boolean {
    return this.strips === null || this.strips.has(button.stripId);
  }

  /** From now on the faces of these strips are kept, and no others. @param strips null: all */
  show(strips: ReadonlySet<string> | null): void {
    const before = this.strips;
    if (before === strips || (before !== null && strips !== null && sameSet(before, strips))) return;
    this.strips = strips;
    for (const button of this.program.document.buttons) {
      const known = this.readers.has(button.id);
      if (this.shows(button)) {
        if (!known) this.read(this.program, button);
      } else if (known) this.drop(button.id);
    }
  }

  private drop(id: string): void {
    this.readers.get(id)?.close();
    this.readers.delete(id);
    this.faces.delete(id);
    this.changed.delete(id);
  }

  /** The strip of a button whose face is kept. */
  stripOf(buttonId: string): string | undefined {
    return this.readers.get(buttonId)?.stripId;
  }

  /** Goes over to an edited show: only buttons that it changed are read anew. */
  follow(program: Program): void {
    this.program = program;
    for (const id of program.changedButtons ?? new Set([...this.readers.keys(), ...program.buttons.keys()])) {
      const button = program.buttons.get(id);
      if (button === undefined || !this.shows(button)) {
        this.drop(id);
        continue;
      }
      this.readers.get(id)?.close();
      this.read(program, button);
    }
  }

  get(buttonId: string): Face | undefined {
    return this.faces.get(buttonId);
  }

  all(): ReadonlyMap<string, Face> {
    return this.faces;
  }

  /** Faces that changed since the last call. */
  takeChanges(): ReadonlyMap<string, Face> {
    const changes = new Map<string, Face>();
    for (const id of this.changed) {
      const face = this.faces.get(id);
      if (face) changes.set(id, face);
    }
    this.changed.clear();
    return changes;
  }

  /** Leaves the board, when another show is opened or the link group is gone. */
  close(): void {
    for (const reader of this.readers.values()) reader.close();
    this.readers.clear();
  }

  worked(buttonId: string, sign: LampSign | null, lost: boolean, note: string): void {
    const old = this.faces.get(buttonId);
    if (old !== undefined && old.sign === sign && old.lost === lost && old.note === note) return;
    this.faces.set(buttonId, { sign, lost, note });
    this.changed.add(buttonId);
  }

  private read(program: Program, button: Button): void {
    const rules = button.lamps.flatMap(({ when, show }): Rule[] => {
      const expression = program.expression(when);
      return expression === undefined ? [] : [{ when: expression, show }];
    });
    const devices = [...program.devicesOf(button.id)].map((device) => `${device}.reached`);
    const reader = new FaceReader(this, this.board, this.linkGroup, button, rules, program.noteOf(button.id), devices);
    this.readers.set(button.id, reader);
  }
}

const sameSet = (a: ReadonlySet<string>, b: ReadonlySet<string>): boolean =>
  a.size === b.size && [...a].every((one) => b.has(one));

interface Rule {
  readonly when: Expression;
  readonly show: LampSign;
}

/** One cap: it keeps what it reads and nothing else of the show, so that an edit elsewhere leaves it as it is. */
class FaceReader implements Reader {
  private keys: readonly string[] = [];
  private readonly read: ReadKey;
  private readonly indirect: boolean;

  constructor(
    private readonly owner: LampBoard,
    private readonly board: StateBoard,
    private readonly linkGroup: string,
    private readonly button: Button,
    private readonly rules: readonly Rule[],
    private readonly note: LiveText | undefined,
    private readonly devices: readonly string[],
  ) {
    this.read = readerFor(board, linkGroup);
    this.indirect = note?.indirect === true || rules.some(({ when }) => when.indirect);
    this.listen();
    this.work();
  }

  get stripId(): string {
    return this.button.stripId;
  }

  wake(): void {
    this.work();
    if (!this.indirect) return;
    this.close();
    this.listen();
  }

  close(): void {
    this.board.unsubscribe(this.keys, this);
  }

  private listen(): void {
    const keys = new Set(this.devices);
    for (const { when } of this.rules)
      for (const key of when.readsNow(this.read)) keys.add(boardKey(key, this.linkGroup));
    for (const key of this.note?.readsNow(this.read) ?? []) keys.add(boardKey(key, this.linkGroup));
    this.keys = [...keys];
    this.board.subscribe(this.keys, this);
  }

  private work(): void {
    let sign: LampSign | null = null;
    for (const { when, show } of this.rules) {
      if (when.evaluate(this.read) !== true) continue;
      sign = show;
      break;
    }
    let lost = false;
    for (const key of this.devices) if (this.board.read(key) !== true) lost = true;
    this.owner.worked(this.button.id, sign, lost, this.note?.render(this.read) ?? this.button.note);
  }
}
