import type * as api from '@umbek/protocol';
import { errorsOf } from '@umbek/core/show';
import type { Response } from 'express';
import type { z } from 'zod';

/** Status for a refusal: what the client should have known, what is not there, and what may be otherwise in a moment. */
export const STATUS: Readonly<Record<string, number>> = {
  'unknown-button': 404,
  'unknown-macro': 404,
  'unknown-run': 404,
  'unknown-id': 404,
  'unknown-device': 404,
  'unknown-profile': 404,
  'unknown-version': 404,
  'unknown-edit': 404,
  'unknown-show': 404,
  'device-silent': 409,
  'nothing-chosen': 409,
  'nothing-to-undo': 409,
  'second-touch': 409,
  'too-old': 409,
  'not-held': 409,
  'released-before-press': 409,
  conflict: 409,
  'database-away': 503,
  'foreign-origin': 403,
};

export function refuse(response: Response, error: api.ErrorReply, status = STATUS[error.code] ?? 400): void {
  response.status(status).json(error);
}

/** Several errors: the first one in full, the others beside it. */
export function refuseAll(response: Response, errors: readonly api.ErrorReply[]): void {
  const [first, ...others] = errors;
  response.status(STATUS[first?.code ?? ''] ?? 400).json({ ...first, others });
}

/** The input as its schema has it, or undefined when it was refused. */
export function checked<T extends z.ZodType>(schema: T, input: unknown, response: Response): z.infer<T> | undefined {
  const parsed = schema.safeParse(input ?? {});
  if (parsed.success) return parsed.data;
  const [first] = errorsOf(parsed.error);
  refuse(
    response,
    first ?? { code: 'bad-field', message: 'The body does not fit.', mend: 'See /api/openapi.json.' },
    400,
  );
  return undefined;
}
