/** The live socket: what stations say and are told. */
import { z } from 'zod';
import { type Change, Id, LinkGroup } from '@umbek/core/show';
import { ErrorReply } from './errors';
import { DeviceHealth } from './health';
import type { MeReply } from './joining';
import { Params, PressId, type TakeBackReply } from './presses';

/**
 * What a station shows: the faces of the buttons of these strips, and of the board the keys of these scopes (a device's key, `value`, `chosen`,
 * `onAir` and so on). Nothing else of faces and points is told to it.
 */
const shown = {
  strips: z.array(Id).max(1000),
  scopes: z.array(z.string().min(1).max(60)).max(500),
};

/** First message of a client on the live socket. A client that does not say what it shows is told everything. */
export const Hello = z.strictObject({
  type: z.literal('hello'),
  station: z.string().min(1).max(120),
  person: z.string().max(120).default(''),
  operate: z.boolean().default(true),
  program: z.boolean().default(true),
  /** Station of the show that it acts as: its link group counts, as long as the show has it. */
  claims: Id.nullish(),
  linkGroup: LinkGroup.default('main'),
  /** Panel that it shows. */
  panel: Id.nullish(),
  shows: z.strictObject(shown).optional(),
  /** Where it was when it was here last: it is told all of what it shows, and which edits it missed. */
  resume: z.strictObject({ epoch: z.number(), n: z.number() }).optional(),
});

/** What a page lacks of what a station could use. */
export const LACKS = ['screenOn', 'touch', 'fullScreen', 'midi'] as const;

/** What a page says of the machine that it runs on, for the list of stations. */
export const LiveAbout = z.strictObject({
  type: z.literal('about'),
  /** Left out: this browser does not tell, or there is none. */
  battery: z.strictObject({ percent: z.number().int().min(0).max(100), charging: z.boolean() }).optional(),
  lacks: z.array(z.enum(LACKS)).max(LACKS.length),
});
export type LiveAbout = z.infer<typeof LiveAbout>;

/** Another panel or page is shown now. */
export const LiveShows = z.strictObject({ type: z.literal('shows'), panel: Id.nullish(), ...shown });

export type Shown = { readonly strips: readonly string[]; readonly scopes: readonly string[] };

export const LivePress = z.strictObject({
  type: z.literal('press'),
  pressId: PressId,
  buttonId: z.string().min(1).max(40),
  phase: z.enum(['down', 'hold', 'up']),
  /** Time of the touch on the engine's clock, milliseconds, as `time` told it. A press more than 2 s old is refused. */
  at: z.number().optional(),
  /** Only this step of the button, to try it; one that moves until told otherwise is held. */
  stepId: z.string().min(1).max(40).optional(),
  /** With a step: all that follow it as well. */
  onward: z.boolean().optional(),
  /** Takes this press of the same page back, within ten seconds; `buttonId` then only names it in the as-run. */
  takeBack: PressId.optional(),
  /** Of a value in the hand: what it is turned to; with each renewal anew. */
  value: z.number().optional(),
  /** Id of the shortcut that makes it, for the as-run. */
  shortcut: z.string().min(1).max(40).optional(),
});

/** A command without a button, held and let go like a press. */
export const LiveSend = z.strictObject({
  type: z.literal('send'),
  pressId: PressId,
  phase: z.enum(['down', 'hold', 'up']),
  device: z.string().min(1).max(40),
  command: z.string().min(1).max(60),
  params: Params,
  /** As that of a press. */
  at: z.number().optional(),
});

/** Asks for the engine's time: to learn how far this station's clock is off, and whether the engine can be reached at all. `sent` comes back as it went. */
export const LiveTime = z.strictObject({ type: z.literal('time'), sent: z.number() });

/** Asks what taking this page's last press back would do. */
export const LiveAskBack = z.strictObject({ type: z.literal('askBack') });

/** Buttons and strips that this page is about to change, so that others see it. Empty: none. */
export const LiveSelects = z.strictObject({
  type: z.literal('selects'),
  ids: z.array(z.string().min(1).max(40)).max(200),
});

export const LiveClientMessage = z.discriminatedUnion('type', [
  Hello,
  LiveShows,
  LiveAbout,
  LivePress,
  LiveSend,
  LiveTime,
  LiveAskBack,
  LiveSelects,
]);

export type LiveClientMessage = z.infer<typeof LiveClientMessage>;

export interface LiveRun {
  readonly runId: string;
  readonly name: string;
  readonly buttonId?: string;
  readonly step: string;
  /** Number of the step, from 1; of the steps themselves, not of what follows a stop. */
  readonly stepNumber?: number;
  /**
   * Milliseconds left at the moment of sending: until the end of the run as rehearsed from where it began, below zero once it takes longer
   * than that; as long as that is not known, of the present pause or until the present wait gives up.
   */
  readonly leftMs: number | null;
  readonly ended?: { readonly how: string; readonly why?: string };
  /** A question that it waits for. */
  readonly ask?: { readonly askId: string; readonly question: string };
  /** Of a run that is stepped through: the step that the next touch begins; null while one is under way. */
  readonly next?: { readonly path: string; readonly words: string } | null;
}

export interface LiveFace {
  readonly sign: string | null;
  readonly lost: boolean;
  readonly note: string;
  /** What it says now: its live text filled in, or what the next press of an alternating button does. Left out: the legend as written. */
  readonly legend?: string;
  /** Which set is next goes by what was sent last: the devices tell nothing of it. */
  readonly asSent?: true;
  /** Of a value in the hand: what it is now. */
  readonly value?: number;
  /** What it stands for is not there: its place is empty. */
  readonly away?: true;
  /** The source that it puts on program or preview gives no picture, or one that is black or stands still. */
  readonly picture?: 'none' | 'black' | 'frozen';
}

export type LivePoint = string | number | boolean;

/** What silent devices had said last, by key, with how many milliseconds ago they fell silent: to be shown as such. */
export type LivesLast = Readonly<Record<string, { readonly value: LivePoint; readonly agoMs: number }>>;

/** What another page is about to change. */
export interface LiveOther {
  readonly station: string;
  readonly person: string;
  readonly ids: readonly string[];
}

/** How what has to be kept is kept. */
export interface LiveStores {
  /** What the disk of the as-run, or of the local copy of the show, last said; null while it takes everything. */
  readonly disk: string | null;
  /** False while PostgreSQL does not answer: edits wait, presses go on. */
  readonly database: boolean;
}

/** Which show is open. */
export interface LiveShow {
  readonly id: string;
  readonly name: string;
}

/** An edit as it is told to pages. */
export interface LiveEdit {
  /** Revision of the show after it. */
  readonly revision: number;
  readonly changes: readonly Change[];
}

/**
 * What the server sends. Snapshots and changes count up `n`. `answer` and `run` go at once to the station that pressed, beside the changes
 * that every station gets; taking one twice does no harm.
 */
export type LiveServerMessage =
  | {
      readonly type: 'snapshot';
      readonly epoch: number;
      readonly n: number;
      readonly revision: number;
      /** The show that is open. */
      readonly show: LiveShow;
      readonly points: Readonly<Record<string, LivePoint>>;
      readonly last?: LivesLast;
      readonly faces: Readonly<Record<string, LiveFace>>;
      readonly runs: readonly LiveRun[];
      /** The runs of buttons that ended last, the newest at the end; those that an engine's own end interrupted among them. */
      readonly ended: readonly LiveRun[];
      readonly devices: readonly DeviceHealth[];
      readonly stores: LiveStores;
      /** Edits since the station was here last, where that is known: it need not load the show again. */
      readonly edits?: readonly LiveEdit[];
    }
  | {
      readonly type: 'changes';
      readonly epoch: number;
      readonly n: number;
      readonly points?: Readonly<Record<string, LivePoint | null>>;
      readonly faces?: Readonly<Record<string, LiveFace>>;
      /** Strips and scopes that the station did not show before: all of them stands here, and whatever else was known of them is no longer. */
      readonly anew?: Shown;
      readonly last?: LivesLast;
      /** Runs that began, went on or ended. */
      readonly runs?: readonly LiveRun[];
      readonly devices?: readonly DeviceHealth[];
      readonly stores?: LiveStores;
      readonly revision?: number;
      /** With a revision: the show that is open. */
      readonly show?: LiveShow;
      /** The edits that led to that revision, when they are few enough to be told: a page that has the one before them need not load the show. */
      readonly edits?: readonly LiveEdit[];
    }
  | { readonly type: 'run'; readonly run: LiveRun }
  | {
      readonly type: 'answer';
      readonly pressId: string;
      readonly phase: string;
      readonly accepted: boolean;
      readonly runId?: string | null;
      readonly error?: ErrorReply;
    }
  /** A button asked this station to show a panel, or a page of one; an empty page: the one that was shown last. */
  | { readonly type: 'show'; readonly panel: string; readonly page: string }
  /** What other pages are about to change: all of it, each time it is another. */
  | { readonly type: 'others'; readonly others: readonly LiveOther[] }
  /** What this page may do, at its hello and each time that it changes. */
  | ({ readonly type: 'you'; readonly linkGroup: string } & MeReply)
  /** Of two hands on one device the later one has it: both are told. `mine`: this page took it; otherwise its press is over. */
  | { readonly type: 'taken'; readonly pressId: string; readonly mine: boolean; readonly words: string }
  /** Somebody else works at this page from now on, which is at the engine's own machine and says its name itself. */
  | { readonly type: 'handed'; readonly person: string }
  /** Somebody looks for this station: it shows its name for a moment. */
  | { readonly type: 'flash'; readonly name: string }
  /** What taking the last press back would do, answer to `askBack`; null when there is nothing to take back. */
  | { readonly type: 'back'; readonly back: TakeBackReply | null }
  | {
      readonly type: 'time';
      readonly sent: number;
      /** Milliseconds of the engine's clock, which no time of day steps. */ readonly engine: number;
    }
  | { readonly type: 'error'; readonly error: ErrorReply };
