/** Ids of the demo are fixed, so that tests and links can name its buttons. A ULID is 26 characters of Crockford's base 32. */
export const demoId = (kind: string, number: number): string =>
  `01J0C0RVANEH1${kind}${String(number).padStart(26 - 13 - kind.length, '0')}`;
