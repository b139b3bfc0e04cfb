import {
  focusCodeOf,
  focusOfCode,
  ptzHead,
  PtzSettings,
  stepSpeedOf,
  ZOOM_CODE_MAX,
  zoomCodeOf,
  zoomRatioOf,
} from '@umbek/core/devices';
import type { DeviceCommand, ModelReply, RunningModel } from '@umbek/core/devices';
import type { Cancel } from '@umbek/core/engine';
import {
  decodeCommand,
  decodeInquiry,
  decodePacket,
  encodeExposure,
  encodeFlag,
  encodePacket,
  encodePanTilt,
  encodeReply,
  encodeWhiteBalance,
  encodeZoom,
  type HeadCommand,
  type HeadReply,
  NOT_UNDERSTOOD,
  type PacketType,
  RESET_SEQUENCE,
  SEQUENCE_ERROR,
  type WhiteBalance,
} from '@umbek/wire/visca';
import {
  type Effect,
  EFFECTS_KEPT,
  type Sender,
  type StandinDevice,
  type StandinOptions,
  type StandinReport,
} from './port';

/** How many sequence numbers of a sender a head remembers. */
const NUMBERS_KEPT = 512;

interface Taken {
  readonly from: Sender;
  readonly sequence: number;
  /** Null until a socket is given. */
  readonly socket: number;
  readonly long: boolean;
}

/**
 * A PTZ head behind VISCA over IP: two sockets, acknowledgement and completion, each sequence number of a sender carried out once.
 * `repeats` false is the documented behaviour (a number seen before is answered "sequence number not expected"); true gives the first answers again.
 */
export class PtzHeadStandin implements StandinDevice {
  private readonly model: RunningModel;
  private readonly settings: PtzSettings;
  private readonly answered = new Map<Sender, Map<number, Uint8Array[]>>();
  private readonly taken = new Map<string, Taken>();
  private readonly effects: Effect[] = [];
  private malformed = 0;
  private cancelWake: Cancel = () => undefined;

  constructor(
    settings: unknown,
    private readonly repeats: boolean,
    private readonly options: StandinOptions,
  ) {
    this.settings = PtzSettings.parse(settings);
    this.model = ptzHead.startModel(this.settings, options.clock.now());
  }

  receive(bytes: Uint8Array, from: Sender): void {
    const packet = decodePacket(bytes);
    if (!packet.ok) {
      this.malformed += 1;
      if (bytes.length >= 8) this.say(from, 'controlReply', 0, NOT_UNDERSTOOD);
      return;
    }
    const { type, sequence, payload } = packet.value;
    if (type === 'control') {
      if (payload.length === 1 && payload[0] === RESET_SEQUENCE[0]) this.answered.delete(from);
      this.say(from, 'controlReply', sequence, payload.length === 1 ? RESET_SEQUENCE : NOT_UNDERSTOOD);
      return;
    }
    if (type !== 'command' && type !== 'inquiry') {
      this.malformed += 1;
      return;
    }
    const answers = this.answered.get(from)?.get(sequence);
    if (answers) {
      if (!this.repeats) this.say(from, 'controlReply', sequence, SEQUENCE_ERROR);
      else for (const answer of answers) this.say(from, 'reply', sequence, answer);
      return;
    }
    this.remember(from, sequence);
    if (type === 'inquiry') this.inquiry(payload, from, sequence);
    else this.command(payload, from, sequence);
  }

  report(): StandinReport {
    return { points: this.read(), effects: this.effects, malformed: this.malformed };
  }

  simulate(what: string): string | null {
    return `A head cannot be made to ${what}.`;
  }

  /** A look may be what finds a move over, when it comes before the clock's own call: what there is to answer is answered then too. */
  private read(): Readonly<Record<string, unknown>> {
    return this.step({ type: 'read', now: this.options.clock.now() });
  }

  private inquiry(payload: Uint8Array, from: Sender, sequence: number): void {
    const inquiry = decodeInquiry(payload);
    if (!inquiry.ok) return this.reply(from, sequence, { kind: 'error', socket: 0, error: 'syntax' });
    const points = this.read();
    switch (inquiry.value) {
      case 'panTilt': {
        const counts = (point: string): number => Math.round(Number(points[point]) * this.settings.countsPerDegree);
        return this.reply(from, sequence, encodePanTilt(counts('pan'), counts('tilt')));
      }
      case 'zoom':
        return this.reply(
          from,
          sequence,
          encodeZoom(Math.min(ZOOM_CODE_MAX, zoomCodeOf(Number(points.zoom), this.settings))),
        );
      case 'power':
        return this.reply(from, sequence, encodeFlag(points.power === true));
      case 'focusMode':
        return this.reply(from, sequence, encodeFlag(points.focusMode === 'auto'));
      case 'focus':
        return this.reply(from, sequence, encodeZoom(focusCodeOf(Number(points.focus))));
      case 'exposureMode':
        return this.reply(from, sequence, encodeExposure(points.irisMode === 'auto'));
      case 'iris':
        return this.reply(from, sequence, encodeZoom(Number(points.iris)));
      case 'whiteBalance':
        return this.reply(from, sequence, encodeWhiteBalance(String(points.whiteBalance) as WhiteBalance));
    }
  }

  private command(payload: Uint8Array, from: Sender, sequence: number): void {
    const command = decodeCommand(payload);
    if (!command.ok) {
      this.malformed += 1;
      return this.reply(from, sequence, { kind: 'error', socket: 0, error: 'syntax' });
    }
    if (command.value.kind === 'cancel') return this.cancel(command.value.socket, from, sequence);
    if (this.options.refusing())
      return this.reply(from, sequence, { kind: 'error', socket: 0, error: 'notExecutable' });
    const busy = new Set([...this.taken.values()].map((taken) => taken.socket));
    const socket = [1, 2].find((candidate) => !busy.has(candidate));
    if (socket === undefined) return this.reply(from, sequence, { kind: 'error', socket: 0, error: 'bufferFull' });
    const meant = this.meaning(command.value);
    if (meant === null) return this.reply(from, sequence, { kind: 'error', socket: 0, error: 'notExecutable' });
    const id = `${from}/${sequence}`;
    this.taken.set(id, { from, sequence, socket, long: ptzHead.commands[meant.command]?.long === true });
    this.note(from, String(sequence), meant);
    this.step({ type: 'command', id, command: meant, now: this.options.clock.now() });
  }

  private cancel(socket: number, from: Sender, sequence: number): void {
    const holder = [...this.taken].find(([, taken]) => taken.socket === socket && taken.long);
    if (!holder) return this.reply(from, sequence, { kind: 'error', socket, error: 'noSocket' });
    this.reply(from, sequence, { kind: 'error', socket, error: 'cancelled' });
    this.note(from, String(sequence), { command: 'cancel', params: { socket } });
    this.step({
      type: 'command',
      id: 'cancel',
      command: { command: 'stop', params: {} },
      now: this.options.clock.now(),
    });
  }

  /** The kind's command for the bytes; null when the head cannot do it. */
  private meaning(command: Exclude<HeadCommand, { kind: 'cancel' }>): DeviceCommand | null {
    const { settings } = this;
    switch (command.kind) {
      case 'recall':
      case 'store':
        return { command: command.kind, params: { number: command.number } };
      case 'reset':
        return null;
      case 'drive':
        return {
          command: 'drive',
          params: {
            pan: command.pan * stepSpeedOf('pan', command.panStep, settings),
            tilt: command.tilt * stepSpeedOf('tilt', command.tiltStep, settings),
          },
        };
      case 'absolute':
        return {
          command: 'goTo',
          params: {
            pan: command.panCounts / settings.countsPerDegree,
            tilt: command.tiltCounts / settings.countsPerDegree,
            panSpeed: stepSpeedOf('pan', command.panStep, settings),
            tiltSpeed: stepSpeedOf('tilt', command.tiltStep, settings),
          },
        };
      case 'home':
        return { command: 'home', params: {} };
      case 'zoomStop':
        return { command: 'drive', params: { zoom: 0 } };
      case 'zoomDrive':
        return {
          command: 'drive',
          params: { zoom: command.direction * stepSpeedOf('zoom', command.step + 1, settings) },
        };
      case 'focusMode':
        return { command: 'focusMode', params: { mode: command.auto ? 'auto' : 'manual' } };
      case 'focusDirect':
        return { command: 'focus', params: { focus: focusOfCode(command.code) } };
      case 'exposureMode':
        return { command: 'irisMode', params: { mode: command.auto ? 'auto' : 'manual' } };
      case 'irisDirect':
        return { command: 'iris', params: { iris: command.step } };
      case 'whiteBalance':
        return { command: 'whiteBalance', params: { mode: command.mode } };
      case 'power':
      case 'tally':
        return { command: command.kind, params: { on: command.on } };
      case 'zoomDirect':
        return { command: 'goTo', params: { zoom: zoomRatioOf(command.code, settings) } };
    }
  }

  private step(input: Parameters<RunningModel['step']>[0]): Readonly<Record<string, unknown>> {
    const { replies, points, wakeAt } = this.model.step(input);
    this.cancelWake();
    const { clock } = this.options;
    if (wakeAt !== null) this.cancelWake = clock.at(wakeAt, () => this.step({ type: 'wake', now: clock.now() }));
    for (const reply of replies) clock.at(reply.at, () => this.tell(reply));
    return points;
  }

  private tell(reply: ModelReply): void {
    const command = this.taken.get(reply.id);
    if (!command) return;
    const { from, sequence, socket, long } = command;
    if (reply.event !== 'accepted') this.taken.delete(reply.id);
    switch (reply.event) {
      case 'accepted':
        return this.reply(from, sequence, { kind: 'ack', socket });
      case 'done':
        if (!long) this.reply(from, sequence, { kind: 'ack', socket });
        return this.reply(from, sequence, { kind: 'done', socket });
      case 'refused':
        return this.reply(from, sequence, {
          kind: 'error',
          socket,
          error: reply.why?.startsWith('Cancelled') === true ? 'cancelled' : 'notExecutable',
        });
    }
  }

  private reply(from: Sender, sequence: number, reply: HeadReply): void {
    const payload = encodeReply(reply);
    this.answered.get(from)?.get(sequence)?.push(payload);
    this.say(from, 'reply', sequence, payload);
  }

  private say(to: Sender, type: PacketType, sequence: number, payload: Uint8Array): void {
    this.options.send(encodePacket({ type, sequence, payload }), to);
  }

  private remember(from: Sender, sequence: number): void {
    let numbers = this.answered.get(from);
    if (numbers === undefined) this.answered.set(from, (numbers = new Map()));
    numbers.set(sequence, []);
    const oldest = numbers.keys().next();
    if (numbers.size > NUMBERS_KEPT && !oldest.done) numbers.delete(oldest.value);
  }

  private note(from: Sender, id: string, command: DeviceCommand): void {
    this.effects.push({ at: this.options.clock.wall().getTime(), from, id, ...command });
    if (this.effects.length > EFFECTS_KEPT) this.effects.shift();
  }
}
