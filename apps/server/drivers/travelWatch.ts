import type { TravelRun } from '@umbek/core/devices';
import type { QueuedCommand } from './commandQueue';

interface Place {
  readonly pan: number | null;
  readonly tilt: number | null;
  readonly zoom: number | null;
}

interface Watched {
  readonly entry: QueuedCommand;
  readonly from: TravelRun['from'];
  readonly to: TravelRun['from'];
  readonly since: number;
  ackMs: number | null;
  readonly path: { t: number; pan: number; tilt: number; zoom: number }[];
}

/** Takes down one travel of a head at a time: from rest, alone, with no reply lost. Anything else teaches nothing. */
export class TravelWatch {
  private watched: Watched | null = null;

  constructor(private readonly tell: (run: TravelRun) => void) {}

  sent(entry: QueuedCommand, { pan, tilt, zoom }: Place, moving: boolean, now: number): void {
    this.watched = null;
    const { command, params } = entry.command;
    // A slow move tells of the speed that was asked for, not of what the head can.
    if (
      (command !== 'recall' && command !== 'goTo') ||
      params.seconds !== undefined ||
      moving ||
      pan === null ||
      tilt === null ||
      zoom === null
    )
      return;
    const from = { pan, tilt, zoom };
    const goal = (key: 'pan' | 'tilt' | 'zoom'): number =>
      params[key] === undefined ? from[key] : Number(params[key]);
    this.watched = {
      entry,
      from,
      to: { pan: goal('pan'), tilt: goal('tilt'), zoom: goal('zoom') },
      since: now,
      ackMs: null,
      path: [],
    };
  }

  acknowledged(entry: QueuedCommand, now: number): void {
    if (this.watched?.entry === entry) this.watched.ackMs ??= now - this.watched.since;
  }

  read(pan: number, tilt: number, zoom: number, now: number): void {
    const { watched } = this;
    if (watched && watched.ackMs !== null) watched.path.push({ t: now - watched.since, pan, tilt, zoom });
  }

  /** Something had to be sent again: times mean nothing any more. */
  spoilt(): void {
    this.watched = null;
  }

  /** @param clean the head itself said that it is done */
  ended(entry: QueuedCommand, clean: boolean, now: number): void {
    const { watched } = this;
    if (watched?.entry !== entry) return;
    this.watched = null;
    if (!clean || watched.ackMs === null || watched.path.length < 2) return;
    this.tell({
      from: watched.from,
      to: watched.to,
      ackMs: watched.ackMs,
      doneMs: now - watched.since,
      path: watched.path,
    });
  }
}
