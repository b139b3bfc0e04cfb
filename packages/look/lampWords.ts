export type LampKind =
  'onAir' | 'onPreview' | 'chosen' | 'up' | 'arrived' | 'armed' | 'recording' | 'working' | 'done' | 'failed' | null;

/** What each lamp says, for those who do not see it. */
export const lampWords: Readonly<Record<Exclude<LampKind, null>, string>> = {
  onAir: 'on air',
  onPreview: 'next',
  chosen: 'chosen',
  up: 'up',
  arrived: 'arrived',
  armed: 'armed',
  recording: 'recording',
  working: 'working',
  done: 'done',
  failed: 'failed',
};

/** What is wrong with the picture of the source that a cap shows. */
export const pictureWords = { none: 'no picture', black: 'picture is black', frozen: 'picture is frozen' } as const;

/**
 * The second line of a cap: on air and next are said, not only coloured, before what is live text; otherwise what the button says of itself.
 * @param note as written @param live with its live text filled in, where that is known
 */
export function secondLine(lamp: LampKind, note: string, live: string | undefined): string {
  if (lamp !== 'onAir' && lamp !== 'onPreview') return live ?? note;
  return [lampWords[lamp], note === '' ? (live ?? '') : ''].filter(Boolean).join(' · ');
}
