import type { Who } from '../access/who';
import type { LiveConnection } from '../live/liveDesk';
import type { LiveClient } from '../live/liveRoom';
import { Pad, type PadDeps } from './pad';

/** The pads that are connected, and the station that each acts as. */
export class PadDesk {
  private readonly pads = new Set<Pad>();

  constructor(private readonly deps: PadDeps) {}

  /** @returns null when there are too many pages and pads already */
  connect(socket: LiveClient, who: Who): LiveConnection | null {
    const pad = new Pad(socket, this.deps, who);
    if (!pad.isIn) return null;
    this.pads.add(pad);
    return {
      message: (text) => pad.message(text),
      closed: () => {
        this.pads.delete(pad);
        pad.closed();
      },
    };
  }

  /** Gives a pad its place; those that are plugged in take it at once. @throws when it cannot be kept: it holds until the next start */
  async place(serial: string, station: string | null): Promise<void> {
    const kept = this.deps.places.place(serial, station);
    for (const pad of this.pads) if (pad.serial === serial) pad.placed();
    await kept;
  }
}
