import type {
  DeviceHealth,
  LiveAbout,
  LiveClientMessage,
  LiveEdit,
  LiveFace,
  LiveOther,
  LivePoint,
  LiveRun,
  LiveServerMessage,
  LiveShow,
  LiveStores,
  Right,
  TakeBackReply,
} from '@umbek/protocol';
import { ulid } from 'ulid';
import { Contact } from './contact';
import { EngineClock } from './engineClock';
import { type LastKnown, PointBook } from './pointBook';
import { PressBook, type Pressed, type PressState } from './pressBook';
import { type LastRun, RunBook } from './runBook';
import { scopeOf, ShownHere } from './shownHere';
import { Topics } from './topics';

/** `live`: the engine has answered within the last 2.5 s. */
export type Connection = 'connecting' | 'live' | 'lost';

export interface StationIdentity {
  readonly station: string;
  readonly person: string;
  /** Station of the show that this browser acts as; null or left out: none. */
  readonly claims?: string | null;
}

interface State {
  readonly connection: Connection;
  readonly revision: number;
  /** The show that the engine has open; null until it was told. */
  readonly show: LiveShow | null;
  /** The edits that led to the revision, where they were told. */
  readonly edits: readonly LiveEdit[];
  readonly runs: readonly LiveRun[];
  readonly devices: readonly DeviceHealth[];
  /** When `devices` was told, on this page's clock. */
  readonly devicesAt: number;
  /** How what has to be kept is kept. */
  readonly stores: LiveStores;
  /** What a button started or was refused last. */
  readonly lastRun: LastRun | null;
  /** What other pages are about to change. */
  readonly others: readonly LiveOther[];
  /** A press of this page can be taken back as far as the page knows; the engine has the last word. */
  readonly mayTakeBack: boolean;
  /** Since when there has been no contact; null while there is. */
  readonly lostAt: number | null;
  /** What this station may do. */
  readonly rights: readonly Right[];
  /** Stations of this link group share what is chosen; null until it was told. */
  readonly linkGroup: string | null;
  /** Somebody looks for this station: its name, and when. */
  readonly flash: { readonly name: string; readonly at: number } | null;
  /** It was let in from the network, under the name and person that others gave it. */
  readonly joined: boolean;
  /** Who works at this page; empty: nobody gave a name. */
  readonly person: string;
  /** That is somebody of the crew, who brought rights along. */
  readonly signedIn: boolean;
  /** Somebody handed this page to another person, who has to take it over; null: nobody did. */
  readonly handed: { readonly person: string; readonly at: number } | null;
}

/** Scope of a point that nothing has: what a component asks for that has no device. */
const NOTHING = 'none';
/** A page that is not drawn by then greets the engine all the same. */
const GREET_MS = 2500;
/** Under what name the state of a press is told that takes another one back. */
export const TAKE_BACK = 'takeBack';
/** For so long after its last deed a press can be taken back. */
const TAKE_BACK_MS = 10_000;
/** So many of what this page is about to change are told to others. */
const MOST_SELECTED = 200;
/** A held press is renewed so often. */
const HOLD_MS = 100;
/** That a hand took something is told for so long, whatever else its press does. */
const TAKEN_SHOWN_MS = 8000;

const now = (): number => performance.now();

/**
 * The live state of the engine on this page, and the way that presses go. Points, faces and press states are told key by key, so that a
 * change draws only the caps that it concerns.
 */
export class LiveStore {
  private state: State = {
    connection: 'connecting',
    revision: 0,
    show: null,
    edits: [],
    runs: [],
    devices: [],
    devicesAt: 0,
    stores: { disk: null, database: true },
    lastRun: null,
    others: [],
    mayTakeBack: false,
    lostAt: null,
    // Until it was told: whatever it may not is refused by the engine.
    rights: ['see', 'operate', 'program', 'admit'],
    joined: false,
    person: '',
    signedIn: false,
    handed: null,
    linkGroup: null,
    flash: null,
  };
  private readonly topics = new Topics();
  private readonly points = new PointBook(this.topics, now);
  private readonly presses = new PressBook(
    this.topics,
    now,
    (buttonId, why) => this.set({ lastRun: { how: 'refused', buttonId, why } }),
    (runId) => this.taken(runId),
  );
  private readonly runs = new RunBook(this.presses, now, (runs, last) =>
    this.set({ runs, ...(last === undefined || this.isOfTaken(last) ? {} : { lastRun: last }) }),
  );
  private readonly faces = new Map<string, LiveFace>();
  /** What the page shows: nothing else is told to it. */
  private readonly shown = new ShownHere(() => this.sayShown());
  private readonly held = new Map<string, { what: Pressed; timer: ReturnType<typeof setInterval> }>();
  /** The run of the last press that this page made. */
  private ownRun: string | null = null;
  private takeBackTimer: ReturnType<typeof setTimeout> | undefined;
  private readonly backAsked: ((back: TakeBackReply | null) => void)[] = [];
  private selected: string[] = [];
  private readonly showListeners = new Set<(panel: string, page: string) => void>();
  private panel: string | null = null;
  private about: LiveAbout | null = null;
  private early = false;
  /** Greets the engine, which waits until it is known what the page shows. */
  private greeting: (() => void) | null = null;
  private patience: ReturnType<typeof setTimeout> | undefined;
  private last: { epoch: number; n: number } | null = null;
  private readonly clock = new EngineClock();
  private readonly contact: Contact;

  constructor(
    url: string,
    private readonly identity: () => StationIdentity,
    /** Others gave this station its name and person. */
    private readonly named: (identity: Omit<StationIdentity, 'claims'>) => void = () => undefined,
    /** This station is not let in, or not any more. */
    private readonly sentAway: () => void = () => undefined,
    /** Contact is lost: whether that is why is asked by the usual way, as a refused socket says nothing. */
    private readonly onLost: () => void = () => undefined,
  ) {
    this.contact = new Contact(
      url,
      {
        opened: (begin) => this.greet(begin),
        reached: () => this.reached(),
        message: (message) => this.receive(message),
        lost: () => this.lost(),
      },
      now,
    );
  }

  /** @param early before anything is drawn: the engine is greeted as soon as it is known what the page shows, so that its first word holds all of that */
  open(early = false): void {
    this.early = early;
    this.contact.open();
  }

  /** The page is drawn: what it shows of the engine is known, be it nothing. */
  drawn(): void {
    this.early = false;
    this.greeting?.();
  }

  private greet(begin: () => void): void {
    const say = (): void => {
      clearTimeout(this.patience);
      this.greeting = null;
      this.hello();
      begin();
    };
    if (!this.early) return say();
    this.early = false;
    if (!this.shown.empty) return say();
    this.greeting = say;
    this.patience = setTimeout(say, GREET_MS);
  }

  close(): void {
    this.contact.close();
  }

  /** The page was hidden or asleep: whether there is contact is found out at once. */
  woke(): void {
    this.contact.woke();
  }

  /** `epoch:milliseconds` of the engine's clock now, as a deed is stamped with; null without contact. */
  moment(): string | null {
    const at = this.clock.at(now());
    return this.state.connection === 'live' && this.last !== null && at !== null ? `${this.last.epoch}:${at}` : null;
  }

  // --- reading; `topic` is `state`, `connection`, `point:key`, `face:id` or `press:id` ---

  subscribe(topic: string, listener: () => void): () => void {
    const stop = this.topics.subscribe(topic, listener);
    const scope = topic.startsWith('point:') ? scopeOf(topic.slice('point:'.length)) : NOTHING;
    const end = scope === NOTHING ? null : this.shown.use('scopes', scope);
    return () => {
      stop();
      end?.();
    };
  }

  /** The faces of a strip's buttons are shown. @returns what ends it */
  showStrip(stripId: string): () => void {
    return this.shown.use('strips', stripId);
  }

  getState = (): State => this.state;
  point = (key: string): LivePoint | undefined => this.points.get(key);
  /** Of a point that is unknown: what was known of it last. Only to be looked at; nothing goes by it. */
  lastKnown = (key: string): LastKnown | undefined => this.points.lastKnown(key, this.state.lostAt);
  face = (buttonId: string): LiveFace | undefined => this.faces.get(buttonId);
  pressState = (topic: string): PressState | undefined => this.presses.state(topic);

  // --- pressing ---

  /** The finger is down: told at once, renewed while it is held. @param shortcut by whose key it is pressed @returns the press id for the release */
  down(buttonId: string, shortcut?: string): string {
    return this.begin({ type: 'press', buttonId, ...(shortcut === undefined ? {} : { shortcut }) });
  }

  /** A value in the hand is taken: turned to this, and on with `turn` until it is let go. */
  downValue(buttonId: string, value: number, shortcut?: string): string {
    return this.begin({ type: 'press', buttonId, value, ...(shortcut === undefined ? {} : { shortcut }) });
  }

  /** Turns a held value on. */
  turn(pressId: string, value: number): void {
    const held = this.held.get(pressId);
    if (held?.what.type !== 'press' || held.what.value === value) return;
    const what = { ...held.what, value };
    clearInterval(held.timer);
    this.send({ ...what, pressId, phase: 'hold' });
    this.hold(pressId, what);
  }

  /** One step of a button alone, held and let go like a press. */
  downStep(buttonId: string, stepId: string): string {
    return this.begin({ type: 'press', buttonId, stepId });
  }

  /** A command without a button, from a camera's own controls or "send now"; held and let go like a press. Its state is told under `device.command`. */
  downCommand(device: string, command: string, params: Readonly<Record<string, LivePoint>>): string {
    return this.begin({ type: 'send', device, command, params: { ...params } });
  }

  /** Takes a press of this page back: a press of its own, that asks for a second touch like any other. Its state is told under `TAKE_BACK`. */
  takeBack(pressId: string): void {
    this.up(this.begin({ type: 'press', buttonId: TAKE_BACK, takeBack: pressId }));
  }

  /** What taking this page's last press back would do; null when there is nothing to take back, or no contact. */
  askBack(): Promise<TakeBackReply | null> {
    if (this.state.connection !== 'live') return Promise.resolve(null);
    return new Promise((resolve) => {
      this.backAsked.push(resolve);
      this.send({ type: 'askBack' });
    });
  }

  /** A press of this page was taken, or its run went on: from now on it may be taken back for a while. */
  private taken(runId: string | null): void {
    this.ownRun = runId;
    clearTimeout(this.takeBackTimer);
    this.takeBackTimer = setTimeout(() => this.set({ mayTakeBack: false }), TAKE_BACK_MS);
    if (!this.state.mayTakeBack) this.set({ mayTakeBack: true });
  }

  /** Sends a command once. */
  sendCommand(device: string, command: string, params: Readonly<Record<string, LivePoint>>): void {
    this.up(this.downCommand(device, command, params));
  }

  private begin(what: Pressed): string {
    const pressId = ulid();
    if (this.state.connection !== 'live') {
      this.presses.noContact(what);
      return pressId;
    }
    if (!this.state.rights.includes('operate')) {
      this.presses.mayNot(what);
      return pressId;
    }
    this.presses.sent(pressId, what);
    const at = this.clock.at(now());
    this.send({ ...what, pressId, phase: 'down', ...(at === null ? {} : { at }) });
    this.hold(pressId, what);
    return pressId;
  }

  private hold(pressId: string, what: Pressed): void {
    this.held.set(pressId, { what, timer: setInterval(() => this.send({ ...what, pressId, phase: 'hold' }), HOLD_MS) });
  }

  /** Gives a held command other parameters; they go with its next renewal, at once when it is none too soon. */
  steer(pressId: string, params: Readonly<Record<string, LivePoint>>): void {
    const held = this.held.get(pressId);
    if (held?.what.type !== 'send') return;
    const what = { ...held.what, params: { ...params } };
    clearInterval(held.timer);
    this.send({ ...what, pressId, phase: 'hold' });
    this.hold(pressId, what);
  }

  up(pressId: string): void {
    const held = this.held.get(pressId);
    if (!held) return;
    clearInterval(held.timer);
    this.held.delete(pressId);
    this.send({ ...held.what, pressId, phase: 'up' });
  }

  /** Something is held by a finger or a key of this page. */
  get holding(): boolean {
    return this.held.size > 0;
  }

  /** A button of this page asked for another panel, or another page of one. @returns what ends the listening */
  onShow(listener: (panel: string, page: string) => void): () => void {
    this.showListeners.add(listener);
    return () => this.showListeners.delete(listener);
  }

  /** What this page is about to change: others see it. */
  select(ids: readonly string[]): void {
    const selected = ids.slice(0, MOST_SELECTED);
    if (selected.join(' ') === this.selected.join(' ')) return;
    this.selected = selected;
    if (this.state.connection === 'live') this.send({ type: 'selects', ids: selected });
  }

  /** The panel that this page shows, for the list of stations; null where it shows none. */
  showPanel(panel: string | null): void {
    if (this.panel === panel) return;
    this.panel = panel;
    if (this.state.connection === 'live') this.send({ type: 'shows', panel, ...this.shown.now() });
  }

  /** What the machine of this page is like, for the list of stations. */
  tellAbout(about: LiveAbout): void {
    this.about = about;
    if (this.state.connection === 'live') this.send(about);
  }

  /** Says anew who this station is. */
  introduce(): void {
    this.contact.lose();
  }

  /** The page is hidden or left: nothing stays pressed. */
  releaseAll(): void {
    for (const pressId of [...this.held.keys()]) this.up(pressId);
  }

  // --- contact ---

  private hello(): void {
    const { station, person, claims = null } = this.identity();
    this.send({
      type: 'hello',
      station,
      person,
      operate: true,
      program: true,
      linkGroup: 'main',
      claims,
      panel: this.panel,
      shows: this.shown.now(),
      ...(this.last ? { resume: this.last } : {}),
    });
    this.clock.forget();
    if (this.about !== null) this.send(this.about);
  }

  private reached(): void {
    this.set({ connection: 'live', lostAt: null });
    if (this.selected.length > 0) this.send({ type: 'selects', ids: this.selected });
    // A release asked for again tells whether its press was taken: an engine that never saw it says that it began no run.
    for (const [pressId, what] of this.presses.unanswered) this.send({ ...what, pressId, phase: 'up' });
  }

  private lost(): void {
    clearTimeout(this.patience);
    this.greeting = null;
    for (const { timer } of this.held.values()) clearInterval(timer);
    this.held.clear();
    for (const resolve of this.backAsked.splice(0)) resolve(null);
    clearTimeout(this.takeBackTimer);
    this.onLost();
    if (this.state.connection !== 'lost')
      this.set({ connection: 'lost', lostAt: now(), mayTakeBack: false, others: [] });
    this.presses.contactLost();
  }

  private sayShown(): void {
    if (this.greeting !== null) return this.greeting();
    const shows = this.shown.now();
    this.send({ type: 'shows', panel: this.panel, ...shows });
    this.points.keepOnly(new Set(shows.scopes));
  }

  private send(message: LiveClientMessage): void {
    this.contact.send(message);
  }

  private receive(message: LiveServerMessage): void {
    switch (message.type) {
      case 'snapshot':
        this.last = { epoch: message.epoch, n: message.n };
        this.points.setAll(message.points);
        this.points.takeLast(message.last);
        this.setFaces(message.faces);
        this.set({
          revision: message.revision,
          show: message.show,
          edits: message.edits ?? [],
          devices: message.devices,
          devicesAt: now(),
          stores: message.stores,
        });
        this.runs.takeAll(message.runs, message.ended);
        break;
      case 'changes':
        this.last = { epoch: message.epoch, n: message.n };
        if (message.anew) this.points.forget(new Set(message.anew.scopes), message.points ?? {});
        for (const [key, value] of Object.entries(message.points ?? {})) this.points.set(key, value);
        this.points.takeLast(message.last);
        this.setFaces(message.faces ?? {});
        for (const run of message.runs ?? []) this.runs.record(run);
        if (message.devices) this.set({ devices: message.devices, devicesAt: now() });
        if (message.stores) this.set({ stores: message.stores });
        if (message.revision !== undefined)
          this.set({
            revision: message.revision,
            edits: message.edits ?? [],
            show: message.show ?? this.state.show,
          });
        break;
      case 'run':
        this.runs.record(message.run);
        if (message.run.runId === this.ownRun) this.taken(this.ownRun);
        break;
      case 'answer':
        this.presses.answered(message);
        break;
      case 'others':
        this.set({ others: message.others });
        break;
      case 'show':
        for (const listener of this.showListeners) listener(message.panel, message.page);
        break;
      case 'back':
        for (const resolve of this.backAsked.splice(0)) resolve(message.back);
        break;
      case 'time':
        this.clock.measured(message.sent, message.engine, now());
        break;
      case 'you':
        if (message.joined) this.named({ station: message.name, person: message.person });
        this.set({
          rights: message.rights,
          joined: message.joined,
          linkGroup: message.linkGroup,
          signedIn: message.signedIn,
          person: message.joined ? message.person : this.identity().person,
        });
        break;
      case 'handed':
        this.set({ handed: { person: message.person, at: now() } });
        break;
      case 'taken': {
        const buttonId = this.presses.taken(message.pressId, message.mine, message.words);
        if (buttonId !== undefined) this.set({ lastRun: { how: 'taken', buttonId, why: message.words, at: now() } });
        break;
      }
      case 'flash':
        this.set({ flash: { name: message.name, at: now() } });
        break;
      case 'error':
        if (message.error.code === 'not-joined') this.sentAway();
        break;
    }
  }

  /** Whether the run of what was just taken, or its release, only went as it should: that it was taken says more. */
  private isOfTaken(last: LastRun): boolean {
    const { lastRun } = this.state;
    if (lastRun?.how !== 'taken' || last.how !== 'done') return false;
    return last.run.buttonId === lastRun.buttonId && now() - lastRun.at < TAKEN_SHOWN_MS;
  }

  private setFaces(faces: Readonly<Record<string, LiveFace>>): void {
    for (const [id, face] of Object.entries(faces)) {
      // A page that comes back is told all of them: what is as it was is not drawn anew.
      if (JSON.stringify(this.faces.get(id)) === JSON.stringify(face)) continue;
      this.faces.set(id, face);
      this.topics.notify(`face:${id}`);
    }
  }

  private set(change: Partial<State>): void {
    const before = this.state.connection;
    this.state = { ...this.state, ...change };
    this.topics.notify('state');
    if (before !== this.state.connection) this.topics.notify('connection');
  }
}
