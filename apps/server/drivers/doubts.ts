/**
 * Points that a command made unknown, until the device itself has vouched for them again: only what it said in answer to a question that was
 * asked after the command's end counts. Nothing comes back from a copy, and no order between two messages is taken for granted.
 */
export class Doubts {
  /** By point: commands under way that made it unknown, and the first question whose answer vouches for it. */
  private readonly points = new Map<string, { open: number; from: number }>();
  private asked = 0;

  /** A command that makes these unknown goes out. */
  begin(points: readonly string[]): void {
    for (const point of points) {
      const doubt = this.points.get(point);
      if (doubt) doubt.open += 1;
      else this.points.set(point, { open: 1, from: Infinity });
    }
  }

  /** It came to its end, whichever: from here on it may be asked. */
  over(points: readonly string[]): void {
    for (const point of points) {
      const doubt = this.points.get(point);
      if (doubt === undefined) continue;
      doubt.open = Math.max(0, doubt.open - 1);
      if (doubt.open === 0) doubt.from = this.asked + 1;
    }
  }

  /** A question for everything goes out. @returns its number */
  ask(): number {
    return (this.asked += 1);
  }

  /** Number of the last question. */
  get lastAsked(): number {
    return this.asked;
  }

  /** Whether something can be vouched for once it is asked. */
  get wantsAnswer(): boolean {
    for (const { from } of this.points.values()) if (from !== Infinity) return true;
    return false;
  }

  /** Whether that question is too old for something that waits. */
  needsNewer(question: number): boolean {
    for (const { from } of this.points.values()) if (from !== Infinity && from > question) return true;
    return false;
  }

  holds(point: string): boolean {
    return this.points.has(point);
  }

  /** An answer to a question came: what it vouches for is no longer in doubt. */
  answered(question: number): void {
    for (const [point, { from }] of this.points) if (from <= question) this.points.delete(point);
  }

  clear(): void {
    this.points.clear();
  }
}
