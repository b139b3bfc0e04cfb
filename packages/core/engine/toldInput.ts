/** Input that a device itself told of, as `input:4` in place of a source; undefined for anything else. */
export function toldInput(key: string): number | undefined {
  const digits = /^input:(\d{1,4})$/.exec(key)?.[1];
  return digits === undefined ? undefined : Number(digits);
}
