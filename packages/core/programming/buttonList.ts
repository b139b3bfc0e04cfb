import { lampRuleWords } from './lampChoices';
import { inOrder } from './order';
import { sentenceOf } from '../engine/sentence';
import { type Button, listsOf, type ShowDocument } from '../show/index';

/** One button as a sheet lists it. */
export interface ButtonRow {
  readonly panel: string;
  readonly page: string;
  readonly strip: string;
  /** Place in its strip, from 1. */
  readonly place: number;
  readonly legend: string;
  /** How it is pressed: once, while held, in turn, dragged, with Shift, guarded. */
  readonly how: string;
  /** What it does, one sentence a step; what stands in another list begins with which. */
  readonly does: readonly string[];
  readonly lights: readonly string[];
}

const LISTS: readonly (readonly [pattern: RegExp, words: string])[] = [
  [/^releaseSteps$/, 'At release'],
  [/^sets\./, 'Then'],
  [/^additions\./, 'Also'],
];

function howOf({ mode, sets, dial, shift, guard }: Button): string {
  const kind =
    dial !== null
      ? dial.by === 0
        ? 'dragged'
        : 'step by step'
      : mode === 'hold'
        ? 'while held'
        : sets.length > 0
          ? 'in turn'
          : 'once';
  return [kind, ...(shift ? ['with Shift'] : []), ...(guard === 'none' ? [] : ['second touch'])].join(', ');
}

/** Every button of a show, panel by panel as they stand. */
export function buttonList(document: ShowDocument): ButtonRow[] {
  return inOrder(document.panels).flatMap((panel) =>
    inOrder(document.strips.filter(({ panelId }) => panelId === panel.id)).flatMap((strip) =>
      inOrder(document.buttons.filter(({ stripId }) => stripId === strip.id)).map((button, at): ButtonRow => ({
        panel: panel.name,
        page: panel.pages.find(({ id }) => id === strip.page)?.name ?? '',
        strip: strip.name,
        place: at + 1,
        legend: button.legend,
        how: howOf(button),
        does: listsOf(button).flatMap(([path, steps]) => {
          const words = LISTS.find(([pattern]) => pattern.test(path))?.[1];
          return steps.map((step) => `${words === undefined ? '' : `${words}: `}${sentenceOf(step, document)}`);
        }),
        lights: button.lamps.map((rule) => `${rule.show}: ${lampRuleWords(rule, document)}`),
      })),
    ),
  );
}

/** A field of a CSV file (RFC 4180). What a spreadsheet would take for a formula is told as text. */
const field = (text: string): string => {
  const plain = /^[=+\-@\t\r]/.test(text) ? `'${text}` : text;
  return /[",\r\n]/.test(plain) ? `"${plain.replaceAll('"', '""')}"` : plain;
};

/** The list as CSV with a head line; lines end in CR LF, as RFC 4180 has it. */
export const buttonCsv = (document: ShowDocument): string =>
  [
    ['Panel', 'Page', 'Strip', 'Place', 'Legend', 'Pressed', 'Does', 'Lights'],
    ...buttonList(document).map((row) => [
      row.panel,
      row.page,
      row.strip,
      String(row.place),
      row.legend,
      row.how,
      row.does.join('; '),
      row.lights.join('; '),
    ]),
  ]
    .map((fields) => `${fields.map(field).join(',')}\r\n`)
    .join('');

const escaped = (text: string): string =>
  text.replace(/[&<>"]/g, (sign) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[sign] ?? sign);

/** The list as a page to be printed: a heading for each panel, a table for each strip, nothing that needs a script. */
export function buttonSheet(document: ShowDocument): string {
  const panels = new Map<string, Map<string, ButtonRow[]>>();
  for (const row of buttonList(document)) {
    const strips = panels.get(row.panel) ?? new Map<string, ButtonRow[]>();
    const name = row.page === '' ? row.strip : `${row.strip} (${row.page})`;
    strips.set(name, [...(strips.get(name) ?? []), row]);
    panels.set(row.panel, strips);
  }
  const lines = (texts: readonly string[]): string => texts.map(escaped).join('<br>');
  const table = (name: string, rows: readonly ButtonRow[]): string =>
    `<h3>${escaped(name)}</h3><table><tr><th>Button<th>Pressed<th>Does<th>Lights</tr>${rows
      .map(
        (row) =>
          `<tr><td><b>${escaped(row.legend)}</b><td>${escaped(row.how)}<td>${lines(row.does)}<td>${lines(row.lights)}</tr>`,
      )
      .join('')}</table>`;
  const body = [...panels]
    .map(
      ([panel, strips]) =>
        `<section><h2>${escaped(panel)}</h2>${[...strips].map(([name, rows]) => table(name, rows)).join('')}</section>`,
    )
    .join('');
  const style =
    'body{font:11pt sans-serif;margin:1.5cm;color:#000;background:#fff}table{border-collapse:collapse;width:100%}' +
    'th,td{border:1px solid #888;padding:2pt 5pt;text-align:left;vertical-align:top}th{font-weight:600}' +
    'tr{break-inside:avoid}section+section{break-before:page}h3{margin:10pt 0 3pt}';
  return `<!doctype html><html lang="en"><meta charset="utf-8"><title>${escaped(document.show.name)}: buttons</title><style>${style}</style><h1>${escaped(document.show.name)}</h1>${body}</html>`;
}
