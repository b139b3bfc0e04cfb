import { type DeviceCommand, tellsArrival } from '@umbek/core/devices';
import type { Clock } from '@umbek/core/engine';
import type { PlainValue, ProfileFile } from '@umbek/core/show';

/** Commands after which a head stands elsewhere. */
const MOVES: ReadonlySet<string> = new Set(['recall', 'goTo', 'home', 'nudge', 'drive']);
/** Moves that leave the memory that was recalled. */
const LEAVES: ReadonlySet<string> = new Set(['goTo', 'home', 'nudge', 'drive']);
/** An answer to what was asked before a move may still be under way: the one to the second question after it is believed. */
const QUESTIONS = 2;
/** The same where nothing is asked, milliseconds. */
const UNASKED_MS = 500;

/** Points that a move makes unknown. */
const MOVING: ReadonlySet<string> = new Set(['arrived', 'travelling']);

/**
 * Where a head by profile has arrived, from what it tells: the memory that it names, or where it looks. A head that tells whether it travels has
 * not arrived while it does. Nothing that was said before a move counts after it.
 */
export class ProfileHead {
  private readonly tells: boolean;
  private readonly byMemory: boolean;
  private readonly latest = new Map<string, PlainValue>();
  private left = false;
  private believedFrom = 0;
  private believedAt = -Infinity;

  constructor(
    private readonly profile: ProfileFile,
    private readonly deps: {
      readonly clock: Clock;
      /** The show's position in a memory of this head, or an empty text. */
      readonly memoryAt: (number: number) => string;
      readonly placeAt: (pan: number, tilt: number, zoom: number) => string;
    },
  ) {
    this.tells = tellsArrival(profile);
    this.byMemory = profile.points.some(({ key }) => key === 'memory');
  }

  /** @param asked questions sent so far */
  sent({ command }: DeviceCommand, asked: number): void {
    if (!MOVES.has(command)) return;
    this.left = LEAVES.has(command);
    this.believedFrom = asked + QUESTIONS;
    this.believedAt = this.deps.clock.now() + UNASKED_MS;
  }

  /** What the device told, with where it has arrived. @param asked questions sent so far */
  reported(points: Readonly<Record<string, PlainValue>>, asked: number): Readonly<Record<string, PlainValue>> {
    for (const [key, value] of Object.entries(points)) this.latest.set(key, value);
    const believed =
      this.profile.asks.length > 0 ? asked >= this.believedFrom : this.deps.clock.now() >= this.believedAt;
    if (!believed) return Object.fromEntries(Object.entries(points).filter(([key]) => !MOVING.has(key)));
    const arrived = this.arrived();
    return arrived === null ? points : { ...points, arrived };
  }

  forget(): void {
    this.latest.clear();
  }

  /** Null where it does not tell, or has not told yet. */
  private arrived(): string | null {
    if (!this.tells) return null;
    if (this.latest.get('travelling') === true) return '';
    if (this.byMemory) {
      const memory = this.latest.get('memory');
      if (typeof memory !== 'number') return null;
      return this.left ? '' : this.deps.memoryAt(memory);
    }
    const [pan, tilt, zoom] = ['pan', 'tilt', 'zoom'].map((key) => this.latest.get(key));
    if (typeof pan !== 'number' || typeof tilt !== 'number' || typeof zoom !== 'number') return null;
    return this.deps.placeAt(pan, tilt, zoom);
  }
}
