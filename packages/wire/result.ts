/** Why bytes are not a message: a value, never a throw. */
export interface WireError {
  readonly code: 'too-short' | 'too-long' | 'bad-header' | 'bad-length' | 'bad-payload' | 'unknown-message';
  readonly message: string;
}
export type Decoded<T> = { readonly ok: true; readonly value: T } | { readonly ok: false; readonly error: WireError };

export const decoded = <T>(value: T): Decoded<T> => ({ ok: true, value });
export const undecoded = (code: WireError['code'], message: string): Decoded<never> => ({
  ok: false,
  error: { code, message },
});
/** Bytes as people read them: `81 01 04 3F 02 01 FF`. */
export const hex = (bytes: Uint8Array): string =>
  [...bytes].map((byte) => byte.toString(16).toUpperCase().padStart(2, '0')).join(' ');
