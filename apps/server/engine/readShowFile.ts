import { SHOW_FILE_VERSION, ShowFile } from '@umbek/protocol';
import { compileProgram } from '@umbek/core/engine';
import { type AppError, errorsOf, fail, ok, type Result, type ShowDocument, upgradeShow } from '@umbek/core/show';

/** So many faults of a file are told. */
const MOST_TOLD = 20;

/** A show file as a show of today, or why it was refused: not ours, of a newer making, or with faults of schema, each with its place. Takes as long as the file is large. */
export function readShowFile(body: unknown): Result<ShowDocument, readonly AppError[]> {
  const { format, version } = (typeof body === 'object' && body !== null ? body : {}) as Record<string, unknown>;
  if (format !== 'umbek-show')
    return fail([
      {
        code: 'not-a-show',
        message: 'This is not a show file of Umbek.',
        mend: 'Choose a file that was exported here.',
        path: 'format',
      },
    ]);
  if (typeof version === 'number' && version > SHOW_FILE_VERSION)
    return fail([
      {
        code: 'newer-file',
        message: `This show file has version ${version}; this Umbek reads up to ${SHOW_FILE_VERSION}.`,
        mend: 'Open it with a newer Umbek, or export it from there in the older version.',
        path: 'version',
      },
    ]);
  try {
    const from = typeof version === 'number' ? version : 1;
    const upgraded = upgradeShow((body as { document?: unknown }).document, from);
    const parsed = ShowFile.safeParse({ ...(body as object), version: SHOW_FILE_VERSION, document: upgraded });
    if (!parsed.success) return fail(errorsOf(parsed.error).slice(0, MOST_TOLD));
    const { document } = parsed.data;
    const wrong = compileProgram(document, 1)
      .faults()
      .filter((fault) => fault.weight === 'schema');
    return wrong.length > 0 ? fail(wrong.slice(0, MOST_TOLD)) : ok(document);
  } catch {
    // A file nested thousands of levels deep runs the reader out of stack.
    return fail([
      {
        code: 'too-deep',
        message: 'The file is nested too deep to be read.',
        mend: 'Choose a file that was exported here.',
        path: 'document',
      },
    ]);
  }
}
