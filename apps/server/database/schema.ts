import {
  bigint,
  boolean,
  doublePrecision,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  timestamp,
} from 'drizzle-orm/pg-core';

/** Tables mirror the entities of the show; the names of the columns are those of the schemas in core. */
export const shows = pgTable('show', {
  id: text('id').primaryKey(),
  name: text('name').notNull(),
  frameRate: doublePrecision('frame_rate').notNull(),
  airOutputs: jsonb('air_outputs').notNull().default([]),
  /** How a joystick answers the hand. */
  stick: jsonb('stick').notNull().default({}),
  timeZone: text('time_zone').notNull().default(''),
  revision: integer('revision').notNull().default(1),
  /** Version that the rows of this show are written in. */
  version: integer('version').notNull().default(1),
});

const id = () => text('id').primaryKey();
const showId = () =>
  text('show_id')
    .notNull()
    .references(() => shows.id, { onDelete: 'cascade' });
const order = () => text('order').notNull();

export const devices = pgTable('device', {
  id: id(),
  showId: showId(),
  key: text('key').notNull(),
  name: text('name').notNull(),
  kind: text('kind').notNull(),
  host: text('host').notNull(),
  port: integer('port').notNull(),
  room: text('room').notNull().default(''),
  settings: jsonb('settings').notNull(),
  order: order(),
});

export const sources = pgTable('source', {
  id: id(),
  showId: showId(),
  key: text('key').notNull(),
  name: text('name').notNull(),
  shortName: text('short_name').notNull(),
  family: text('family').notNull(),
  input: integer('input'),
  camera: text('camera'),
  picture: text('picture').notNull().default('none'),
  line: integer('line'),
  order: order(),
});

export const positions = pgTable('position', {
  id: id(),
  showId: showId(),
  key: text('key').notNull(),
  name: text('name').notNull(),
  camera: text('camera').notNull(),
  pan: doublePrecision('pan').notNull(),
  tilt: doublePrecision('tilt').notNull(),
  zoom: doublePrecision('zoom').notNull(),
  focus: doublePrecision('focus'),
  iris: integer('iris'),
  headNumber: integer('head_number'),
  inHead: jsonb('in_head'),
  order: order(),
});

export const values = pgTable('show_value', {
  id: id(),
  showId: showId(),
  key: text('key').notNull(),
  name: text('name').notNull(),
  type: text('type').notNull().default('plain'),
  choices: jsonb('choices').notNull().default([]),
  start: jsonb('start').notNull(),
  atShowStart: text('at_show_start').notNull().default('reset'),
  order: order(),
});

export const panels = pgTable('panel', {
  id: id(),
  showId: showId(),
  name: text('name').notNull(),
  pages: jsonb('pages').notNull().default([]),
  order: order(),
});

export const strips = pgTable('strip', {
  id: id(),
  showId: showId(),
  panelId: text('panel_id').notNull(),
  name: text('name').notNull(),
  family: text('family').notNull(),
  page: text('page').notNull().default(''),
  order: order(),
});

export const buttons = pgTable(
  'button',
  {
    id: id(),
    showId: showId(),
    stripId: text('strip_id').notNull(),
    legend: text('legend').notNull(),
    note: text('note').notNull(),
    mode: text('mode').notNull(),
    guard: text('guard').notNull().default('none'),
    family: text('family'),
    steps: jsonb('steps').notNull(),
    releaseSteps: jsonb('release_steps').notNull(),
    atRelease: text('at_release').notNull().default('steps'),
    sets: jsonb('sets').notNull().default([]),
    additions: jsonb('additions').notNull().default([]),
    dial: jsonb('dial'),
    there: text('there').notNull().default(''),
    picture: text('picture').notNull().default(''),
    shift: boolean('shift').notNull().default(false),
    short: text('short').notNull().default(''),
    icon: text('icon').notNull().default(''),
    lamps: jsonb('lamps').notNull(),
    order: order(),
  },
  (table) => [index('button_strip').on(table.stripId)],
);

export const macros = pgTable('macro', {
  id: id(),
  showId: showId(),
  number: integer('number').notNull(),
  name: text('name').notNull(),
  folder: text('folder').notNull().default(''),
  params: jsonb('params').notNull(),
  steps: jsonb('steps').notNull(),
  stopSteps: jsonb('stop_steps').notNull(),
  atStop: text('at_stop').notNull().default('steps'),
  again: text('again').notNull(),
  owns: jsonb('owns').notNull(),
});

export const profiles = pgTable('profile', {
  id: id(),
  showId: showId(),
  key: text('key').notNull(),
  content: jsonb('content').notNull(),
  order: order(),
});

export const roles = pgTable('role', {
  id: id(),
  showId: showId(),
  key: text('key').notNull(),
  name: text('name').notNull(),
  person: text('person').notNull(),
  source: text('source'),
  order: order(),
});

export const reframes = pgTable('reframe', {
  id: id(),
  showId: showId(),
  key: text('key').notNull(),
  name: text('name').notNull(),
  source: text('source').notNull(),
  x: doublePrecision('x').notNull(),
  y: doublePrecision('y').notNull(),
  scale: doublePrecision('scale').notNull(),
  order: order(),
});

export const people = pgTable('person', {
  id: id(),
  showId: showId(),
  key: text('key').notNull(),
  name: text('name').notNull(),
  title: text('title').notNull(),
  place: text('place').notNull(),
  order: order(),
});

export const shortcuts = pgTable('shortcut', {
  id: id(),
  showId: showId(),
  on: jsonb('pressed').notNull(),
  runs: jsonb('runs').notNull(),
  station: text('station'),
  order: order(),
});

export const stations = pgTable('station', {
  id: id(),
  showId: showId(),
  loose: jsonb('loose').notNull().default([]),
  parts: jsonb('parts').notNull().default([]),
  placed: jsonb('placed').notNull().default([]),
  name: text('name').notNull(),
  place: text('place').notNull(),
  panels: jsonb('panels').notNull(),
  opensOn: text('opens_on'),
  linkGroup: text('link_group').notNull(),
  order: order(),
});

/** `trigger` is a type of PostgreSQL's own. */
export const triggers = pgTable('show_trigger', {
  id: id(),
  showId: showId(),
  name: text('name').notNull(),
  group: text('rule_group').notNull(),
  kind: text('kind').notNull(),
  on: jsonb('occasion').notNull(),
  steps: jsonb('steps').notNull(),
  onlyIf: text('only_if').notNull(),
  delayMs: doublePrecision('delay_ms').notNull(),
  minGapMs: doublePrecision('min_gap_ms').notNull(),
  again: text('again').notNull(),
  atStart: text('at_start').notNull(),
  order: order(),
});

/** What other gear may run, of this installation and of no show. The token itself is stored nowhere. */
export const tokens = pgTable('token', {
  id: id(),
  name: text('name').notNull(),
  /** SHA-256 of the token, in hexadecimal. */
  hash: text('hash').notNull().unique(),
  /** What it may run, or null for every button and macro. */
  may: jsonb('may'),
  /** `bearer`; `link` or `osc` for one that stands in an address. */
  kind: text('kind').notNull().default('bearer'),
  madeAt: timestamp('made_at', { withTimezone: true, precision: 3 }).notNull().defaultNow(),
});

/** Stations that were let in from the network, of this installation and of no show. No key is stored, only hashes of them. */
export const stationKeys = pgTable('station_key', {
  id: id(),
  name: text('name').notNull(),
  person: text('person').notNull().default(''),
  /** What it said of itself when it came in. */
  device: text('device').notNull().default(''),
  rights: jsonb('rights').notNull(),
  /** SHA-256 of its key, of the one that was offered in its place, and of the one before, in hexadecimal. */
  hash: text('hash').notNull(),
  nextHash: text('next_hash'),
  retiredHash: text('retired_hash'),
  keyFrom: timestamp('key_from', { withTimezone: true, precision: 3 }).notNull().defaultNow(),
  joinedAt: timestamp('joined_at', { withTimezone: true, precision: 3 }).notNull().defaultNow(),
  /** Who of the crew is signed in at it, and until when. */
  signedIn: jsonb('signed_in'),
});

/** People who work at this installation. */
export const crewMembers = pgTable('crew_member', {
  id: id(),
  name: text('name').notNull(),
  rights: jsonb('rights').notNull(),
  /** Argon2id of the pass phrase; null: there is none. */
  phrase: text('phrase'),
});

export const setUps = pgTable('set_up', {
  id: id(),
  showId: showId(),
  device: text('device').notNull(),
  savedAt: text('saved_at').notNull(),
  points: jsonb('points').notNull(),
});

/** Recalls that really happened, from which the limits of a head are learned. `path` is what was polled on the way. */
export const travels = pgTable(
  'travel',
  {
    id: text('id').primaryKey(),
    device: text('device').notNull(),
    at: timestamp('at', { withTimezone: true, precision: 3 }).notNull(),
    measuredMs: doublePrecision('measured_ms').notNull(),
    run: jsonb('run').notNull(),
  },
  (table) => [index('travel_device').on(table.device, table.at)],
);

/** Every edit that was taken, in the server's order. */
export const edits = pgTable('edit', {
  editId: text('edit_id').primaryKey(),
  showId: showId(),
  revision: integer('revision').notNull(),
  label: text('label').notNull(),
  changes: jsonb('changes').notNull(),
  /** Version that the changes are written in. */
  version: integer('version').notNull().default(1),
  /** Engineer who made it. */
  by: text('by').notNull().default(''),
  /** Engineer to whom it was handed over, whose undo takes it back; null: whoever made it. */
  owner: text('owner'),
  /** `edit`, or the `undo` or `redo` of one. */
  kind: text('kind').notNull().default('edit'),
  /** True while it is taken back. */
  undone: boolean('undone').notNull().default(false),
  takenAt: timestamp('taken_at', { withTimezone: true }).notNull().defaultNow(),
});

/** Whole shows kept under a name, to be compared with and gone back to. They outlive the show that they were taken of. */
export const versions = pgTable('version', {
  id: id(),
  name: text('name').notNull(),
  by: text('by').notNull(),
  at: timestamp('at', { withTimezone: true, precision: 3 }).notNull().defaultNow(),
  document: jsonb('document').notNull(),
  /** Version that the document is written in. */
  version: integer('version').notNull().default(1),
});

/** Shows of this installation that are not open: each whole, with the content that its values had when it was closed. */
export const closedShows = pgTable('closed_show', {
  id: id(),
  name: text('name').notNull(),
  at: timestamp('at', { withTimezone: true, precision: 3 }).notNull().defaultNow(),
  document: jsonb('document').notNull(),
  values: jsonb('values').notNull(),
  /** Version that the document is written in. */
  version: integer('version').notNull().default(1),
});

/** Projection of the local journal: what it holds can always be read again from there. */
export const asRun = pgTable(
  'as_run',
  {
    seq: bigint('seq', { mode: 'number' }).primaryKey(),
    at: timestamp('at', { withTimezone: true, precision: 3 }).notNull(),
    kind: text('kind').notNull(),
    runId: text('run_id'),
    device: text('device'),
    refused: boolean('refused').notNull().default(false),
    entry: jsonb('entry').notNull(),
  },
  (table) => [index('as_run_run').on(table.runId), index('as_run_kind').on(table.kind, table.seq)],
);

/** How far each journal file has been taken into `as_run`, in bytes. */
export const journalCursors = pgTable(
  'journal_cursor',
  {
    installation: text('installation').notNull(),
    file: text('file').notNull(),
    offset: bigint('offset', { mode: 'number' }).notNull(),
  },
  (table) => [primaryKey({ columns: [table.installation, table.file] })],
);
