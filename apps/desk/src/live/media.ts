const asked = new Map<string, MediaQueryList>();

/**
 * Whether a media query holds now (CSS Media Queries 4). Asked once and watched from then on: asking anew costs a touch a millisecond or more on a
 * slow phone. False where there is no window to ask.
 */
export function media(query: string): boolean {
  if (typeof window === 'undefined' || typeof window.matchMedia !== 'function') return false;
  let list = asked.get(query);
  if (list === undefined) asked.set(query, (list = window.matchMedia(query)));
  return list.matches;
}
