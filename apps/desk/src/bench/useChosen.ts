import {
  allSure,
  chosenButtons,
  type Copied,
  copiedText,
  inParts,
  type Match,
  matchesOf,
  panelFromFile,
  pasted,
  readCopied,
  removedAll,
} from '@umbek/core/programming';
import type { Button as ButtonData, Change, ShowDocument } from '@umbek/core/show';
import { useEffect, useMemo, useRef, useState } from 'react';
import { ulid } from 'ulid';
import { listen } from '../live/listen';
import { useEdits } from '../show/ShowContext';

const MANY = (count: number): string => (count === 1 ? '1 button' : `${count} buttons`);

/** Many buttons at once: which are chosen, and what is done with all of them. */
export interface Chosen {
  /** Null while buttons are opened one by one. */
  readonly ids: ReadonlySet<string> | null;
  readonly buttons: readonly ButtonData[];
  begin(): void;
  end(): void;
  toggle(id: string): void;
  /** All from the one that was touched last, or that is open, to this one, as the panel shows them. */
  upTo(id: string, from: string | undefined): void;
  /** All of these, or none of them where all are chosen already. */
  toggleAll(ids: readonly string[]): void;
  /** These as well. */
  choose(ids: readonly string[]): void;
  /** One edit of all of them. @param what as the history names it, before their number */
  edit(what: string, changes: readonly Change[], so?: string): void;
  remove(): void;
  /** @returns the text that they are copied as */
  copied(): string;
  /** Puts copied buttons in, and chooses them; asks first where what they name is not all here. @returns why it could not, in words; null when it did */
  paste(text: string): string | null;
  /** The same for a file. */
  read(text: string): string | null;
  /** What was read and is asked about; null when nothing is. */
  readonly asked: Asked | null;
  /** Puts in what was asked about. @param asPanel a panel of its own is made of it @returns the panel that was made */
  pasteMatched(matches: readonly Match[], asPanel: boolean): string | null;
  leave(): void;
}

/** Buttons from elsewhere, with what stands here for what they name. */
export interface Asked {
  /** Tells one question from the next. */
  readonly id: string;
  readonly copied: Copied;
  readonly matches: readonly Match[];
  /** Name of the panel that they would come to. */
  readonly panel: string | null;
}

const inField = (event: Event): boolean =>
  event.target instanceof HTMLElement && event.target.closest('input, textarea, [contenteditable="true"]') !== null;

/**
 * @param panelId where copied buttons are put
 * @param page that copied strips come to stand on
 * @param stripId the strip whose button is open: single buttons go there
 */
export function useChosen(
  document: ShowDocument,
  panelId: string | undefined,
  page: string,
  stripId: string | undefined,
): Chosen {
  const edits = useEdits();
  const [ids, setIds] = useState<ReadonlySet<string> | null>(null);
  const buttons = useMemo(() => (ids === null ? [] : chosenButtons(document, ids)), [document, ids]);
  const [asked, setAsked] = useState<Asked | null>(null);
  /** The one that was touched last. */
  const last = useRef<string | null>(null);
  const send = (label: string, changes: readonly Change[]): void => {
    for (const part of inParts(label, changes)) edits.edit(part.label, part.part);
  };
  const putIn = (copied: Copied, matches: readonly Match[], asPanel: boolean): string | null => {
    if (asPanel || panelId === undefined) {
      const made = panelFromFile(document, copied, ulid, matches);
      send(`New panel ${copied.panel?.name ?? ''}`.trim(), made.changes);
      setIds(null);
      return made.panelId;
    }
    const result = pasted(document, panelId, copied, ulid, stripId, page, matches);
    send(`Paste ${MANY(result.buttons.length)}`, result.changes);
    setIds(new Set(result.buttons));
    return null;
  };
  const paste = (text: string, file: boolean): string | null => {
    const read = readCopied(text, file ? 'file' : 'clipboard');
    if ('words' in read) return read.words;
    const { copied } = read;
    if (panelId === undefined && copied.panel === undefined) return 'Add a panel first.';
    const matches = copied.needs === undefined ? [] : matchesOf(copied.needs, document);
    if (file || copied.panel !== undefined || !allSure(matches)) {
      setAsked({ id: ulid(), copied, matches, panel: document.panels.find(({ id }) => id === panelId)?.name ?? null });
      return null;
    }
    putIn(copied, matches, false);
    return null;
  };
  const chosen: Chosen = {
    ids,
    buttons,
    begin: () => {
      last.current = null;
      setIds(new Set());
    },
    end: () => setIds(null),
    toggle: (id) => {
      last.current = id;
      setIds((now) => toggled(now, [id], now?.has(id) !== true));
    },
    upTo: (id, from) => {
      const all = onPanel(document, panelId);
      const [a, b] = [all.indexOf(last.current ?? from ?? id), all.indexOf(id)].sort((x, y) => x - y);
      last.current = id;
      setIds((now) => toggled(now, a === undefined || a < 0 ? [id] : all.slice(a, (b ?? a) + 1), true));
    },
    toggleAll: (all) => setIds((now) => toggled(now, all, !all.every((id) => now?.has(id) === true))),
    choose: (all) => setIds((now) => toggled(now, all, true)),
    edit: (what, changes, so) =>
      send(`${what} of ${MANY(buttons.length)}${so === undefined ? '' : `: ${so}`}`, changes),
    remove: () => {
      send(`Remove ${MANY(buttons.length)}`, removedAll(buttons));
      setIds(new Set());
    },
    copied: () => copiedText(document, new Set(buttons.map(({ id }) => id))),
    paste: (text) => paste(text, false),
    read: (text) => paste(text, true),
    asked,
    pasteMatched: (matches, asPanel) => {
      if (asked === null) return null;
      setAsked(null);
      return putIn(asked.copied, matches, asPanel);
    },
    leave: () => setAsked(null),
  };
  // The keys that every program has for it; in a field they are the field's.
  const now = useRef(chosen);
  now.current = chosen;
  useEffect(
    () =>
      listen(window.document, {
        copy: (event: ClipboardEvent) => {
          if (inField(event) || now.current.buttons.length === 0) return;
          event.clipboardData?.setData('text/plain', now.current.copied());
          event.preventDefault();
        },
        cut: (event: ClipboardEvent) => {
          if (inField(event) || now.current.buttons.length === 0) return;
          event.clipboardData?.setData('text/plain', now.current.copied());
          event.preventDefault();
          now.current.remove();
        },
        paste: (event: ClipboardEvent) => {
          if (inField(event)) return;
          const words = now.current.paste(event.clipboardData?.getData('text/plain') ?? '');
          if (words !== null) edits.tell(words, true);
          event.preventDefault();
        },
        keydown: (event: KeyboardEvent) => {
          if (event.key === 'Delete' && !inField(event) && now.current.buttons.length > 0) now.current.remove();
        },
      }),
    [edits],
  );
  return chosen;
}

/** Ids of the buttons of a panel as it shows them. */
const onPanel = (document: ShowDocument, panelId: string | undefined): string[] => {
  const strips = new Set(document.strips.filter((strip) => strip.panelId === panelId).map(({ id }) => id));
  const ids = document.buttons.filter(({ stripId }) => strips.has(stripId)).map(({ id }) => id);
  return chosenButtons(document, new Set(ids)).map(({ id }) => id);
};

function toggled(now: ReadonlySet<string> | null, ids: readonly string[], on: boolean): ReadonlySet<string> {
  const next = new Set(now ?? []);
  for (const id of ids) {
    if (on) next.add(id);
    else next.delete(id);
  }
  return next;
}
