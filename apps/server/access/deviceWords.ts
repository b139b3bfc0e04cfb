const KINDS: readonly (readonly [RegExp, string])[] = [
  [/iPad|Tablet|Android(?!.*Mobile)/i, 'Tablet'],
  [/iPhone|Mobile/i, 'Phone'],
  [/Windows|Macintosh|X11|Linux|CrOS/i, 'Computer'],
];
/** In this order: each names itself after those that it wants to be taken for. */
const BROWSERS: readonly (readonly [RegExp, string])[] = [
  [/Firefox|FxiOS/i, 'Firefox'],
  [/Edg/i, 'Edge'],
  [/Chrom(e|ium)|CriOS/i, 'Chrome'],
  [/Safari/i, 'Safari'],
];

/** What a device says of itself in its User-Agent, in two words: to recognise it by, nothing more. */
export function deviceWords(userAgent: string): string {
  const of = (list: typeof KINDS): string | undefined => list.find(([pattern]) => pattern.test(userAgent))?.[1];
  const browser = of(BROWSERS);
  return browser === undefined ? 'Program' : `${of(KINDS) ?? 'Device'}, ${browser}`;
}
