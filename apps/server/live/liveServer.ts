import type { IncomingMessage, Server } from 'node:http';
import {
  type ErrorReply,
  LiveClientMessage,
  type LiveEdit,
  type LiveRun,
  type LiveServerMessage,
} from '@umbek/core/api';
import { pointsOf } from '@umbek/core/devices';
import type { Clock, Engine, RunView } from '@umbek/core/engine';
import { errorsOf } from '@umbek/core/show';
import { WebSocket, WebSocketServer } from 'ws';
import type { DeviceSockets } from '../engine/deviceSockets';
import { LiveRoom } from './liveRoom';

const MAX_MESSAGE_BYTES = 64 * 1024;
/** A larger edit is not told to every page; they load the show. */
const MOST_EDIT_CHARACTERS = 20_000;

interface Station {
  readonly name: string;
  readonly person: string;
  readonly operate: boolean;
  readonly linkGroup: string;
}

/** The live socket: presses in, answers and changes out. A station whose socket closes releases what it held. */
export class LiveServer {
  private readonly sockets: WebSocketServer;
  private readonly rooms = new Map<string, LiveRoom>();
  /** Who pressed what still runs: told of the outcome at once. */
  private readonly pressers = new Map<string, WebSocket>();
  private nextConnection = 0;

  constructor(
    server: Server,
    private readonly deps: {
      readonly engine: Engine;
      readonly devices: DeviceSockets;
      readonly clock: Clock;
      readonly epoch: number;
      /** Engine time at which a run ends as rehearsed; undefined while that is not known. */
      readonly expectedEnd: (runId: string) => number | undefined;
      readonly hostAllowed: (request: IncomingMessage) => boolean;
    },
  ) {
    this.sockets = new WebSocketServer({ noServer: true, maxPayload: MAX_MESSAGE_BYTES });
    server.on('upgrade', (request, socket, head) => {
      if (request.url?.split('?')[0] !== '/api/live' || !deps.hostAllowed(request)) {
        socket.end('HTTP/1.1 403 Forbidden\r\n\r\n');
        return;
      }
      this.sockets.handleUpgrade(request, socket, head, (client) => this.serve(client));
    });
  }

  published(keys: ReadonlySet<string>): void {
    for (const room of this.rooms.values()) room.changed(keys);
  }

  run(run: RunView, ended?: { how: string; why?: string }): void {
    const message = { ...this.liveRun(run), ...(ended === undefined ? {} : { ended }) };
    const presser = this.pressers.get(run.runId);
    if (presser) say(presser, { type: 'run', run: message });
    if (ended) this.pressers.delete(run.runId);
    for (const room of this.rooms.values()) room.run(message);
  }

  deviceStates(): void {
    for (const room of this.rooms.values()) room.deviceStates();
  }

  edited(edit?: LiveEdit): void {
    const told = edit !== undefined && JSON.stringify(edit.changes).length <= MOST_EDIT_CHARACTERS ? edit : undefined;
    for (const room of this.rooms.values()) room.edited(told);
  }

  close(): void {
    for (const room of this.rooms.values()) room.close();
    for (const client of this.sockets.clients) client.terminate();
    this.sockets.close();
  }

  private serve(socket: WebSocket): void {
    let station: Station | null = null;
    const connection = (this.nextConnection += 1);
    socket.on('message', (data) => {
      const message = parse(String(data));
      if ('code' in message) return say(socket, { type: 'error', error: message });
      if (message.type === 'time')
        return say(socket, { type: 'time', sent: message.sent, now: this.deps.clock.wall().getTime() });
      if (message.type === 'hello') {
        // Stations of the same name are told apart, so that one closing does not release what the other holds.
        station = {
          name: `${message.station}#${connection}`,
          person: message.person,
          operate: message.operate,
          linkGroup: message.linkGroup,
        };
        return this.room(message.linkGroup).join(socket, message.resume);
      }
      if (station === null)
        return say(socket, {
          type: 'error',
          error: { code: 'no-hello', message: 'This socket has not said who it is.', mend: 'Send hello first.' },
        });
      this.press(socket, station, message);
    });
    socket.on('close', () => {
      for (const room of this.rooms.values()) room.leave(socket);
      for (const [runId, presser] of this.pressers) if (presser === socket) this.pressers.delete(runId);
      if (station) this.deps.engine.stationLost(station.name);
    });
    socket.on('error', () => socket.terminate());
  }

  private press(
    socket: WebSocket,
    station: Station,
    message: Extract<LiveClientMessage, { type: 'press' | 'send' }>,
  ): void {
    const { pressId, phase } = message;
    if (!station.operate) {
      const error = {
        code: 'may-not-operate',
        message: 'This station may not operate.',
        mend: 'Ask the control engineer to allow it.',
      };
      return say(socket, { type: 'answer', pressId, phase, accepted: false, error });
    }
    const isPress = message.type === 'press';
    const answer = this.deps.engine.press({
      pressId,
      phase,
      buttonId: isPress ? message.buttonId : `${message.device}.${message.command}`,
      direct: isPress ? undefined : { device: message.device, command: message.command, params: message.params },
      station: station.name,
      person: station.person,
      linkGroup: station.linkGroup,
      at: message.at,
    });
    if (phase === 'hold' && answer.accepted) return;
    if (phase === 'down' && answer.accepted && answer.runId !== null) this.pressers.set(answer.runId, socket);
    say(socket, { type: 'answer', pressId, phase, ...answer });
  }

  private room(linkGroup: string): LiveRoom {
    let room = this.rooms.get(linkGroup);
    if (room) return room;
    const { engine, devices, clock, epoch } = this.deps;
    const lamps = () => engine.lamps(linkGroup);
    lamps();
    room = new LiveRoom({
      epoch,
      revision: () => engine.program.revision,
      point: (key) => {
        const value = engine.board.read(key);
        return typeof value === 'symbol' ? null : value;
      },
      points: () => Object.fromEntries(engine.board.entries()),
      faces: () => Object.fromEntries(lamps().all()),
      changedFaces: () => Object.fromEntries(lamps().takeChanges()),
      runs: () => engine.runner.list().map((run) => this.liveRun(run)),
      devices: () => devices.health(),
      now: () => clock.wall().getTime(),
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
      leftMs: end === null ? null : Math.round(end - this.deps.clock.now()),
      ...(run.buttonId === undefined ? {} : { buttonId: run.buttonId }),
    };
  }
}

const oftenKeys = new WeakMap<Engine['program'], ReadonlySet<string>>();

/** Keys of points that change many times a second. */
function oftenKeysOf(program: Engine['program']): ReadonlySet<string> {
  let keys = oftenKeys.get(program);
  if (keys === undefined) {
    keys = new Set(
      program.document.devices.flatMap((device) =>
        Object.entries(pointsOf(device, program.document)).flatMap(([point, definition]) =>
          definition.often ? [`${device.key}.${point}`] : [],
        ),
      ),
    );
    oftenKeys.set(program, keys);
  }
  return keys;
}

const say = (socket: WebSocket, message: LiveServerMessage): void => {
  if (socket.readyState === WebSocket.OPEN) socket.send(JSON.stringify(message));
};

function parse(text: string): LiveClientMessage | ErrorReply {
  try {
    const message: unknown = JSON.parse(text);
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
  } catch {
    return { code: 'bad-json', message: 'This is not JSON.', mend: 'Send one JSON object a message.' };
  }
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
