/** Clocks of two machines go apart by no more than this share of the time: 200 ms in 1,000 s is ten times what usual crystals do. */
const DRIFT = 200e-6;

/**
 * How far the engine's clock is from this page's, out of exchanges of which each bounds it: the engine read its clock after the page asked and
 * before the page heard. What contradicts all before it (the page slept, a clock was stepped) begins anew. Milliseconds, both monotonic.
 */
export class EngineClock {
  private low = -Infinity;
  private high = Infinity;
  private measuredAt = 0;

  /** Another engine answers from now on. */
  forget(): void {
    this.low = -Infinity;
    this.high = Infinity;
  }

  /** @param sent page's clock when it asked @param engine engine's clock in the answer @param heard page's clock when the answer came */
  measured(sent: number, engine: number, heard: number): void {
    const [low, high] = [engine - heard, engine - sent];
    const loose = Math.max(0, heard - this.measuredAt) * DRIFT;
    this.measuredAt = heard;
    const contradicts = low > this.high + loose || high < this.low - loose;
    this.low = contradicts ? low : Math.max(low, this.low - loose);
    this.high = contradicts ? high : Math.min(high, this.high + loose);
  }

  /** The engine's clock at a moment of the page's; null before the first exchange. */
  at(page: number): number | null {
    return this.low === -Infinity ? null : page + (this.low + this.high) / 2;
  }
}
