import { afterFrame } from './afterFrame';
import { feel } from './haptics';
import type { LivePoint, LiveServerMessage } from '@umbek/protocol';
import type { Topics } from './topics';

/** What a cap shows of its own last press. */
export interface PressState {
  /** `asking`: guarded; a second touch does it. */
  readonly phase: 'sent' | 'working' | 'done' | 'failed' | 'asking';
  readonly why?: string;
  /** The same in so few words that they fit a cap. */
  readonly short?: string;
  /** Another hand took what it moved. */
  readonly taken?: true;
  /** Engine's own time that is left of the present wait or pause, at `since`. */
  readonly leftMs?: number | null;
  /** This page's own clock, milliseconds. */
  readonly since: number;
}

/** What is pressed: a button, one step of it, or a command without a button. */
export type Pressed =
  | {
      readonly type: 'press';
      readonly buttonId: string;
      readonly stepId?: string;
      readonly takeBack?: string;
      readonly shortcut?: string;
      readonly value?: number;
    }
  | {
      readonly type: 'send';
      readonly device: string;
      readonly command: string;
      readonly params: Record<string, LivePoint>;
    };

type Answer = Extract<LiveServerMessage, { type: 'answer' }>;

const DONE_SHOWN_MS = 1200;
const FAILED_SHOWN_MS = 8000;
const ASKING_SHOWN_MS = 3000;
const NO_CONTACT = 'No contact with the engine; nothing was sent.';
const MAY_NOT = 'This station may look, and not operate. Ask somebody who may let others in: Rig, Stations.';
const UNANSWERED = 'Contact was lost before an answer came. It is asked for when contact is back.';
const NOT_DONE = 'Contact was lost, and this press never reached the engine: nothing was done.';

/** Under what name the state of a press is told. */
export const topicOf = (what: Pressed): string =>
  what.type === 'press' ? what.buttonId : `${what.device}.${what.command}`;

/** The presses of this page: which have been answered, and what their caps show. */
export class PressBook {
  private readonly states = new Map<string, PressState>();
  /** What each press means, until its release is answered. */
  private readonly pressed = new Map<string, Pressed>();
  /** Presses whose answer a lost connection took along. */
  private readonly unanswered_ = new Map<string, Pressed>();

  constructor(
    private readonly topics: Topics,
    private readonly now: () => number,
    /** A press was refused, or never reached the engine. */
    private readonly onRefused: (topic: string, why: string) => void,
    /** A press was taken: it may be taken back for a while. @param runId null where it began no run */
    private readonly onTaken: (runId: string | null) => void = () => undefined,
  ) {}

  state(topic: string): PressState | undefined {
    return this.states.get(topic);
  }

  get unanswered(): ReadonlyMap<string, Pressed> {
    return this.unanswered_;
  }

  /** Pressed without contact: nothing goes out, and nothing will. */
  noContact(what: Pressed): void {
    this.tell(topicOf(what), { phase: 'failed', why: NO_CONTACT, short: 'no contact', since: this.now() });
  }

  /** This station may not operate: nothing goes out. */
  mayNot(what: Pressed): void {
    this.tell(topicOf(what), { phase: 'failed', why: MAY_NOT, short: 'may not', since: this.now() });
  }

  sent(pressId: string, what: Pressed): void {
    this.pressed.set(pressId, what);
    const topic = topicOf(what);
    this.states.set(topic, { phase: 'sent', since: this.now() });
    // The cap looks pressed already; drawing it anew would keep that from the screen for a frame.
    afterFrame(() => this.topics.notify(`press:${topic}`));
  }

  /** Contact is lost: nobody knows what became of the presses that have had no answer. */
  contactLost(): void {
    for (const [pressId, what] of this.pressed) {
      if (this.states.get(topicOf(what))?.phase !== 'sent') continue;
      this.unanswered_.set(pressId, what);
      this.tell(topicOf(what), { phase: 'failed', why: UNANSWERED, short: 'no contact', since: this.now() });
    }
    this.pressed.clear();
  }

  /** Two hands are on one device. @param mine this page took it; otherwise its press is over, whatever its finger does. @returns what was pressed */
  taken(pressId: string, mine: boolean, words: string): string | undefined {
    const what = this.pressed.get(pressId);
    if (what === undefined) return undefined;
    const topic = topicOf(what);
    if (!mine) {
      feel('refused');
      this.tell(topic, { phase: 'failed', why: words, short: words, taken: true, since: this.now() });
    }
    return topic;
  }

  answered(answer: Answer): void {
    const { pressId, phase, error } = answer;
    const lost = this.unanswered_.get(pressId);
    if (lost !== undefined) return this.answeredLate(lost, answer);
    const what = this.pressed.get(pressId);
    if (phase === 'up') this.pressed.delete(pressId);
    if (answer.accepted && phase === 'down') this.onTaken(answer.runId ?? null);
    if (answer.accepted || what === undefined || phase !== 'down') return;
    const topic = topicOf(what);
    const why = error ? `${error.message} ${error.mend}` : 'The engine refused it.';
    feel('refused');
    if (error?.code !== 'second-touch') return this.refused(topic, why);
    this.tell(topic, { phase: 'asking', why, short: error.short ?? error.mend, since: this.now() });
  }

  /** A press that was left in doubt was asked for by its release. */
  private answeredLate(what: Pressed, { pressId, phase, runId }: Answer): void {
    if (phase !== 'up') return;
    this.unanswered_.delete(pressId);
    const topic = topicOf(what);
    // Where it began a run, the runs tell what became of it.
    if (runId === null || runId === undefined) this.refused(topic, NOT_DONE);
    else if (this.states.get(topic)?.why === UNANSWERED) this.tell(topic, undefined);
  }

  private refused(topic: string, why: string): void {
    this.tell(topic, { phase: 'failed', why, since: this.now() });
    this.onRefused(topic, why);
  }

  /** After a gap: caps that still count although nothing of theirs runs stop counting. @param going topics of what runs */
  onlyGoing(going: ReadonlySet<string>): void {
    for (const [topic, press] of this.states)
      if ((press.phase === 'working' || press.phase === 'sent') && !going.has(topic)) this.tell(topic, undefined);
  }

  /** @param press undefined when its cap shows nothing of it any more */
  tell(topic: string, press: PressState | undefined): void {
    if (press) this.states.set(topic, press);
    else this.states.delete(topic);
    this.topics.notify(`press:${topic}`);
    const shownMs = press === undefined ? undefined : SHOWN_MS[press.phase];
    if (shownMs === undefined) return;
    setTimeout(() => {
      if (this.states.get(topic) === press) this.tell(topic, undefined);
    }, shownMs);
  }
}

/** For how long a cap shows each of them; what is under way is shown until it is over. */
const SHOWN_MS: Readonly<Record<PressState['phase'], number | undefined>> = {
  sent: undefined,
  working: undefined,
  done: DONE_SHOWN_MS,
  failed: FAILED_SHOWN_MS,
  asking: ASKING_SHOWN_MS,
};
