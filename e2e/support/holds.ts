/** The limit is for what never comes: a busy machine takes its time. */
const LIMIT_MS = 30_000;

/** Waits until something holds in this process. For what a page or an engine says, see `until`. */
export async function holds(what: () => boolean): Promise<void> {
  for (const end = Date.now() + LIMIT_MS; !what();) {
    if (Date.now() > end) throw new Error(`Waited ${LIMIT_MS} ms in vain.`);
    await new Promise((next) => setTimeout(next, 5));
  }
}
