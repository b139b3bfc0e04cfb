import type { Clock, Engine } from '@umbek/core/engine';
import type { Device } from '@umbek/core/show';
import type { Driver, DriverContext } from '../drivers/context';
import type { MessageLog } from '../engine/messageLog';

/** What every link is given. */
export interface LinkDependencies {
  readonly engine: Engine;
  readonly clock: Clock;
  readonly device: Device;
  /** Puts the journal on the disk; called before anything is sent. */
  readonly flush: () => void;
  readonly idPrefix: string;
  readonly messages: MessageLog;
  readonly context: DriverContext;
}

/** A device's driver on its real wire. */
export interface Link {
  readonly driver: Driver;
  close(): void;
}
