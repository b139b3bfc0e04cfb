import type { PressState } from '../live/pressBook';

/** What became of a press, in a word; the whole of it where it was refused. */
export function answerOf(press: PressState | undefined): string {
  switch (press?.phase) {
    case 'failed':
    case 'asking':
      return press.why ?? press.short ?? 'refused';
    case 'working':
      return 'running';
    case 'done':
      return 'done';
    default:
      return 'sent';
  }
}
