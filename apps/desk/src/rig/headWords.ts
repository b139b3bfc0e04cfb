import type { Position } from '@umbek/core/show';

/** What a move on air asks for. */
export const ON_AIR = [
  { value: 'secondTouch', label: 'Ask', words: 'A move on air needs a second touch.' },
  {
    value: 'slow',
    label: 'Slowly',
    words: 'A recall on air moves slowly and does not ask. Nudges are not slowed.',
  },
  { value: 'allow', label: 'At once', words: "A move on air runs at the head's normal speed." },
] as const;

/** Where a head looks now, with focus and iris where they are set by hand; null while it is not known. */
export function placeNow(
  point: (key: string) => string | number | boolean | undefined,
  key: string,
): Pick<Position, 'pan' | 'tilt' | 'zoom' | 'focus' | 'iris'> | null {
  const [pan, tilt, zoom, focus, iris] = ['pan', 'tilt', 'zoom', 'focus', 'iris'].map((name) =>
    point(`${key}.${name}`),
  );
  if (typeof pan !== 'number' || typeof tilt !== 'number' || typeof zoom !== 'number') return null;
  return {
    pan,
    tilt,
    zoom,
    focus: point(`${key}.focusMode`) === 'manual' && typeof focus === 'number' ? focus : null,
    iris: point(`${key}.irisMode`) === 'manual' && typeof iris === 'number' ? iris : null,
  };
}
