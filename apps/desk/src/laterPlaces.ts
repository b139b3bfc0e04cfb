const fetchThem = () => import('./places');
export type Places = Awaited<ReturnType<typeof fetchThem>>;

/** What did not come is asked for again: a phone that was out of reach for a moment must not lack a place for the rest of the evening. */
const AGAIN_MS = 5000;

/** The places, as soon as they come: what failed once is asked for until it is there, so that no part of the page is lost for good. */
export async function laterPlaces(): Promise<Places> {
  for (;;) {
    try {
      return await fetchThem();
    } catch {
      await new Promise((next) => setTimeout(next, AGAIN_MS));
    }
  }
}
