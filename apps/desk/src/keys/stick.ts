/** Buttons are read this often: a browser tells of none by itself. */
const READ_MS = 20;

/**
 * Listens to the buttons of every stick, pad and pedal that the browser knows as a gamepad.
 * @param heard a button of one went down or up
 * @param gone one was pulled out
 * @returns what ends it
 */
export function listenStick(
  heard: (pad: number, button: number, down: boolean) => void,
  gone: (pad: number) => void,
): () => void {
  const before = new Map<number, readonly boolean[]>();
  const look = (): void => {
    const there = new Set<number>();
    for (const pad of navigator.getGamepads()) {
      if (pad === null) continue;
      there.add(pad.index);
      const now = pad.buttons.map(({ pressed }) => pressed);
      const was = before.get(pad.index) ?? [];
      before.set(pad.index, now);
      now.forEach((down, button) => {
        if (down !== (was[button] ?? false)) heard(pad.index, button, down);
      });
    }
    for (const index of [...before.keys()])
      if (!there.has(index)) {
        before.delete(index);
        gone(index);
      }
  };
  const timer = setInterval(look, READ_MS);
  return () => clearInterval(timer);
}
