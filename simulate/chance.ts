import { seeded } from '@umbek/standins';

/** Everything that a seed decides. */
export class Chance {
  readonly next: () => number;

  constructor(seed: number) {
    this.next = seeded(seed);
  }

  /** From 0 to 1. */
  is(share: number): boolean {
    return this.next() < share;
  }

  /** Whole, from least up to and including most. */
  whole(least: number, most: number): number {
    return least + Math.floor(this.next() * (most - least + 1));
  }

  between(least: number, most: number): number {
    return least + this.next() * (most - least);
  }

  pick<T>(list: readonly T[]): T {
    const item = list[Math.floor(this.next() * list.length)];
    if (item === undefined) throw new Error('There is nothing to pick from.');
    return item;
  }

  /** A ULID made of the seed: 26 characters of Crockford's base 32. */
  ulid(): string {
    return `0${Array.from({ length: 25 }, () => '0123456789ABCDEFGHJKMNPQRSTVWXYZ'[this.whole(0, 31)]).join('')}`;
  }
}
