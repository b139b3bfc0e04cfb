/** The shortcuts of a show as other tools read them. */
import { Shortcut } from '@umbek/core/show';
import { z } from 'zod';

export const ShortcutsReply = z.array(
  z.object({
    id: z.string(),
    kind: z.enum(['key']),
    /** What is pressed, in words. */
    words: z.string(),
    runs: Shortcut.shape.runs,
    /** Ids of the others on the same key: of all of them the first in the order of the show counts. */
    clashes: z.array(z.string()),
  }),
);
export type ShortcutsReply = z.infer<typeof ShortcutsReply>;
