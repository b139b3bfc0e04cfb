import { z } from 'zod';
import { type Change, Id, type Macro, PLAIN_BUTTON, type ShowDocument } from '../show/index';
import { broughtAlong, type Match, matchesOf, Needs, needsOf } from './exchange/index';

const FORMAT = 'umbek-macros';
const VERSION = 1;
const MOST_MACROS = 5000;

/** Macros as a file, with what they need of another show. */
export const MacroFile = z.strictObject({
  format: z.literal(FORMAT),
  version: z.number().int().min(1),
  /** Ids of those that the file is about; the others among its needs are run by them. */
  macros: z.array(Id).min(1).max(MOST_MACROS),
  needs: Needs,
});
export type MacroFile = z.infer<typeof MacroFile>;

export function macroFile(document: ShowDocument, macros: readonly Macro[]): MacroFile {
  const runs = macros.map(({ id }) => ({
    ...PLAIN_BUTTON,
    legend: '',
    steps: [{ id: 'run', onFail: 'stop' as const, kind: 'run' as const, macro: id, params: {} }],
  }));
  return { format: FORMAT, version: VERSION, macros: macros.map(({ id }) => id), needs: needsOf(document, runs) };
}

/** What a text holds, or why it is no file of macros, in words. */
export function readMacroFile(text: string): { readonly file: MacroFile } | { readonly words: string } {
  let content: unknown;
  try {
    content = JSON.parse(text);
  } catch {
    return { words: text.trim() === '' ? 'The file is empty.' : 'The file holds no Umbek macros.' };
  }
  const kind = typeof content === 'object' && content !== null ? (content as Record<string, unknown>) : {};
  if (kind.format === 'umbek-show') return { words: 'This is a whole show. Import it in the Rig, under Show.' };
  if (kind.format === 'umbek-buttons') return { words: 'These are buttons. Put them in under Panels.' };
  if (kind.format !== FORMAT) return { words: 'The file holds no Umbek macros.' };
  if (typeof kind.version === 'number' && kind.version > VERSION)
    return { words: 'The file comes from a newer Umbek. Save it from this one.' };
  try {
    const read = MacroFile.safeParse(content);
    if (read.success) return { file: read.data };
    return {
      words: `The file is damaged at ${read.error.issues[0]?.path.join('.') ?? 'its beginning'}. Save it again.`,
    };
  } catch {
    // Steps inside steps without an end.
    return { words: 'The file is damaged at its steps, which are nested too deep. Save it again.' };
  }
}

/** What stands in a show for what these macros name, as a first guess. They themselves always come, also where the same is here already. */
export const macroMatches = ({ macros, needs }: MacroFile, show: ShowDocument): Match[] => {
  const own = new Set(macros);
  return matchesOf(needs, show).map((match) =>
    match.table === 'macros' && own.has(match.key) ? { ...match, to: 'bring', sure: true } : match,
  );
};

/**
 * The changes that bring the macros of a file into a show.
 * @returns with the id of the first of them there
 */
export function macrosBrought(
  show: ShowDocument,
  { macros, needs }: MacroFile,
  matches: readonly Match[],
  newId: () => string,
): { readonly changes: Change[]; readonly first: string | null } {
  const { changes } = broughtAlong(show, needs, matches, newId);
  const name = needs.macros.find(({ id }) => id === macros[0])?.name;
  const made = changes.flatMap(({ entity, to }) => (entity === 'macros' ? [to as Macro] : []));
  return { changes, first: made.find((candidate) => candidate.name === name)?.id ?? null };
}
