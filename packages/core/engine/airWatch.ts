import { pointsOf } from '../devices/index';
import { UNKNOWN } from '../expression/index';
import type { Program } from './program';
import { type Air, airOf, graphOf, seenOf } from './air';
import { MOST_LINES, seatOf } from './roles';
import type { Reader, StateBoard } from './stateBoard';

/** Board key of whether a source or role is seen on air. */
export const onAirKey = (source: string): string => `onAir@${source}`;
/** Board key of whether it would be if preview were taken. */
export const onPreviewKey = (source: string): string => `onPreview@${source}`;
/** Board key of the number that the switcher counts it by. */
export const inputKey = (source: string): string => `input@${source}`;

/** Board key of what its picture is, as the switcher tells it: good, none, black, frozen. */
export const pictureKey = (source: string): string => `picture@${source}`;

/**
 * Keeps on the board what conditions and lamps ask of a source: whether it is on air, whether it would be next, its number, and its picture. Worked out
 * anew when a point of the switcher's graph changes; only what differs is written.
 */
export class AirWatch implements Reader {
  private keys: readonly string[] = [];
  private seatKeys: readonly string[] = [];
  /** Preview changes most often, and program seldom hangs on it. */
  private previewKey = '';
  private readonly preview: Reader = { wake: () => this.look(this.previewKey) };
  private readonly seats: Reader = { wake: () => this.seated() };
  /** Where the switcher tells what each picture is, by source or role. */
  private pictureOf = new Map<string, string>();
  private readonly pictures: Reader = { wake: () => this.lookAtPictures() };
  /** Sources and roles by the number that they stand on now; null: on none. */
  private readonly standing = new Map<string, number | null>();
  private byNumber = new Map<number, string[]>();
  private air: Air | null = null;

  constructor(
    private readonly board: StateBoard,
    private program: Program,
  ) {
    this.begin();
  }

  /** Goes over to an edited show: what is gone from it is forgotten. */
  follow(program: Program): void {
    const { sources, roles, show, devices } = this.program.document;
    const next = program.document;
    this.program = program;
    if (next.sources === sources && next.roles === roles && next.show === show && next.devices === devices) return;
    const stays = new Set([...next.sources, ...next.roles].map((item) => item.key));
    for (const { key } of [...sources, ...roles]) {
      if (stays.has(key)) continue;
      for (const gone of [onAirKey(key), onPreviewKey(key), inputKey(key), pictureKey(key)]) this.board.forget(gone);
    }
    this.board.unsubscribe(this.keys, this);
    this.board.unsubscribe([this.previewKey], this.preview);
    this.board.unsubscribe(this.seatKeys, this.seats);
    this.board.unsubscribe([...this.pictureOf.values()], this.pictures);
    this.begin();
  }

  wake(): void {
    this.look();
  }

  /** @param changed the one key that changed, where it is known to be one */
  private look(changed?: string): void {
    const before = this.air;
    const air = airOf(this.program, this.board.read, before ?? undefined, changed);
    if (air === before) return;
    this.air = air;
    if (before === null || before.certain !== air.certain || before.nextCertain !== air.nextCertain) {
      for (const key of this.standing.keys()) this.tell(key, air);
      return;
    }
    const numbers = new Set<number>();
    differing(before.seen, air.seen, numbers);
    differing(before.next, air.next, numbers);
    for (const number of numbers) for (const key of this.byNumber.get(number) ?? []) this.tell(key, air);
  }

  /** Somebody took another seat: their role stands on another number. */
  private seated(): void {
    const { document } = this.program;
    const { air } = this;
    const moved = document.roles.filter((role) =>
      this.stand(role.key, seatOf(role, document, this.board.read).source?.input),
    );
    if (air !== null) for (const role of moved) this.tell(role.key, air);
    if (moved.length === 0) return;
    this.board.unsubscribe([...this.pictureOf.values()], this.pictures);
    this.watchPictures();
  }

  private watchPictures(): void {
    const switcher = graphOf(this.program)?.key;
    const device = this.program.devices.get(switcher ?? '');
    const points = device === undefined ? {} : pointsOf(device, this.program.document);
    this.pictureOf = new Map(
      [...this.standing].flatMap(([key, input]) =>
        input !== null && Object.hasOwn(points, `input${input}Picture`)
          ? [[key, `${switcher}.input${input}Picture`] as const]
          : [],
      ),
    );
    this.board.subscribe([...this.pictureOf.values()], this.pictures);
    this.lookAtPictures();
  }

  private lookAtPictures(): void {
    for (const [key, point] of this.pictureOf) {
      const now = this.board.read(point);
      if (now === UNKNOWN) this.board.forget(pictureKey(key));
      else this.board.set(pictureKey(key), now);
    }
  }

  private begin(): void {
    const found = graphOf(this.program);
    const { sources, roles, devices } = this.program.document;
    const own = found === undefined ? [] : found.graph.reads.map((point) => `${found.key}.${point}`);
    this.seatKeys =
      roles.length === 0
        ? []
        : devices.flatMap(({ kind, key }) =>
            kind === 'guestGateway'
              ? Array.from({ length: MOST_LINES }, (_, index) => `${key}.line${index + 1}Guest`)
              : [],
          );
    this.previewKey = found === undefined ? '' : `${found.key}.preview`;
    this.keys = own.filter((key) => key !== this.previewKey);
    this.board.subscribe(this.keys, this);
    if (found !== undefined) this.board.subscribe([this.previewKey], this.preview);
    this.board.subscribe(this.seatKeys, this.seats);
    this.standing.clear();
    this.byNumber = new Map();
    this.air = null;
    for (const source of sources) this.stand(source.key, source.input);
    for (const role of roles) this.stand(role.key, seatOf(role, this.program.document, this.board.read).source?.input);
    this.wake();
    this.watchPictures();
  }

  /** @returns whether it stands on another number than before */
  private stand(key: string, input: number | null | undefined): boolean {
    const now = input ?? null;
    const before = this.standing.get(key);
    if (before === now && this.standing.has(key)) return false;
    if (typeof before === 'number')
      this.byNumber.set(
        before,
        (this.byNumber.get(before) ?? []).filter((candidate) => candidate !== key),
      );
    if (now !== null) this.byNumber.set(now, [...(this.byNumber.get(now) ?? []), key]);
    this.standing.set(key, now);
    return true;
  }

  private tell(key: string, air: Air): void {
    const { board } = this;
    const input = this.standing.get(key) ?? null;
    const seen = seenOf(input, air);
    if (seen === 'possibly') board.forget(onAirKey(key));
    else board.set(onAirKey(key), seen === 'seen');
    const next = input !== null && air.next.has(input);
    if (!next && !air.nextCertain && input !== null) board.forget(onPreviewKey(key));
    else board.set(onPreviewKey(key), next);
    if (input !== null) board.set(inputKey(key), input);
    else board.forget(inputKey(key));
  }
}

/** Numbers that only one of the two holds. */
function differing(item: ReadonlyMap<number, string>, other: ReadonlyMap<number, string>, into: Set<number>): void {
  if (item === other) return;
  for (const number of item.keys()) if (!other.has(number)) into.add(number);
  for (const number of other.keys()) if (!item.has(number)) into.add(number);
}
