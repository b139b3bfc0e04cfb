/**
 * An error as a value: what is wrong, in words, with the mend beside it. Nothing in the core throws for bad input.
 */
export interface AppError {
  /** Stable machine name, kebab case. */
  readonly code: string;
  /** What happened, one sentence in plain words. */
  readonly message: string;
  /** What to do about it. */
  readonly mend: string;
  /** The same in so few words that they fit a cap. */
  readonly short?: string;
  /** Where: a field path such as `macros.2.steps.0.until`. */
  readonly path?: string;
}

/** Either a value or the list of everything that is wrong with the input. */
export type Result<T, E = readonly AppError[]> =
  { readonly ok: true; readonly value: T } | { readonly ok: false; readonly error: E };

export const ok = <T>(value: T): { readonly ok: true; readonly value: T } => ({ ok: true, value });
export const fail = <E>(error: E): { readonly ok: false; readonly error: E } => ({ ok: false, error });

/** Words and mend for a switch that met a value its type rules out: a programming error, so it throws. */
export function unreachable(value: never): never {
  throw new Error(`A case was forgotten: ${JSON.stringify(value)}`);
}
