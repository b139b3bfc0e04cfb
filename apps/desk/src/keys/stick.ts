/** Buttons are read this often: a browser tells of none by itself. */
const READ_MS = 20;
/** A lever that is moved by less has only trembled: a two-hundredth of its way. */
const LEAST_TURN = 0.01;

/**
 * Listens to the buttons and levers of every stick, pad and pedal that the browser knows as a gamepad.
 * @param heard a button of one went down or up
 * @param gone one was pulled out
 * @param turned a lever of one was moved, from −1 to 1
 * @returns what ends it
 */
export function listenStick(
  heard: (pad: number, button: number, down: boolean) => void,
  gone: (pad: number) => void,
  turned: (pad: number, axis: number, value: number) => void = () => undefined,
): () => void {
  const before = new Map<number, readonly boolean[]>();
  const stood = new Map<number, number[]>();
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
      const axes = stood.get(pad.index);
      // Where its levers stand as it is plugged in turns nothing.
      if (axes === undefined) stood.set(pad.index, [...pad.axes]);
      else
        pad.axes.forEach((value, axis) => {
          if (Math.abs(value - (axes[axis] ?? 0)) < LEAST_TURN) return;
          axes[axis] = value;
          turned(pad.index, axis, value);
        });
    }
    for (const index of [...before.keys()])
      if (!there.has(index)) {
        before.delete(index);
        stood.delete(index);
        gone(index);
      }
  };
  const timer = setInterval(look, READ_MS);
  return () => clearInterval(timer);
}
