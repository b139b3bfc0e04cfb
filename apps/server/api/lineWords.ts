import type { Outcome, Program, RunEnding } from '@umbek/core/engine';
import type { LineSubject } from '@umbek/core/rehearse';

const OUTCOMES: Readonly<Record<Outcome, string>> = {
  done: 'done',
  sent: 'sent; this device does not confirm',
  refused: 'refused',
  lost: 'no answer; nobody knows whether it was done',
  late: 'no answer to this; nobody knows whether it was done',
};
const ENDINGS: Readonly<Record<RunEnding, string>> = {
  done: 'run done',
  failed: 'run failed',
  stopped: 'run stopped',
  interrupted: 'run interrupted',
};

/** A line of a run in words, with the names of today. */
export function lineWords(what: LineSubject, program: Program): string {
  const name = (key: string): string => program.devices.get(key)?.name ?? key;
  switch (what.kind) {
    case 'step':
      return what.words;
    case 'stepEnd':
      return what.ok ? 'step done' : 'step failed';
    case 'command':
      return `${name(what.device)}: ${program.kindOf(what.device)?.commands[what.command]?.words.toLowerCase() ?? what.command}`;
    case 'accepted':
      return `${name(what.device)}: accepted`;
    case 'outcome':
      return `${name(what.device)}: ${OUTCOMES[what.outcome]}`;
    case 'runStart':
      return 'run begins';
    case 'runEnd':
      return ENDINGS[what.how];
  }
}
