/** Bodies and replies of the API, as schemas: the server checks with them, the OpenAPI document is derived from them, clients infer their types. */
import { z } from 'zod';
import { type Change, Edit, Family, Id, PlainValue, SHOW_VERSION, ShowDocument, Steps } from '@umbek/core/show';

export const ErrorReply = z
  .object({
    code: z.string(),
    message: z.string(),
    mend: z.string(),
    short: z.string().optional(),
    path: z.string().optional(),
  })
  .meta({ id: 'Error', description: 'What is wrong, and what to do about it.' });
export type ErrorReply = z.infer<typeof ErrorReply>;

export const LinkStateSchema = z.enum(['reached', 'silent', 'foreign', 'off']);

export const DeviceHealth = z.object({
  id: z.string(),
  key: z.string(),
  name: z.string(),
  kind: z.string(),
  address: z.string(),
  state: LinkStateSchema,
  lastReplyMs: z
    .number()
    .nullable()
    .meta({ description: 'Milliseconds since the last reply; null when there was none.' }),
  words: z.string(),
  malformed: z.number().meta({ description: 'Datagrams that were not understood.' }),
});
export type DeviceHealth = z.infer<typeof DeviceHealth>;

export const Health = z
  .object({
    status: z.enum(['ok', 'degraded']),
    version: z.string(),
    show: z.object({ id: z.string(), name: z.string() }).nullable(),
    database: z.enum(['reached', 'away']),
    epoch: z.number(),
    /** How the as-run reaches the disk: bytes that wait, entries left out, what the disk last said. */
    disk: z.object({ waiting: z.number(), dropped: z.number(), trouble: z.string().nullable() }),
    /** What failed inside, where, and how often; nothing of it ended anything else. */
    troubles: z.array(z.object({ where: z.string(), words: z.string(), count: z.number() })),
    /** Pages that are connected, and link groups that are kept for them, each with its lamps. */
    live: z.object({ pages: z.number(), groups: z.number() }),
    /** Milliseconds for which the engine's thread has been busy since its process began. */
    busyMs: z.number(),
    devices: z.array(DeviceHealth),
  })
  .meta({ id: 'Health' });
export type Health = z.infer<typeof Health>;

const PressId = Id.meta({ description: 'ULID made by the client, one for each touch.' });

export const PressBody = z
  .strictObject({
    pressId: PressId,
    buttonId: z.string().min(1).max(40),
    phase: z.enum(['down', 'hold', 'up']),
    station: z.string().min(1).max(120),
    person: z.string().max(120).optional(),
    linkGroup: z
      .string()
      .regex(/^[a-zA-Z0-9-]{1,40}$/)
      .optional(),
    at: z
      .number()
      .optional()
      .meta({ description: 'Time of the touch, milliseconds since 1970. A press more than 2 s old is refused.' }),
  })
  .meta({ id: 'Press' });

const Params = z.record(z.string().regex(/^[A-Za-z][A-Za-z0-9]{0,59}$/), PlainValue).default({});

export const SendBody = z
  .strictObject({
    pressId: PressId,
    phase: z.enum(['down', 'hold', 'up']),
    device: z.string().min(1).max(40),
    command: z.string().min(1).max(60),
    params: Params,
    station: z.string().min(1).max(120),
    person: z.string().max(120).optional(),
  })
  .meta({
    id: 'Send',
    description:
      'A command without a button. One that moves until told otherwise is held: renew it within 400 ms, and let go.',
  });

export const TryBody = z
  .strictObject({
    pressId: PressId,
    buttonId: z.string().min(1).max(40),
    stepId: z.string().min(1).max(40),
    phase: z
      .enum(['down', 'hold', 'up'])
      .default('down')
      .meta({ description: 'A step that moves until told otherwise is held: renew it within 400 ms, and let go.' }),
    onward: z.boolean().default(false),
    station: z.string().min(1).max(120),
    person: z.string().max(120).optional(),
  })
  .meta({ id: 'Try', description: 'One step of a button alone, or with all that follow it.' });

export const PressReply = z
  .object({ accepted: z.literal(true), runId: z.string().nullable() })
  .meta({ id: 'PressAccepted' });

export const FaceSchema = z.object({ sign: z.string().nullable(), lost: z.boolean(), note: z.string() });

export const PanelsReply = z
  .object({
    panels: z.array(
      z.object({
        id: z.string(),
        name: z.string(),
        strips: z.array(
          z.object({
            id: z.string(),
            name: z.string(),
            family: Family,
            buttons: z.array(
              z.object({ id: z.string(), legend: z.string(), note: z.string(), mode: z.enum(['press', 'hold']) }),
            ),
          }),
        ),
      }),
    ),
  })
  .meta({ id: 'Panels' });
export type PanelsReply = z.infer<typeof PanelsReply>;

export const RehearseBody = z
  .union([
    z.strictObject({
      buttonId: z.string().min(1).max(40),
      holdMs: z.number().min(0).max(60_000).optional(),
      linkGroup: z.string().max(40).optional(),
    }),
    z.strictObject({
      macroId: z.string().min(1).max(40),
      params: z.record(z.string().max(60), PlainValue).optional(),
      linkGroup: z.string().max(40).optional(),
    }),
  ])
  .meta({ id: 'Rehearse' });

const JournalLine = z.looseObject({ kind: z.string(), t: z.number() });

export const RehearseReply = z
  .object({ durationMs: z.number(), cutOff: z.boolean(), entries: z.array(JournalLine) })
  .meta({
    id: 'Timeline',
    description:
      'The predicted timeline; entries are of the same type as those of the as-run, t counts milliseconds from the press.',
  });

export const LogQuery = z.object({
  before: z.coerce.number().int().min(0).optional(),
  limit: z.coerce.number().int().min(1).max(1000).default(200),
  device: z.string().max(40).optional(),
  kind: z.string().max(200).optional().meta({ description: 'One or more kinds of entry, with commas between.' }),
  person: z.string().max(120).optional().meta({ description: 'Person or station of a press.' }),
});

export const AsRunQuery = z.object({
  after: z.coerce.number().int().min(0).default(0),
  limit: z.coerce.number().int().min(1).max(5000).default(500),
});

export const AsRunReply = z
  .object({ entries: z.array(JournalLine.extend({ seq: z.number(), at: z.string() })), next: z.number() })
  .meta({ id: 'AsRun' });

const LineSubjectSchema = z
  .discriminatedUnion('kind', [
    z.object({ kind: z.literal('step'), stepId: z.string(), path: z.string(), words: z.string() }),
    z.object({ kind: z.literal('stepEnd'), stepId: z.string(), path: z.string(), ok: z.boolean() }),
    z.object({ kind: z.literal('command'), device: z.string(), command: z.string() }),
    z.object({ kind: z.literal('accepted'), device: z.string() }),
    z.object({
      kind: z.literal('outcome'),
      device: z.string(),
      outcome: z.enum(['done', 'sent', 'refused', 'lost', 'late']),
    }),
    z.object({ kind: z.literal('runStart') }),
    z.object({ kind: z.literal('runEnd'), how: z.enum(['done', 'failed', 'stopped', 'interrupted']) }),
  ])
  .meta({ id: 'LineSubject', description: 'What a line of a run is about; equal in a rehearsal and in the run.' });

export const RunReply = z
  .object({
    runId: z.string(),
    name: z.string(),
    rehearsed: z
      .boolean()
      .meta({ description: 'False when nothing is known to hold it against: predicted times are then missing.' }),
    sameOrder: z.boolean(),
    worstMs: z.number().nullable(),
    lines: z.array(
      z.object({
        what: LineSubjectSchema,
        words: z.string().meta({ description: 'The same in words, with the names of today.' }),
        why: z.string().optional().meta({ description: 'Why a step or the run failed, where it did.' }),
        predictedMs: z.number().nullable(),
        realMs: z.number().nullable(),
        errorMs: z.number().nullable(),
      }),
    ),
  })
  .meta({
    id: 'RunComparison',
    description: 'A live run beside its rehearsal; error is real minus predicted, in milliseconds.',
  });

export const RunsReply = z
  .object({ runs: z.array(z.object({ runId: z.string(), name: z.string(), step: z.string(), stopping: z.boolean() })) })
  .meta({ id: 'Runs' });

export const RunStepsBody = z
  .strictObject({
    name: z.string().min(1).max(120),
    steps: Steps.min(1),
    owns: z.array(z.string().min(1).max(40)).max(40).default([]),
    station: z.string().min(1).max(120),
  })
  .meta({ id: 'RunSteps' });
export const StopAllBody = z.strictObject({ station: z.string().min(1).max(120) }).meta({ id: 'StopAll' });
export const StopAheadReply = z
  .object({
    runs: z.array(z.object({ name: z.string(), steps: z.array(z.string()) })),
    holds: z.array(z.object({ legend: z.string(), steps: z.array(z.string()) })),
    moving: z.array(z.string()),
  })
  .meta({ id: 'StopAhead', description: 'What stopping everything now would do.' });
export type StopAheadReply = z.infer<typeof StopAheadReply>;
export const AnswerBody = z
  .strictObject({
    askId: z.string().min(1).max(400),
    answer: z.enum(['goOn', 'stop']),
    station: z.string().min(1).max(120),
  })
  .meta({ id: 'Answer', description: 'The answer to a question that a run waits for.' });
export const BeginShowBody = z
  .strictObject({ station: z.string().min(1).max(120), person: z.string().max(120).optional() })
  .meta({ id: 'BeginShow' });
export const BeginShowReply = z.object({
  reset: z.number().meta({ description: 'Values that went back to their start.' }),
});
export const DeskReply = z
  .looseObject({
    revision: z.number(),
    held: z.array(z.string()).meta({ description: 'Panels whose buttons are in it.' }),
  })
  .meta({
    id: 'DeskShow',
    description: 'The show without macros; of buttons those of the panels, without what they do.',
  });
export const FaultsReply = z
  .object({
    faults: z.array(
      z.object({
        code: z.string(),
        message: z.string(),
        mend: z.string(),
        path: z.string(),
        weight: z.enum(['schema', 'press', 'listed']),
      }),
    ),
  })
  .meta({
    id: 'Faults',
    description: 'What of the show does not hold together. `press`: what it stands in refuses its press.',
  });
export const StopAllReply = z.object({ runs: z.number(), holds: z.number() }).meta({ id: 'Stopped' });
export const StopRunBody = z.strictObject({ station: z.string().min(1).max(120) }).meta({ id: 'StopRun' });
export const EditReply = z
  .object({
    revision: z.number(),
    kept: z
      .array(z.string())
      .default([])
      .meta({ description: 'What an undo left alone, because it was changed since.' }),
    label: z.string().default(''),
    faults: z
      .array(z.object({ message: z.string(), mend: z.string() }))
      .default([])
      .meta({ description: 'What keeps the entries that it touched from doing what they say.' }),
  })
  .meta({ id: 'EditTaken' });
export const EditBody = Edit.meta({ id: 'Edit' });

export const UndoBody = z.strictObject({ by: z.string().max(120) }).meta({ id: 'Undo' });

export const HistoryReply = z
  .object({
    entries: z.array(
      z.object({
        editId: z.string(),
        revision: z.number(),
        label: z.string(),
        by: z.string(),
        at: z.string(),
        kind: z.enum(['edit', 'undo', 'redo']),
        undone: z.boolean(),
      }),
    ),
    undo: z.string().nullable().meta({ description: 'Label of what an undo would revert; null when nothing.' }),
    redo: z.string().nullable(),
  })
  .meta({ id: 'History' });
export type HistoryReply = z.infer<typeof HistoryReply>;

export const VersionBody = z
  .strictObject({ id: z.ulid(), name: z.string().trim().min(1).max(120), by: z.string().max(120).default('') })
  .meta({ id: 'NewVersion', description: 'Keeps the show as it is now under a name.' });
const versionEntry = { id: z.string(), name: z.string(), by: z.string(), at: z.string() };
export const VersionsReply = z
  .object({ versions: z.array(z.object(versionEntry)) })
  .meta({ id: 'Versions', description: 'Newest first.' });
export type VersionsReply = z.infer<typeof VersionsReply>;
export const VersionReply = z.object({ ...versionEntry, document: ShowDocument }).meta({ id: 'Version' });
export type VersionReply = z.infer<typeof VersionReply>;

/** What an exported show is, as a file. */
export const SHOW_FILE_VERSION = SHOW_VERSION;
export const ShowFile = z
  .strictObject({
    format: z.literal('umbek-show'),
    version: z.literal(SHOW_FILE_VERSION),
    savedAt: z.string().max(40),
    document: ShowDocument,
  })
  .meta({ id: 'ShowFile', description: 'A whole show as a file.' });

export const ResetBody = z.strictObject({ to: z.enum(['demo', 'empty']) }).meta({ id: 'Reset' });
export const ReplacedReply = z.object({ revision: z.number(), name: z.string() }).meta({ id: 'Replaced' });

const PlaceSchema = z.object({ pan: z.number(), tilt: z.number(), zoom: z.number() });

/** Recalls of a head that really happened, oldest first. Times are milliseconds; errors are shares (0.02 is 2 %). */
export const TravelReply = z
  .object({
    learned: z
      .object({
        runs: z.object({ pan: z.number(), tilt: z.number(), zoom: z.number() }),
        medianError: z.number(),
        worstError: z.number(),
        p90: z.number(),
      })
      .nullable(),
    limits: z.record(z.string(), z.number()).nullable(),
    lines: z.array(
      z.object({
        at: z.string(),
        from: PlaceSchema,
        to: PlaceSchema,
        measuredMs: z.number(),
        declaredMs: z.number(),
        learnedMs: z.number().nullable(),
      }),
    ),
  })
  .meta({ id: 'Travel' });
export type TravelReply = z.infer<typeof TravelReply>;

const Chance = z.number().min(0).max(1);

/** What goes wrong with a stand-in. Chances are shares of all messages; the delay is the longest, milliseconds. */
export const StandinFaults = z
  .strictObject({
    dropIn: Chance.default(0),
    dropOut: Chance.default(0),
    doubleIn: Chance.default(0),
    doubleOut: Chance.default(0),
    delayMs: z.number().min(0).max(5000).default(0),
    silent: z.boolean().default(false),
    refuse: z.boolean().default(false),
    implausible: z.boolean().default(false),
    babbling: z.boolean().default(false),
    badRate: z.number().int().min(1).max(20_000).default(200),
    seed: z.number().int().min(0).default(1),
  })
  .meta({ id: 'StandinFaults' });
export type StandinFaults = z.infer<typeof StandinFaults>;
export const SimulateBody = z.strictObject({ what: z.string().min(1).max(60) }).meta({ id: 'Simulate' });
export const StandinsReply = z.object({
  standins: z.array(
    z.object({
      key: z.string(),
      name: z.string(),
      faults: StandinFaults,
      malformed: z.number(),
      simulations: z.array(z.object({ what: z.string(), words: z.string() })),
    }),
  ),
});
export type StandinsReply = z.infer<typeof StandinsReply>;

/** What a profile holds that was found whole. */
export const ProfileCheckReply = z.object({ name: z.string(), commands: z.number(), points: z.number() });

/** What is known of one device now, point by point; a point that is missing is unknown. */
export const PointsReply = z.object({ points: z.record(z.string(), z.union([z.string(), z.number(), z.boolean()])) });

export const MessagesReply = z
  .object({
    messages: z.array(
      z.object({ at: z.string(), direction: z.enum(['out', 'in']), words: z.string(), bytes: z.string() }),
    ),
  })
  .meta({
    id: 'Messages',
    description: 'The last 200 messages from and to a device, newest first; heartbeats are kept apart.',
  });

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
  linkGroup: z
    .string()
    .regex(/^[a-zA-Z0-9-]{1,40}$/)
    .default('main'),
  shows: z.strictObject(shown).optional(),
  resume: z.strictObject({ epoch: z.number(), n: z.number() }).optional(),
});

/** Another panel or page is shown now. */
export const LiveShows = z.strictObject({ type: z.literal('shows'), ...shown });
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

/** Header of a deed (all but reading and edits): `epoch:milliseconds` of the engine's clock at which it was asked for. What is more than 2 s old, or meant for an engine that has ended, is refused. */
export const ASKED_AT = 'umbek-asked-at';

/** Asks for the engine's time: to learn how far this station's clock is off, and whether the engine can be reached at all. `sent` comes back as it went. */
export const LiveTime = z.strictObject({ type: z.literal('time'), sent: z.number() });

export const LiveClientMessage = z.discriminatedUnion('type', [Hello, LiveShows, LivePress, LiveSend, LiveTime]);
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
}

export interface LiveFace {
  readonly sign: string | null;
  readonly lost: boolean;
  readonly note: string;
}

export type LivePoint = string | number | boolean;

/** What silent devices had said last, by key, with how many milliseconds ago they fell silent: to be shown as such. */
export type LivesLast = Readonly<Record<string, { readonly value: LivePoint; readonly agoMs: number }>>;

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
      readonly points: Readonly<Record<string, LivePoint>>;
      readonly last?: LivesLast;
      readonly faces: Readonly<Record<string, LiveFace>>;
      readonly runs: readonly LiveRun[];
      /** The runs of buttons that ended last, the newest at the end; those that an engine's own end interrupted among them. */
      readonly ended: readonly LiveRun[];
      readonly devices: readonly DeviceHealth[];
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
      readonly revision?: number;
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
  | {
      readonly type: 'time';
      readonly sent: number;
      /** Milliseconds of the engine's clock, which no time of day steps. */ readonly engine: number;
    }
  | { readonly type: 'error'; readonly error: ErrorReply };
