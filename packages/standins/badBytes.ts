/** What a device says that lies or has gone mad: for every wire, from a seed, so that a bad day can be repeated. */
type Chance = () => number;

const pick = <T>(chance: Chance, list: readonly [T, ...T[]]): T => list[Math.floor(chance() * list.length)] ?? list[0];

const whole = (chance: Chance, most: number): number => Math.floor(chance() * most);

/** Pieces of other protocols, and of ours cut short. */
const OTHERS: readonly [string, ...string[]] = [
  'GET / HTTP/1.1\r\nHost: x\r\n\r\n',
  'HTTP/1.1 200 OK\r\ncontent-length: 99999999\r\n\r\n{',
  '#bundle\0\0\0\0\0\0\0\0\x01\0\0\x7f\xff',
  '/switcher/state/program\0,if\0\0\0\0\0',
  '/ok\0',
  '\x10\x02\x03\x00\x00',
  '\x10\x02\x10\x10\x10\x03\x10\x15\x10\x06',
  '\x01\x11\x00\x03\x00\x00\x00\x01\x90\x41\xff',
  '\x01\x11\xff\xff\x00\x00\x00\x01\x90\x50',
  '\x02\x01\x00\x02\x00\x00\x00\x00\x0f\x01',
  '{"number":1e308,"point":"__proto__","value":{"a":1}}',
  '\r\n\r\n\r\n',
  '\xf0\x9f\x92\xa9\xc3\x28',
];

/** Random bytes, half messages and other protocols' words; up to 1,400 bytes. */
export function babble(chance: Chance): Uint8Array {
  if (chance() < 0.5) {
    const text = pick(chance, OTHERS);
    const bytes = Uint8Array.from([...text].map((letter) => letter.charCodeAt(0) & 255));
    const cut = bytes.slice(0, 1 + whole(chance, bytes.length));
    const at = whole(chance, cut.length);
    if (chance() < 0.5) cut[at] = whole(chance, 256);
    return cut;
  }
  return Uint8Array.from({ length: 1 + whole(chance, pick(chance, [4, 16, 64, 1400])) }, () => whole(chance, 256));
}

/** Numbers, texts and kinds of value that no device of sound mind tells. */
const IMPLAUSIBLE: readonly [unknown, ...unknown[]] = [
  1e308,
  -1e308,
  -1,
  0.5,
  99_999_999,
  'NaN',
  '',
  'x'.repeat(1500),
  true,
  false,
  '\u0000\u202e',
  '__proto__',
];

export const implausibleValue = (chance: Chance): unknown => pick(chance, IMPLAUSIBLE);

/** A JSON answer with some of its values exchanged for what cannot be, or with its parts gone. */
export function implausibleJson(text: string, chance: Chance): string {
  if (chance() < 0.1) return '[]';
  if (chance() < 0.1) return text.slice(0, whole(chance, text.length));
  return text.replace(/:(-?[0-9.]+|true|false|"[^"\\]*")/g, (all) =>
    chance() < 0.2 ? `:${JSON.stringify(implausibleValue(chance))}` : all,
  );
}
