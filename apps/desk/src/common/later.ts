import { useEffect, useState } from 'react';

/** What did not come is asked for again: a phone that was out of reach for a moment must not lack a part of the page for the rest of the evening. */
const AGAIN_MS = 5000;

/** A part of the page that is fetched when it is needed, or soon after the Desk stands. */
export class Later<T> {
  private there: T | null = null;

  constructor(private readonly fetchIt: () => Promise<T>) {}

  /** The part, when it has come already. */
  now = (): T | null => this.there;

  /** The part as soon as it comes: what failed once is asked for until it is there, so that nothing is lost for good. */
  async come(): Promise<T> {
    for (;;) {
      try {
        return (this.there ??= await this.fetchIt());
      } catch {
        await new Promise((next) => setTimeout(next, AGAIN_MS));
      }
    }
  }
}

/**
 * A part of the page, or null until it comes. A plain state and no suspense: what is suspended is drawn with the least weight, and on a page
 * that hears of the engine many times a second that may take minutes.
 */
export function useLater<T>(part: Later<T>): T | null {
  const [there, setThere] = useState<{ readonly it: T | null }>(() => ({ it: part.now() }));
  useEffect(() => {
    if (there.it !== null) return;
    let gone = false;
    void part.come().then((it) => {
      if (!gone) setThere({ it });
    });
    return () => {
      gone = true;
    };
  }, [part, there]);
  return there.it;
}
