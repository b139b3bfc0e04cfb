import { type AppError, fail, ok, type PlainValue, type Result } from '../show/index';
import { compileExpression, type Expression, ExpressionFault, type ReadKey, UNKNOWN } from './expression';

/** A part that is one point or value and nothing else. */
const ONE_KEY = /^[a-z][A-Za-z0-9]*\.[A-Za-z0-9]+$/;

/** Plain text with `{{ CEL }}` in it. */
export interface LiveText {
  readonly reads: readonly string[];
  /** True when what it reads depends on another value: ask `readsNow` after each change. */
  readonly indirect: boolean;
  readsNow(read: ReadKey): readonly string[];
  /**
   * The text now; an unknown part shows as a dash, a faulty one as a question mark.
   * @param says how people read one point, value or selection, such as a timecode or a source; undefined: as it is
   */
  render(read: ReadKey, says?: (key: string, value: PlainValue) => string | undefined): string;
}

/** Cuts a legend at its `{{ … }}`. A brace left open is an error with its place. */
export function compileLiveText(text: string, path = ''): Result<LiveText, AppError> {
  const parts: (string | { readonly of: Expression; readonly key: string | null })[] = [];
  let rest = text;
  for (let open = rest.indexOf('{{'); open >= 0; open = rest.indexOf('{{')) {
    const close = rest.indexOf('}}', open);
    if (close < 0) {
      return fail({
        code: 'bad-live-text',
        message: 'A {{ is never closed.',
        mend: 'Write }} after the expression.',
        path,
      });
    }
    const inside = rest.slice(open + 2, close).trim();
    const compiled = compileExpression(inside, path);
    if (!compiled.ok) return compiled;
    parts.push(rest.slice(0, open), { of: compiled.value, key: ONE_KEY.test(inside) ? inside : null });
    rest = rest.slice(close + 2);
  }
  parts.push(rest);
  const expressions = parts.flatMap((part) => (typeof part === 'string' ? [] : [part.of]));
  return ok({
    indirect: expressions.some((part) => part.indirect),
    readsNow: (read) => expressions.flatMap((part) => part.readsNow(read)),
    reads: expressions.flatMap((part) => part.reads),
    render: (read, says) =>
      parts
        .map((part) => {
          if (typeof part === 'string') return part;
          const value = part.of.evaluate(read);
          if (value === UNKNOWN) return '–';
          if (value instanceof ExpressionFault) return '?';
          const said = part.key === null ? undefined : says?.(part.key, value);
          return said ?? String(value);
        })
        .join(''),
  });
}

const kept = new Map<string, Result<LiveText, AppError>>();

/** The same, parsed once for each text. */
export function compiledLiveText(text: string): Result<LiveText, AppError> {
  let known = kept.get(text);
  if (known === undefined) {
    known = compileLiveText(text);
    if (kept.size >= 20_000) kept.clear();
    kept.set(text, known);
  }
  return known;
}
