import { PNG } from 'pngjs';

/** A text in sight, and where it should be drawn. */
export interface SeenText {
  readonly text: string;
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/**
 * Runs in the page: every text that a person should be able to read there, with its box. What is covered, cut off, outside of the view or for screen
 * readers alone is left out.
 */
export const TEXTS_IN_SIGHT = `function textsInSight() {
  const found = [];
  const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  for (let node = walker.nextNode(); node; node = walker.nextNode()) {
    const text = node.nodeValue.trim();
    const element = node.parentElement;
    if (text === '' || !element || element.closest('svg, script, style, noscript, canvas')) continue;
    const style = getComputedStyle(element);
    if (style.visibility !== 'visible') continue;
    let seen = 1;
    for (let up = element; up; up = up.parentElement) seen *= Number(getComputedStyle(up).opacity);
    if (seen < 0.3) continue;
    const range = document.createRange();
    range.selectNodeContents(node);
    const box = range.getBoundingClientRect();
    if (box.width < 4 || box.height < 6) continue;
    if (box.left < 0 || box.top < 0 || box.right > innerWidth || box.bottom > innerHeight) continue;
    const middle = document.elementFromPoint(box.left + box.width / 2, box.top + box.height / 2);
    if (!middle || !(element.contains(middle) || middle.contains(element))) continue;
    let cut = false;
    for (let up = element; up && up !== document.body; up = up.parentElement) {
      const around = up.getBoundingClientRect();
      const hides = getComputedStyle(up).overflow !== 'visible';
      if (hides && (box.left < around.left - 2 || box.top < around.top - 2 || box.right > around.right + 2 || box.bottom > around.bottom + 2)) cut = true;
    }
    if (!cut) found.push({ text, x: box.left, y: box.top, width: box.width, height: box.height });
  }
  return found;
}`;

/** Runs in the page: names of strips and legends of caps that stand whole in the view; each must be among the texts in sight. */
export const NAMES_IN_SIGHT = `function namesInSight() {
  const within = (element) => {
    const { left, top, right, bottom } = element.getBoundingClientRect();
    const middle = document.elementFromPoint((left + right) / 2, (top + bottom) / 2);
    return left >= 0 && top >= 0 && right <= innerWidth && bottom <= innerHeight && middle !== null && element.contains(middle);
  };
  const capsOf = (strip) => [...strip.querySelectorAll('[data-testid^="cap-"]')];
  const strips = [...document.querySelectorAll('[role=group][aria-label]')].filter((strip) => capsOf(strip).length > 0 && capsOf(strip).every(within));
  return strips.flatMap((strip) => [strip.getAttribute('aria-label').toUpperCase(), ...[...strip.querySelectorAll('[data-testid^="cap-"]')].map((cap) => cap.getAttribute('aria-label').split(', ')[0])]);
}`;

/** So far a channel of a pixel must be from the ground to count as ink, of 255. */
const INK = 50;
/** So much of its box a drawn text covers at the least: thin letters in a wide line do. */
const LEAST_SHARE = 0.015;

/** Texts whose boxes hold nothing but their ground: pixels, not boxes, say whether something is drawn. */
export function notDrawn(texts: readonly SeenText[], picture: Buffer): string[] {
  const { width, height, data } = PNG.sync.read(picture);
  return texts.flatMap((text) => {
    const [left, top] = [Math.max(0, Math.floor(text.x)), Math.max(0, Math.floor(text.y))];
    const [right, bottom] = [
      Math.min(width, Math.ceil(text.x + text.width)),
      Math.min(height, Math.ceil(text.y + text.height)),
    ];
    const counts = new Map<number, number>();
    const colours: number[] = [];
    for (let y = top; y < bottom; y += 1)
      for (let x = left; x < right; x += 1) {
        const at = (y * width + x) * 4;
        const colour = ((data[at] ?? 0) << 16) | ((data[at + 1] ?? 0) << 8) | (data[at + 2] ?? 0);
        colours.push(colour);
        counts.set(colour, (counts.get(colour) ?? 0) + 1);
      }
    const [ground = 0] = [...counts].sort(([, a], [, b]) => b - a)[0] ?? [];
    const ink = colours.filter((colour) =>
      [16, 8, 0].some((shift) => Math.abs(((colour >> shift) & 255) - ((ground >> shift) & 255)) > INK),
    );
    return colours.length > 0 && ink.length / colours.length < LEAST_SHARE ? [text.text] : [];
  });
}
