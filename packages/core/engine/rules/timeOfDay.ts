/** Times of day in a time zone, with its days of 23 and 25 hours. Zones and their changes: the IANA database, as the platform carries it. */

const DAY_MS = 86_400_000;

const formats = new Map<string, Intl.DateTimeFormat>();

/** Whether the platform knows a time zone. Empty: its own. */
export function isTimeZone(zone: string): boolean {
  try {
    formatOf(zone);
    return true;
  } catch {
    return false;
  }
}

function formatOf(zone: string): Intl.DateTimeFormat {
  let format = formats.get(zone);
  if (format === undefined) {
    format = new Intl.DateTimeFormat('en-GB', {
      ...(zone === '' ? {} : { timeZone: zone }),
      hourCycle: 'h23',
      year: 'numeric',
      month: '2-digit',
      day: '2-digit',
      hour: '2-digit',
      minute: '2-digit',
      second: '2-digit',
    });
    formats.set(zone, format);
  }
  return format;
}

/** Milliseconds that the clocks of a zone are ahead of UTC at an instant. */
function offsetAt(instant: number, zone: string): number {
  const parts: Record<string, number> = {};
  for (const { type, value } of formatOf(zone).formatToParts(instant)) parts[type] = Number(value);
  const { year = 1970, month = 1, day = 1, hour = 0, minute = 0, second = 0 } = parts;
  return Date.UTC(year, month - 1, day, hour, minute, second) - Math.floor(instant / 1000) * 1000;
}

/** The day that it is in a zone, as `2026-08-12`. */
export const dayAt = (instant: number, zone: string): string =>
  new Date(instant + offsetAt(instant, zone)).toISOString().slice(0, 10);

/**
 * The instant at which it is a time of day on a day. Of an hour that comes twice, the first; a time that a day does not have is as long after the
 * jump as it would have been after the hour before it.
 * @param day `2026-08-12`. @param time `20:15:00`. @returns milliseconds since 1970 UTC
 */
export function instantOf(day: string, time: string, zone: string): number {
  const local = Date.parse(`${day}T${time}Z`);
  const before = local - offsetAt(local - DAY_MS, zone);
  const after = local - offsetAt(local + DAY_MS, zone);
  const real = [before, after].filter((instant) => instant + offsetAt(instant, zone) === local);
  return real.length === 0 ? before : Math.min(...real);
}

/**
 * When it is a time of day next.
 * @param after milliseconds since 1970 UTC; the instant itself does not count. @param date only on this day; empty: every day
 * @returns milliseconds since 1970 UTC; null when it never is again
 */
export function nextInstant(after: number, time: string, date: string, zone: string): number | null {
  if (date !== '') {
    const only = instantOf(date, time, zone);
    return only > after ? only : null;
  }
  const today = Date.parse(dayAt(after, zone));
  for (let day = 0; day <= 2; day += 1) {
    const at = instantOf(new Date(today + day * DAY_MS).toISOString().slice(0, 10), time, zone);
    if (at > after) return at;
  }
  return null;
}
