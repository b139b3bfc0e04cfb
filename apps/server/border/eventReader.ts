/** A line of a stream longer than this is none of ours. */
const LONGEST = 1_000_000;

/** Reads server-sent events out of pieces of text, whatever ends their lines (WHATWG HTML, "Server-sent events"): LF, CR LF or CR. */
export class EventReader {
  private waiting = '';
  private lines: string[] = [];

  /** @returns the data of every event that is whole now; null when a line grows without end */
  push(piece: string): string[] | null {
    this.waiting += piece;
    const events: string[] = [];
    for (;;) {
      const end = /\r\n|\n|\r(?=[\s\S])/.exec(this.waiting);
      if (end === null) break;
      const line = this.waiting.slice(0, end.index);
      this.waiting = this.waiting.slice(end.index + end[0].length);
      if (line === '') {
        if (this.lines.length > 0) events.push(this.lines.join('\n'));
        this.lines = [];
      } else if (line.startsWith('data:')) this.lines.push(line.slice(line.startsWith('data: ') ? 6 : 5));
    }
    return this.waiting.length > LONGEST || this.lines.length > LONGEST / 100 ? null : events;
  }
}
