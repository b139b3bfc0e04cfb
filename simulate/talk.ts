import type { Effect } from '@umbek/standins';
import { PLAIN_BUTTON, type ShowDocument, type Trigger, type Voices } from '@umbek/core/show';
import type { FileEntry } from '../apps/server/journal/entry';
import type { Chance } from './chance';
import type { SimClient } from './client';
import type { SimMachine } from './machine';
import type { SimDevice } from './net';
import type { SimClock } from './processes';
import type { Meant } from './show';

/** The mixer that hears the microphones of the discussion. */
export const MIXER = 'sound';
/** What changed on the switcher so lately, the rule need not know. */
const KNOWN_MS = 700;
/** And that a mix goes on, where the way is clear. */
const MIX_KNOWN_MS = 100;
/** The rule and a hand within so long of each other: nobody can say whose picture it is. */
const AMBIGUOUS_MS = 2000;
/** Silence of a device is known for sure after so long. */
const SILENT_MS = 2600;
/** A switcher that is well is known after so long; and a shot that failed is tried again after five seconds. */
const AT_REST_MS = 9000;
const ARMINGS = 8;
/** So often one of the rules is edited. */
const RULE_EDITS = 4;
/** So often its levels stand still, and after so many milliseconds a loud one counts as no voice. */
const HANGS = 2;
const STANDS_STILL_MS = 3000;
/** So often the mixer falls silent, beside what else befalls it. */
const SILENCES = 2;

/** What the rules of the simulated show leave as it is. */
export const PLAIN_RULE = {
  group: '',
  onlyIf: '',
  delayMs: 0,
  minGapMs: 0,
  again: 'startOver',
  atStart: 'armed',
  order: 'a0',
} as const;

/** A *follow* rule plays along in each fifth show: two microphones, a shot each. */
export const isDiscussion = (seed: number): boolean => seed % 5 === 3;

/** The rule of a discussion, its times drawn. */
export function talkRule(chance: Chance, document: Pick<ShowDocument, 'sources' | 'positions'>): Trigger {
  const still = document.sources.find(({ camera }) => camera === null);
  const ahead = document.positions.find(({ camera }) => camera === 'lawnCam');
  const mic = (number: number, source: string, position: string) => ({
    name: `mic ${number}`,
    level: `${MIXER}.ch${number}Level`,
    source,
    position,
  });
  return {
    id: '01J0C0RVANEH1TRG0000009101',
    name: 'the discussion',
    kind: 'follow',
    on: {
      kind: 'voices',
      switcher: 'switcher',
      mics: [mic(1, 'deskCam', ''), mic(2, 'lawnCam', chance.is(0.5) ? (ahead?.key ?? '') : '')],
      wide: chance.is(0.5) && still !== undefined ? { source: still.key, position: '' } : null,
      talksDb: -34,
      hysteresisDb: 6,
      attackMs: 200,
      releaseMs: 400,
      togetherMs: 1500,
      nobodyMs: 2500,
      shortestMs: chance.whole(1000, 3000),
      holdOffMs: chance.whole(3000, 6000),
      mixFrames: chance.pick([0, 0, 12]),
      returns: chance.is(0.5),
    },
    steps: [],
    ...PLAIN_RULE,
  };
}

function pressed(rule: Trigger, does: 'arm' | 'disarm'): Meant {
  const id = `${rule.id}.${does}`;
  return { what: 'rule', button: { ...PLAIN_BUTTON, id, stripId: '', legend: does, steps: [], order: 'a0' } };
}

/** What else knows how the devices and the ways to them are. */
interface Ways {
  isWell(device: string): boolean;
  readonly silentSince: ReadonlyMap<string, number>;
  say(what: string): void;
}

/** Who talks, known from the mixer itself, and what the rule may make of it, known from the switcher itself. */
export class Talk {
  /** What somebody does at the microphones now, and since when. */
  private talker: 1 | 2 | null = null;
  private talksSince = 0;
  /** Since when the levels stand still while somebody talks; null: they go on, or nobody did. */
  private hangsSince: number | null = null;
  private hung = false;
  hangs = 0;
  private armed = true;
  private armedSince = 0;
  private program: unknown = undefined;
  private mixingSince: number | null = null;
  /** Whether the mix that goes on is the rule's own. */
  private ownMix = false;
  private effects = 0;
  private last: Effect | undefined;
  /** When the rule's last shot came on air; null: something else came meanwhile that nobody asked for. */
  private ownAt: number | null = null;
  /** When the switcher was last told something by the rule. */
  private ownSentAt = -Infinity;
  /** When a hand put another picture on air, where the way was clear; null: none, or it was not. */
  private handAt: number | null = null;
  private changedAt = 0;
  private readonly ownRuns = new Set<string>();
  private readonly on: Voices;
  shots = 0;
  heldOff = 0;

  constructor(
    private readonly rule: Trigger,
    private readonly clock: SimClock,
    private readonly mixer: SimDevice,
    private readonly machine: SimMachine,
    private readonly document: ShowDocument,
    private readonly ways: Ways,
  ) {
    if (rule.on.kind !== 'voices') throw new Error('A discussion has voices.');
    this.on = rule.on;
  }

  /** People begin and end to talk, and hands arm and disarm the rule. */
  play(
    chance: Chance,
    clients: readonly SimClient[],
    end: number,
    does: {
      readonly tell: (words: string) => void;
      /** When the levels stand still, and for how long: drawn by itself. */
      readonly hanging: Chance;
      /** The mixer falls silent for so long. */
      readonly silence: (ms: number) => void;
      /** A rule is given another name. */
      readonly edit: (rule: string, name: string) => void;
      /** A hand mixes to what stands on preview. */
      readonly mix: (client: SimClient) => void;
    },
  ): void {
    const { tell } = does;
    const others = this.document.triggers.filter(({ kind }) => kind === 'while');
    let inner = this.mixer.inner;
    const say = (): void => {
      // A mixer that hangs hears nothing of it.
      if (!this.hung) void this.mixer.inner.simulate?.(this.talker === null ? 'voicesQuiet' : `voice${this.talker}`);
    };
    const look = (): void => {
      // Switched off and on it has forgotten who talks.
      if (this.mixer.inner !== inner) {
        inner = this.mixer.inner;
        this.talksSince = this.clock.now();
        this.hung = false;
        this.hangsSince = null;
        say();
      }
      this.lookAtShot();
      if (this.clock.now() < end) this.clock.at(this.clock.now() + 200, look);
    };
    const next = (): void => {
      const talker = chance.pick([1, 2, 1, 2, null] as const);
      if (talker !== this.talker) this.talksSince = this.clock.now();
      this.talker = talker;
      tell(talker === null ? 'nobody talks' : `mic ${talker} talks`);
      say();
      // A hand that begins a mix just before the rule would take its shot.
      if (chance.is(0.15)) this.clock.at(this.clock.now() + chance.whole(0, 250), () => does.mix(chance.pick(clients)));
      if (this.clock.now() < end) this.clock.at(this.clock.now() + chance.pick([300, 1500, 4000, 9000, 20_000]), next);
    };
    this.clock.at(this.clock.now() + 100, next);
    this.clock.at(this.clock.now() + 200, look);
    for (let count = 0; count < RULE_EDITS; count += 1)
      this.clock.at(this.clock.now() + 4000 + chance.next() * (end - this.clock.now() - 30_000), () =>
        does.edit(chance.pick([this.rule, ...others]).id, `edited ${count}`),
      );
    const { hanging } = does;
    for (let count = 0; count < HANGS; count += 1)
      this.clock.at(this.clock.now() + 4000 + hanging.next() * (end - this.clock.now() - 30_000), () => {
        if (this.hung) return;
        tell('the levels stand still');
        this.hung = true;
        if (this.talker !== null) this.hangsSince = this.clock.now();
        void this.mixer.inner.simulate?.('voicesHang');
        const { inner: hangs } = this.mixer;
        this.clock.at(this.clock.now() + hanging.whole(4000, 15_000), () => {
          if (this.mixer.inner !== hangs || !this.hung) return;
          tell('the levels go on');
          if (this.hangsSince !== null) this.hangs += 1;
          this.hung = false;
          this.hangsSince = null;
          this.talksSince = this.clock.now();
          say();
        });
      });
    for (let count = 0; count < SILENCES; count += 1)
      this.clock.at(this.clock.now() + 4000 + chance.next() * (end - this.clock.now() - 30_000), () =>
        does.silence(chance.whole(5000, 9000)),
      );
    for (let count = 0; count < ARMINGS; count += 1)
      this.clock.at(this.clock.now() + 8000 + chance.next() * (end - this.clock.now() - 30_000), () => {
        // The follow rule, or one that keeps a caption.
        const rule = chance.is(0.5) ? this.rule : chance.pick(others);
        tell(`${rule.name} is disarmed`);
        chance.pick(clients).press(pressed(rule, 'disarm'), 60, 'up', false);
        this.clock.at(this.clock.now() + chance.whole(500, 9000), () => {
          tell(`${rule.name} is armed`);
          chance.pick(clients).press(pressed(rule, 'arm'), 60, 'up', false);
        });
      });
  }

  /** What the engine tells of itself, as it leaves it. */
  record(entry: FileEntry): void {
    if (entry.kind === 'runStart' && entry.cause.kind === 'trigger' && entry.cause.id === this.rule.id)
      this.ownRuns.add(entry.runId);
    if (entry.kind === 'set' && entry.key === `armed@${this.rule.id}`) {
      this.armed = entry.value === true;
      this.armedSince = this.clock.now();
    }
    if (entry.kind !== 'trigger' || entry.trigger !== this.rule.id) return;
    if (entry.what === 'changed') this.heldOff += 1;
    if (entry.what === 'fired') this.lookAtTaking();
  }

  private get startedAt(): number {
    return this.machine.starts.at(-1) ?? 0;
  }

  private isShot(program: unknown): boolean {
    const source = this.document.sources.find(({ input }) => input === program)?.key;
    return [...this.on.mics, ...(this.on.wide === null ? [] : [this.on.wide])].some((shot) => shot.source === source);
  }

  /** The rule takes a shot at this moment. */
  private lookAtTaking(): void {
    const now = this.clock.now();
    const { ways, on } = this;
    if (!this.armed) ways.say('a follow rule that was disarmed took a shot');
    for (const device of [MIXER, on.switcher]) {
      const since = ways.silentSince.get(device);
      if (since !== undefined && now - Math.max(since, this.startedAt) > SILENT_MS)
        ways.say(`a follow rule took a shot, and ${device} had been silent for ${Math.round(now - since)} ms`);
    }
    // On a way that loses messages the engine hears of the last levels late.
    const still = this.hangsSince === null ? 0 : now - Math.max(this.hangsSince, this.startedAt, this.armedSince);
    if (still > STANDS_STILL_MS + SILENT_MS)
      ways.say(`a follow rule took a shot, and the levels had stood still for ${Math.round(still)} ms`);
    if (now - this.startedAt < on.shortestMs - 1)
      ways.say(`a follow rule took a shot ${Math.round(now - this.startedAt)} ms after the engine had begun`);
    if (!ways.isWell(on.switcher) || !ways.isWell(MIXER)) return;
    if (this.ownAt !== null && now - this.ownAt < on.shortestMs - 1)
      ways.say(`a follow rule took a shot ${Math.round(now - this.ownAt)} ms after its last one`);
    const known = Math.max(this.startedAt, this.armedSince);
    if (this.handAt !== null && known < this.handAt - AT_REST_MS) {
      const ago = now - this.handAt;
      if (ago > KNOWN_MS && ago < on.holdOffMs - 1)
        ways.say(`a follow rule took a shot ${Math.round(ago)} ms after a hand had cut`);
    }
    if (this.mixingSince !== null && !this.ownMix && now - this.mixingSince > MIX_KNOWN_MS)
      ways.say('a follow rule took a shot in the middle of a mix of somebody else');
    const since = now - Math.max(this.changedAt, this.startedAt);
    if (!on.returns && since > AT_REST_MS && !this.isShot(this.program))
      ways.say('a follow rule took a shot although none of its shots was on air');
  }

  private isOwn({ id }: Effect): boolean {
    return this.ownRuns.has(/^e\d+\.(e\d+n\d+)\//.exec(id)?.[1] ?? '');
  }

  /** Looked at after every instant. */
  look(points: Readonly<Record<string, unknown>>, effects: readonly Effect[]): void {
    const now = this.clock.now();
    if (effects.length < this.effects) this.effects = 0;
    for (; this.effects < effects.length; this.effects += 1) {
      const effect = effects[this.effects];
      if (effect !== undefined && ['cut', 'program', 'mix'].includes(effect.command)) this.last = effect;
      if (effect !== undefined && this.isOwn(effect)) this.ownSentAt = now;
    }
    const own = this.last !== undefined && this.isOwn(this.last);
    const mixing = points.mixing === true;
    if (mixing && this.mixingSince === null) {
      this.mixingSince = now;
      this.ownMix = own;
    }
    if (!mixing) this.mixingSince = null;
    if (mixing && !own) this.changedAt = now;
    if (points.program === this.program) return;
    const before = this.program;
    this.program = points.program;
    this.changedAt = now;
    if (own) {
      this.shots += 1;
      this.ownAt = now;
      this.handAt = null;
      return;
    }
    // A hand that takes what the rule is just taking does as the rule wants.
    const both = now - this.ownSentAt < AMBIGUOUS_MS;
    this.ownAt = null;
    // What changes between two pictures that are none of its shots is nothing to it.
    const counts = this.isShot(before) || this.isShot(this.program);
    this.handAt = counts && !both && this.ways.isWell(this.on.switcher) && this.ways.isWell(MIXER) ? now : null;
  }

  /** Whoever has talked for long on a rig without faults is on air, unless a hand spoke against it. */
  private lookAtShot(): void {
    const now = this.clock.now();
    const { on, talker, ways } = this;
    const mic = talker === null ? undefined : on.mics[talker - 1];
    if (mic === undefined || mic.position !== '' || !this.armed || this.mixingSince !== null) return;
    if (this.machine.process?.alive !== true || this.machine.deaths.some((at) => at > now - 2 * AT_REST_MS)) return;
    if (!ways.isWell(on.switcher) || !ways.isWell(MIXER) || this.hung) this.restless = now;
    const since = Math.max(
      this.talksSince,
      this.armedSince,
      this.startedAt,
      this.changedAt + on.holdOffMs,
      this.restless,
    );
    if (now - since < AT_REST_MS + on.shortestMs || (!on.returns && !this.isShot(this.program))) return;
    const source = this.document.sources.find(({ input }) => input === this.program)?.key;
    if (source !== mic.source)
      ways.say(`mic ${talker} has talked for ${Math.round(now - this.talksSince)} ms, and ${String(source)} is on air`);
  }
  private restless = 0;
}
