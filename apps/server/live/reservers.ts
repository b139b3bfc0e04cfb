import type { Clock, Engine } from '@umbek/core/engine';
import { rankOf, type Who } from '../access/who';

/** So long after the last page of whoever reserved a head is gone, it is free again. */
export const GONE_MS = 30_000;

/** Who reserved which head, so that a station that is gone for good keeps none. */
export class Reservers {
  /** Key of the station by device; since when it is gone, where it is. */
  private readonly owners = new Map<string, { readonly owner: string; goneSince: number | null }>();
  private looking = false;

  constructor(
    private readonly deps: {
      readonly engine: Engine;
      readonly clock: Clock;
      /** Whether a page of this station is connected. */
      readonly isHere: (owner: string) => boolean;
    },
  ) {
    // The engine before was told of them; whoever is gone meanwhile keeps none.
    for (const { device, owner } of deps.engine.reservations()) this.owners.set(device, { owner, goneSince: null });
    this.look();
  }

  /** @param station as it is called. @returns whether it may, as far as others have reserved it */
  set(device: string, on: boolean, who: Who, station: string, person: string): boolean {
    const { engine } = this.deps;
    const by = { station, person, rank: rankOf(who) };
    const owner = who.key ?? station;
    if (!(on ? engine.reserve(device, by, owner) : engine.free(device, by))) return false;
    if (on) this.owners.set(device, { owner, goneSince: null });
    else this.owners.delete(device);
    this.look();
    return true;
  }

  /** Looks now and then, as long as anything is reserved: a page that is loaded anew is back within a moment. */
  private look(): void {
    const { clock, engine, isHere } = this.deps;
    if (this.looking || this.owners.size === 0) return;
    this.looking = true;
    clock.at(clock.now() + GONE_MS / 10, () => {
      this.looking = false;
      for (const [device, item] of this.owners) {
        if (isHere(item.owner)) item.goneSince = null;
        else if (item.goneSince === null) item.goneSince = clock.now();
        else if (clock.now() - item.goneSince >= GONE_MS) {
          this.owners.delete(device);
          engine.free(device, { station: 'Umbek', person: '', rank: Infinity });
        }
      }
      this.look();
    });
  }
}
