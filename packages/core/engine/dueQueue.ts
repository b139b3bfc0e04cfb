/** A call that waits for its time. */
export interface Due {
  readonly at: number;
  readonly order: number;
  /** Null once it was taken back. */
  run: (() => void) | null;
}

/**
 * Calls ordered by due time, then by the order in which they were scheduled. A binary heap in an array: the children of entry n are
 * 2n+1 and 2n+2, and no child is due before its parent. Both clocks, real and virtual, stand on it, so that ties fall the same way.
 */
export class DueQueue {
  private readonly heap: Due[] = [];
  private order = 0;

  add(at: number, run: () => void): Due {
    const due: Due = { at, order: this.order++, run };
    const { heap } = this;
    let index = heap.push(due) - 1;
    while (index > 0) {
      const up = (index - 1) >> 1;
      const parent = heap[up];
      if (parent === undefined || !isBefore(due, parent)) break;
      heap[index] = parent;
      index = up;
    }
    heap[index] = due;
    return due;
  }

  /** The earliest call that was not taken back. */
  first(): Due | undefined {
    while (this.heap[0]?.run === null) this.drop();
    return this.heap[0];
  }

  next(): Due | undefined {
    const first = this.first();
    if (first) this.drop();
    return first;
  }

  /** Takes the first entry out: the last one takes its place and sinks to where no child is due before it. */
  private drop(): void {
    const { heap } = this;
    const last = heap.pop();
    const size = heap.length;
    if (last === undefined || size === 0) return;
    let index = 0;
    for (;;) {
      let child = 2 * index + 1;
      let least = heap[child];
      if (least === undefined) break;
      const right = heap[child + 1];
      if (right !== undefined && isBefore(right, least)) {
        least = right;
        child += 1;
      }
      if (!isBefore(least, last)) break;
      heap[index] = least;
      index = child;
    }
    heap[index] = last;
  }
}

const isBefore = (a: Due, b: Due): boolean => a.at < b.at || (a.at === b.at && a.order < b.order);
