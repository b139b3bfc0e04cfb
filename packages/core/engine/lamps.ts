import { type Expression, type LiveText, type ReadKey, UNKNOWN } from '../expression/index';
import type { Button, LampSign, PlainValue } from '../show/index';
import type { Program } from './program';
import { boardKey, readerFor } from './scope';
import { namesChanged, saidInLegend } from './saidInLegend';
import { IS_SO } from './isSo';
import type { Reader, StateBoard } from './stateBoard';
import { asNext, isSo, nextSet } from './truth';

/** What a cap shows beside its legend, worked out from the devices' truth for one link group. */
export interface Face {
  readonly sign: LampSign | null;
  /** A device that this button speaks to does not answer. */
  readonly lost: boolean;
  /** The second line with its live parts filled in. */
  readonly note: string;
  /** What it says now: its live text filled in, or what the next press of an alternating button does. Left out: the legend as written. */
  readonly legend?: string;
  /** Which set is next goes by what was sent last: the devices tell nothing of it. */
  readonly asSent?: true;
  /** Of a value in the hand: what it is now; left out where that is not known. */
  readonly value?: number;
  /** What it stands for is not there: its place is empty. */
  readonly away?: true;
  /** The source that it puts on program or preview gives no picture, or one that is black or stands still. */
  readonly picture?: PictureTrouble;
}

/** So many buttons that an edit changed are read anew at a time: presses go between. */
const READ_AT_ONCE = 50;

export type PictureTrouble = 'none' | 'black' | 'frozen';
const TROUBLES: ReadonlySet<unknown> = new Set<PictureTrouble>(['none', 'black', 'frozen']);

/** Keeps the faces of the buttons that a link group shows; only those whose keys changed are worked out again. */
export class LampBoard {
  private readonly faces = new Map<string, Face>();
  private readonly readers = new Map<string, FaceReader>();
  private readonly changed = new Set<string>();
  /** Lamps that somebody looks at for a moment, whatever their rules say. */
  private readonly tried = new Map<string, LampSign>();
  /** Buttons of an edit that are still shown as they were before it. */
  private readonly waiting = new Set<string>();

  constructor(
    private readonly board: StateBoard,
    private program: Program,
    readonly linkGroup: string,
    /** Strips whose buttons are shown; null: all. */
    private strips: ReadonlySet<string> | null,
    /** Work that waits until what is at the door went first. */
    private readonly later: (work: () => void) => void,
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
    this.waiting.delete(id);
  }

  /** The strip of a button whose face is kept. */
  stripOf(buttonId: string): string | undefined {
    return this.readers.get(buttonId)?.stripId;
  }

  /** Goes over to an edited show: only buttons that it changed are read anew. After a large edit the last of them follow a moment later. */
  follow(program: Program): void {
    const renamed = namesChanged(this.program, program);
    this.program = program;
    if (renamed) for (const [id, { names }] of this.readers) if (names) this.waiting.add(id);
    for (const id of program.changedButtons ?? new Set([...this.readers.keys(), ...program.buttons.keys()])) {
      const button = program.buttons.get(id);
      if (button === undefined || !this.shows(button)) this.drop(id);
      else this.waiting.add(id);
    }
    this.readWaiting();
  }

  private readWaiting(): void {
    let left = READ_AT_ONCE;
    for (const id of this.waiting) {
      if ((left -= 1) < 0) return this.later(() => this.readWaiting());
      this.waiting.delete(id);
      const button = this.program.buttons.get(id);
      if (button === undefined || !this.shows(button)) this.drop(id);
      else {
        this.readers.get(id)?.close();
        this.read(this.program, button);
      }
    }
  }

  get(buttonId: string): Face | undefined {
    const face = this.faces.get(buttonId);
    const sign = this.tried.get(buttonId);
    return face === undefined || sign === undefined ? face : { ...face, sign };
  }

  *all(): Generator<readonly [string, Face]> {
    for (const [id, face] of this.faces) yield [id, this.get(id) ?? face];
  }

  /** Shows a lamp as if its rule held, or as it is again. */
  try(buttonId: string, sign: LampSign | null): void {
    if (sign === null) this.tried.delete(buttonId);
    else this.tried.set(buttonId, sign);
    if (this.faces.has(buttonId)) this.changed.add(buttonId);
  }

  /** Faces that changed since the last call. */
  takeChanges(): ReadonlyMap<string, Face> {
    const changes = new Map<string, Face>();
    for (const id of this.changed) {
      const face = this.get(id);
      if (face) changes.set(id, face);
    }
    this.changed.clear();
    return changes;
  }

  /** Leaves the board, when another show is opened or the link group is gone. */
  close(): void {
    for (const reader of this.readers.values()) reader.close();
    this.readers.clear();
    this.waiting.clear();
  }

  worked(buttonId: string, sign: LampSign | null, lost: boolean, note: string, next: ShownNext = {}): void {
    const old = this.faces.get(buttonId);
    if (
      old !== undefined &&
      old.sign === sign &&
      old.lost === lost &&
      old.note === note &&
      old.legend === next.legend &&
      old.asSent === next.asSent &&
      old.value === next.value &&
      old.away === next.away &&
      old.picture === next.picture
    )
      return;
    const face: Writable<Face> = { sign, lost, note };
    if (next.legend !== undefined) face.legend = next.legend;
    if (next.asSent !== undefined) face.asSent = next.asSent;
    if (next.value !== undefined) face.value = next.value;
    if (next.away !== undefined) face.away = next.away;
    if (next.picture !== undefined) face.picture = next.picture;
    this.faces.set(buttonId, face);
    this.changed.add(buttonId);
  }

  private read(program: Program, listed: Button): void {
    // What is switched off in it lights nothing.
    const button = program.buttons.get(listed.id) ?? listed;
    const rules = button.lamps.flatMap(({ when, show }): Rule[] => {
      const expression = program.expression(when);
      return expression === undefined ? [] : [{ when: expression, show }];
    });
    const devices = [...program.devicesOf(button.id)].map((device) => `${device}.reached`);
    const reader = new FaceReader(
      this,
      this.board,
      this.linkGroup,
      button,
      rules,
      program.liveOf(button.id, 'note'),
      program.liveOf(button.id, 'legend'),
      devices,
      program,
      button.dial === null ? undefined : program.expression(button.dial.reads),
      button.there === '' ? undefined : program.expression(button.there),
    );
    this.readers.set(button.id, reader);
  }
}

const sameSet = (a: ReadonlySet<string>, b: ReadonlySet<string>): boolean =>
  a.size === b.size && [...a].every((candidate) => b.has(candidate));

type Writable<T> = { -readonly [Key in keyof T]: T[Key] };
type ShownNext = Pick<Face, 'legend' | 'asSent' | 'value' | 'away' | 'picture'>;

const NOTHING_MORE: ShownNext = {};

interface Rule {
  readonly when: Expression;
  readonly show: LampSign;
}

const SHOWS: ReadonlySet<string> = new Set(['preview', 'program']);

/** Where it is told whether the source that a button shows gives a picture. */
function pictureKeyOf({ steps }: Button, program: Program): string | null {
  for (const step of steps) {
    // Buttons that share a macro give it their source.
    const given = step.kind === 'run' ? step.params : {};
    const inside = step.kind === 'run' ? (program.macros.get(step.macro)?.steps ?? []) : [step];
    for (const item of inside) {
      if (item.kind !== 'command' || !SHOWS.has(item.command)) continue;
      const { source } = item.params;
      const key = typeof source === 'object' ? given[/^\s*param\.(\w+)\s*$/.exec(source.cel)?.[1] ?? ''] : source;
      const input = typeof key === 'string' ? (program.sources.get(key)?.input ?? null) : null;
      if (input !== null && program.devices.get(item.device)?.kind === 'switcher')
        return `${item.device}.input${input}Picture`;
    }
  }
  return null;
}

/** One cap: it keeps what it reads and nothing else of the show, so that an edit elsewhere leaves it as it is. */
class FaceReader implements Reader {
  /** Its text names things of the show that may be called otherwise later. */
  names = false;
  private keys: readonly string[] = [];
  private readonly read: ReadKey;
  private readonly indirect: boolean;
  /** Board key of whether its source gives a picture; null where it puts none on program or preview. */
  private readonly pictureKey: string | null;
  /** Asks whether what its button does is so, or which set is next: what it reads depends on what it reads. */
  private readonly asksSo: boolean;
  private readonly asked = new Set<string>();
  private readonly tracked: ReadKey;
  /** It has no live legend, is not dragged, does not come and go, and does one thing. */
  private readonly plain: boolean;

  constructor(
    private readonly owner: LampBoard,
    private readonly board: StateBoard,
    private readonly linkGroup: string,
    private readonly button: Button,
    private readonly rules: readonly Rule[],
    private readonly note: LiveText | undefined,
    private readonly legend: LiveText | undefined,
    private readonly devices: readonly string[],
    private readonly program: Program,
    private readonly dial: Expression | undefined,
    private readonly there: Expression | undefined,
  ) {
    this.pictureKey = pictureKeyOf(button, program);
    const texts = [...rules.map(({ when }) => when), note, legend, dial, there];
    this.indirect = texts.some((text) => text?.indirect === true);
    // Only what reads selections goes by the link group: for all others the board itself is asked.
    const chooses =
      this.indirect || texts.some((text) => text?.reads.some((key) => key.startsWith('chosen.')) === true);
    const plain = chooses || button.sets.length > 0 ? readerFor(board, linkGroup) : board.read;
    const ownSo = !program.devices.has('button');
    this.asksSo =
      button.sets.length > 0 ||
      (ownSo &&
        [...rules.map(({ when }) => when), note, legend].some(
          (candidate) => candidate?.reads.includes(IS_SO) === true,
        ));
    // The device tells of its points as they are; whether all of it is so is worked out from them.
    const tracked: ReadKey = (key) => {
      this.asked.add(boardKey(key, linkGroup));
      return plain(key);
    };
    this.tracked = tracked;
    this.read =
      this.asksSo && ownSo
        ? (key) => (key === IS_SO ? (isSo(button.steps, program, tracked) ?? UNKNOWN) : plain(key))
        : plain;
    this.plain = legend === undefined && dial === undefined && there === undefined && button.sets.length === 0;
    this.work();
    this.listen();
  }

  /** What people read in place of a number or key; from then on another name is another legend. */
  private says(key: string, value: PlainValue): string | undefined {
    const said = saidInLegend(key, value, this.program);
    this.names ||= said !== undefined;
    return said;
  }

  get stripId(): string {
    return this.button.stripId;
  }

  wake(): void {
    if (this.asksSo) this.asked.clear();
    this.work();
    if (!this.indirect && !this.asksSo) return;
    this.close();
    this.listen();
  }

  close(): void {
    this.board.unsubscribe(this.keys, this);
  }

  private listen(): void {
    const keys = new Set(this.devices);
    if (this.pictureKey !== null) keys.add(this.pictureKey);
    for (const { when } of this.rules)
      for (const key of when.readsNow(this.read)) keys.add(boardKey(key, this.linkGroup));
    for (const text of [this.note, this.legend])
      for (const key of text?.readsNow(this.read) ?? []) keys.add(boardKey(key, this.linkGroup));
    for (const expression of [this.dial, this.there])
      for (const key of expression?.readsNow(this.read) ?? []) keys.add(boardKey(key, this.linkGroup));
    for (const key of this.asked) keys.add(key);
    this.keys = [...keys];
    this.board.subscribe(this.keys, this);
  }

  private work(): void {
    let sign: LampSign | null = null;
    const next = this.plain ? this.plainNext() : this.next();
    // What is not there lights nothing: an empty place is equal to whatever else is empty.
    for (const { when, show } of next.away === true ? [] : this.rules) {
      if (when.evaluate(this.read) !== true) continue;
      sign = show;
      break;
    }
    let lost = false;
    for (const key of this.devices) if (this.board.read(key) !== true) lost = true;
    const note = this.note?.render(this.read, (key, value) => this.says(key, value)) ?? this.button.note;
    this.owner.worked(this.button.id, sign, lost, note, next);
  }

  /** What nearly every cap shows besides its lamp: nothing, unless its picture is in trouble. One object for all of them. */
  private plainNext(): ShownNext {
    if (this.pictureKey === null) return NOTHING_MORE;
    const picture = this.board.read(this.pictureKey);
    return typeof picture === 'string' && TROUBLES.has(picture) ? { picture: picture as PictureTrouble } : NOTHING_MORE;
  }

  private next(): ShownNext {
    const value = this.dial?.evaluate(this.read);
    const picture = this.pictureKey === null ? undefined : this.board.read(this.pictureKey);
    // Field by field: this is done for each cap at each change, and spreading costs more than all the rest of it.
    const own: Writable<ShownNext> = {};
    if (this.legend !== undefined) own.legend = this.legend.render(this.read, (key, value) => this.says(key, value));
    if (typeof value === 'number') own.value = value;
    if (this.there !== undefined && this.there.evaluate(this.read) !== true) own.away = true;
    if (picture !== undefined && TROUBLES.has(picture)) own.picture = picture as PictureTrouble;
    if (this.button.sets.length === 0) return own;
    const next = nextSet(this.button, this.program, this.tracked);
    if (next.index !== 0) own.legend = asNext(this.button, next).legend;
    if (next.asSent) own.asSent = true;
    return own;
  }
}
