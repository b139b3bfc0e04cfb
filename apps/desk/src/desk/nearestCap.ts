export interface Box {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

const DIRECTIONS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};
/** What lies aside counts so many times as what lies ahead: a row is kept to before another one is gone to. */
const ASIDE = 3;

/** The box that an arrow key leads to; -1 when there is none that way. @param at which of the boxes one is at @param key as the keyboard event names it */
export function nearestCap(boxes: readonly Box[], at: number, key: string): number {
  const direction = DIRECTIONS[key];
  const from = boxes[at];
  if (direction === undefined || from === undefined) return -1;
  const [dx, dy] = direction;
  let [best, least] = [-1, Infinity];
  boxes.forEach((box, index) => {
    const x = box.x + box.width / 2 - from.x - from.width / 2;
    const y = box.y + box.height / 2 - from.y - from.height / 2;
    const ahead = x * dx + y * dy;
    if (index === at || ahead < 1) return;
    const cost = ahead + ASIDE * Math.abs(x * dy + y * dx);
    if (cost < least) [best, least] = [index, cost];
  });
  return best;
}

/** Arrow keys move the focus among caps. To be called with every key of a page that has caps. */
export function moveAmongCaps(event: KeyboardEvent): void {
  const now = document.activeElement;
  if (!(event.key in DIRECTIONS) || !(now instanceof HTMLElement) || now.dataset.testid?.startsWith('cap-') !== true)
    return;
  const caps = [...document.querySelectorAll<HTMLElement>('[data-testid^="cap-"]')].filter(
    (cap) => cap.offsetParent !== null,
  );
  const next =
    caps[
      nearestCap(
        caps.map((cap) => cap.getBoundingClientRect()),
        caps.indexOf(now),
        event.key,
      )
    ];
  if (next === undefined) return;
  event.preventDefault();
  next.focus();
}
