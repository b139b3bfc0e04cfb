import { execFileSync } from 'node:child_process';

/**
 * How the engine's JavaScript is run. Most buttons are pressed seldom, so that their code would hardly ever get hot by itself:
 * - what was compiled is kept, also when it was not used for an hour;
 * - code is compiled after some dozen presses in place of some hundred: V8 counts the bytes of bytecode that a function has run, and looks
 *   whether to compile it each time this budget is used up (67,584 unless told otherwise). A quarter of a press's time goes by this.
 */
const WANTED = ['--no-flush-bytecode', '--interrupt-budget=2000'];

/** @param known the text of `node --v8-options`: these flags belong to no standard, and Node does not start with one that it does not know */
export const flagsKnown = (known: string, wanted: readonly string[] = WANTED): string[] =>
  wanted.filter((flag) => {
    const name = flag.replace(/^--(no-)?/, '').replace(/=.*$/, '');
    return new RegExp(`^ +--${name} `, 'm').test(known);
  });

/** The flags that this Node knows. */
export function engineFlags(): string[] {
  try {
    return flagsKnown(execFileSync(process.execPath, ['--v8-options'], { encoding: 'utf8', stdio: ['ignore', 'pipe', 'ignore'] }));
  } catch {
    return [];
  }
}
