/** Work that comes in crowds is done one piece in each turn of the event loop: presses that came meanwhile go in between. */
export class InTurn {
  private readonly waiting: (() => void)[] = [];
  private busy = false;

  /** How many pieces wait. */
  get length(): number {
    return this.waiting.length;
  }

  /** Does it now where nothing else was done in this turn, otherwise when it is its turn. */
  take(work: () => void): void {
    if (this.busy) {
      this.waiting.push(work);
      return;
    }
    this.busy = true;
    setImmediate(() => {
      this.busy = false;
      const next = this.waiting.shift();
      if (next !== undefined) this.take(next);
    });
    work();
  }
}
