import { ExpressionFault, UNKNOWN, type ReadKey } from '../expression/index';
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

/** Keeps the faces of all buttons for one link group; only those whose keys changed are worked out again. */
export class LampBoard {
  private readonly faces = new Map<string, Face>();
  private readonly readers: FaceReader[] = [];
  private changed = new Set<string>();

  constructor(
    private readonly board: StateBoard,
    program: Program,
    readonly linkGroup: string,
  ) {
    for (const button of program.document.buttons)
      this.readers.push(new FaceReader(this, board, program, button, linkGroup));
  }

  get(buttonId: string): Face | undefined {
    return this.faces.get(buttonId);
  }

  all(): ReadonlyMap<string, Face> {
    return this.faces;
  }

  /** Faces that changed since the last call. */
  takeChanges(): ReadonlyMap<string, Face> {
    const changes = new Map(
      [...this.changed].flatMap((id) => {
        const face = this.faces.get(id);
        return face ? [[id, face] as const] : [];
      }),
    );
    this.changed = new Set();
    return changes;
  }

  /** Leaves the board, when the show was edited or the link group is gone. */
  close(): void {
    for (const reader of this.readers) this.board.unsubscribe(reader.keys, reader);
  }

  show(buttonId: string, face: Face): void {
    const old = this.faces.get(buttonId);
    if (old && old.sign === face.sign && old.lost === face.lost && old.note === face.note) return;
    this.faces.set(buttonId, face);
    this.changed.add(buttonId);
  }
}

class FaceReader implements Reader {
  keys: readonly string[] = [];
  private readonly read: ReadKey;
  private readonly devices: readonly string[];
  private readonly indirect: boolean;

  constructor(
    private readonly owner: LampBoard,
    private readonly board: StateBoard,
    private readonly program: Program,
    private readonly button: Button,
    private readonly linkGroup: string,
  ) {
    this.read = readerFor(board, linkGroup);
    this.devices = [...program.devicesOf(button.id)].map((device) => `${device}.reached`);
    this.indirect = button.lamps.some((lamp) => program.expression(lamp.when)?.indirect === true);
    this.listen();
    this.work();
  }

  wake(): void {
    this.work();
    if (!this.indirect) return;
    this.board.unsubscribe(this.keys, this);
    this.listen();
  }

  private listen(): void {
    const keys = new Set(this.devices);
    for (const lamp of this.button.lamps) {
      for (const key of this.program.expression(lamp.when)?.readsNow(this.read) ?? [])
        keys.add(boardKey(key, this.linkGroup));
    }
    for (const key of this.program.noteOf(this.button.id)?.reads ?? []) keys.add(boardKey(key, this.linkGroup));
    this.keys = [...keys];
    this.board.subscribe(this.keys, this);
  }

  private work(): void {
    let sign: LampSign | null = null;
    for (const lamp of this.button.lamps) {
      const verdict = this.program.expression(lamp.when)?.evaluate(this.read) ?? UNKNOWN;
      if (verdict === UNKNOWN || verdict instanceof ExpressionFault || verdict !== true) continue;
      sign = lamp.show;
      break;
    }
    let lost = false;
    for (const key of this.devices) if (this.board.read(key) !== true) lost = true;
    this.owner.show(this.button.id, {
      sign,
      lost,
      note: this.program.noteOf(this.button.id)?.render(this.read) ?? this.button.note,
    });
  }
}
