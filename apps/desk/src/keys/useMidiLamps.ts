import { shortcutOn } from '@umbek/core/shortcut';
import type { MidiOn, Shortcut, ShowDocument } from '@umbek/core/show';
import { useEffect, useMemo, useRef } from 'react';
import { useLive } from '../live/LiveContext';
import { openMidiOut } from './midi';
import { lampValue, MidiLamps, PressedDevices } from './midiLamps';

/** What a press of a MIDI key is asked, and what it tells. */
export interface MidiKeys {
  /** What was heard is our own lamp, come back through a loop. */
  isEcho(on: MidiOn): boolean;
  /** Something was pressed on a device of this name: from now on it is told of lamps. */
  pressedOn(name: string): void;
}

/** Tells MIDI keys the lamps of the buttons that they press, as this station has them. */
export function useMidiLamps(
  document: Pick<ShowDocument, 'buttons'> | undefined,
  shortcuts: readonly Shortcut[],
  station: string | null,
): React.RefObject<MidiKeys | null> {
  const live = useLive();
  const keys = useRef<MidiKeys | null>(null);
  const lit = useMemo(() => {
    const found: { readonly on: MidiOn; readonly button: string; readonly strip: string }[] = [];
    for (const { on } of shortcuts) {
      if (on.kind !== 'midi' || found.some((candidate) => JSON.stringify(candidate.on) === JSON.stringify(on)))
        continue;
      const runs = shortcutOn(shortcuts, on, station)?.runs;
      const id = runs !== undefined && 'button' in runs ? runs.button : null;
      const button = document?.buttons.find((candidate) => candidate.id === id);
      // A value has no lamp, and a fader with a motor would be moved by one.
      if (button !== undefined && button.dial?.by !== 0) found.push({ on, button: button.id, strip: button.stripId });
    }
    return found;
  }, [document, shortcuts, station]);
  useEffect(() => {
    const ends = [...new Set(lit.map(({ strip }) => strip))].map((strip) => live.showStrip(strip));
    return () => ends.forEach((end) => end());
  }, [live, lit]);
  const any = lit.length > 0;
  const lamps = useRef<MidiLamps | null>(null);
  useEffect(() => {
    if (!any) return undefined;
    const pressed = new PressedDevices();
    const out = openMidiOut(() => lamps.current?.again());
    const all = new MidiLamps(
      (bytes) => out.send(pressed.names, bytes),
      () => performance.now(),
    );
    lamps.current = all;
    keys.current = {
      isEcho: (on) => all.isEcho(on),
      pressedOn: (name) => pressed.add(name) && all.again(),
    };
    return () => {
      all.dark();
      lamps.current = null;
      keys.current = null;
      out.close();
    };
  }, [any]);
  useEffect(() => {
    const tell = ({ on, button }: (typeof lit)[number]): void => {
      const face = live.face(button);
      lamps.current?.set(on, lampValue(face?.sign, face?.lost === true || live.getState().connection === 'lost'));
    };
    const tellAll = (): void => lit.forEach(tell);
    lamps.current?.only(lit.map(({ on }) => on));
    tellAll();
    const stops = [
      live.subscribe('connection', tellAll),
      ...lit.map((item) => live.subscribe(`face:${item.button}`, () => tell(item))),
    ];
    return () => {
      for (const stop of stops) stop();
    };
  }, [live, lit]);
  return keys;
}
