import type { Cancel, Clock } from '@umbek/core/engine';
import type { LinkState } from './context';

export const HEARTBEAT_MS = 200;
/** Silent after so long without any datagram. */
export const SILENCE_MS = 1800;
const LONGEST_BACKOFF_MS = 1000;

/**
 * Knows whether a device is heard. Beats while it is; looks for it with growing intervals while it is not.
 * The owner says `arrived` once the device has been read back; only then is it "reached".
 */
export class Liveness {
  state: LinkState = 'off';
  lastHeard: number | null = null;
  private foreignHeard: number | null = null;
  private backoff = HEARTBEAT_MS;
  private refusals = 0;
  private cancel: Cancel = () => undefined;
  private reported = false;

  constructor(
    private readonly clock: Clock,
    private readonly owner: {
      /** Ask something cheap of a device that is heard. */
      beat(): void;
      /** Look for a device that is not. */
      probe(): void;
      changed(state: LinkState, silentForMs: number | null): void;
    },
    /** Milliseconds between two beats of a device that is heard. */
    private readonly beatMs = HEARTBEAT_MS,
    /** Silent after so many milliseconds without a message. */
    private readonly silenceMs = SILENCE_MS,
  ) {}

  open(): void {
    this.tick();
  }

  close(): void {
    this.cancel();
    this.state = 'off';
  }

  heard(): void {
    this.lastHeard = this.clock.now();
    this.refusals = 0;
    this.backoff = HEARTBEAT_MS;
  }

  /** Something came that is not this protocol. */
  foreign(): void {
    this.foreignHeard = this.clock.now();
  }

  /** The device has answered and was read back. */
  arrived(): void {
    this.set('reached');
  }

  /** The operating system reported a closed port; twice in a row is certain enough not to wait for the silence. */
  refused(): void {
    this.refusals += 1;
    if (this.refusals >= 2 && this.state !== 'foreign') this.set('silent');
  }

  /** The connection to the device is gone: silent at once. */
  lost(): void {
    this.set('silent');
  }

  private tick(): void {
    const now = this.clock.now();
    const silent = this.lastHeard === null || now - this.lastHeard >= this.silenceMs;
    if (silent && this.foreignHeard !== null && now - this.foreignHeard < this.silenceMs) this.set('foreign');
    else if (silent && (this.reported || this.state === 'reached' || this.backoff > HEARTBEAT_MS)) this.set('silent');
    const looking = this.state !== 'reached';
    if (looking) {
      this.owner.probe();
      if (silent) this.backoff = Math.min(LONGEST_BACKOFF_MS, this.backoff * 1.5);
    } else this.owner.beat();
    this.cancel = this.clock.at(now + (looking ? this.backoff : this.beatMs), () => this.tick());
  }

  private set(state: LinkState): void {
    if (this.state === state) return;
    this.state = state;
    this.reported = true;
    this.owner.changed(state, this.lastHeard === null ? null : this.clock.now() - this.lastHeard);
  }
}
