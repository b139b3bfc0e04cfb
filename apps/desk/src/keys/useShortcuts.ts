import { keptFor, keyOn, pressedId, shortcutOn } from '@umbek/core/shortcut';
import type { Button, Runs, Shortcut, ShortcutOn, ShowDocument } from '@umbek/core/show';
import { useEffect, useMemo, useRef, useState } from 'react';
import { layerIsOpen } from '../common/useLayer';
import { HeldValue } from '../live/heldValue';
import { listen } from '../live/listen';
import { useLive } from '../live/LiveContext';
import { takesText } from './keyboard';
import { listenMidi } from './midi';
import { PressedThings } from './pressedThings';
import { listenStick } from './stick';
import { type TurnedBy, TurnedThings } from './turnedThings';
import { useMidiLamps } from './useMidiLamps';

const NONE: readonly Shortcut[] = [];
const NO_BUTTONS: readonly Button[] = [];

/** What a shortcut of this station pressed last. */
export interface ShortcutPress {
  readonly on: ShortcutOn;
  /** What it presses, as `pressedId` writes it. */
  readonly id: string;
  readonly runs: Runs;
  /** Counts presses: the same again is another one. */
  readonly count: number;
  /** Why a knob turns nothing yet; left out: it presses or turns. */
  readonly waits?: string;
}

/** Nothing of a shortcut counts while a dialog or menu lies over the place. */
const covered = (): boolean => layerIsOpen();

/** What a controller or lever turns: a value that is dragged. */
function turnedBy(
  on: ShortcutOn,
  {
    buttons,
    shortcuts,
    station,
  }: { buttons: readonly Button[]; shortcuts: readonly Shortcut[]; station: string | null },
): TurnedBy | null {
  const shortcut = shortcutOn(shortcuts, on, station);
  if (shortcut === undefined || !('button' in shortcut.runs)) return null;
  const { button: id } = shortcut.runs;
  const button = buttons.find((candidate) => candidate.id === id);
  return button?.dial?.by === 0 ? { shortcut, button: { ...button, dial: button.dial } } : null;
}

/** Strips whose values a controller or lever turns. */
function turnedStrips(buttons: readonly Button[], shortcuts: readonly Shortcut[]): string[] {
  const ids = new Set(
    shortcuts.flatMap(({ on, runs }) =>
      (on.kind === 'axis' || on.kind === 'midi') && 'button' in runs ? [runs.button] : [],
    ),
  );
  return [...new Set(buttons.flatMap(({ id, dial, stripId }) => (ids.has(id) && dial?.by === 0 ? [stripId] : [])))];
}

/**
 * Presses what the shortcuts of the show say while a key, a MIDI note or pedal, or a button of a stick is down, and lets go with it. Nothing while
 * somebody types or while a dialog or menu lies over the place; a key that goes on repeating is the same press. What takes it away (another
 * window, another place, a device that is pulled out) lets go as well.
 * @param document left out while it is not known
 * @param station of the show that this page acts as: its own shortcuts come before those that count everywhere
 */
export function useShortcuts(
  document: Pick<ShowDocument, 'buttons' | 'shortcuts'> | undefined,
  station: string | null,
): ShortcutPress | null {
  const live = useLive();
  const shortcuts = document?.shortcuts ?? NONE;
  const keys = useMidiLamps(document, shortcuts, station);
  const buttons = document?.buttons ?? NO_BUTTONS;
  const latest = useRef({ buttons, shortcuts, station });
  latest.current = { buttons, shortcuts, station };
  const [last, setLast] = useState<ShortcutPress | null>(null);
  const uses = (kind: ShortcutOn['kind']): boolean => shortcuts.some(({ on }) => on.kind === kind);
  const [midi, stick] = [uses('midi'), uses('stick') || uses('axis')];
  const things = useRef<PressedThings | null>(null);
  things.current ??= new PressedThings(
    (on) => {
      const shortcut =
        keptFor(on) === null ? shortcutOn(latest.current.shortcuts, on, latest.current.station) : undefined;
      if (shortcut === undefined) return null;
      const id = pressedId(shortcut.runs);
      setLast((shortcutPress) => ({ on, id, runs: shortcut.runs, count: (shortcutPress?.count ?? 0) + 1 }));
      return live.down(id, shortcut.id);
    },
    (pressId) => live.up(pressId),
  );
  const pressed = things.current;
  const knobs = useRef<TurnedThings | null>(null);
  knobs.current ??= new TurnedThings({
    find: (on) => turnedBy(on, latest.current),
    value: (buttonId) => {
      const face = live.face(buttonId);
      return face?.lost === true || live.getState().connection !== 'live' ? undefined : face?.value;
    },
    hold: (buttonId, shortcut) => new HeldValue(live, buttonId, shortcut),
    tell: (on, id, waits) =>
      setLast((shortcutPress) => ({
        on,
        id,
        runs: { button: id },
        count: (shortcutPress?.count ?? 0) + 1,
        ...(waits === '' ? {} : { waits }),
      })),
    now: () => performance.now(),
  });
  const turned = knobs.current;
  // What is turned is known on every panel.
  const strips = useMemo(() => turnedStrips(document?.buttons ?? [], shortcuts), [document, shortcuts]);
  useEffect(() => {
    const ends = strips.map((strip) => live.showStrip(strip));
    return () => ends.forEach((end) => end());
  }, [live, strips]);
  useEffect(() => {
    const down = (event: KeyboardEvent): void => {
      const name = `key ${event.code}`;
      if (pressed.isDown(name)) {
        if (event.repeat) return event.preventDefault();
        // It went up and nobody told: some systems keep that to themselves.
        pressed.up(name);
      }
      if (event.repeat || event.isComposing || event.defaultPrevented) return;
      if (takesText(event.target) || covered()) return;
      const on = keyOn(event);
      if (on === null || !pressed.down(name, on)) return;
      event.preventDefault();
      event.stopPropagation();
    };
    const up = (event: KeyboardEvent): void => {
      if (pressed.up(`key ${event.code}`)) event.preventDefault();
    };
    const stop = listen(window, { keydown: down, keyup: up, blur: () => pressed.letGo('key') });
    return () => {
      pressed.letGo('');
      turned.letGo('');
      stop();
    };
  }, [pressed, turned]);
  useEffect(() => {
    if (!midi) return undefined;
    return listenMidi(
      (port, { on, down, value }, device) => {
        const name = `midi ${port} ${on.message} ${on.channel} ${on.number}`;
        if (on.message === 'control' && !covered() && turned.moved(name, on, value)) return;
        if (!down) pressed.up(name);
        else if (!covered() && keys.current?.isEcho(on) !== true && pressed.down(name, on))
          keys.current?.pressedOn(device);
      },
      (port) => {
        pressed.letGo(`midi ${port} `);
        turned.letGo(`midi ${port} `);
      },
    );
  }, [midi, pressed, turned, keys]);
  useEffect(() => {
    if (!stick) return undefined;
    return listenStick(
      (pad, button, down) => {
        const name = `stick ${pad} ${button}`;
        if (!down) pressed.up(name);
        else if (!covered()) pressed.down(name, { kind: 'stick', button });
      },
      (pad) => {
        pressed.letGo(`stick ${pad} `);
        turned.letGo(`stick ${pad} `);
      },
      (pad, axis, value) => {
        if (!covered()) turned.moved(`stick ${pad} axis ${axis}`, { kind: 'axis', axis }, value);
      },
    );
  }, [stick, pressed, turned]);
  return last;
}
