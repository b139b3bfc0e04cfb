import { RESERVED_KEYS } from '../show/index';

/** A key made from a name, in letters and digits, that nothing of the list has. */
export function keyFrom(name: string, taken: ReadonlySet<string>, otherwise: string): string {
  const words = name
    .normalize('NFD')
    .replace(/[^A-Za-z0-9 ]/g, '')
    .trim()
    .split(/\s+/)
    .filter(Boolean);
  const joined = words
    .map((word, at) => (at === 0 ? word.charAt(0).toLowerCase() : word.charAt(0).toUpperCase()) + word.slice(1))
    .join('')
    .slice(0, 34);
  const base = /^[a-z]/.test(joined) ? joined : otherwise;
  const free = (key: string): boolean => !taken.has(key) && !RESERVED_KEYS.has(key);
  if (free(base)) return base;
  for (let number = 2; ; number += 1) if (free(`${base}${number}`)) return `${base}${number}`;
}
