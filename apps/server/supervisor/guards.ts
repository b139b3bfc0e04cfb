import type { Cancel, Clock } from '@umbek/core/engine';
import type { StopWay } from '../drivers/context';
import type { GuardedMove } from '../engine/deviceSockets';

/** Stops are sent so often against loss; the head does each number once. */
export const STOP_TIMES_MS = [0, 40, 120, 250] as const;
/** How much longer than stated a move may take before the parent ends it: the engine does so itself. */
const LENGTH_GRACE_MS = 150;

/** Why a move was ended whose engine had not ended it. */
export const LENGTH_OVER = 'its stated length was over';

/** Sends datagrams on a new connection, from a process that never spoke to the device before. */
export interface StopSender {
  send(host: string, port: number, datagrams: readonly Uint8Array[], over?: StopWay): void;
}

/** What the engine has left with its parent: how to end each move that is under way. */
export class Guards {
  private readonly moves = new Map<string, { readonly move: GuardedMove; readonly cancel: Cancel }>();

  constructor(
    private readonly clock: Clock,
    private readonly sender: StopSender,
    private readonly report: (device: string, why: string) => void,
  ) {}

  get moving(): readonly string[] {
    return [...this.moves.keys()];
  }

  set(device: string, move: GuardedMove | null): void {
    this.moves.get(device)?.cancel();
    this.moves.delete(device);
    if (move === null) return;
    const { endsAfterMs } = move;
    const cancel =
      endsAfterMs === undefined
        ? () => undefined
        : this.clock.at(this.clock.now() + endsAfterMs + LENGTH_GRACE_MS, () => {
            if (!this.moves.delete(device)) return;
            this.stop(move);
            this.report(device, LENGTH_OVER);
          });
    this.moves.set(device, { move, cancel });
  }

  /** Ends every move. @param keep whether they stay guarded: the engine may come back to itself and begin them anew */
  stopAll(why: string, keep = false): void {
    for (const [device, { move, cancel }] of this.moves) {
      this.stop(move);
      this.report(device, why);
      if (!keep) cancel();
    }
    if (!keep) this.moves.clear();
  }

  private stop({ host, port, datagrams, over }: GuardedMove): void {
    const bytes = datagrams.map((datagram) => Uint8Array.from(Buffer.from(datagram, 'base64')));
    const now = this.clock.now();
    for (const at of STOP_TIMES_MS) {
      if (at === 0) this.sender.send(host, port, bytes, over);
      else this.clock.at(now + at, () => this.sender.send(host, port, bytes, over));
    }
  }
}
