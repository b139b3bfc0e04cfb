import type { DeviceHealth, LiveStores } from '@umbek/protocol';

/** Something that is wrong, as the Desk tells it. */
export interface Fault {
  readonly key: string;
  readonly words: string;
  /** Where it is, for the list of all. */
  readonly where: string;
  /** When it was last heard, on this page's clock; null when never; undefined where that says nothing. */
  readonly heardAt: number | null | undefined;
  /** What mends it, and what goes on meanwhile. */
  readonly fix: string;
}

type Unreached = Exclude<DeviceHealth['state'], 'reached'>;

/** What is wrong with a device, in few words, after its name. */
const WRONG: Readonly<Record<Unreached, string>> = {
  silent: 'does not answer',
  foreign: 'answers in another protocol',
  off: 'is switched off in the Rig',
};
const FIX: Readonly<Record<Unreached, string>> = {
  silent: 'Check its power, address and port.',
  foreign: 'Another device may be at this address. Check address and port.',
  off: 'Switch it on in the Rig.',
};
const GOES_ON = 'Presses go on. The as-run waits in memory and is written then.';

function ofDevice(device: DeviceHealth, devicesAt: number): Fault[] {
  const { state, lastReplyMs } = device;
  if (state === 'reached') return [];
  return [
    {
      key: device.id,
      words: `${device.name} ${WRONG[state]}`,
      where: ` at ${device.address}`,
      heardAt: lastReplyMs === null ? null : devicesAt - lastReplyMs,
      fix: `${FIX[state]} Its buttons are off until it answers.`,
    },
  ];
}

function ofDisk(said: string): Fault {
  const [words, fix] = /ENOSPC|EDQUOT/.test(said)
    ? ['The disk is full', `Make room on the engine’s machine. ${GOES_ON}`]
    : /EROFS|EACCES|EPERM/.test(said)
      ? ['The disk cannot be written', `Look at the data folder on the engine’s machine. ${GOES_ON}`]
      : ['The disk fails', `Look at the engine’s machine. ${GOES_ON}`];
  return { key: 'disk', words: words ?? '', where: '', heardAt: undefined, fix: fix ?? '' };
}

const DATABASE: Fault = {
  key: 'database',
  words: 'The database does not answer',
  where: '',
  heardAt: undefined,
  fix: 'Presses go on. Edits wait until it answers.',
};

/**
 * Everything that is wrong, the most pressing first: devices that fell silent, what cannot be kept, and last what somebody switched off.
 * @param devicesAt when the devices' states were told, on this page's clock
 */
export function faultsOf(devices: readonly DeviceHealth[], devicesAt: number, stores: LiveStores): Fault[] {
  const of = (off: boolean): Fault[] =>
    devices.filter((device) => (device.state === 'off') === off).flatMap((device) => ofDevice(device, devicesAt));
  return [
    ...of(false),
    ...(stores.disk === null ? [] : [ofDisk(stores.disk)]),
    ...(stores.database ? [] : [DATABASE]),
    ...of(true),
  ];
}
