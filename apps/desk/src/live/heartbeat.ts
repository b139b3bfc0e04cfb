/** So often the engine is asked for its time while it answers. */
const ASK_MS = 700;
/** Without an answer for so long there is no contact. Together with the time between two questions this stays under 2.5 s. */
const ANSWER_MS = 1500;
/** A timer that comes later than this was kept waiting, by a page asleep or a busy machine: answers may stand in the queue behind it. */
const KEPT_WAITING_MS = 400;

/** Asks again and again whether the other end is there; a network that died quietly closes no socket. */
export class Heartbeat {
  private timer: ReturnType<typeof setTimeout> | null = null;
  private waiting = false;

  constructor(
    private readonly ask: () => void,
    private readonly onSilence: () => void,
    private readonly now: () => number,
  ) {}

  begin(): void {
    this.end();
    this.question();
  }

  end(): void {
    if (this.timer !== null) clearTimeout(this.timer);
    this.timer = null;
    this.waiting = false;
  }

  /** Anything that came from the other end answers. */
  heard(): void {
    if (!this.waiting) return;
    this.waiting = false;
    this.after(ASK_MS, () => this.question());
  }

  /** The page was asleep or hidden: what was known of the contact may be long past. */
  woke(): void {
    if (this.timer !== null) this.question();
  }

  private question(): void {
    this.waiting = true;
    const due = this.now() + ANSWER_MS;
    this.after(ANSWER_MS, () => (this.now() - due > KEPT_WAITING_MS ? this.question() : this.silence()));
    this.ask();
  }

  private silence(): void {
    this.end();
    this.onSilence();
  }

  private after(ms: number, work: () => void): void {
    if (this.timer !== null) clearTimeout(this.timer);
    this.timer = setTimeout(work, ms);
  }
}
