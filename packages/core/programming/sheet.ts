/** Lists of a show as files that people take with them: CSV and a page to be printed. */

/** A field of a CSV file (RFC 4180). What a spreadsheet would take for a formula is told as text. */
const field = (text: string): string => {
  const plain = /^[=+\-@\t\r]/.test(text) ? `'${text}` : text;
  return /[",\r\n]/.test(plain) ? `"${plain.replaceAll('"', '""')}"` : plain;
};

/** Rows as CSV; lines end in CR LF, as RFC 4180 has it. */
export const csvOf = (rows: readonly (readonly string[])[]): string =>
  rows.map((fields) => `${fields.map(field).join(',')}\r\n`).join('');

export const escaped = (text: string): string =>
  text.replace(/[&<>"]/g, (sign) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[sign] ?? sign);

/** A table of cells that are HTML already. */
export const tableOf = (head: readonly string[], rows: readonly (readonly string[])[]): string =>
  `<table><tr>${head.map((words) => `<th>${escaped(words)}`).join('')}</tr>${rows
    .map((cells) => `<tr>${cells.map((cell) => `<td>${cell}`).join('')}</tr>`)
    .join('')}</table>`;

/** A page to be printed that needs no script. @param body HTML */
export function printedPage(show: string, what: string, body: string): string {
  const style =
    'body{font:11pt sans-serif;margin:1.5cm;color:#000;background:#fff}table{border-collapse:collapse;width:100%}' +
    'th,td{border:1px solid #888;padding:2pt 5pt;text-align:left;vertical-align:top}th{font-weight:600}' +
    'tr{break-inside:avoid}section+section{break-before:page}h3{margin:10pt 0 3pt}';
  return `<!doctype html><html lang="en"><meta charset="utf-8"><title>${escaped(show)}: ${escaped(what)}</title><style>${style}</style><h1>${escaped(show)}</h1>${body}</html>`;
}
