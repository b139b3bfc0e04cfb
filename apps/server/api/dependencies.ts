import type { ShowDocument } from '@umbek/core/show';
import type { Request } from 'express';
import type { EngineHost } from '../engine/engineHost';
import type { Log } from '../border/log';
import type { Helper } from '../helper/helper';
import type { ShowKeeper } from '../engine/showKeeper';
import type { ShowShelf } from '../database/showShelf';
import type { VersionStore } from '../database/versionStore';
import type { Crew } from '../access/crew';
import type { Doors } from '../access/doors';
import type { Invitations } from '../access/invitations';
import type { OscIn } from '../access/oscIn';
import type { Room } from '../access/roomDoor';
import type { StationKeys } from '../access/stationKeys';
import type { Tokens } from '../access/tokens';
import type { Discovery } from '../discovery/discovery';
import type { PadDesk } from '../pads/padDesk';
import type { Projection } from '../journal/projection';

/** What the routes need of the rest of the server. */
export interface RouteDependencies {
  readonly host: () => EngineHost;
  readonly helper: Helper;
  readonly keeper: ShowKeeper;
  readonly projection: Projection;
  readonly versions: VersionStore;
  readonly shelf: ShowShelf;
  readonly tokens: Tokens;
  readonly oscIn: OscIn;
  readonly pads: PadDesk;
  readonly discovery: Discovery;
  readonly doors: Doors;
  readonly stations: StationKeys;
  readonly crew: Crew;
  readonly invitations: Invitations;
  /** The door to the room; null: Umbek listens on its own machine only. */
  readonly room: () => Room | null;
  readonly version: string;
  /** Control ports of stand-ins, by device key, where they are not the device's own port and 1000. */
  readonly controlPorts: Readonly<Record<string, number>>;
  /** What the control ports of the stand-ins want to hear. */
  readonly controlToken: string;
  /** The demo show as this installation begins with it. */
  readonly demo: () => ShowDocument;
  /** Folder of the built page, or null. */
  readonly page: string | null;
  readonly hostAllowed: (request: Request) => boolean;
  /** Left out: nothing is logged. */
  readonly log?: Log;
}
