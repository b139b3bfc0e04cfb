/** A network that died quietly answers nothing: what is read is given up after so long, and asked again by whoever needs it. */
const READ_MS = 15_000;
const POST_MS = 8000;

/** Calls the API: with a body it posts. What is to be done now, and never later, goes by `act`. */
export function ask(path: string, body?: unknown): Promise<Response> {
  return body === undefined
    ? fetch(path, { signal: AbortSignal.timeout(READ_MS) })
    : fetch(path, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify(body),
        signal: AbortSignal.timeout(POST_MS),
      });
}
