import { pointsOf } from '../../devices/index';
import { UNKNOWN } from '../../expression/index';
import { frameMs, type ShowDocument, type Step, type Trigger, type Voices } from '../../show/index';
import { onAirKey } from '../airWatch';
import { arrivalLimit } from '../arrivalLimit';
import type { Cancel, Clock } from '../clock';
import type { Program } from '../program';
import { reachedKey } from '../scope';
import type { Reader, StateBoard } from '../stateBoard';
import { hear, type Heard, silence, turnsAt, type Wanted } from './voices';

/** A shot that could not be taken is not tried again before so many milliseconds. */
const AGAIN_MS = 5000;
/** A shot that was sent has come on air within so many milliseconds, beside the length of its mix. */
const COMES_WITHIN_MS = 1500;

/** A command makes what is on air unknown for a moment: only after so many milliseconds that is told. */
const UNKNOWN_FOR_MS = 2000;

/** No voice holds one level, to a tenth of a decibel, for so many milliseconds: one that is loud and stands still comes from a mixer that hangs. */
const STANDS_STILL_MS = 3000;

/** What a *follow* rule is at: it follows, a person's cut keeps it off, or something that it needs is not known. */
export type FollowState = 'rests' | 'follows' | 'heldOff' | 'waits';

export interface FollowDependencies {
  readonly clock: Clock;
  readonly board: StateBoard;
  readonly program: () => Program;
  readonly armed: () => boolean;
  /** A turn of the rules looks at it again: publication itself has no effects. */
  readonly again: () => void;
  /** Takes a shot. @param onEnd its run is over, and whether it came to its end @returns the id of its run */
  readonly take: (
    steps: readonly Step[],
    words: string,
    level: string | undefined,
    onEnd: (done: boolean) => void,
  ) => string;
  /** Sends a camera to its position ahead of its shot. */
  readonly ahead: (steps: readonly Step[], source: string) => void;
  readonly runs: (runId: string) => boolean;
  readonly stop: (runId: string, why: string) => void;
  /** Somebody cut by hand. */
  readonly overruled: (words: string) => void;
  /** From now on a hand keeps it off for so many milliseconds; 0: no more. The next engine knows it as well. */
  readonly keptOff: (forMs: number) => void;
  /** It is another state, or waits for something else. */
  readonly onChange: () => void;
}

type Shot = NonNullable<Voices['wide']>;

interface Taking {
  readonly source: string;
  runId: string;
  /** Until when it may come on air, and is no hand's. */
  until: number;
}

/**
 * A *follow* rule: hears who talks and takes their shot. Everything it needs to know it reads from the board, so that what is silent or unknown stops
 * it: silence of a device is not silence in the room.
 */
export class FollowRule implements Reader {
  private readonly on: Voices;
  private readonly shots: readonly Shot[];
  /** Of each microphone the point that says that it is muted; null: its mixer has none. */
  private readonly mutes: readonly (string | null)[];
  private readonly keys: readonly string[];
  private heard: Heard;
  /** When it last looked, it heard nothing that it could go by. */
  private deaf = false;
  /** Of each microphone its level, and since when it is that one. */
  private stood: readonly { readonly level: number; readonly since: number }[] = [];
  private timer: Cancel = () => undefined;
  private taking: Taking | null = null;
  private tried: { readonly source: string; readonly t: number } | null = null;
  /** Its shots that were on air when it last looked; null: that was not known. */
  private onAir: ReadonlySet<string> | null = null;
  /** It first looked in the middle of a mix: whoever began that one, its end is no hand's. */
  private sawHalf = false;
  private shotSince: number;
  private unknownSince: number | null = null;
  /** Shots whose cameras were sent ahead since they were last on air. */
  private readonly sent = new Set<string>();
  private now: FollowState = 'rests';
  private why = '';

  constructor(
    readonly trigger: Trigger,
    private readonly deps: FollowDependencies,
    /** Until when a hand keeps it off, engine milliseconds: of the same rule before it was edited, or before the engine died. */
    private heldUntil = -Infinity,
  ) {
    if (trigger.on.kind !== 'voices') throw new Error('A follow rule has voices.');
    this.on = trigger.on;
    this.shots = [...this.on.mics, ...(this.on.wide === null ? [] : [this.on.wide])];
    this.shotSince = deps.clock.now();
    this.heard = silence(this.on.mics.length, this.shotSince);
    this.mutes = this.on.mics.map(({ level }) => muteOf(level, deps.program().document));
    this.keys = [
      ...new Set([
        ...this.mutes.filter((mute) => mute !== null),
        ...this.on.mics.flatMap(({ level }) => [level, reachedKey(deviceOf(level))]),
        ...this.shots.map(({ source }) => onAirKey(source)),
        reachedKey(this.on.switcher),
        `${this.on.switcher}.mixing`,
      ]),
    ];
    deps.board.subscribe(this.keys, this);
  }

  get state(): FollowState {
    return this.now;
  }

  /** What it waits for, in words; empty: nothing. */
  get words(): string {
    return this.why;
  }

  wake(): void {
    this.deps.again();
  }

  close(): void {
    this.timer();
    this.deps.board.unsubscribe(this.keys, this);
    this.end('Its trigger was changed.');
  }

  /** What it was about to do is not done. */
  end(why: string): void {
    const { taking } = this;
    this.taking = null;
    if (taking !== null && this.deps.runs(taking.runId)) this.deps.stop(taking.runId, why);
  }

  /** Looks at the levels and at what is on air, in a turn of its own, and takes the shot that is wanted where nothing speaks against it. */
  look(): void {
    const { board, clock, program } = this.deps;
    const t = clock.now();
    this.timer();
    if (!this.deps.armed() || program().faultOf(this.trigger.id) !== undefined) return this.rest('rests', '');
    if (board.read(reachedKey(this.on.switcher)) !== true)
      return this.rest('waits', `${this.nameOf(this.on.switcher)} does not answer.`);
    const levels = this.levels(t);
    const hears = 'deaf' in levels ? null : levels;
    if (hears === null || this.deaf) this.heard = silence(this.on.mics.length, t);
    // It hears anew, and the shot that is on air is as long as any from then on.
    if (hears !== null && this.deaf) this.shotSince = t;
    this.deaf = hears === null;
    if (hears !== null) this.heard = hear(this.heard, hears.audible, t, this.on);
    const next = this.seenAt(t) ?? ('deaf' in levels ? this.waitDeaf(levels.deaf) : this.follow(t));
    const turns = [...(hears === null ? [] : [turnsAt(this.heard, this.on), hears.stillAt]), next].filter(
      (candidate) => candidate !== null && candidate > t,
    ) as number[];
    if (turns.length > 0) this.timer = clock.at(Math.min(...turns), () => this.deps.again());
  }

  /**
   * What is heard of each microphone, dB below full scale, and when a loud one stands still for too long, milliseconds; or why nothing can be
   * gone by.
   */
  private levels(
    t: number,
  ): { readonly audible: readonly number[]; readonly stillAt: number | null } | { readonly deaf: string } {
    const { board } = this.deps;
    const silent = this.on.mics.map(({ level }) => deviceOf(level)).find((key) => board.read(reachedKey(key)) !== true);
    if (silent !== undefined) return { deaf: `${this.nameOf(silent)} does not answer.` };
    const levels = this.on.mics.map(({ level }) => board.read(level));
    const dumb = levels.findIndex((level) => typeof level !== 'number');
    if (dumb >= 0) return { deaf: `The level of ${this.on.mics[dumb]?.name ?? ''} is not known.` };
    // Many mixers measure before the mute: a microphone that nobody hears chooses no shot.
    const audible = (levels as number[]).map((level, at) => (this.isMuted(at) ? -Infinity : level));
    this.stood = audible.map((level, at) => {
      const before = this.stood[at];
      return before?.level === level ? before : { level, since: t };
    });
    // Whoever talks goes on talking down to the hysteresis.
    const loud = this.stood.flatMap(({ level, since }, at) =>
      level >= this.on.talksDb - this.on.hysteresisDb ? [{ at, until: since + STANDS_STILL_MS }] : [],
    );
    const hangs = loud.find(({ until }) => until <= t);
    if (hangs !== undefined)
      return {
        deaf: `The level of ${this.on.mics[hangs.at]?.name ?? ''} stands still: its mixer seems to hang. Mute it, or start the mixer anew.`,
      };
    return { audible, stillAt: loud.length === 0 ? null : Math.min(...loud.map(({ until }) => until)) };
  }

  /** It hears nothing that it could go by, and goes on seeing what a hand does. @returns null: it looks again when something changes */
  private waitDeaf(why: string): null {
    this.sent.clear();
    this.be('waits', why);
    return null;
  }

  private isMuted(at: number): boolean {
    const mute = this.mutes[at];
    return mute !== null && mute !== undefined && this.deps.board.read(mute) === true;
  }

  /** Looks at what is on air. @returns when to look again, milliseconds, where that is not known; null where it is */
  private seenAt(t: number): number | null {
    const onAirNow = this.shots.map(({ source }) => this.deps.board.read(onAirKey(source)));
    if (!onAirNow.includes(UNKNOWN)) {
      this.unknownSince = null;
      this.watchAir(new Set(this.shots.flatMap(({ source }, at) => (onAirNow[at] === true ? [source] : []))), t);
      return null;
    }
    this.unknownSince ??= t;
    if (t - this.unknownSince >= UNKNOWN_FOR_MS) this.be('waits', 'It is not known what is on air.');
    return this.unknownSince + UNKNOWN_FOR_MS;
  }

  /** Something that it goes by is not there: what it heard and saw before counts no more. */
  private rest(state: FollowState, why: string): void {
    this.heard = silence(this.on.mics.length, this.deps.clock.now());
    this.onAir = null;
    this.unknownSince = null;
    // Who arms it anew wants it at once; a mixer that was away for a moment does not end what a hand did.
    if (state === 'rests' && this.heldUntil > -Infinity) this.keepOff(this.deps.clock.now(), 0);
    this.sent.clear();
    this.be(state, why);
  }

  private keepOff(t: number, forMs: number): void {
    this.heldUntil = forMs === 0 ? -Infinity : t + forMs;
    this.deps.keptOff(forMs);
  }

  private be(state: FollowState, why: string): void {
    if (this.now === state && this.why === why) return;
    this.now = state;
    this.why = why;
    this.deps.onChange();
  }

  /** What came on air or left it: by this rule itself, or by a hand. */
  private watchAir(onAir: ReadonlySet<string>, t: number): void {
    const before = this.onAir;
    this.onAir = onAir;
    for (const source of onAir) this.sent.delete(source);
    if (before === null) {
      this.shotSince = t;
      this.sawHalf = this.mixing();
      return;
    }
    if (before.size === onAir.size && [...before].every((source) => onAir.has(source))) return;
    this.shotSince = t;
    const itsEnd = this.sawHalf && [...onAir].every((source) => before.has(source));
    this.sawHalf = false;
    if (itsEnd) return;
    const { taking } = this;
    // Through a mix of its own both halves are seen, then the new one alone.
    if (taking !== null && onAir.has(taking.source) && t <= taking.until) return;
    this.end('Somebody cut by hand.');
    this.keepOff(t, this.on.holdOffMs);
    const [shown] = onAir;
    const what = shown === undefined ? 'something else' : this.nameOf(shown);
    this.deps.overruled(
      this.on.holdOffMs === 0 || (shown === undefined && !this.on.returns)
        ? `Somebody took ${what}.`
        : `Somebody took ${what}. It follows again in ${seconds(this.on.holdOffMs)}.`,
    );
  }

  /** @returns when it has to look again, milliseconds; null: when something changes */
  private follow(t: number): number | null {
    const onAir = this.onAir ?? new Set<string>();
    if (t < this.heldUntil) {
      this.be('heldOff', `Somebody took another picture: it follows again ${seconds(this.on.holdOffMs)} after that.`);
      return this.heldUntil;
    }
    if (onAir.size === 0 && !this.on.returns && !this.comes(t)) {
      this.be('heldOff', 'None of its shots is on air. It follows again when one of them is.');
      return null;
    }
    this.be('follows', '');
    this.sendAhead(onAir);
    const shot = this.shotOf(this.heard.wanted);
    if (shot === null || onAir.has(shot.source)) return null;
    const { taking, tried } = this;
    if (taking !== null && (this.deps.runs(taking.runId) || t <= taking.until)) {
      if (taking.source === shot.source) return taking.until;
      // The camera of a shot that nobody wants any more is not waited for.
      if (!this.mixing()) this.end('Somebody else talks.');
      else return null;
    }
    // A transition of somebody else is left to its end.
    if (this.mixing()) return null;
    const due = this.shotSince + this.on.shortestMs;
    if (t < due) return due;
    if (tried?.source === shot.source && t < tried.t + AGAIN_MS) return tried.t + AGAIN_MS;
    this.tried = { source: shot.source, t };
    const { steps, lasts } = this.stepsTo(shot);
    const { wanted } = this.heard;
    const mic = typeof wanted === 'number' ? this.on.mics[wanted] : undefined;
    const began: Taking = { source: shot.source, runId: '', until: t + lasts + COMES_WITHIN_MS };
    this.taking = began;
    began.runId = this.deps.take(steps, `${this.who()}: ${this.nameOf(shot.source)}.`, mic?.level, (done) => {
      if (this.taking !== began) return;
      // One that failed brings nothing on air: whoever takes that source now is a hand.
      if (done) began.until = this.deps.clock.now() + this.mixMs() + COMES_WITHIN_MS;
      else this.taking = null;
      this.deps.again();
    });
    return began.until;
  }

  /** Whether a shot of its own is on its way: for a moment nothing of it may be on air. */
  private comes(t: number): boolean {
    return this.taking !== null && t <= this.taking.until;
  }

  /** How long its mix takes. */
  private mixMs(): number {
    return this.on.mixFrames * frameMs(this.deps.program().document.show.frameRate);
  }

  private mixing(): boolean {
    return this.deps.board.read(`${this.on.switcher}.mixing`) === true;
  }

  private who(): string {
    const { wanted, many } = this.heard;
    if (typeof wanted === 'number') return `${this.on.mics[wanted]?.name ?? ''} talks`;
    return many === 'several' ? 'Several talk together' : 'Nobody talks';
  }

  private shotOf(wanted: Wanted): Shot | null {
    if (wanted === null) return null;
    return wanted === 'wide' ? this.on.wide : (this.on.mics[wanted] ?? null);
  }

  private sendAhead(onAir: ReadonlySet<string>): void {
    for (const shot of this.shots) {
      const { source } = shot;
      if (onAir.has(source) || this.sent.has(source) || this.taking?.source === source) continue;
      this.sent.add(source);
      const steps = this.recallOf(shot);
      if (steps.length > 0) this.deps.ahead(steps.slice(0, 1), source);
    }
  }

  /** The recall of a shot's position and the wait for it; empty where its camera stands there already, or stays as it is. */
  private recallOf({ source, position }: Shot): readonly Step[] {
    const { board, program } = this.deps;
    const camera = cameraOf(source, program().document);
    return camera === null || position === '' || board.read(`${camera}.arrived`) === position
      ? []
      : recallSteps(camera, position, program().document);
  }

  private stepsTo(shot: Shot): { readonly steps: readonly Step[]; readonly lasts: number } {
    const recall = this.recallOf(shot);
    // While the camera travelled a hand may have begun a mix: that one is left to its end.
    const still: Step[] =
      recall.length === 0
        ? []
        : [
            {
              id: 'still',
              onFail: 'stop',
              kind: 'wait',
              until: `!${this.on.switcher}.mixing`,
              timeoutMs: AGAIN_MS,
            },
          ];
    const waits = [...recall, ...still].flatMap((step) => (step.kind === 'wait' ? [step.timeoutMs] : []));
    return {
      steps: [...recall, ...still, ...takeSteps(this.on, shot.source)],
      lasts: waits.reduce((sum, item) => sum + item, 0) + this.mixMs(),
    };
  }

  private nameOf(key: string): string {
    const { devices, sources, roles } = this.deps.program().document;
    return (
      [...devices, ...sources, ...roles].find((candidate: { readonly key: string }) => candidate.key === key)?.name ??
      key
    );
  }
}

/** Takes each of its shots in turn: what a rehearsal of it shows. */
export const followSteps = ({ on }: Trigger, document: ShowDocument): Step[] =>
  on.kind !== 'voices'
    ? []
    : [...on.mics, ...(on.wide === null ? [] : [on.wide])].map((shot, at): Step => ({
        id: `shot${at}`,
        onFail: 'goOn',
        kind: 'group',
        name: document.sources.find(({ key }) => key === shot.source)?.name ?? shot.source,
        steps: [...recallOfShot(shot, document), ...takeSteps(on, shot.source)],
      }));

const recallOfShot = ({ source, position }: Shot, document: ShowDocument): readonly Step[] => {
  const camera = cameraOf(source, document);
  return camera === null || position === '' ? [] : recallSteps(camera, position, document);
};

/** The camera that is behind a source; null: none that moves. */
export const cameraOf = (source: string, { sources }: ShowDocument): string | null =>
  sources.find(({ key }) => key === source)?.camera ?? null;

function recallSteps(camera: string, position: string, document: ShowDocument): Step[] {
  const device = document.devices.find(({ key }) => key === camera);
  const stored = document.positions.find(({ key }) => key === position);
  if (device === undefined || stored === undefined) return [];
  return [
    { id: 'recall', onFail: 'stop', kind: 'command', device: camera, command: 'recall', params: { position } },
    {
      id: 'arrives',
      onFail: 'stop',
      kind: 'wait',
      until: `${camera}.arrived == "${position}"`,
      timeoutMs: arrivalLimit(document, device, stored),
    },
  ];
}

const takeSteps = ({ switcher, mixFrames }: Voices, source: string): readonly Step[] => {
  const does = (id: string, command: string, params: Extract<Step, { kind: 'command' }>['params']): Step => ({
    id,
    onFail: 'stop',
    kind: 'command',
    device: switcher,
    command,
    params,
  });
  return mixFrames === 0
    ? [does('take', 'program', { source })]
    : [does('next', 'preview', { source }), does('take', 'mix', { frames: mixFrames })];
};

/** The switch that silences a level; null: its device has none. */
function muteOf(level: string, document: ShowDocument): string | null {
  const key = deviceOf(level);
  const device = document.devices.find((candidate) => candidate.key === key);
  const mute = device && pointsOf(device, document)[level.slice(key.length + 1)]?.silentWhile;
  return mute === undefined ? null : `${key}.${mute}`;
}

const deviceOf = (point: string): string => point.slice(0, point.indexOf('.'));

const seconds = (ms: number): string => `${Math.round(ms / 100) / 10} s`;
