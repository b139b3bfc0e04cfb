import { frameMs } from './frames';

/** Whether a rate is counted with drop-frame timecode: 29.97 and 59.94, of which numbers are left out so that an hour on it is an hour. */
const drops = (rate: number): boolean => frameMs(rate) !== 1000 / rate && Math.round(rate) % 30 === 0;

const TIMECODE = /^(\d{1,2}):([0-5]\d):([0-5]\d)[:;.](\d{2})$/;

/**
 * Reads SMPTE ST 12 timecode, `hh:mm:ss:ff`, as seconds of real time since 00:00:00:00. At 29.97 and 59.94 it is drop-frame (`hh:mm:ss;ff`): in each
 * minute that is no multiple of ten, frame numbers 0 and 1, at 59.94 0 to 3, are not there.
 * @param rate frames a second, 1..120
 * @returns null for what is no timecode at this rate
 */
export function timecodeSeconds(text: string, rate: number): number | null {
  const [, hours, minutes, seconds, frames] = (TIMECODE.exec(text.trim()) ?? []).map(Number);
  if (hours === undefined || minutes === undefined || seconds === undefined || frames === undefined) return null;
  const nominal = Math.round(rate);
  if (hours > 23 || frames >= nominal) return null;
  const dropped = drops(rate) ? nominal / 15 : 0;
  if (seconds === 0 && frames < dropped && minutes % 10 !== 0) return null;
  const minute = hours * 60 + minutes;
  const counted = (minute * 60 + seconds) * nominal + frames - dropped * (minute - Math.floor(minute / 10));
  return (counted * frameMs(rate)) / 1000;
}

/**
 * Seconds of real time since 00:00:00:00 as SMPTE ST 12 timecode at this rate; the frame that has begun. Days begin anew.
 * @param seconds ≥ 0 @param rate frames a second, 1..120
 */
export function timecodeText(seconds: number, rate: number): string {
  const nominal = Math.round(rate);
  // A hair is allowed for rounding.
  let frame = Math.floor((seconds * 1000) / frameMs(rate) + 1e-6);
  const dropped = drops(rate) ? nominal / 15 : 0;
  if (dropped > 0) {
    const ofMinute = nominal * 60 - dropped;
    const ofTen = ofMinute * 10 + dropped;
    const [tens, rest] = [Math.floor(frame / ofTen), frame % ofTen];
    frame += dropped * 9 * tens + (rest < nominal * 60 ? 0 : dropped * Math.ceil((rest - nominal * 60 + 1) / ofMinute));
  }
  const two = (value: number): string => String(value).padStart(2, '0');
  const second = Math.floor(frame / nominal);
  return `${two(Math.floor(second / 3600) % 24)}:${two(Math.floor(second / 60) % 60)}:${two(second % 60)}${dropped > 0 ? ';' : ':'}${two(frame % nominal)}`;
}
