import {
  type ErrorReply,
  LiveClientMessage,
  type LiveEdit,
  type LiveOther,
  type LiveRun,
  type LiveServerMessage,
  type LiveStores,
  type StationsReply,
  type TakeBackReply,
} from '@umbek/protocol';
import { pointsOf } from '@umbek/core/devices';
import type { Clock, Engine, RunView, Taken, TakenHand } from '@umbek/core/engine';
import { errorsOf } from '@umbek/core/show';
import { HERE, may, mayNot, rankOf, type Who } from '../access/who';
import { linkGroupOn, stationOf } from '@umbek/core/shown';
import type { DeviceSockets } from '../engine/deviceSockets';
import { Allowance, LIMITS } from './limits';
import { type LiveClient, LiveRoom, View } from './liveRoom';
import { type PadOf, plainName, type Station, stationList } from './stationList';

/** A larger edit is not told to every page; they load the show. */
const MOST_EDIT_CHARACTERS = 200_000;
/** A room counts its messages; a page that comes back to a link group made anew must not take its count for the old one's. */
const MESSAGES_A_ROOM = 1e9;
/** So many runs that ended are told to a page that comes. */
const MOST_ENDED = 50;
/** A page that is so many bytes behind is not told what others select. */
const MOST_BEHIND = 100_000;
const NO_STRIPS: ReadonlySet<string> = new Set();
/** A link group that nobody looks at any more is kept for so long: pages come back. */
const EMPTY_ROOM_MS = 30_000;

/** One connection of a page: what comes from it, and that it is gone. */
export interface LiveConnection {
  message(text: string): void;
  closed(): void;
}

const refused = (code: string, message: string, mend: string): LiveServerMessage => ({
  type: 'error',
  error: { code, message, mend },
});

/** The live side of the engine: presses in, answers and changes out. A station whose connection closes releases what it held. */
export class LiveDesk {
  private readonly rooms = new Map<string, LiveRoom>();
  /** Who pressed what still runs: told of the outcome at once. */
  private readonly pressers = new Map<string, LiveClient>();
  /** Runs of buttons that ended, the newest at the end: a page that was away is told what became of them. */
  private readonly ended: LiveRun[];
  /** What pages are about to change, by the name of their station. */
  private readonly selected = new Map<string, LiveOther>();
  /** Pages by the name of their station. */
  private readonly stations = new Map<string, LiveClient>();
  /** Connections that have said who they are. */
  private readonly present = new Map<LiveClient, Station>();
  private connections = 0;
  private nextConnection = 0;
  private roomsMade = 0;

  constructor(
    private readonly deps: {
      readonly engine: Engine;
      readonly devices: DeviceSockets;
      readonly clock: Clock;
      readonly epoch: number;
      /** Engine time at which a run ends as rehearsed; undefined while that is not known. */
      readonly expectedEnd: (runId: string) => number | undefined;
      readonly stores: () => LiveStores;
      readonly takeBack: (station: string) => TakeBackReply | null;
      readonly onTrouble: (where: string, error: unknown) => void;
      /** Runs that the engine before this one left unended. */
      readonly interrupted: readonly LiveRun[];
    },
  ) {
    this.ended = [...deps.interrupted];
  }

  get roomCount(): number {
    return this.rooms.size;
  }

  get connectionCount(): number {
    return this.connections;
  }

  published(keys: ReadonlySet<string>): void {
    for (const room of this.rooms.values()) room.changed(keys);
  }

  run(run: RunView, ended?: { how: string; why?: string }): void {
    const message = { ...this.liveRun(run), ...(ended === undefined ? {} : { ended }) };
    const presser = this.pressers.get(run.runId);
    if (presser) say(presser, { type: 'run', run: message });
    if (ended) this.pressers.delete(run.runId);
    if (ended && message.buttonId !== undefined && this.ended.push(message) > MOST_ENDED) this.ended.shift();
    for (const room of this.rooms.values()) room.run(message);
  }

  /** A station is sent away: its connections end, and what they held is released. */
  dismiss(key: string): void {
    for (const [client, station] of [...this.present])
      if (station.who.key === key) {
        say(client, refused('not-joined', 'This station was sent away.', 'Join again at /join.'));
        // What it held is let go now, not when its connection has come to its end.
        this.leave(client, station);
        client.close();
      }
  }

  /** Whether a page of a station is connected. @param owner the key of one that joined, the name of one that did not */
  isHere(owner: string): boolean {
    return [...this.present.values()].some(({ who, name }) => (who.key ?? plainName(name)) === owner);
  }

  /** Stations of the show, present or not, and pages that act as none of them. */
  list(): StationsReply {
    return stationList(this.deps.engine.program.document, [...this.present.values()]);
  }

  /** Tells every page of a station something. @param id of the show's station, or the name of a connection @returns whether one is there */
  private tell(id: string, message: (name: string) => LiveServerMessage): boolean {
    let refused = false;
    for (const [client, { claims, name }] of this.present)
      if (claims === id || name === id) {
        say(client, message(name));
        refused = true;
      }
    return refused;
  }

  /** @returns whether the station is there */
  sendTo(id: string, panel: string): boolean {
    return this.tell(id, () => ({ type: 'show', panel, page: '' }));
  }

  /** @returns whether the station is there */
  flash(id: string): boolean {
    const named = stationOf(this.deps.engine.program.document, id)?.name;
    return this.tell(id, (name) => ({ type: 'flash', name: named ?? plainName(name) }));
  }

  /**
   * A station is handed to somebody. A page at the engine's own machine, which says its name itself, takes it over and hands its edits over.
   * @returns the keys of those that have joined, with as whom their edits counted; null when nothing acts as this station
   */
  handTo(id: string, person: string): { readonly key: string; readonly from: string }[] | null {
    const joined = new Map<string, { key: string; from: string }>();
    let there = false;
    for (const [client, { claims, name, who }] of this.present) {
      if (claims !== id && name !== id) continue;
      there = true;
      if (who.key === null) say(client, { type: 'handed', person });
      else joined.set(who.key, { key: who.key, from: who.person === '' ? who.name : who.person });
    }
    return there ? [...joined.values()] : null;
  }

  /** What a station may do, or is called, is something else now. */
  rightsChanged(key: string): void {
    for (const [client, station] of [...this.present]) {
      if (station.who.key !== key) continue;
      station.person = station.who.person;
      if (!may(station.who, 'operate')) this.deps.engine.stationLost(station.name);
      say(client, youAre(station));
    }
  }

  /** Of two hands on one device the later one has it: both are told who has it. */
  taken({ device, from, by }: Taken): void {
    const { devices, sources } = this.deps.engine.program.document;
    const name = [...devices, ...sources].find(({ key }) => key === device)?.name ?? device;
    const tellHand = (hand: TakenHand, mine: boolean, words: string): void => {
      const client = this.stations.get(hand.station);
      if (client !== undefined) say(client, { type: 'taken', pressId: hand.pressId, mine, words });
    };
    tellHand(from, false, `${whoIs(by)} has ${name} now.`);
    tellHand(by, true, `You took ${name} from ${whoIs(from)}.`);
  }

  /** A button that this station pressed shows it another panel, or another page. */
  show(station: string, panel: string, page: string): void {
    const client = this.stations.get(station);
    if (client !== undefined) say(client, { type: 'show', panel, page });
  }

  facesChanged(): void {
    for (const room of this.rooms.values()) room.facesChanged();
  }

  deviceStates(): void {
    for (const room of this.rooms.values()) room.deviceStates();
  }

  storesState(): void {
    for (const room of this.rooms.values()) room.storesState();
  }

  edited(edit?: LiveEdit): void {
    const small = edit !== undefined && JSON.stringify(edit.changes).length <= MOST_EDIT_CHARACTERS ? edit : undefined;
    for (const room of this.rooms.values()) room.edited(small);
    for (const [client, station] of this.present) if (station.claims !== null) this.regroup(client, station);
  }

  close(): void {
    for (const room of this.rooms.values()) room.close();
    this.rooms.clear();
  }

  /** A page connects. Null when there are too many already. */
  connect(client: LiveClient, who: Who = HERE, padOf?: () => PadOf | undefined): LiveConnection | null {
    if (this.connections >= LIMITS.connections) {
      say(client, refused('too-many', `There are ${LIMITS.connections} pages connected already.`, 'Close some.'));
      return null;
    }
    this.connections += 1;
    let station: Station | null = null;
    let gone = false;
    const connection = (this.nextConnection += 1);
    const { clock } = this.deps;
    const messages = new Allowance(clock, LIMITS.messagesASecond, LIMITS.messagesAtOnce);
    const unknown = new Allowance(clock, LIMITS.unknownAMinute / 60, LIMITS.unknownAMinute);
    let toldSlow = -Infinity;
    const slow = (words: string): void => {
      if (clock.now() - toldSlow < 1000) return;
      toldSlow = clock.now();
      say(client, refused('slow-down', words, 'Send less at a time; what came too much was not done.'));
    };
    return {
      message: (text) => {
        if (gone) return;
        if (!messages.allow())
          return slow(`More than ${LIMITS.messagesASecond} messages a second came from this page.`);
        try {
          const message = parse(text);
          if ('code' in message) return say(client, { type: 'error', error: message });
          if (message.type === 'time') return say(client, { type: 'time', sent: message.sent, engine: clock.now() });
          if (message.type === 'hello') {
            const { claims = null, panel = null } = message;
            const linkGroup = this.groupOf(claims, panel, message.linkGroup);
            const room = this.room(linkGroup);
            if (room === null)
              return say(
                client,
                refused('too-many', `There are ${LIMITS.linkGroups} link groups in use already.`, 'Join one of them.'),
              );
            if (station !== null) this.leave(client, station);
            const pad = padOf?.();
            // Stations of the same name are told apart, so that one closing does not release what the other holds.
            station = {
              name: `${who.key === null ? message.station : who.name}#${connection}`,
              person: who.key === null ? message.person : who.person,
              operate: message.operate,
              who,
              linkGroup,
              ownGroup: message.linkGroup,
              claims,
              ...(pad === undefined ? {} : { pad: { serial: pad.serial, columns: pad.columns, rows: pad.rows } }),
              panel,
            };
            this.stations.set(station.name, client);
            this.present.set(client, station);
            if (this.selected.size > 0) this.tellOthers(station.name, client);
            room.join(client, message.shows === undefined ? null : new View(message.shows), message.resume);
            return say(client, youAre(station));
          }
          if (station === null)
            return say(client, refused('no-hello', 'This socket has not said who it is.', 'Send hello first.'));
          if (message.type === 'shows' && message.panel !== undefined) station.panel = message.panel;
          if (message.type === 'shows') {
            const view = new View(message);
            if (!this.regroup(client, station, view)) this.rooms.get(station.linkGroup)?.shows(client, view);
            return;
          }
          if (message.type === 'about') {
            station.about = message;
            return;
          }
          if (message.type === 'selects') return this.selects(station, message.ids);
          if (message.type === 'askBack') return say(client, { type: 'back', back: this.deps.takeBack(station.name) });
          const code = this.press(client, station, message);
          if (code === 'unknown-button' && !unknown.allow()) {
            say(client, refused('slow-down', 'This page presses buttons that do not exist.', 'Load the panel again.'));
            client.close();
          }
        } catch (error) {
          this.deps.onTrouble('a live message', error);
          say(client, refused('internal', 'The message could not be taken.', 'The log tells where it failed.'));
        }
      },
      closed: () => {
        if (gone) return;
        gone = true;
        this.connections -= 1;
        if (station !== null) this.leave(client, station);
      },
    };
  }

  /** By which link group a station counts. @param own the one that a page asks for that acts as none of the show */
  private groupOf(claims: string | null, panel: string | null, own: string): string {
    const station = stationOf(this.deps.engine.program.document, claims);
    return station === undefined ? own : linkGroupOn(station, panel);
  }

  /**
   * Shows another panel, or the show was edited: where it counts by another link group now, it is told that one's state.
   * @param view what it shows from now on; left out: what it showed
   * @returns whether it changed over
   */
  private regroup(client: LiveClient, station: Station, view?: View): boolean {
    const before = station.linkGroup;
    const group = this.groupOf(station.claims, station.panel, station.ownGroup);
    if (group === before) return false;
    const room = this.room(group);
    // There are too many: it stays where it is.
    if (room === null) return false;
    const showed = this.rooms.get(before)?.leave(client) ?? null;
    this.emptied(before);
    station.linkGroup = group;
    room.join(client, view ?? showed, undefined);
    say(client, youAre(station));
    return true;
  }

  private leave(client: LiveClient, station: Station): void {
    this.rooms.get(station.linkGroup)?.leave(client);
    for (const [runId, presser] of this.pressers) if (presser === client) this.pressers.delete(runId);
    this.stations.delete(station.name);
    this.present.delete(client);
    this.selects(station, []);
    this.deps.engine.stationLost(station.name);
    this.emptied(station.linkGroup);
  }

  /** Somebody left a link group: one that nobody is in any more is dropped after a while. */
  private emptied(linkGroup: string): void {
    const { clock, engine } = this.deps;
    clock.at(clock.now() + EMPTY_ROOM_MS, () => {
      const room = this.rooms.get(linkGroup);
      if (room === undefined || room.size > 0) return;
      room.close();
      this.rooms.delete(linkGroup);
      engine.dropLamps(linkGroup);
    });
  }

  /** Other pages are told what this one is about to change. */
  private selects({ name, person }: Station, ids: readonly string[]): void {
    const before = this.selected.get(name);
    if (ids.length === 0 ? before === undefined : before?.ids.join(' ') === ids.join(' ')) return;
    if (ids.length === 0) this.selected.delete(name);
    else this.selected.set(name, { station: plainName(name), person, ids });
    for (const [other, client] of this.stations) if (other !== name) this.tellOthers(other, client);
  }

  private tellOthers(name: string, client: LiveClient): void {
    const others = [...this.selected].flatMap(([station, what]) => (station === name ? [] : [what]));
    // A page that is far behind will be told with the next change.
    if (client.bufferedAmount <= MOST_BEHIND) say(client, { type: 'others', others });
  }

  /** @returns the code of the refusal, where it was refused */
  private press(
    client: LiveClient,
    station: Station,
    message: Extract<LiveClientMessage, { type: 'press' | 'send' }>,
  ): string | null {
    const { pressId, phase } = message;
    if (!station.operate || !may(station.who, 'operate')) {
      const error = mayNot('operate');
      say(client, { type: 'answer', pressId, phase, accepted: false, error });
      return error.code;
    }
    const isPress = message.type === 'press';
    const answer = this.deps.engine.press({
      pressId,
      phase,
      buttonId: isPress ? message.buttonId : `${message.device}.${message.command}`,
      direct: isPress ? undefined : { device: message.device, command: message.command, params: message.params },
      station: station.name,
      person: station.person,
      rank: rankOf(station.who),
      linkGroup: isPress ? this.groupOfPress(station, message.buttonId) : station.linkGroup,
      at: message.at,
      ...(isPress && message.stepId !== undefined ? { only: message.stepId } : {}),
      ...(isPress && message.onward === true ? { onward: true } : {}),
      ...(isPress && message.value !== undefined ? { value: message.value } : {}),
      ...(isPress && message.shortcut !== undefined ? { shortcut: message.shortcut } : {}),
      ...(isPress && message.takeBack !== undefined ? { takeBack: message.takeBack } : {}),
    });
    if (phase === 'hold' && answer.accepted) return null;
    if (phase === 'down' && answer.accepted && answer.runId !== null && this.deps.engine.runner.has(answer.runId))
      this.pressers.set(answer.runId, client);
    say(client, { type: 'answer', pressId, phase, ...answer });
    return answer.accepted ? null : answer.error.code;
  }

  /** A button counts by the link group of its own panel, also when a key presses it while another one is shown. */
  private groupOfPress({ claims, linkGroup }: Station, buttonId: string): string {
    const { program } = this.deps.engine;
    const station = stationOf(program.document, claims);
    if (station === undefined || station.loose.length === 0) return linkGroup;
    const strip = program.buttons.get(buttonId)?.stripId;
    const panel = strip === undefined ? undefined : program.document.strips.find(({ id }) => id === strip)?.panelId;
    return panel === undefined ? linkGroup : linkGroupOn(station, panel);
  }

  private room(linkGroup: string): LiveRoom | null {
    let room = this.rooms.get(linkGroup);
    if (room) return room;
    if (this.rooms.size >= LIMITS.linkGroups) return null;
    const { engine, devices, clock, epoch } = this.deps;
    const lamps = () => engine.lamps(linkGroup, NO_STRIPS);
    lamps();
    room = new LiveRoom({
      epoch,
      from: (this.roomsMade += 1) * MESSAGES_A_ROOM,
      revision: () => engine.program.revision,
      show: () => {
        const { id, name } = engine.program.document.show;
        return { id, name };
      },
      point: (key) => {
        const value = engine.board.read(key);
        return typeof value === 'symbol' ? null : value;
      },
      points: () => engine.board.entries(),
      lamps,
      runs: () => engine.runner.list().map((run) => this.liveRun(run)),
      ended: () => this.ended,
      lastSeen: () => engine.lastSeen.values(),
      devices: () => devices.health(),
      stores: this.deps.stores,
      clock,
      often: (key) => oftenKeysOf(engine.program).has(key),
    });
    this.rooms.set(linkGroup, room);
    return room;
  }

  private liveRun(run: RunView): LiveRun {
    const end = this.deps.expectedEnd(run.runId) ?? run.until;
    return {
      runId: run.runId,
      name: run.name,
      step: run.step,
      ...stepNumberOf(run.stepPath),
      leftMs: end === null ? null : Math.round(end - this.deps.clock.now()),
      ...(run.buttonId === undefined ? {} : { buttonId: run.buttonId }),
      ...(run.ask === null ? {} : { ask: run.ask }),
      ...(run.next === undefined ? {} : { next: run.next }),
    };
  }
}

/** @param path as `steps.2.otherwise.0`: the number of the step in the list that a person sees */
function stepNumberOf(path: string): { stepNumber?: number } {
  const [list, at] = path.split('.');
  const number = Number(at) + 1;
  return list === 'steps' && number > 0 ? { stepNumber: number } : {};
}

const youAre = ({ who, linkGroup }: Station): LiveServerMessage => ({
  type: 'you',
  linkGroup,
  rights: [...who.rights],
  joined: who.key !== null,
  name: who.name,
  person: who.person,
  signedIn: who.signedIn,
});

const oftenKeys = new WeakMap<Engine['program']['document']['devices'], ReadonlySet<string>>();

/** Keys of points that change many times a second. */
function oftenKeysOf({ document }: Engine['program']): ReadonlySet<string> {
  let keys = oftenKeys.get(document.devices);
  if (keys === undefined) {
    keys = new Set(
      document.devices.flatMap((device) =>
        Object.entries(pointsOf(device, document)).flatMap(([point, definition]) =>
          definition.often ? [`${device.key}.${point}`] : [],
        ),
      ),
    );
    oftenKeys.set(document.devices, keys);
  }
  return keys;
}

/** A hand as people call it: the person, where one is known, and the station. */
const whoIs = ({ station, person }: TakenHand): string => {
  const name = plainName(station);
  return person === '' ? name : `${person} (${name})`;
};

const say = (client: LiveClient, message: LiveServerMessage): void => client.send(JSON.stringify(message));

function parse(text: string): LiveClientMessage | ErrorReply {
  let message: unknown;
  try {
    message = JSON.parse(text);
  } catch {
    return { code: 'bad-json', message: 'This is not JSON.', mend: 'Send one JSON object a message.' };
  }
  if (isPlainPress(message)) return message;
  const parsed = LiveClientMessage.safeParse(message);
  if (parsed.success) return parsed.data;
  const [error] = errorsOf(parsed.error);
  return {
    code: 'bad-field',
    message: error?.message ?? 'Not a message.',
    mend: error?.mend ?? 'Correct it.',
    ...(error?.path === undefined ? {} : { path: error.path }),
  };
}

type LivePress = Extract<LiveClientMessage, { type: 'press' }>;
const PRESS_ID = /^[0-9A-HJKMNP-TV-Z]{26}$/;

/**
 * Lets the usual press through without the schema, which takes longer than all else before the datagram. Whatever is not plainly right
 * goes to the schema, which has the last word and the words for the error.
 */
export function isPlainPress(message: unknown): message is LivePress {
  if (typeof message !== 'object' || message === null) return false;
  const { type, pressId, buttonId, phase, at } = message as Partial<Record<string, unknown>>;
  if (type !== 'press' || typeof pressId !== 'string' || typeof buttonId !== 'string') return false;
  if (phase !== 'down' && phase !== 'hold' && phase !== 'up') return false;
  if (at !== undefined && (typeof at !== 'number' || !Number.isFinite(at))) return false;
  if (Object.keys(message).length !== (at === undefined ? 4 : 5)) return false;
  return PRESS_ID.test(pressId) && buttonId.length > 0 && buttonId.length <= 40;
}
