import { lampRuleWords } from './lampChoices';
import { inOrder } from './order';
import { csvOf, escaped, printedPage, tableOf } from './sheet';
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

/** The list as CSV with a head line. */
export const buttonCsv = (document: ShowDocument): string =>
  csvOf([
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
  ]);

/** The list as a page to be printed: a heading for each panel, a table for each strip. */
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
    `<h3>${escaped(name)}</h3>${tableOf(
      ['Button', 'Pressed', 'Does', 'Lights'],
      rows.map((row) => [`<b>${escaped(row.legend)}</b>`, escaped(row.how), lines(row.does), lines(row.lights)]),
    )}`;
  const body = [...panels]
    .map(
      ([panel, strips]) =>
        `<section><h2>${escaped(panel)}</h2>${[...strips].map(([name, rows]) => table(name, rows)).join('')}</section>`,
    )
    .join('');
  return printedPage(document.show.name, 'buttons', body);
}
