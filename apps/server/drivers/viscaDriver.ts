import { type DeviceCommand, nudgeDrive, ptzHead, PtzSettings } from '@umbek/core/devices';
import type { Cancel, CommandEvent } from '@umbek/core/engine';
import {
  decodePacket,
  decodeReply,
  encodeInquiry,
  encodePacket,
  type HeadReply,
  RESET_SEQUENCE,
} from '@umbek/wire/visca';
import type { QueuedCommand } from './commandQueue';
import type { ByteContext, ByteDriver, LinkState } from './context';
import { LinkedDriver } from './linkedDriver';
import { LET_GO, wordsOf } from './linkWords';
import { TravelWatch } from './travelWatch';
import { type Approach, endOfWay, limitOfWay, TAKEN_OVER } from './viscaArrival';
import { ViscaFlights } from './viscaFlight';
import { glideOf, isNear, type Landing } from './viscaGlide';
import { inquiriesAfter, LENS_INQUIRIES, tallyTold } from './viscaLens';
import { NOWHERE, ViscaReader } from './viscaReader';
import { scriptOf, STOP_SCRIPT } from './viscaScripts';
import { stopDatagrams, StopKeeper } from './viscaStops';

/** Acknowledged messages whose completion has not come: sockets by sequence number (0 when the acknowledgement was not heard). */
interface Working extends Approach {
  readonly entry: QueuedCommand;
  readonly long: boolean;
  readonly sockets: Map<number, number>;
  /** True once every message is acknowledged, the landing of a slow zoom among them. */
  whole: boolean;
  /** True once its acceptance was told. */
  begun: boolean;
  /** A slow zoom that is still to be landed. */
  landing: Landing | null;
  cancelLimit: Cancel;
}

const POLL_MS = 100;
/** A short command that was acknowledged counts as done after so long without its completion. */
const SHORT_DONE_MS = 250;
/** Still moving so long after a stop: it is sent again, which does a head that only brakes no harm. */
const STOP_AGAIN_MS = 300;
/** So long after a drive a head that moves by itself is taken to move because of it. */
const STRAY_MS = 30_000;
/** A stop that the head refused is sent again after so long. */
const REFUSED_STOP_MS = 150;
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
  private working: Working[] = [];
  private phase: 'looking' | 'stopping' | 'reading' | 'ready' = 'looking';
  private readonly flights: ViscaFlights;
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
    this.flights = new ViscaFlights(context, {
      launched: ({ entry, since }) => this.travel.sent(entry, this.reader.place, this.isMoving(), since),
      resent: () => this.travel.spoilt(),
      gaveUp: ({ entry, since }) => {
        const alive = (this.liveness.lastHeard ?? -1) > since;
        this.abandon(entry, alive ? 'late' : 'lost', 'No acknowledgement came; its effect is unknown.');
      },
    });
    this.reader = new ViscaReader(this.settings, {
      ask: (inquiry) => {
        const sequence = this.flights.nextSequence();
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
    const { current, latest } = this.flights;
    const driven = current !== null && (current.entry.lane !== 'plain' || current.landing !== null);
    if (!this.isMoving() && this.stopSince === null && !driven) return [];
    const stops = stopDatagrams(latest);
    this.flights.nextSequence(stops.length);
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
    const flight = this.flights.drop();
    const open = [...new Set([...(flight ? [flight.entry] : []), ...this.working.map((working) => working.entry)])];
    for (const working of this.working) working.cancelLimit();
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
      from: this.flights.latest + 1,
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
      if (known && this.phase === 'ready' && !this.unsettled.some((candidate) => candidate.long))
        this.tellMoves(this.isMoving(), this.arrived);
    };
    const entry: QueuedCommand = { id, command, lane, tell };
    if (this.flights.current === null && this.queue.size === 0 && this.phase === 'ready') {
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
    this.handle(reply.value, sequence);
  }

  private handle(reply: HeadReply, sequence: number): void {
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
    this.flights.restart();
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
    const flight = this.phase === 'ready' ? this.flights.drop() : null;
    if (flight === null) return;
    this.working = this.working.filter((working) => working.entry !== flight.entry);
    this.unsettle(flight.entry);
    if (flight.entry.lane !== 'stop') this.stopKeeper.overtook(flight.sequence);
    this.context.clock.at(this.context.clock.now(), () =>
      flight.entry.tell({ type: 'outcome', outcome: 'late', why: 'A stop overtook it before it was acknowledged.' }),
    );
  }

  private pump(): void {
    if (this.flights.current !== null || this.phase !== 'ready') return;
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
    this.flights.begin(entry, script, landing);
  }

  /** A newer move, or a stop, ends what glides: its zoom would drive on. */
  private endGlides(entry: QueuedCommand): void {
    if (entry.lane === 'plain' && ptzHead.commands[entry.command.command]?.long !== true) return;
    for (const working of this.working.filter((candidate) => candidate.landing !== null)) {
      if (entry.lane === 'plain') this.context.guard(null);
      this.finish(working, { type: 'outcome', outcome: 'refused', why: TAKEN_OVER });
    }
  }

  private endZoom(): void {
    this.flights.once({ kind: 'zoomStop' });
  }

  /** Sends a slow zoom to its very code when it is near. */
  private land(working: Working, zoom: number, now: number): void {
    const { landing } = working;
    if (landing === null || this.flights.current !== null) return;
    if (!isNear(landing, zoom, working.since, now, this.settings)) return;
    working.landing = null;
    this.flights.begin(working.entry, [{ kind: 'zoomDirect', code: landing.code }], null);
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

  /** The head has taken a message: by acknowledgement, or by saying that it knows the number. */
  private taken(sequence: number, socket: number): void {
    const flight = this.flights.current;
    if (flight?.sequence !== sequence) {
      if (this.stopKeeper.taken(sequence)) return;
      for (const item of this.working) if (item.sockets.has(sequence) && socket > 0) item.sockets.set(sequence, socket);
      return;
    }
    const { entry } = flight;
    this.travel.acknowledged(entry, this.context.clock.now());
    const long = ptzHead.commands[entry.command.command]?.long === true;
    let working = this.working.find((candidate) => candidate.entry === entry);
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
        limitMs: limitOfWay(entry.command, this.reader.place, this.settings),
        claim: null,
        cancelLimit: () => undefined,
      };
      this.working.push(working);
    }
    working.sockets.set(sequence, socket);
    if (!this.flights.acknowledged()) return;
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
    if (working.long || command === 'drive' || command === 'nudge')
      this.stopKeeper.moveBegan(entry, working.long && !takesAll(entry.command));
    // What it drove is over: a length that the parent still counts would end this move in its middle.
    if (working.long && takesAll(entry.command) && working.landing === null) this.context.guard(null);
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
    const working = this.working.find((candidate) => candidate.sockets.has(sequence));
    if (!working) return;
    working.sockets.delete(sequence);
    if (working.sockets.size > 0 || !working.whole) return;
    const { pan, tilt, zoom } = working.entry.command.params;
    if (!working.long || (pan === undefined && tilt === undefined && zoom === undefined))
      return this.finish(working, { type: 'outcome', outcome: 'done' });
    // Before anybody cuts on its word, it is asked where it looks: a completion may be another one's, or made up.
    working.claim ??= { at: this.context.clock.now(), from: this.flights.latest + 1 };
    this.reader.look();
  }

  private finish(working: Working, event: CommandEvent & { type: 'outcome' }): void {
    if (!this.working.includes(working)) return;
    working.cancelLimit();
    if (working.landing !== null) this.endZoom();
    this.working = this.working.filter((candidate) => candidate !== working);
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
    const lamp = tallyTold(command);
    if (event.outcome === 'done' && 'tally' in lamp) this.context.news.points(lamp);
    working.entry.tell(event);
    // Where the head stands, and that it stands, is told with the next reading.
    if (event.outcome === 'late') this.unsettle(working.entry);
  }

  private failed(sequence: number, error: string): void {
    const flight = this.flights.current?.sequence === sequence ? this.flights.current : null;
    if (error === 'bufferFull' && flight !== null && this.flights.makeRoom()) return;
    const why = error === 'cancelled' ? TAKEN_OVER : `The head refused it: ${REFUSAL_WORDS[error] ?? error}.`;
    if (flight) {
      this.flights.drop();
      this.working = this.working.filter((candidate) => candidate.entry !== flight.entry);
      if (flight.entry.command.params.seconds !== undefined) this.endZoom();
      this.stopKeeper.moveFailed(flight.entry);
      this.stopAgain(flight.entry);
      flight.entry.tell({ type: 'outcome', outcome: 'refused', why });
      this.pump();
      return;
    }
    const working = this.working.find((candidate) => candidate.sockets.has(sequence));
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
        const { current } = this.flights;
        if (current === null) this.send('again', STOP, () => undefined);
        else if (current.entry.lane !== 'stop') again();
      });
    };
    again();
  }

  private abandon(entry: QueuedCommand, outcome: 'late' | 'lost', why: string): void {
    if (this.flights.current?.entry === entry) this.flights.drop();
    this.working = this.working.filter((working) => working.entry !== entry);
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
    return this.driving || this.working.some((working) => working.long);
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
    for (const working of this.working.filter((candidate) => candidate.long)) {
      this.land(working, zoom, clock.now());
      if (!working.whole) continue;
      const { command } = working.entry;
      const evidence = { still, asked, now: clock.now(), takenOverAt: this.takenOverAt };
      const end = endOfWay(working, command, this.reader.place, evidence);
      if (end !== null) this.finish(working, end);
    }
  }

  /** What became of commands that nobody confirmed: a move is settled once the head is seen to stand. */
  private settle(pan: number, tilt: number, zoom: number, asked: number, still: boolean): void {
    const settled = this.unsettled.filter(({ from, long }) => from <= asked && (still || !long));
    if (settled.length === 0) return;
    this.unsettled = this.unsettled.filter((candidate) => !settled.includes(candidate));
    if (!this.isMoving()) this.arrived = this.context.placeAt(pan, tilt, zoom);
    if (!this.unsettled.some((candidate) => candidate.long)) this.tellMoves(this.isMoving(), this.arrived);
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
    if (still || this.isMoving() || this.flights.current !== null || now - this.drivenAt > STRAY_MS) return;
    this.sayStop();
    this.stopSince = now;
    this.tellMoves(true, '');
    this.poll();
  }

  private sayStop(): void {
    for (const message of STOP_SCRIPT) this.flights.once(message);
  }
}

const STOP: DeviceCommand = { command: 'stop', params: {} };

/** The length that a move states for itself, milliseconds; undefined where it is held. */
const lengthOf = ({ params }: DeviceCommand): number | undefined =>
  params.forSeconds === undefined ? undefined : Number(params.forSeconds) * 1000;

/** A move of all axes: whatever drove before is over. One of some of them leaves the others driving. */
const takesAll = ({ command, params }: DeviceCommand): boolean =>
  command === 'recall' || (command === 'goTo' && ['pan', 'tilt', 'zoom'].every((axis) => params[axis] !== undefined));
