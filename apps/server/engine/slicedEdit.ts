import { compileProgram, prepareEntry, type Program } from '@umbek/core/engine';
import { applyEdit, type AppError, type Change, fail, ok, type Result } from '@umbek/core/show';

/** So many changes are worked in at a time: about 5 ms in a show of 5,000 buttons. */
export const CHANGES_A_SLICE = 20;

/** So many entries are compiled at a time where one change touches them: about 3 ms. */
const ENTRIES_A_SLICE = 100;

/** Lets what waits go first: presses, devices, beats. */
export type Breathe = () => Promise<void>;

/**
 * The program after an edit. A large one is worked out in slices, with room for presses between them, and nobody sees a part of it: what comes
 * back is whole, or refused as a whole with every error.
 */
export async function programAfter(
  before: Program,
  changes: readonly Change[],
  breathe: Breathe,
): Promise<Result<Program, readonly AppError[]>> {
  const revision = before.revision + 1;
  // A mark in the history changes nothing, and is a revision all the same.
  if (changes.length === 0) return ok(compileProgram(before.document, revision, before));
  const errors: AppError[] = [];
  const ids = new Set<string>();
  let program = before;
  let changed: ReadonlySet<string> | null | undefined;
  for (let at = 0; at < changes.length; at += CHANGES_A_SLICE) {
    if (at > 0) await breathe();
    const slice = changes.slice(at, at + CHANGES_A_SLICE);
    const applied = applyEdit(program.document, { changes: slice }, at);
    if (!applied.ok) {
      errors.push(...applied.error);
      continue;
    }
    // Once something is wrong the rest is only looked through for more of it.
    if (errors.length > 0) continue;
    program = compileProgram(applied.value, revision, program, changed);
    // One change may touch thousands: what runs the macro, or names the source.
    while (program.compileSome(ENTRIES_A_SLICE)) await breathe();
    changed = program.changedButtons;
    for (const { id } of slice) ids.add(id);
  }
  if (errors.length > 0) return fail(errors);
  if (changes.length > CHANGES_A_SLICE) await breathe();
  const wrong = program.schemaFaults(ids);
  if (wrong.length > 0) return fail(wrong);
  if (changed != null && changed.size > CHANGES_A_SLICE) await prepared(program, [...changed], breathe);
  return ok(program);
}

/** What a press needs is there before the program takes over: going over to it is one piece, and short. */
async function prepared(program: Program, ids: readonly string[], breathe: Breathe): Promise<void> {
  for (const [at, id] of ids.entries()) {
    if (at % CHANGES_A_SLICE === 0) await breathe();
    prepareEntry(id, program);
  }
}
