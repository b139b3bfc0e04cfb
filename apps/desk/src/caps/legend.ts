/** Mean width of a letter of a legend, CSS pixels: semibold, condensed, 15 px. */
const LETTER = 7.4;
/** What of a cap's width a legend cannot use: its own edges. */
const EDGES = 16;
const LINES = 2;

/** Whether a legend fits into a cap's two lines, words kept whole. @param width of the cap, CSS pixels */
export function fits(legend: string, width: number): boolean {
  const most = Math.max(1, Math.floor((width - EDGES) / LETTER));
  let lines = 1;
  let used = 0;
  for (const word of legend.split(/\s+/).filter(Boolean)) {
    if (word.length > most) return false;
    const next = used === 0 ? word.length : used + 1 + word.length;
    if (next <= most) used = next;
    else {
      lines += 1;
      used = word.length;
    }
  }
  return lines <= LINES;
}

/** The long form where there is room for it, else the short one, where there is one. */
export const legendFor = (legend: string, short: string, width: number): string =>
  short === '' || fits(legend, width) ? legend : short;

/** A legend for people who edit it: its live parts as they are now, or a dash where that is not known. */
export function spokenLegend(legend: string, now: string | undefined): string {
  if (!legend.includes('{{')) return legend;
  return (now ?? '').trim() || legend.replace(/\{\{.*?\}\}/gs, '–');
}
