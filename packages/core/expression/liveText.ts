import { type AppError, fail, ok, type Result } from '../show/index';
import { compileExpression, type Expression, ExpressionFault, type ReadKey, UNKNOWN } from './expression';

/** Plain text with `{{ CEL }}` in it. */
export interface LiveText {
  readonly reads: readonly string[];
  /** True when what it reads depends on another value: ask `readsNow` after each change. */
  readonly indirect: boolean;
  readsNow(read: ReadKey): readonly string[];
  /** The text now; an unknown part shows as a dash, a faulty one as a question mark. */
  render(read: ReadKey): string;
}

/** Cuts a legend at its `{{ … }}`. A brace left open is an error with its place. */
export function compileLiveText(text: string, path = ''): Result<LiveText, AppError> {
  const parts: (string | Expression)[] = [];
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
    const compiled = compileExpression(rest.slice(open + 2, close).trim(), path);
    if (!compiled.ok) return compiled;
    parts.push(rest.slice(0, open), compiled.value);
    rest = rest.slice(close + 2);
  }
  parts.push(rest);
  const expressions = parts.filter((part) => typeof part !== 'string');
  return ok({
    indirect: expressions.some((part) => part.indirect),
    readsNow: (read) => expressions.flatMap((part) => part.readsNow(read)),
    reads: parts.flatMap((part) => (typeof part === 'string' ? [] : part.reads)),
    render: (read) =>
      parts
        .map((part) => {
          if (typeof part === 'string') return part;
          const value = part.evaluate(read);
          if (value === UNKNOWN) return '–';
          return value instanceof ExpressionFault ? '?' : String(value);
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
