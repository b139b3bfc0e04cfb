import { chosenBy, deflectionOf, fullOf, STICK, type Pad, rests } from '@umbek/core/picture';
import { inOrder } from '@umbek/core/order';
import type { ShowHead } from '@umbek/core/show';
import { useEffect, useRef, useState } from 'react';
import { StyleSheet, Text } from 'react-native';
import { useDeskShow } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';
import { useLinkGroup, useLive, usePoint, usePressState, useScopes } from './LiveContext';
import { isHead } from '@umbek/core/part';

/** A stick is read this often; a new deflection goes out no more often than a held press is renewed. */
const READ_MS = 50;
const chosenIn = (linkGroup: string | null): string => `chosen@${linkGroup ?? 'main'}.camera`;

const padNow = (): Pad | null => [...navigator.getGamepads()].find((pad) => pad !== null) ?? null;

const without = (pad: Pad, axes: ReadonlySet<number>): Pad =>
  axes.size === 0 ? pad : { ...padOf(pad), axes: pad.axes.map((value, at) => (axes.has(at) ? 0 : value)) };
/** What a browser tells of a pad stands in its prototype, which a spread leaves out. */
const padOf = ({ mapping, axes, buttons }: Pad): Pad => ({ mapping, axes, buttons });

/** A joystick that the browser knows moves the chosen camera: held like a press, so that a lost page or stick stops it. Seen only while one is plugged in. */
export function Joystick() {
  const live = useLive();
  const { document } = useDeskShow();
  const chosen = chosenIn(useLinkGroup());
  const [plugged, setPlugged] = useState(false);
  useScopes(plugged ? ['chosen', 'value'] : []);
  const heads = useRef<readonly string[]>([]);
  heads.current = document
    ? inOrder(document.devices.filter((device) => isHead(device, document))).map((item) => item.key)
    : [];
  const taken = useRef<ReadonlySet<number>>(new Set());
  taken.current = new Set(document?.shortcuts.flatMap(({ on }) => (on.kind === 'stick' ? [on.button] : [])));
  const answer = useRef<ShowHead['stick']>(STICK);
  answer.current = document?.show.stick ?? STICK;
  const levers = useRef<ReadonlySet<number>>(new Set());
  levers.current = new Set(document?.shortcuts.flatMap(({ on }) => (on.kind === 'axis' ? [on.axis] : [])));
  useEffect(() => {
    const look = (): void => setPlugged(padNow() !== null);
    window.addEventListener('gamepadconnected', look);
    window.addEventListener('gamepaddisconnected', look);
    return () => {
      window.removeEventListener('gamepadconnected', look);
      window.removeEventListener('gamepaddisconnected', look);
    };
  }, []);
  useEffect(() => {
    if (!plugged) return undefined;
    let held: { readonly pressId: string; readonly camera: string } | null = null;
    let lastSent = '';
    let choosing: number | null = null;
    const letGo = (): void => {
      if (held) live.up(held.pressId);
      held = null;
      lastSent = '';
    };
    const timer = setInterval(() => {
      const pad = padNow();
      if (!pad) return letGo();
      const first = chosenBy(pad, heads.current.length);
      // A button that is a shortcut chooses nothing.
      const button = first !== null && taken.current.has(first) ? null : first;
      if (button !== null && button !== choosing) {
        letGo();
        const to = heads.current[button] ?? '';
        live.sendCommand('chosen', 'camera', { to });
      }
      choosing = button;
      const camera = live.point(chosen);
      // Nor does a lever that turns a value move a camera.
      const { deadZone, curve, range } = answer.current;
      const full = range === '' ? 1 : fullOf(live.point(`value.${range}`));
      const deflection = deflectionOf(without(pad, levers.current), { deadZone, curve, full });
      if (typeof camera !== 'string' || rests(deflection)) return letGo();
      if (held && held.camera !== camera) letGo();
      const text = JSON.stringify(deflection);
      if (text === lastSent) return;
      lastSent = text;
      const params = { x: deflection.x, y: deflection.y, zoom: deflection.zoom };
      if (held) live.steer(held.pressId, params);
      // A source without motors is moved as the chosen camera that it is.
      else
        held = {
          pressId: live.downCommand(heads.current.includes(camera) ? camera : 'chosen.camera', 'nudge', params),
          camera,
        };
    }, READ_MS);
    return () => {
      clearInterval(timer);
      letGo();
    };
  }, [plugged, live, chosen]);
  if (!plugged) return null;
  return <JoystickWords />;
}

function JoystickWords() {
  const { document } = useDeskShow();
  const camera = usePoint(chosenIn(useLinkGroup()));
  const own = document?.devices.find((device) => device.key === camera);
  const press = usePressState(`${own === undefined ? 'chosen.camera' : own.key}.nudge`);
  const name = (own ?? document?.sources.find((source) => source.key === camera))?.name;
  const asking = press?.phase === 'asking' || press?.phase === 'failed' ? press.why : null;
  return (
    <Text style={[styles.words, asking ? styles.asking : null]} testID="joystick" role="status">
      {asking ?? (name ? `Joystick moves ${name}` : 'Joystick: hold one of its buttons to choose a camera')}
    </Text>
  );
}

const styles = StyleSheet.create({
  words: {
    fontFamily: font.medium,
    fontSize: 14,
    color: colour.text,
    backgroundColor: colour.raised,
    paddingHorizontal: 12,
    paddingVertical: 5,
  },
  asking: { backgroundColor: colour.warning, color: colour.legend },
});
