import { kindOf, type TravelRun, type Wire } from '@umbek/core/devices';
import type { Engine, Clock } from '@umbek/core/engine';
import type { DeviceHealth } from '@umbek/protocol';
import type { Device, ProfileFile, ShowDocument } from '@umbek/core/show';
import type { DriverContext, StopWay } from '../drivers/context';
import { wordsOf } from '../drivers/linkWords';
import { openHttpLink } from '../links/httpLink';
import type { Link, LinkDependencies } from '../links/link';
import { openTallyLink } from '../links/tallyLink';
import { openProfileLink } from '../links/profileLink';
import { openTcpLink } from '../links/tcpLink';
import { openUdpLink } from '../links/udpLink';
import type { Network } from '../border/network';
import { MessageLog } from './messageLog';

/** What ends a device's moves, for the parent of this process. */
export interface GuardedMove {
  readonly host: string;
  readonly port: number;
  /** Base64. */
  readonly datagrams: readonly string[];
  /** After so long the move ends in any case, milliseconds; left out while somebody holds it. */
  readonly endsAfterMs?: number;
  /** How they go out; left out: as datagrams. A path belongs to a WebSocket. */
  readonly over?: StopWay;
}

/** Null when nothing moves. */
export type TellGuard = (device: string, move: GuardedMove | null) => void;

interface OpenDevice {
  readonly device: Device;
  readonly link: Link;
  /** Closes the link; nothing of it reaches the engine any more. */
  readonly shut: () => void;
  readonly messages: MessageLog;
  /** The profile that it was opened with: another one opens it anew. */
  readonly profile: ProfileFile | undefined;
}

const OPEN: Readonly<Record<Wire, (deps: LinkDependencies) => Link>> = {
  visca: openUdpLink,
  osc: openUdpLink,
  http: openHttpLink,
  swp08: openTcpLink,
  tsl: openTallyLink,
  profile: openProfileLink,
};

/** How far from a stored position a head may stand and still be there: degrees, and a share of the zoom ratio. */
const ANGLE_TOLERANCE = 0.16;
const ZOOM_TOLERANCE = 0.02;

/** The profile that a device follows; undefined for our own kinds. */
const profileOf = (device: Device, { profiles }: ShowDocument): ProfileFile | undefined =>
  profiles.find((profile) => profile.key === device.settings.profile)?.content;

/** Settings that change nothing on the wire: a device whose link does not need them is not opened anew. */
const BESIDE_THE_LINK: ReadonlySet<string> = new Set([
  'onAirMoves',
  'tallyLamp',
  'onAirSeconds',
  'heading',
  'names',
  'startProgram',
  'startPreview',
]);

function sameLink(now: Device, before: Device): boolean {
  const needed = (device: Device): string =>
    JSON.stringify(
      Object.entries(device.settings)
        .filter(([key]) => !BESIDE_THE_LINK.has(key))
        .sort(([a], [b]) => (a < b ? -1 : 1)),
    );
  return (
    now.host === before.host && now.port === before.port && now.kind === before.kind && needed(now) === needed(before)
  );
}

/** Opens a link and a driver for each device of the show, and follows edits of their addresses. */
export class DeviceSockets {
  private readonly open = new Map<string, OpenDevice>();

  constructor(
    private readonly deps: {
      readonly engine: Engine;
      readonly clock: Clock;
      /** Puts the journal on the disk; called before every datagram. */
      readonly flush: () => void;
      readonly guard: TellGuard;
      readonly idPrefix: string;
      readonly onState: () => void;
      readonly network: Network;
      /** Something that came from a device threw: it failed alone. */
      readonly onTrouble: (where: string, error: unknown) => void;
      readonly travelled: (device: string, run: TravelRun) => void;
    },
  ) {}

  /** Brings the open devices in line with the show: new ones are opened, gone ones closed, moved ones opened anew. A device that cannot be used as it stands is not opened. */
  follow(): void {
    const { program } = this.deps.engine;
    const { document } = program;
    const wanted = new Map(document.devices.map((device) => [device.key, device]));
    for (const [key, open] of this.open) {
      const { device } = open;
      const now = wanted.get(key);
      const same =
        now !== undefined &&
        program.deviceFault(key) === undefined &&
        (now === device || sameLink(now, device)) &&
        profileOf(now, document) === open.profile;
      if (!same) this.shut(key, now === undefined);
      else open.link.followed?.();
    }
    for (const device of wanted.values())
      if (!this.open.has(device.key) && program.deviceFault(device.key) === undefined) this.start(device);
  }

  health(): DeviceHealth[] {
    return this.deps.engine.program.document.devices.map((device) => {
      const driver = this.open.get(device.key)?.link.driver;
      const lastReplyMs = driver?.lastHeard == null ? null : Math.round(this.deps.clock.now() - driver.lastHeard);
      const state = driver?.state ?? 'off';
      const fault = this.deps.engine.program.deviceFault(device.key);
      const title = `${device.name} at ${device.host}:${device.port}`;
      return {
        id: device.id,
        key: device.key,
        name: device.name,
        kind: device.kind,
        address: `${device.host}:${device.port}`,
        state,
        lastReplyMs,
        words:
          (fault === undefined ? undefined : `${fault.message} ${fault.mend}`) ??
          driver?.words ??
          wordsOf(state, title, kindOf(device, this.deps.engine.program.document)?.protocol ?? '', lastReplyMs),
        malformed: driver?.malformed ?? 0,
      };
    });
  }

  /** What was said from and to a device lately; undefined when there is no such device. */
  messages(key: string, heartbeats: boolean): ReturnType<MessageLog['shown']> | undefined {
    return this.open.get(key)?.messages.shown(heartbeats);
  }

  /** Whether anything moves, as far as is known: its stops have to go out before this process ends. */
  get moving(): boolean {
    return [...this.open.keys()].some((key) => this.deps.engine.board.read(`${key}.travelling`) === true);
  }

  close(): void {
    for (const key of [...this.open.keys()]) this.shut(key, true);
  }

  private start(device: Device): void {
    const { engine, clock, flush, guard, idPrefix, onState } = this.deps;
    const kind = kindOf(device, engine.program.document);
    if (kind === undefined) return;
    const messages = new MessageLog(kind.wire, () => clock.wall().getTime());
    let closed = false;
    const inTurn = (work: () => void): void => {
      if (closed) return;
      try {
        engine.board.turn(work);
      } catch (error) {
        this.deps.onTrouble(device.name, error);
      }
    };
    const news = engine.newsOf(device.key);
    const context: DriverContext = {
      clock,
      title: `${device.name} at ${device.host}:${device.port}`,
      news: {
        points: (changes) => news.points(changes),
        reached: (yes, words) => {
          news.reached(yes, words);
          onState();
        },
      },
      guard: (datagrams, endsAfterMs, over) =>
        guard(
          device.key,
          datagrams === null
            ? null
            : {
                host: device.host,
                port: device.port,
                datagrams: datagrams.map((datagram) => Buffer.from(datagram).toString('base64')),
                ...(endsAfterMs === undefined ? {} : { endsAfterMs }),
                ...(over === undefined ? {} : { over }),
              },
        ),
      travelled: (run) => this.deps.travelled(device.key, run),
      placeAt: (pan, tilt, zoom) => this.placeAt(device.key, pan, tilt, zoom),
    };
    const { network } = this.deps;
    let link: Link;
    try {
      link = OPEN[kind.wire]({ engine, clock, network, device, flush, idPrefix, messages, context, inTurn });
    } catch (error) {
      return this.deps.onTrouble(device.name, error);
    }
    const shut = (): void => {
      link.close();
      closed = true;
    };
    this.open.set(device.key, { device, link, shut, messages, profile: profileOf(device, engine.program.document) });
    engine.attach(device.key, link.driver);
  }

  private shut(key: string, gone: boolean): void {
    const open = this.open.get(key);
    if (!open) return;
    this.open.delete(key);
    open.shut();
    if (gone) this.deps.engine.detach(key);
    else this.deps.engine.newsOf(key).reached(false, `${open.device.name} has a new address.`);
  }

  private placeAt(camera: string, pan: number, tilt: number, zoom: number): string {
    const near = this.deps.engine.program.document.positions.find(
      (position) =>
        position.camera === camera &&
        Math.abs(position.pan - pan) <= ANGLE_TOLERANCE &&
        Math.abs(position.tilt - tilt) <= ANGLE_TOLERANCE &&
        Math.abs(position.zoom - zoom) <= ZOOM_TOLERANCE * position.zoom,
    );
    return near?.key ?? '';
  }
}
