import { pressedId, shortcutOn } from '@umbek/core/shortcut';
import type { Shortcut } from '@umbek/core/show';
import type { DialQuery, DialReply } from '@umbek/protocol';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { layerIsOpen } from '../common/useLayer';
import { listen } from '../live/listen';
import { useLinkGroup, useLive } from '../live/LiveContext';
import { ask } from '../show/ask';
import { takesText } from './keyboard';

/** Digits that nobody goes on with are forgotten after so long: the next hand begins anew. */
export const FORGOTTEN_MS = 6000;
const LONGEST = 6;
/** Enter that came before the engine has said what the digits run is done within this; later it would surprise. */
const ENTER_WAITS_MS = 1000;

/** What the digits run, as the engine says; `asking` until it has. */
export type Match = { readonly digits: string } & ({ readonly asking: true } | DialReply | { readonly lost: true });

/** What a pad's digits number: codes and macros, or things of the rig. */
export type Takes = NonNullable<DialQuery['takes']>;

export interface Dial {
  /** What its digits number. */
  readonly takes: Takes;
  takeAs(to: Takes): void;
  /** The numeric keypad of this machine dials. */
  readonly on: boolean;
  readonly digits: string;
  readonly match: Match | null;
  /** The button or macro that was dialled last. */
  readonly last: string | null;
  switchTo(on: boolean): void;
  digit(item: string): void;
  back(): void;
  clear(): void;
  /** Enter goes down. Where the engine has not said yet what the digits run, it waits for that. @returns what lets it go; null where nothing has this code */
  enter(): (() => void) | null;
}

/** An Enter that waits for what its digits run. */
interface Due {
  readonly digits: string;
  readonly at: number;
  lifted: boolean;
  release: (() => void) | null;
}

/**
 * The dial pad of this station: digits on the screen or on the numeric keypad, and Enter presses what has this code. What it would press is asked
 * for at each digit and seen before Enter.
 */
export function useDial(shortcuts: readonly Shortcut[], station: string | null): Dial {
  const live = useLive();
  const [on, setOn] = useState(false);
  const [takes, setTakes] = useState<Takes>('code');
  const linkGroup = useLinkGroup();
  const [digits, setDigits] = useState('');
  const [match, setMatch] = useState<Match | null>(null);
  const [last, setLast] = useState<string | null>(null);
  // As typed, before the page is drawn anew: Enter right behind a digit must never press what stood there before it.
  const typed = useRef('');
  const found = useRef<Match | null>(null);
  const due = useRef<Due | null>(null);
  const type = useCallback((to: string): void => {
    typed.current = to;
    due.current = null;
    setDigits(to);
  }, []);
  const press = useCallback(
    ({ runs, sends, shortcut }: DialReply): (() => void) | null => {
      if (sends !== undefined) {
        const sent = live.downCommand(sends.device, sends.command, sends.params);
        setLast(`${sends.device}.${sends.command}`);
        type('');
        return () => live.up(sent);
      }
      if (runs === null) return null;
      const id = pressedId(runs);
      const pressId = live.down(id, shortcut);
      setLast(id);
      type('');
      return () => live.up(pressId);
    },
    [live, type],
  );
  const know = useCallback(
    (now: Match | null): void => {
      found.current = now;
      setMatch(now);
      const waiting = due.current;
      if (now === null || waiting?.digits !== now.digits || 'asking' in now) return;
      due.current = null;
      if ('lost' in now || performance.now() - waiting.at > ENTER_WAITS_MS) return setMatch({ ...now, lost: true });
      waiting.release = press(now);
      if (waiting.lifted) waiting.release?.();
    },
    [press],
  );
  useEffect(() => {
    know(digits === '' ? null : { digits, asking: true });
    if (digits === '') return undefined;
    let over = false;
    const query = new URLSearchParams({
      code: digits,
      takes,
      ...(station === null ? {} : { station }),
      ...(linkGroup === null ? {} : { linkGroup }),
    });
    ask(`/api/dial?${query}`)
      .then(async (response) => {
        if (!response.ok) throw new Error(String(response.status));
        const reply = (await response.json()) as DialReply;
        if (!over) know({ digits, ...reply });
      })
      .catch(() => !over && know({ digits, lost: true }));
    const timer = setTimeout(() => type(''), FORGOTTEN_MS);
    return () => {
      over = true;
      clearTimeout(timer);
    };
  }, [digits, station, takes, linkGroup, know, type]);
  const latest = useRef({ on, shortcuts, station });
  latest.current = { on, shortcuts, station };

  const digit = useCallback((item: string): void => type((typed.current + item).slice(0, LONGEST)), [type]);
  const back = useCallback((): void => type(typed.current.slice(0, -1)), [type]);
  const clear = useCallback((): void => type(''), [type]);
  const switchTo = useCallback(
    (to: boolean): void => {
      setOn(to);
      type('');
    },
    [type],
  );
  const takeAs = useCallback(
    (to: Takes): void => {
      setTakes(to);
      setLast(null);
      type('');
    },
    [type],
  );
  const enter = useCallback((): (() => void) | null => {
    if (typed.current === '') return null;
    const now = found.current;
    if (now?.digits === typed.current && 'runs' in now) return press(now);
    if (now?.digits === typed.current && 'lost' in now) return null;
    const waiting: Due = { digits: typed.current, at: performance.now(), lifted: false, release: null };
    due.current = waiting;
    return () => {
      waiting.lifted = true;
      waiting.release?.();
    };
  }, [press]);

  useEffect(() => {
    let release: (() => void) | null = null;
    const letGo = (): void => {
      release?.();
      release = null;
    };
    const down = (event: KeyboardEvent): void => {
      if (event.defaultPrevented || takesText(event.target) || layerIsOpen()) return;
      const { on: dials, shortcuts: all, station: here } = latest.current;
      if (event.ctrlKey || event.altKey || event.metaKey || event.shiftKey) return;
      const number = /^Numpad(\d)$/.exec(event.code)?.[1];
      // A key that is a shortcut of its own dials only while the pad was switched on.
      const free = (): boolean =>
        shortcutOn(all, { kind: 'key', code: event.code, shift: false, ctrl: false, alt: false, meta: false }, here) ===
        undefined;
      if (number !== undefined && !event.repeat && (dials || free())) {
        setOn(true);
        digit(number);
      } else if (!dials) return;
      else if (event.code === 'NumpadEnter') {
        if (!event.repeat) release = enter();
      } else if (event.code === 'NumpadDecimal' || event.code === 'Backspace') back();
      else if (event.code === 'Escape' && typed.current !== '') clear();
      else return;
      event.preventDefault();
      event.stopImmediatePropagation();
    };
    const up = (event: KeyboardEvent): void => {
      if (event.code === 'NumpadEnter') letGo();
    };
    // Before shortcuts and caps hear it: while the pad dials, its keys are the pad's.
    const ending = new AbortController();
    window.addEventListener('keydown', down, { capture: true, signal: ending.signal });
    const stop = listen(window, { keyup: up, blur: letGo });
    return () => {
      letGo();
      stop();
      ending.abort();
    };
  }, [digit, back, clear, enter]);
  return useMemo(
    () => ({ on, digits, match, last, takes, takeAs, switchTo, digit, back, clear, enter }),
    [on, digits, match, last, takes, takeAs, switchTo, digit, back, clear, enter],
  );
}
