import type { z } from 'zod';
import type { AppError } from './errors';

/** Turns what Zod found into our errors: the field's path and a mend a person can act on. */
export function errorsOf(error: z.ZodError, prefix = ''): AppError[] {
  return error.issues.map((issue) => {
    const path = [prefix, ...issue.path.map(String)].filter(Boolean).join('.');
    return { code: 'bad-field', message: `${path || 'The body'}: ${issue.message}`, mend: mendOf(issue), path };
  });
}

function mendOf(issue: z.core.$ZodIssue): string {
  switch (issue.code) {
    case 'too_big':
      return `Give at most ${String(issue.maximum)}.`;
    case 'too_small':
      return `Give at least ${String(issue.minimum)}.`;
    case 'unrecognized_keys':
      return `Leave out ${issue.keys.join(', ')}.`;
    case 'invalid_type':
      return `Give a ${issue.expected}.`;
    case 'invalid_value':
      return `Give one of ${issue.values.map(String).join(', ')}.`;
    default:
      return 'Correct this field and send it again.';
  }
}
