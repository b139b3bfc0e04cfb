/** What is wrong, as every route says it. */
import { z } from 'zod';

export const ErrorReply = z
  .object({
    code: z.string(),
    message: z.string(),
    mend: z.string(),
    short: z.string().optional(),
    path: z.string().optional(),
  })
  .meta({ id: 'Error', description: 'What is wrong, and what to do about it.' });

export type ErrorReply = z.infer<typeof ErrorReply>;
