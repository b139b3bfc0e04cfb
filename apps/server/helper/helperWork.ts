import { learnLimits, PtzSettings } from '@umbek/core/devices';
import { circleFaults, compileProgram, type Program } from '@umbek/core/engine';
import { compare, rehearse } from '@umbek/core/rehearse';
import { applyEdit, type PlainValue } from '@umbek/core/show';
import { readShowFile } from '../engine/readShowFile';
import type { LogReader } from '../journal/logReader';
import type { QuestionName, Questions, Telling } from './helper';

/** State before a run, kept so that the run can be rehearsed afterwards from the same beginning. */
interface Beginning {
  readonly buttonId: string;
  readonly program: Program;
  readonly state: ReadonlyMap<string, PlainValue>;
  readonly settings: ReadonlyMap<string, Record<string, unknown>>;
}
const BEGINNINGS_KEPT = 200;
/** Bounds what a rehearsal may cost that nobody asked for: at some 5 µs an event a few milliseconds. */
const PREDICT_EVENTS = 600;
/** The same for one that somebody asked for: a macro that goes round for ever ends here. */
const ASKED_EVENTS = 200_000;
/** And for a whole evening with its presses. */
const SHOW_EVENTS = 2_000_000;
const DAY_MS = 86_400_000;

/** The work itself, on whatever thread it is. */
export class HelperWork {
  private program: Program | null = null;
  private readonly board = new Map<string, PlainValue>();
  private settings: ReadonlyMap<string, Record<string, unknown>> = new Map();
  private readonly beginnings = new Map<string, Beginning>();

  constructor(private readonly log: LogReader) {}

  tell(telling: Telling): void {
    switch (telling.type) {
      case 'show':
        this.program = compileProgram(telling.document, telling.revision);
        return;
      case 'edit': {
        if (this.program === null) return;
        const changed = applyEdit(this.program.document, telling);
        if (changed.ok) this.program = compileProgram(changed.value, telling.revision, this.program);
        return;
      }
      case 'board':
        for (const [key, value] of telling.changes) {
          if (value === null) this.board.delete(key);
          else this.board.set(key, value);
        }
        return;
      case 'learned':
        this.settings = new Map(telling.settings);
        return;
      case 'runBegan': {
        if (this.program === null) return;
        const { buttonId, runId } = telling;
        this.beginnings.set(runId, {
          buttonId,
          program: this.program,
          state: new Map(this.board),
          settings: this.settings,
        });
        const oldest = this.beginnings.keys().next();
        if (this.beginnings.size > BEGINNINGS_KEPT && !oldest.done) this.beginnings.delete(oldest.value);
      }
    }
  }

  async ask<Name extends QuestionName>(name: Name, question: Questions[Name]['in']): Promise<Questions[Name]['out']> {
    return (await this.answers[name](question)) as Questions[Name]['out'];
  }

  private readonly answers: {
    readonly [Name in QuestionName]: (
      question: Questions[Name]['in'],
    ) => Questions[Name]['out'] | Promise<Questions[Name]['out']>;
  } = {
    rehearse: ({ what, linkGroup, from, watches = false }) => {
      const { program } = this;
      if (program === null) throw new Error('The helper has no show yet.');
      return rehearse({
        program,
        what,
        ...(from === 'start' ? {} : { state: this.board }),
        settings: this.settings,
        watches,
        mostEvents: 'presses' in what ? SHOW_EVENTS : ASKED_EVENTS,
        horizonMs: DAY_MS,
        ...(linkGroup === undefined ? {} : { linkGroup }),
      });
    },
    predictEnd: ({ runId }) => {
      const beginning = this.beginnings.get(runId);
      if (beginning === undefined) return null;
      const { program, buttonId, state, settings } = beginning;
      const predicted = rehearse({ program, what: { buttonId }, state, settings, mostEvents: PREDICT_EVENTS });
      if (!predicted.ok || predicted.value.cutOff) return null;
      return predicted.value.entries.find((entry) => entry.kind === 'runEnd')?.t ?? null;
    },
    compare: ({ runId, real }) => {
      const beginning = this.beginnings.get(runId);
      if (beginning === undefined) return null;
      const { program, buttonId, state, settings } = beginning;
      const predicted = rehearse({ program, what: { buttonId }, state, settings, mostEvents: ASKED_EVENTS });
      return predicted.ok ? compare(predicted.value.entries, real) : null;
    },
    learn: ({ runs, settings }) => learnLimits(runs, PtzSettings.parse(settings)),
    readShow: ({ body }) => readShowFile(body),
    circles: () => (this.program === null ? [] : circleFaults(this.program.document)),
    showText: () => {
      const { program } = this;
      if (program === null) throw new Error('The helper has no show yet.');
      return JSON.stringify({ revision: program.revision, ...program.document });
    },
    logAfter: ({ after, limit }) => this.log.after(after, limit),
    logLatest: ({ filter, limit }) => this.log.latest(filter, limit),
    logRun: ({ runId }) => this.log.run(runId),
  };
}
