import { type DeviceCommand, nudgeDrive, ptzHead, PtzSettings, travelMs } from '@umbek/core/devices';
import type { Cancel, CommandEvent } from '@umbek/core/engine';
import {
  decodePacket,
  decodeReply,
  encodeCommand,
  encodeInquiry,
  encodePacket,
  type HeadCommand,
  type HeadReply,
  RESET_SEQUENCE,
} from '@umbek/wire/visca';
import { ANSWER_LIMIT_MS, type QueuedCommand, RESEND_MS } from './commandQueue';
import type { ByteContext, ByteDriver, LinkState } from './context';
import { LinkedDriver } from './linkedDriver';
import { LET_GO, wordsOf } from './linkWords';
import { TravelWatch } from './travelWatch';
import { glideOf, isNear, type Landing } from './viscaGlide';
import { inquiriesAfter, LENS_INQUIRIES, tallyTold } from './viscaLens';
import { NOWHERE, ViscaReader } from './viscaReader';
import { scriptOf, STOP_SCRIPT } from './viscaScripts';
import { stopDatagrams, StopKeeper } from './viscaStops';

/** A command on its way: the message of its script that waits for an acknowledgement, and what it still waits for. */
interface Flight {
  readonly entry: QueuedCommand;
  readonly script: readonly HeadCommand[];
  index: number;
  sequence: number;
  since: number;
  cancelResend: Cancel;
  /** Since when the head says that it has no room for it. */
  fullSince: number | null;
  /** A slow zoom that this script begins. */
  readonly landing: Landing | null;
}

/** Acknowledged messages whose completion has not come: sockets by sequence number (0 when the acknowledgement was not heard). */
interface Working {
  readonly entry: QueuedCommand;
  readonly long: boolean;
  readonly sockets: Map<number, number>;
  readonly since: number;
  /** True once every message is acknowledged, the landing of a slow zoom among them. */
  whole: boolean;
  /** True once its acceptance was told. */
  begun: boolean;
  /** A slow zoom that is still to be landed. */
  landing: Landing | null;
  /** Clock time since which reads show the goal, unchanged. */
  thereSince: number | null;
  stillReads: number;
  /** A move that stands still elsewhere is given up after so long. */
  readonly limitMs: number;
  /** It said that it is done: when, and the first inquiry whose answer can bear that out. */
  claim: { readonly at: number; readonly from: number } | null;
  cancelLimit: Cancel;
}

const POLL_MS = 100;
/** A goal read unchanged for so long counts as arrived although the completion was not heard. */
const ARRIVED_AFTER_MS = 300;
/** A short command that was acknowledged counts as done after so long without its completion. */
const SHORT_DONE_MS = 250;
/** Still moving so long after a stop: it is sent again, which does a head that only brakes no harm. */
const STOP_AGAIN_MS = 300;
/** A move is given up at twice what it should take, and never sooner than after so long. */
const FEWEST_MOVE_MS = 3000;
/** The same where nobody knows whence it moves. */
const UNKNOWN_MOVE_MS = 12_000;
/** So long after a drive a head that moves by itself is taken to move because of it. */
const STRAY_MS = 30_000;
/** A stop that the head refused is sent again after so long. */
const REFUSED_STOP_MS = 150;
/** The same for a head that says that it is done and is not where it was sent. */
const CLAIM_READS = 3;
/** So many readings in a row at one place, after that time: the head stands. */
const STANDS_READS = 5;

/** No message of ours has this number. */
const NO_SEQUENCE = 0;

const TAKEN_OVER = 'A newer move or a stop ended it.';

/** What a head answers where it does not do something, as people say it. */
const REFUSAL_WORDS: Readonly<Record<string, string>> = {
  syntax: 'it does not understand the command',
  length: 'the message has a wrong length',
  bufferFull: 'it is busy with other commands',
  noSocket: 'the command was already over',
  notExecutable: 'it cannot do this now',
};

/**
 * A PTZ head over VISCA. One command at a time waits for its acknowledgement and is sent again under the same sequence number until
 * it comes; "sequence number not expected" means that the head has it. Completions that get lost are made up for by inquiry.
 */
export class ViscaDriver extends LinkedDriver<ByteContext> implements ByteDriver {
  private readonly settings: PtzSettings;
  private sequence = 0;
  private flight: Flight | null = null;
  private working: Working[] = [];
  private phase: 'looking' | 'stopping' | 'reading' | 'ready' = 'looking';
  private readonly reader: ViscaReader;
  private before = '';
  private driving = false;
  /** When it was last told to move without an end. */
  private drivenAt = -Infinity;
  private stopSince: number | null = null;
  /** When it last took a drive or a stop: a way that was under way then has been ended by it, whatever the head says of it. */
  private takenOverAt = -Infinity;
  private arrived = '';
  /** Commands of unknown effect, each with the first inquiry whose answer may settle it. */
  private unsettled: { readonly entry: QueuedCommand; readonly from: number; readonly long: boolean }[] = [];
  /** Moves that wait for their turn, by id. */
  private readonly asked = new Set<string>();
  private readonly stopKeeper: StopKeeper;
  private beats = 0;
  private cancelPoll: Cancel = () => undefined;
  private readonly travel: TravelWatch;

  constructor(settings: unknown, context: ByteContext) {
    super(context);
    this.settings = PtzSettings.parse(settings);
    this.stopKeeper = new StopKeeper(context.clock, {
      again: () => this.sayStop(),
      stop: () => void this.send('length', STOP, () => undefined),
    });
    this.travel = new TravelWatch((run) => context.travelled?.(run));
    this.reader = new ViscaReader(this.settings, {
      ask: (inquiry) => {
        const sequence = (this.sequence += 1);
        context.transmit(encodePacket({ type: 'inquiry', sequence, payload: encodeInquiry(inquiry) }));
        return sequence;
      },
      place: (pan, tilt, zoom, asked) => this.placeRead(pan, tilt, zoom, asked),
      lens: (points) => this.phase === 'ready' && context.news.points(points),
      malformed: () => (this.malformed += 1),
    });
  }

  /** Under numbers of their own, so that the head does not take them for messages that it has had. */
  stops(): readonly Uint8Array[] {
    const driven = this.flight !== null && (this.flight.entry.lane !== 'plain' || this.flight.landing !== null);
    if (!this.isMoving() && this.stopSince === null && !driven) return [];
    const stops = stopDatagrams(this.sequence);
    this.sequence += stops.length;
    return stops;
  }

  override close(): void {
    super.close();
    this.cancelPoll();
    this.stopKeeper.close();
    this.tellOpen('lost', LET_GO);
    this.context.guard(null);
  }

  /** Ends every command that is under way. */
  private tellOpen(outcome: 'lost', why: string): void {
    const open = [...new Set([...(this.flight ? [this.flight.entry] : []), ...this.working.map((one) => one.entry)])];
    this.flight?.cancelResend();
    this.flight = null;
    for (const one of this.working) one.cancelLimit();
    this.working = [];
    for (const entry of open) {
      this.unsettle(entry);
      entry.tell({ type: 'outcome', outcome, why });
    }
  }

  /** Only what is asked from here on tells what became of it. */
  private unsettle(entry: QueuedCommand): void {
    this.unsettled.push({
      entry,
      from: this.sequence + 1,
      long: ptzHead.commands[entry.command.command]?.long === true,
    });
  }

  send(id: string, command: DeviceCommand, onEvent: (event: CommandEvent) => void): Cancel {
    const lane = ptzHead.commands[command.command]?.lane ?? 'plain';
    if (lane === 'stop') this.makeWay();
    if (lane === 'nudge') this.context.guard(stopDatagrams(), lengthOf(command));
    const tell = (event: CommandEvent): void => {
      if (event.type === 'outcome') this.asked.delete(id);
      onEvent(event);
      const known = event.type === 'outcome' && event.outcome !== 'late' && event.outcome !== 'lost';
      if (known && this.phase === 'ready' && !this.unsettled.some((one) => one.long))
        this.tellMoves(this.isMoving(), this.arrived);
    };
    const entry: QueuedCommand = { id, command, lane, tell };
    if (!this.flight && this.queue.size === 0 && this.phase === 'ready') {
      this.begin(entry);
      return () => undefined;
    }
    // What the head is seen to do while a move waits for its turn is of the time before.
    if ((ptzHead.commands[command.command]?.unsettles ?? []).length > 0) this.asked.add(id);
    const takeBack = this.queue.add(entry);
    this.pump();
    return takeBack;
  }

  receive(bytes: Uint8Array): void {
    const packet = decodePacket(bytes);
    if (!packet.ok) {
      this.malformed += 1;
      this.liveness.foreign();
      return;
    }
    const { type, sequence, payload } = packet.value;
    if (type === 'controlReply') {
      this.liveness.heard();
      if (payload.length === 1) this.resetDone();
      else if (payload[0] === 0x0f && payload[1] === 1) this.taken(sequence, 0);
      return;
    }
    const reply = type === 'reply' ? decodeReply(payload) : undefined;
    if (!reply?.ok) {
      this.malformed += 1;
      return;
    }
    this.liveness.heard();
    this.take(reply.value, sequence);
  }

  private take(reply: HeadReply, sequence: number): void {
    switch (reply.kind) {
      case 'ack':
        return this.taken(sequence, reply.socket);
      case 'done':
        // The acknowledgement may be the one that got lost.
        this.taken(sequence, reply.socket);
        return this.completed(sequence);
      case 'answer':
        return this.reader.answer(sequence, reply.data);
      case 'error':
        return this.failed(sequence, reply.error);
    }
  }

  // --- finding the device: reset the numbers, stop what moves, read everything, then it is reached ---

  protected beat(): void {
    this.reader.look();
    const next = LENS_INQUIRIES[(this.beats += 1) % LENS_INQUIRIES.length];
    if (this.phase === 'ready' && next !== undefined) this.reader.inquire(next);
  }

  protected probe(): void {
    if (this.phase === 'looking')
      this.context.transmit(encodePacket({ type: 'control', sequence: 0, payload: RESET_SEQUENCE }));
    else if (this.phase === 'reading') this.reader.look();
  }

  private resetDone(): void {
    if (this.phase !== 'looking') return;
    this.phase = 'stopping';
    this.sequence = 0;
    const stop = { id: 'connect', command: { command: 'stop', params: {} }, lane: 'stop' as const };
    this.begin({
      ...stop,
      tell: (event) => {
        if (event.type !== 'outcome' || this.phase !== 'stopping') return;
        this.phase = event.outcome === 'done' ? 'reading' : 'looking';
        if (this.phase === 'reading') this.reader.look();
      },
    });
  }

  protected linkChanged(state: LinkState, silentFor: number | null): void {
    const words = wordsOf(state, this.context.title, ptzHead.protocol, silentFor);
    this.context.news.reached(state === 'reached', words);
    if (state === 'reached') return;
    this.phase = 'looking';
    this.reader.restart();
    this.driving = false;
    this.stopSince = null;
    this.cancelPoll();
    this.stopKeeper.close();
    this.queue.fail(`Not sent: ${words}`);
    this.tellOpen('lost', 'The head fell silent; its effect is unknown.');
  }

  // --- commands ---

  /** A stop does not wait for an acknowledgement that may never come: whatever is on its way is given up. */
  private makeWay(): void {
    const { flight } = this;
    if (!flight || this.phase !== 'ready') return;
    flight.cancelResend();
    this.flight = null;
    this.working = this.working.filter((one) => one.entry !== flight.entry);
    this.unsettle(flight.entry);
    if (flight.entry.lane !== 'stop') this.stopKeeper.overtook(flight.sequence);
    this.context.clock.at(this.context.clock.now(), () =>
      flight.entry.tell({ type: 'outcome', outcome: 'late', why: 'A stop overtook it before it was acknowledged.' }),
    );
  }

  private pump(): void {
    if (this.flight || this.phase !== 'ready') return;
    const entry = this.queue.next();
    if (entry) this.begin(entry);
  }

  private begin(entry: QueuedCommand): void {
    this.asked.delete(entry.id);
    const glide = glideOf(entry.command, this.reader.place, this.settings);
    const script = glide?.script ?? scriptOf(this.spelled(entry.command), this.settings);
    const landing = glide?.landing ?? null;
    if (script.length === 0) {
      this.context.clock.at(this.context.clock.now(), () =>
        entry.tell({ type: 'outcome', outcome: 'refused', why: 'This needs both pan and tilt, or a zoom.' }),
      );
      return;
    }
    this.endGlides(entry);
    const moves = entry.lane === 'nudge' || ptzHead.commands[entry.command.command]?.long === true;
    if (moves) this.stopKeeper.hold();
    const length = entry.lane === 'nudge' ? lengthOf(entry.command) : undefined;
    if (length !== undefined) this.stopKeeper.lasts(entry, length);
    // From here on the head moves because it was told to: the stop before is no longer watched, and the drive that it ended is over.
    if (this.stopSince !== null && (entry.lane === 'nudge' || ptzHead.commands[entry.command.command]?.long === true)) {
      this.stopSince = null;
      this.driving = false;
    }
    // A zoom that is driven must not outlive this process.
    if (landing !== null) this.context.guard(stopDatagrams());
    this.flight = {
      entry,
      script,
      index: 0,
      sequence: NO_SEQUENCE,
      since: 0,
      cancelResend: () => undefined,
      landing,
      fullSince: null,
    };
    this.launch(this.flight);
  }

  /** A newer move, or a stop, ends what glides: its zoom would drive on. */
  private endGlides(entry: QueuedCommand): void {
    if (entry.lane === 'plain' && ptzHead.commands[entry.command.command]?.long !== true) return;
    for (const working of this.working.filter((one) => one.landing !== null)) {
      if (entry.lane === 'plain') this.context.guard(null);
      this.finish(working, { type: 'outcome', outcome: 'refused', why: 'A newer move or a stop ended it.' });
    }
  }

  private endZoom(): void {
    this.transmitOnce(encodeCommand({ kind: 'zoomStop' }));
  }

  /** Sends a slow zoom to its very code when it is near. */
  private land(working: Working, zoom: number, now: number): void {
    if (working.landing === null || this.flight || !isNear(working.landing, zoom, working.since, now, this.settings))
      return;
    const script: readonly HeadCommand[] = [{ kind: 'zoomDirect', code: working.landing.code }];
    working.landing = null;
    this.flight = {
      entry: working.entry,
      script,
      index: 0,
      sequence: NO_SEQUENCE,
      since: 0,
      cancelResend: () => undefined,
      landing: null,
      fullSince: null,
    };
    this.launch(this.flight);
  }

  /** A nudge as the drive that it comes to at the present zoom. */
  private spelled(command: DeviceCommand): DeviceCommand {
    if (command.command !== 'nudge') return command;
    const { x, y, zoom } = command.params;
    return {
      command: 'drive',
      params: nudgeDrive(Number(x), Number(y), Number(zoom), this.reader.place.zoom ?? 1, this.settings),
    };
  }

  /** Puts the present message of the script on the wire under a new number. */
  private launch(flight: Flight): void {
    flight.sequence = this.sequence += 1;
    flight.since = this.context.clock.now();
    if (flight.index === 0) this.travel.sent(flight.entry, this.reader.place, this.isMoving(), flight.since);
    this.transmitFlight(flight);
  }

  private transmitFlight(flight: Flight): void {
    const message = flight.script[flight.index];
    if (!message) return;
    this.context.transmit(
      encodePacket({ type: 'command', sequence: flight.sequence, payload: encodeCommand(message) }),
    );
    const { clock } = this.context;
    flight.cancelResend = clock.at(clock.now() + RESEND_MS, () => {
      if (this.flight !== flight) return;
      this.travel.spoilt();
      if (clock.now() - flight.since < ANSWER_LIMIT_MS) return this.transmitFlight(flight);
      const alive = (this.liveness.lastHeard ?? -1) > flight.since;
      this.abandon(flight.entry, alive ? 'late' : 'lost', 'No acknowledgement came; its effect is unknown.');
    });
  }

  /** The head has taken a message: by acknowledgement, or by saying that it knows the number. */
  private taken(sequence: number, socket: number): void {
    const { flight } = this;
    if (!flight || flight.sequence !== sequence) {
      if (this.stopKeeper.taken(sequence)) return;
      for (const one of this.working) if (one.sockets.has(sequence) && socket > 0) one.sockets.set(sequence, socket);
      return;
    }
    flight.cancelResend();
    const { entry } = flight;
    this.travel.acknowledged(entry, this.context.clock.now());
    const long = ptzHead.commands[entry.command.command]?.long === true;
    let working = this.working.find((one) => one.entry === entry);
    if (!working) {
      const now = this.context.clock.now();
      working = {
        entry,
        long,
        sockets: new Map(),
        since: now,
        whole: false,
        begun: false,
        landing: flight.landing,
        thereSince: null,
        stillReads: 0,
        limitMs: this.limitOf(entry.command),
        claim: null,
        cancelLimit: () => undefined,
      };
      this.working.push(working);
    }
    working.sockets.set(sequence, socket);
    flight.index += 1;
    if (flight.index < flight.script.length) return this.launch(flight);
    this.flight = null;
    working.whole = working.landing === null;
    if (!working.begun) this.begun(working);
    else this.context.guard(null);
    working.begun = true;
    this.pump();
  }

  /** Every message of a command is with the head. */
  private begun(working: Working): void {
    const { entry } = working;
    const { clock } = this.context;
    const { command } = entry.command;
    if (working.long || command === 'drive' || command === 'nudge') this.stopKeeper.moveBegan(entry);
    if (command === 'drive' || command === 'nudge' || command === 'stop') this.takenOverAt = clock.now();
    if (working.long) {
      this.drivenAt = -Infinity;
      this.driving = false;
      this.arrived = '';
      entry.tell({ type: 'accepted' });
      this.tellMoves(true, '');
      this.poll();
      return;
    }
    working.cancelLimit = clock.at(clock.now() + SHORT_DONE_MS, () =>
      this.finish(working, { type: 'outcome', outcome: 'done', why: 'Acknowledged; its completion was not heard.' }),
    );
    if (command === 'drive' || command === 'nudge') {
      this.drivenAt = clock.now();
      this.driving = true;
      this.stopSince = null;
      this.arrived = '';
      this.tellMoves(true, '');
      this.poll();
    } else if (command === 'stop') {
      this.stopSince = clock.now();
      this.before = '';
      this.context.guard(null);
      this.poll();
    }
  }

  private completed(sequence: number): void {
    const working = this.working.find((one) => one.sockets.has(sequence));
    if (!working) return;
    working.sockets.delete(sequence);
    if (working.sockets.size > 0 || !working.whole) return;
    const { pan, tilt, zoom } = working.entry.command.params;
    if (!working.long || (pan === undefined && tilt === undefined && zoom === undefined))
      return this.finish(working, { type: 'outcome', outcome: 'done' });
    // Before anybody cuts on its word, it is asked where it looks: a completion may be another one's, or made up.
    working.claim ??= { at: this.context.clock.now(), from: this.sequence + 1 };
    this.reader.look();
  }

  private finish(working: Working, event: CommandEvent & { type: 'outcome' }): void {
    if (!this.working.includes(working)) return;
    working.cancelLimit();
    if (working.landing !== null) this.endZoom();
    this.working = this.working.filter((one) => one !== working);
    if (working.long)
      this.travel.ended(
        working.entry,
        event.outcome === 'done' && event.why === undefined,
        working.claim?.at ?? this.context.clock.now(),
      );
    if (working.long && event.outcome === 'done') this.arrived = String(working.entry.command.params.position ?? '');
    const { command } = working.entry;
    // Where it stands is known exactly as soon as it stands, not with the next beat.
    if (working.long) this.reader.look();
    if (command.command === 'recall') for (const inquiry of LENS_INQUIRIES) this.reader.inquire(inquiry);
    else for (const inquiry of inquiriesAfter(command.command)) this.reader.inquire(inquiry);
    const told = tallyTold(command);
    if (event.outcome === 'done' && 'tally' in told) this.context.news.points(told);
    working.entry.tell(event);
    // Where the head stands, and that it stands, is told with the next reading.
    if (event.outcome === 'late') this.unsettle(working.entry);
  }

  private failed(sequence: number, error: string): void {
    const flight = this.flight?.sequence === sequence ? this.flight : null;
    const now = this.context.clock.now();
    if (error === 'bufferFull' && flight !== null && now - (flight.fullSince ??= now) < ANSWER_LIMIT_MS) {
      // Both sockets are taken by moves, and nothing was done: free them, then say it again under a new number. Until then it has
      // none: the same answer twice must not say it twice, each of which would be answered twice again.
      flight.cancelResend();
      flight.sequence = NO_SEQUENCE;
      for (const socket of [1, 2]) this.transmitOnce(encodeCommand({ kind: 'cancel', socket }));
      this.context.clock.at(this.context.clock.now() + RESEND_MS / 2, () => {
        if (this.flight === flight) this.launch(flight);
      });
      return;
    }
    const why = error === 'cancelled' ? TAKEN_OVER : `The head refused it: ${REFUSAL_WORDS[error] ?? error}.`;
    if (flight) {
      flight.cancelResend();
      this.flight = null;
      this.working = this.working.filter((one) => one.entry !== flight.entry);
      if (flight.entry.command.params.seconds !== undefined) this.endZoom();
      this.stopKeeper.moveFailed(flight.entry);
      this.stopAgain(flight.entry);
      flight.entry.tell({ type: 'outcome', outcome: 'refused', why });
      this.pump();
      return;
    }
    const working = this.working.find((one) => one.sockets.has(sequence));
    if (working) this.finish(working, { type: 'outcome', outcome: 'refused', why });
  }

  /** A stop that was refused, or that nobody acknowledged, is tried again until the head takes it: whatever it has to end still moves. */
  private stopAgain(entry: QueuedCommand): void {
    if (entry.lane !== 'stop') return;
    const { clock } = this.context;
    const { drivenAt } = this;
    const again = (): void => {
      clock.at(clock.now() + REFUSED_STOP_MS, () => {
        // A newer drive, or a way that the head has taken on, has the place of the one that it was to end.
        if (this.closed || this.phase !== 'ready' || !this.driving || this.drivenAt !== drivenAt) return;
        if (this.flight === null) this.send('again', STOP, () => undefined);
        else if (this.flight.entry.lane !== 'stop') again();
      });
    };
    again();
  }

  private abandon(entry: QueuedCommand, outcome: 'late' | 'lost', why: string): void {
    if (this.flight?.entry === entry) {
      this.flight.cancelResend();
      this.flight = null;
    }
    this.working = this.working.filter((one) => one.entry !== entry);
    if (entry.command.params.seconds !== undefined) this.endZoom();
    this.unsettle(entry);
    // Nobody knows whether it began: its own stated end stays.
    this.stopKeeper.moveFailed({});
    this.stopAgain(entry);
    entry.tell({ type: 'outcome', outcome, why });
    this.reader.place = NOWHERE;
    this.reader.look();
    this.poll();
    this.pump();
  }

  /** Whether it moves and where it has arrived: not told while a move is asked for that has not gone out, for that has made both unknown. */
  private tellMoves(travelling: boolean, arrived: string): void {
    if (this.asked.size === 0) this.context.news.points({ travelling, arrived });
  }

  private isMoving(): boolean {
    return this.driving || this.working.some((one) => one.long);
  }

  // --- inquiries ---

  /** While something moves, looks every 100 ms. */
  private poll(): void {
    const { clock } = this.context;
    this.cancelPoll();
    this.cancelPoll = clock.at(clock.now() + POLL_MS, () => {
      if (this.closed || (!this.isMoving() && this.stopSince === null && this.unsettled.length === 0)) return;
      this.reader.look();
      this.poll();
    });
  }

  private transmitOnce(payload: Uint8Array): void {
    this.context.transmit(encodePacket({ type: 'command', sequence: (this.sequence += 1), payload }));
  }

  /** Pan, tilt and zoom are all known anew. */
  private placeRead(pan: number, tilt: number, zoom: number, asked: number): void {
    const { clock, news, placeAt } = this.context;
    if (this.phase === 'reading') {
      this.phase = 'ready';
      this.arrived = placeAt(pan, tilt, zoom);
      this.liveness.arrived();
      news.points({ pan, tilt, zoom });
      this.tellMoves(false, this.arrived);
      for (const inquiry of LENS_INQUIRIES) this.reader.inquire(inquiry);
      this.pump();
    }
    if (this.phase !== 'ready') return;
    this.travel.read(pan, tilt, zoom, clock.now());
    news.points({ pan, tilt, zoom });
    const here = `${pan}/${tilt}/${zoom}`;
    const still = here === this.before;
    this.before = here;
    this.settle(pan, tilt, zoom, asked, still);
    if (this.stopSince !== null) this.watchStop(still, clock.now());
    else this.watchStray(still, clock.now());
    for (const working of this.working.filter((one) => one.long)) {
      this.land(working, zoom, clock.now());
      if (working.whole) this.watchMove(working, still, asked);
    }
  }

  /** What became of commands that nobody confirmed: a move is settled once the head is seen to stand. */
  private settle(pan: number, tilt: number, zoom: number, asked: number, still: boolean): void {
    const settled = this.unsettled.filter(({ from, long }) => from <= asked && (still || !long));
    if (settled.length === 0) return;
    this.unsettled = this.unsettled.filter((one) => !settled.includes(one));
    if (!this.isMoving()) this.arrived = this.context.placeAt(pan, tilt, zoom);
    if (!this.unsettled.some((one) => one.long)) this.tellMoves(this.isMoving(), this.arrived);
    for (const { entry } of settled)
      entry.tell({ type: 'settled', words: `Read back: pan ${pan}°, tilt ${tilt}°, zoom ${zoom}×` });
  }

  /** A drive that was delayed on the wire may land after its stop: the head must be seen to stand. */
  private watchStop(still: boolean, now: number): void {
    if (still) {
      this.stopSince = null;
      this.driving = false;
      const { pan, tilt, zoom } = this.reader.place;
      if (!this.isMoving() && this.arrived === '') this.arrived = this.context.placeAt(pan ?? 0, tilt ?? 0, zoom ?? 0);
      this.tellMoves(this.isMoving(), this.arrived);
    } else if (this.stopSince !== null && now - this.stopSince > STOP_AGAIN_MS) {
      this.stopSince = now;
      this.sayStop();
    }
  }

  /** It was stopped and was seen to stand, and yet it moves: a drive came late, or the stop was never done. It is stopped again. */
  private watchStray(still: boolean, now: number): void {
    if (still || this.isMoving() || this.flight !== null || now - this.drivenAt > STRAY_MS) return;
    this.sayStop();
    this.stopSince = now;
    this.tellMoves(true, '');
    this.poll();
  }

  private sayStop(): void {
    for (const message of STOP_SCRIPT) this.transmitOnce(encodeCommand(message));
  }

  /** Makes up for a completion that was not heard: the place is reached and stays, or the head stands elsewhere. */
  private watchMove(working: Working, still: boolean, asked: number): void {
    const { params } = working.entry.command;
    const near = (value: number | null, goal: unknown, tolerance: number): boolean =>
      goal === undefined || (value !== null && Math.abs(value - Number(goal)) <= tolerance);
    const there =
      near(this.reader.place.pan, params.pan, 0.16) &&
      near(this.reader.place.tilt, params.tilt, 0.16) &&
      near(this.reader.place.zoom, params.zoom, 0.02 * Number(params.zoom ?? 1));
    const now = this.context.clock.now();
    working.stillReads = still ? working.stillReads + 1 : 0;
    if (!still) working.thereSince = null;
    else working.thereSince ??= now;
    const { claim } = working;
    if (claim !== null && asked >= claim.from) {
      // Its own word and its place agree; or it stands, wherever that is, and says that it is done.
      const stands = working.stillReads >= CLAIM_READS && now - claim.at >= ARRIVED_AFTER_MS;
      if (there || (stands && this.takenOverAt <= working.since))
        return this.finish(working, { type: 'outcome', outcome: 'done' });
      if (stands) return this.finish(working, { type: 'outcome', outcome: 'refused', why: TAKEN_OVER });
    }
    if (working.thereSince === null || now - working.thereSince < ARRIVED_AFTER_MS) return;
    if (there)
      return this.finish(working, {
        type: 'outcome',
        outcome: 'done',
        why: 'Its completion was not heard; the head was seen to stand there.',
      });
    // Heads that begin late, or tell their way only at its end, are real: standing still proves nothing before the time is over.
    if (now - working.since > working.limitMs && working.stillReads >= STANDS_READS)
      this.finish(working, {
        type: 'outcome',
        outcome: 'late',
        why: 'The head stands elsewhere; it may not have carried this out.',
      });
  }

  /** Twice what a move should take from here, and 3 s at the least, milliseconds. */
  private limitOf({ params }: DeviceCommand): number {
    const { pan, tilt, zoom } = this.reader.place;
    if (pan === null || tilt === null || zoom === null) return UNKNOWN_MOVE_MS;
    const from = { pan, tilt, zoom };
    const to = {
      pan: Number(params.pan ?? pan),
      tilt: Number(params.tilt ?? tilt),
      zoom: Math.max(1, Number(params.zoom ?? zoom)),
    };
    const predicted = params.seconds === undefined ? travelMs(from, to, this.settings) : Number(params.seconds) * 1000;
    return Number.isFinite(predicted) ? Math.max(FEWEST_MOVE_MS, 2 * predicted) : UNKNOWN_MOVE_MS;
  }
}

const STOP: DeviceCommand = { command: 'stop', params: {} };

/** The length that a move states for itself, milliseconds; undefined where it is held. */
const lengthOf = ({ params }: DeviceCommand): number | undefined =>
  params.forSeconds === undefined ? undefined : Number(params.forSeconds) * 1000;
