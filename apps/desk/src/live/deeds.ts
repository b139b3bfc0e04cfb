import { ASKED_AT } from '@umbek/protocol/header';
import { readIdentity } from './identity';

/** An answer that takes longer is not waited for; a file may take longer. */
const ANSWER_MS = 5000;

/** Nothing was sent: there is no contact with the engine. */
export class NoContact extends Error {
  constructor() {
    super('No contact with the engine, so nothing was sent. Try again when it is back.');
  }
}

let askedAt: () => string | null = () => null;

/** The deeds of this page go by this contact. @param read `epoch:milliseconds` of the engine's clock now; null without contact */
export function followContact(read: () => string | null): void {
  askedAt = read;
}

/**
 * Asks the engine to do something now. Without contact nothing is sent; what a network that had died lets through later the engine refuses by its
 * age. Reading goes by `ask`, edits by the edit store, which keeps them.
 * @throws NoContact, or an error when no answer came
 */
export async function act(
  path: string,
  body: unknown = {},
  { method = 'POST', longestMs = ANSWER_MS }: { readonly method?: 'POST' | 'DELETE'; readonly longestMs?: number } = {},
): Promise<Response> {
  const asked = askedAt();
  if (asked === null) throw new NoContact();
  try {
    return await fetch(path, {
      method,
      headers: { [ASKED_AT]: asked, ...(method === 'POST' ? { 'content-type': 'application/json' } : {}) },
      ...(method === 'POST' ? { body: typeof body === 'string' ? body : JSON.stringify(body) } : {}),
      signal: AbortSignal.timeout(longestMs),
    });
  } catch {
    throw new Error('The engine did not answer. Look at what is on air before you try again.');
  }
}

/** Answers the question that a run waits with. @returns the engine's answer */
export const answerAsk = (runId: string, askId: string, answer: 'goOn' | 'stop'): Promise<Response> =>
  act(`/api/runs/${runId}/answer`, { askId, answer, station: readIdentity().station });
