import type { Response } from 'express';
import { UnreadableVersion } from '../database/versionStore';
import { refuse } from './respond';

/** Does what needs the database: whatever it throws while it is away is refused in words. @param message what cannot be done without it */
export async function guarded(response: Response, message: string, work: () => Promise<void>): Promise<void> {
  try {
    await work();
  } catch (error) {
    if (error instanceof UnreadableVersion)
      return refuse(response, {
        code: 'unreadable-version',
        message: `${error.message} was kept by an older version of Umbek and cannot be read here.`,
        mend: 'Open it with that version of Umbek and export it there.',
        path: 'id',
      });
    refuse(response, { code: 'database-away', message, mend: 'Try again when it is back.' });
  }
}
