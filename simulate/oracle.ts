import type { Effect } from '@umbek/standins';
import { scopeOf } from '../apps/server/live/liveRoom';
import type { AsRunEntry, FileEntry } from '../apps/server/journal/entry';
import type { SimClient, SimPress } from './client';
import type { SimMachine } from './machine';
import type { SimDevice } from './net';
import type { SimClock } from './processes';
import { RULED, type SimShow, SWITCHED_OFF } from './show';
import type { Stepping } from './stepped';
import type { Talk } from './talk';

const LEASE_MS = 400;
/** A move ends so long after what allowed it; after a death or a hang it may take longer. */
const STOP_MS = 450;
const STOP_AFTER_DEATH_MS = 700;
/** A stop on a wire that loses messages is said again and again. */
const LOSSY_MS = 1200;
/** A device that was away is found, stopped and read within this after it is back. */
const FOUND_MS = 2600;
/** Silence is known for sure after so long. */
const SILENT_MS = 2600;
/** What a rule keeps is as it should be so long after its condition is known: a second, and what the devices take to say so. */
const RULED_MS = 1800;
/** What changed on the switcher so lately, the engine need not know. */
const KNOWN_MS = 700;
const MIX_MS = 500;
/** A command waits at most 500 ms for its turn, and is said again for at most 1,000 ms; a datagram is under way for 400 ms at most. */
const LATEST_MS = 2000;
/** A delayed datagram is under way for so long at the most. */
const ON_THE_WIRE_MS = 450;

interface HeadTruth {
  /** Length of the list of effects that was looked at. */
  effects: number;
  driven: boolean;
  /** When the head was last told to move, and by what. */
  movedAt: number;
  moves: number;
}

/** The longest length of the show, and what comes of it: trouble that was so long ago had no part in its end. */
const LENGTH_SEARCHED_MS = 6000;

const isMove = ({ command, params }: Effect): boolean =>
  command === 'recall' ||
  command === 'goTo' ||
  command === 'home' ||
  (command === 'drive' && (Number(params.pan ?? 0) !== 0 || Number(params.tilt ?? 0) !== 0));

/** Knows what happened from the devices themselves and from the fingers, never from the engine's points, and says what must not have happened. */
export class Oracle {
  readonly broken: string[] = [];
  readonly entries: FileEntry[] = [];
  private readonly heads = new Map<string, HeadTruth>();
  private programSince = 0;
  private program: unknown = undefined;
  private switcherEffects = 0;
  /** Last moment at which the way to a device was bad. */
  readonly badUntil = new Map<string, number>();
  /** Since when a device cannot be heard; undefined while it can. */
  readonly silentSince = new Map<string, number>();
  private readonly restarted = new Map<string, number>();
  private meteors: number | null = null;
  /** So many presses that count were taken back, or may have been. */
  countsBack = 0;
  private readonly effectsSeen = new Map<string, number>();
  private readonly doneAt = new Map<string, number>();
  private readonly recallMoves = new Map<string, { head: string; moves: number }>();
  leasesEndedByThemselves = 0;
  /** So often a rule held what it was to hold. */
  rulesHeld = 0;
  /** Devices that said what was not so. */
  readonly lied = new Set<string>();
  /** Rules that are disarmed now, and when that was last changed of any of them. */
  private readonly disarmed = new Set<string>();
  private armedAt = -Infinity;
  /** Whoever steps through a macro, where somebody does. */
  stepping: Stepping | null = null;
  /** The discussion, where there is one. */
  talk: Talk | null = null;
  private fired = 0;
  private counted = 0;

  constructor(
    private readonly clock: SimClock,
    private readonly show: SimShow,
    private readonly devices: ReadonlyMap<string, SimDevice>,
    private readonly clients: readonly SimClient[],
    private readonly machine: SimMachine,
  ) {
    for (const head of show.heads) this.heads.set(head, { effects: 0, driven: false, movedAt: -Infinity, moves: 0 });
  }

  /** The parent ended a move: with an engine at work and a clear way to the head, that was the engine's to do. */
  lengthOver(device: string): void {
    const now = this.clock.now();
    const isDisturbed =
      this.machine.process?.alive !== true || this.machine.deaths.some((at) => now - at < LENGTH_SEARCHED_MS);
    if (!isDisturbed && this.isWell(device) && now - (this.badUntil.get(device) ?? -Infinity) > LENGTH_SEARCHED_MS)
      this.say(`the parent ended a move of ${device} whose engine was at work`);
  }

  say(what: string): void {
    const at = `${(this.clock.now() / 1000).toFixed(3)} s`;
    if (this.broken.length < 20) this.broken.push(`${at}: ${what}`);
  }

  restart(device: string): void {
    this.restarted.set(device, this.clock.now());
    const head = this.heads.get(device);
    if (head) Object.assign(head, { driven: false });
  }

  /** What the engine tells of itself, as it leaves it. */
  record(entry: FileEntry): void {
    this.entries.push(entry);
    this.talk?.record(entry);
    if (entry.kind === 'set' && entry.key.startsWith('armed@')) {
      this.armedAt = this.clock.now();
      const rule = entry.key.slice('armed@'.length);
      if (entry.value === true) this.disarmed.delete(rule);
      else this.disarmed.add(rule);
    }
    if (entry.kind === 'set' && entry.key === 'value.meteors') {
      const value = Number(entry.value);
      if (this.meteors !== null && value === this.meteors - 1 && this.countsBack > 0) this.countsBack -= 1;
      else if (this.meteors !== null && value !== this.meteors + 1)
        this.say(`the count went from ${this.meteors} to ${value}`);
      this.meteors = value;
    }
    if (entry.kind === 'press' && entry.phase === 'up' && entry.why === 'The press was no longer renewed.')
      this.leasesEndedByThemselves += 1;
    this.stepping?.record(entry);
    if (entry.kind === 'command') this.command(entry);
    if (entry.kind === 'command' && (entry.command.params.name === SWITCHED_OFF || entry.command.command === 'black'))
      this.say(`a step that is switched off was done: ${entry.command.command}`);
    if (entry.kind === 'trigger' && entry.what === 'fired' && entry.key === 'value.meteors') this.fired += 1;
    if (entry.kind === 'set' && entry.key === 'value.meteors') this.counted += 1;
  }

  /** Looked at after every instant. */
  look(): void {
    const now = this.clock.now();
    this.lookAtEffects(now);
    this.lookAtSwitcher(now);
    for (const [key, truth] of this.heads) this.lookAtHead(key, truth, now);
  }

  /** When each command was done first, to the instant: the devices' own wall clock counts whole milliseconds. */
  private lookAtEffects(now: number): void {
    for (const [key, device] of this.devices) {
      if (device.wire !== 'osc') continue;
      const { effects } = device.inner.report();
      let counted = this.effectsSeen.get(key) ?? 0;
      if (effects.length < counted) counted = 0;
      for (; counted < effects.length; counted += 1) {
        const id = effects[counted]?.id.replace(/^e\d+\./, '') ?? '';
        if (!this.doneAt.has(id)) this.doneAt.set(id, now);
      }
      this.effectsSeen.set(key, counted);
    }
  }

  private lookAtHead(key: string, truth: HeadTruth, now: number): void {
    const device = this.devices.get(key);
    if (device === undefined) return;
    const { effects } = device.inner.report();
    if (effects.length < truth.effects) truth.effects = 0;
    for (; truth.effects < effects.length; truth.effects += 1) {
      const effect = effects[truth.effects];
      if (effect === undefined) break;
      if (effect.command === 'drive' && effect.params.pan !== undefined) truth.driven = isMove(effect);
      if (
        effect.command === 'recall' ||
        effect.command === 'goTo' ||
        effect.command === 'home' ||
        effect.command === 'cancel'
      )
        truth.driven = false;
      if (isMove(effect)) {
        truth.movedAt = now;
        truth.moves += 1;
      }
    }
    if (truth.driven && now > this.mayMoveUntil(key, device, now)) {
      this.say(`${key} still moves and nobody holds it`);
      truth.driven = false;
    }
  }

  /** Until when something that a finger did allows a head to be driven. */
  private mayMoveUntil(key: string, device: SimDevice, now: number): number {
    let until = -Infinity;
    for (const client of this.clients)
      for (let index = client.presses.length - 1; index >= 0; index -= 1) {
        const press = client.presses[index];
        if (press === undefined || press.sentAt < now - 40_000) break;
        until = Math.max(until, allowedBy(press, key) + client.lagMs);
      }
    const bad = this.badUntil.get(key) ?? -Infinity;
    const silent = this.silentSince.get(key);
    const { faults } = device;
    let slack = STOP_MS + 2 * faults.delayMs;
    const died = this.machine.deaths.filter((at) => at > until - 3000 && at <= now);
    if (died.length > 0)
      slack = Math.max(
        slack,
        STOP_AFTER_DEATH_MS + 2 * faults.delayMs,
        Math.max(...died) - until + STOP_AFTER_DEATH_MS,
      );
    if (faults.drop > 0 || faults.implausible || faults.babbling) slack += LOSSY_MS;
    if (silent !== undefined) return Infinity;
    return Math.max(until + slack, bad + FOUND_MS);
  }

  private lookAtSwitcher(now: number): void {
    const device = this.devices.get('switcher');
    if (device === undefined) return;
    const { points, effects } = device.inner.report();
    if (points.program !== this.program || points.mixing === true) {
      this.program = points.program;
      this.programSince = now;
    }
    if (effects.length < this.switcherEffects) this.switcherEffects = 0;
    this.talk?.look(points, effects);
    for (; this.switcherEffects < effects.length; this.switcherEffects += 1) {
      const effect = effects[this.switcherEffects];
      if (effect?.command === 'cut') this.cut(effect, effects);
    }
  }

  /** A cut that waited for something: what it waited for must be true. */
  private cut(effect: Effect, effects: readonly Effect[]): void {
    const [, run = '', path = ''] = /^e\d+\.(e\d+n\d+)\/(.*)$/.exec(effect.id) ?? [];
    const meant = this.meantOf(run);
    if (meant?.what === 'mixCut' && path === 'steps.2') {
      const at = effects.findIndex(({ id }) => id.endsWith(`${run}/steps.0`));
      const mix = effects[at];
      const between = effects
        .slice(at + 1, effects.indexOf(effect))
        .some(({ command }) => ['cut', 'program', 'mix'].includes(command));
      if (mix !== undefined && !between && effect.at - mix.at < MIX_MS - 1)
        this.say(`a cut came ${Math.round(effect.at - mix.at)} ms after its mix had begun`);
    }
    if (meant?.what === 'recallCut' && meant.head !== undefined) {
      const recall = this.recallMoves.get(run);
      const truth = this.heads.get(meant.head);
      const device = this.devices.get(meant.head);
      if (recall === undefined || truth === undefined || device === undefined) return;
      // Moved by something else meanwhile, or switched off and on: no arrival of this recall.
      if (truth.moves > recall.moves + 2 || (this.restarted.get(meant.head) ?? -1) > this.clock.now() - 15_000) return;
      const points = device.points();
      const step = meant.button.steps[0];
      const goal = this.show.document.positions.find(
        (position) => step?.kind === 'command' && position.key === step.params.position,
      );
      if (goal === undefined) return;
      const off = Math.max(Math.abs(Number(points.pan) - goal.pan), Math.abs(Number(points.tilt) - goal.tilt));
      if (off > 0.5 && truth.moves <= recall.moves + 1)
        this.say(`a cut came while ${meant.head} was ${off.toFixed(1)}° from its goal`);
    }
  }

  /** Whether a head looks where a position is, by the head itself. */
  private standsAt(head: string, position: unknown): boolean {
    const goal = this.show.document.positions.find((candidate) => candidate.key === position);
    const points = this.devices.get(head)?.points();
    if (goal === undefined || points === undefined || points.travelling === true) return false;
    const near = (point: 'pan' | 'tilt'): boolean => Math.abs(Number(points[point]) - goal[point]) <= 0.5;
    return near('pan') && near('tilt') && Math.abs(Number(points.zoom) / goal.zoom - 1) <= 0.03;
  }

  /** Nothing is wrong with the way to a device, and has not been for a while. */
  isWell(key: string): boolean {
    return !this.silentSince.has(key) && (this.badUntil.get(key) ?? -Infinity) < this.clock.now() - FOUND_MS;
  }

  /** Some time after a value was let go on a clear way: the head was told it last, or somebody was told why not. @returns whether it was turned at all */
  lookAtDial(press: SimPress, value: number): boolean {
    if (press.answers.get('down')?.startsWith('accepted') !== true || press.answers.get('up') === undefined)
      return false;
    const records = this.entries.filter(
      (entry): entry is Extract<AsRunEntry, { kind: 'command' }> =>
        entry.kind === 'command' && entry.command.command === 'iris',
    );
    const last = records.at(-1);
    const outcome = this.entries.find((entry) => entry.kind === 'outcome' && entry.commandId === last?.commandId);
    if (last?.command.params.iris !== value)
      this.say(`iris was let go at ${value}, and what went out last was ${String(last?.command.params.iris)}`);
    else if (outcome?.kind === 'outcome' && outcome.outcome !== 'done' && /^Cancelled/.test(outcome.why ?? ''))
      this.say(`iris was let go at ${value}, and was called back before it went out`);
    else if (outcome?.kind === 'outcome' && outcome.outcome === 'done') {
      const done = this.devices
        .get('deskCam')
        ?.allEffects()
        .filter(({ command }) => command === 'iris')
        .at(-1);
      if (done?.params.iris !== value) this.say(`iris was let go at ${value} and is ${String(done?.params.iris)}`);
    }
    return true;
  }

  private meantOf(runId: string) {
    const start = this.entries.find((entry) => entry.kind === 'runStart' && entry.runId === runId);
    if (start?.kind !== 'runStart') return undefined;
    return this.show.meant.find(({ button }) => button.id === start.buttonId);
  }

  /** A command that goes out: was it allowed to be seen? */
  private command(entry: Extract<AsRunEntry, { kind: 'command' }>): void {
    const head = this.heads.get(entry.device);
    if (head === undefined || !['nudge', 'drive', 'recall', 'goTo', 'home'].includes(entry.command.command)) return;
    const run = this.entries.find((fileEntry) => fileEntry.kind === 'runStart' && fileEntry.runId === entry.runId);
    if (run?.kind !== 'runStart') return;
    if (entry.command.command === 'recall') this.recallMoves.set(run.runId, { head: entry.device, moves: head.moves });
    const device = this.machine.host?.engine.program.devices.get(entry.device);
    const source = this.machine.host?.engine.program.document.sources.find(
      (candidate) => candidate.camera === entry.device,
    );
    if (device?.settings.onAirMoves !== 'secondTouch' || source?.input !== this.program) return;
    const now = this.clock.now();
    // A state that gets lost is missed at the next beat, and read anew: on a way that loses a quarter, three times in four within a second.
    const known = KNOWN_MS + ((this.devices.get('switcher')?.faults.drop ?? 0) > 0 ? LOSSY_MS : 0);
    if (now - this.programSince < known || run.cause.kind !== 'press') return;
    const press = this.entries.find((fileEntry) => fileEntry.kind === 'press' && fileEntry.pressId === run.cause.id);
    if (press?.kind !== 'press') return;
    const asked = this.entries.some(
      (fileEntry) =>
        fileEntry.kind === 'refusal' &&
        fileEntry.error.code === 'second-touch' &&
        fileEntry.buttonId === press.buttonId &&
        fileEntry.station === press.station,
    );
    // Where it really stands already, a recall moves nothing.
    if (!asked && entry.command.command === 'recall' && this.standsAt(entry.device, entry.command.params.position))
      return;
    if (!asked) this.say(`${entry.device} was moved on air without a second touch (${entry.command.command})`);
  }

  /** Looked at now and then: what the engine shows of a device that nobody hears. */
  lookAtPoints(): void {
    const { host, starts, process } = this.machine;
    if (host === null || process === null || !process.alive) return;
    const now = this.clock.now();
    const began = starts.at(-1) ?? now;
    for (const [key, since] of this.silentSince) {
      if (now - Math.max(since, began) < SILENT_MS || this.machine.deaths.some((at) => now - at < SILENT_MS)) continue;
      const device = host.engine.program.devices.get(key);
      if (device === undefined || device.kind === 'tallyOut' || device.kind === 'generic') continue;
      const known = [...host.engine.board.entries()].filter(
        ([name]) => name.startsWith(`${key}.`) && name !== `${key}.reached`,
      );
      if (known.length > 0 || host.engine.board.read(`${key}.reached`) !== false)
        this.say(`${key} has been silent for ${Math.round(now - since)} ms and its points are still known`);
    }
  }

  /** Looked at now and then, where nothing has been wrong for a while: layer 1 shows what the rules keep there for what is on air, and nothing else. */
  lookAtRules(): void {
    const { host, starts, process } = this.machine;
    const now = this.clock.now();
    const quiet = now - RULED_MS;
    if (host === null || process?.alive !== true || (starts.at(-1) ?? now) > quiet - FOUND_MS) return;
    if (this.machine.deaths.some((at) => at > quiet - FOUND_MS) || this.programSince > quiet) return;
    for (const key of ['captions', 'switcher'])
      if (!this.isWell(key) || (this.badUntil.get(key) ?? -Infinity) > quiet - FOUND_MS) return;
    const points = this.devices.get('captions')?.points() ?? {};
    const source = this.show.document.sources.find(({ input }) => input === this.program)?.key;
    const keeps = source === 'deskCam' || source === 'lawnCam' ? RULED[source] : undefined;
    // A device that lied about a caption may have made it somebody's, for all that anybody can know.
    if (this.armedAt > quiet || this.lied.has('captions')) return;
    const wanted = keeps !== undefined && !this.disarmed.has(keeps.rule) ? keeps.template : '';
    const shown = points.layer1Up === true ? String(points.layer1Template).split(':')[0] : '';
    if (shown !== wanted)
      this.say(`${String(source)} is on air, and layer 1 shows "${String(shown)}" in place of "${wanted}"`);
    if (wanted !== '') this.rulesHeld += 1;
  }

  /** Two runs that own one device never both work on it: the older one's own steps end with the younger one's beginning. */
  private lookAtOwners(): void {
    const owning = new Set(
      this.show.meant.flatMap(({ button, what }) => (what === 'macro' || what === 'owner' ? [button.id] : [])),
    );
    if (this.show.document.macros.some((macro) => macro.owns.length === 0)) return;
    let owner: string | null = null;
    const before = new Set<string>();
    for (const entry of this.entries) {
      if (entry.kind === 'runStart' && entry.buttonId !== undefined && owning.has(entry.buttonId)) {
        if (owner !== null) before.add(owner);
        owner = entry.runId;
      }
      // What waited for the end of another may begin and lose the device again at one moment, to the one that took it.
      if (entry.kind === 'stepEnd' && entry.runId === owner && !entry.ok && / took \w+\.$/.test(entry.why ?? '')) {
        owner = null;
        before.clear();
      }
      if (entry.kind !== 'command' || entry.runId === undefined || !before.has(entry.runId)) continue;
      if (/\/steps\.0\.macro\./.test(entry.commandId))
        this.say(`${entry.runId} still works on ${entry.device}, which ${String(owner)} has taken`);
    }
  }

  /** When it is quiet, each page knows of what it shows exactly what the engine does. */
  lookAtPages(): void {
    const { host } = this.machine;
    if (host === null) return;
    for (const client of this.clients) {
      if (!client.connected) continue;
      const { strips, scopes } = client.shown;
      const lamps = host.engine.lamps(client.linkGroup);
      const truth = new Map<string, unknown>(
        [...host.engine.board.entries()].filter(([key]) => scopes.includes(scopeOf(key))),
      );
      for (const [id, face] of lamps.all()) if (strips.includes(lamps.stripOf(id) ?? '')) truth.set(id, face);
      for (const [key, value] of truth) {
        const known = client.points.get(key) ?? client.faces.get(key);
        if (JSON.stringify(known) !== JSON.stringify(value))
          this.say(`${client.name} shows ${key} as ${JSON.stringify(known)} and it is ${JSON.stringify(value)}`);
      }
      for (const key of client.points.keys())
        if (!truth.has(key)) this.say(`${client.name} still shows ${key}, which nobody knows`);
    }
  }

  /** When all is over, healed and quiet. */
  close(): void {
    for (const client of this.clients) this.broken.push(...client.faults);
    for (const client of this.clients)
      for (const press of client.presses)
        if (press.clear && !press.answers.has('down'))
          this.say(
            `press ${press.pressId} (${press.meant.what}, sent at ${(press.sentAt / 1000).toFixed(3)} s by ${press.station}) was never answered`,
          );
    for (const client of this.clients)
      for (const press of client.presses)
        if (press.upFirst && press.answers.get('down')?.startsWith('accepted') === true)
          this.say(`press ${press.pressId} was carried out although its release had come before it`);
    if (this.fired > this.counted)
      this.say(`a rule fired ${this.fired} times for ${this.counted} changes of what it goes by`);
    this.lookAtOwners();
    const open = new Set<string>();
    const commands = new Map<string, string>();
    const outcomes = new Map<string, string>();
    const silences: { readonly t: number; readonly device: string }[] = [];
    const times = new Map<string, { asked: number; outcomeAt: number }>();
    for (const entry of this.entries) {
      if (entry.kind === 'runStart') open.add(entry.runId);
      if (entry.kind === 'runEnd') open.delete(entry.runId);
      if (entry.kind === 'device' && entry.state === 'silent') silences.push({ t: entry.t, device: entry.device });
      if (entry.kind === 'command') {
        if (commands.has(entry.commandId)) this.say(`command ${entry.commandId} went out twice`);
        commands.set(entry.commandId, entry.device);
        times.set(entry.commandId, { asked: entry.t, outcomeAt: Infinity });
      }
      if (entry.kind === 'outcome') {
        outcomes.set(entry.commandId, entry.outcome);
        const time = times.get(entry.commandId);
        if (time && entry.outcome === 'done') time.outcomeAt = entry.t;
      }
    }
    for (const run of open) this.say(`run ${run} has no end`);
    for (const [id] of commands) if (!outcomes.has(id)) this.say(`command ${id} has no outcome`);
    for (const [key, device] of this.devices) {
      if (device.wire !== 'osc' && device.wire !== 'http') continue;
      const done = new Map<string, number>();
      for (const { id } of device.allEffects()) done.set(id, (done.get(id) ?? 0) + 1);
      for (const [id, times] of done) {
        const own = id.replace(/^e\d+\./, '');
        if (!commands.has(own)) this.say(`${key} did ${id}, which no entry tells of`);
        if (times > 1 && !['lost', 'late'].includes(outcomes.get(own) ?? '') && !this.restarted.has(key))
          this.say(`${key} did ${id} ${times} times`);
      }
      for (const [id, outcome] of outcomes)
        if (
          outcome === 'done' &&
          commands.get(id) === key &&
          ![...done.keys()].some((candidate) => candidate.endsWith(`.${id}`))
        )
          this.say(`${key}: ${id} is told as done and was not`);
    }
    for (const [id, at] of this.doneAt) {
      const time = times.get(id);
      if (time === undefined) continue;
      if (at > time.outcomeAt) this.say(`${id} was told as done ${(at - time.outcomeAt).toFixed(2)} ms before it was`);
      // What was asked of a device that fell silent then is told as not done: only what was on the wire already may still get there.
      const silent = silences.find(({ t, device }) => device === commands.get(id) && t > time.asked);
      if (silent !== undefined && at > silent.t + ON_THE_WIRE_MS)
        this.say(`${id} was done ${Math.round(at - silent.t)} ms after its device had been given up as silent`);
      if (at > time.asked + LATEST_MS)
        this.say(`${id} was done ${Math.round(at - time.asked)} ms after it was asked for: it burst out later`);
    }
    const value = this.machine.host?.engine.board.read('value.meteors');
    if (this.meteors !== null && value !== this.meteors)
      this.say(`the count is ${String(value)}, and was ${this.meteors}`);
    const visited = new Set<number>();
    for (const { seq } of this.entries) {
      if (visited.has(seq) && seq > 0) this.say(`entry ${seq} stands twice`);
      visited.add(seq);
    }
  }
}

/** Until when a press allows its head to be driven. */
function allowedBy({ meant, heldUntil, arrivesAt }: SimPress, head: string): number {
  if (meant.what === 'nudgeChosen') return heldUntil + LEASE_MS;
  if (meant.head !== head) return -Infinity;
  if (meant.what === 'nudge') return heldUntil + LEASE_MS;
  const step = meant.button.steps[0];
  if (meant.what === 'length' && step?.kind === 'command') return arrivesAt + Number(step.params.forSeconds) * 1000;
  return -Infinity;
}
