/** A size that every place is opened at; CSS pixels. */
export interface Size {
  readonly width: number;
  readonly height: number;
}

/** A point of the page, CSS pixels from its top left. */
export interface Spot {
  readonly x: number;
  readonly y: number;
}

/** One browser engine, as far as the page is held to it. */
export interface BrowserEngine {
  readonly name: string;
  /** Opens an address in a page of this size. What the page said of errors before is forgotten. */
  open(url: string, size: Size): Promise<void>;
  /** Runs a function of the page that changes nothing there. @param source the text of a function without arguments that returns JSON */
  read<T>(source: string): Promise<T>;
  /** The pointer goes down at a spot, and up again after so long. */
  press(spot: Spot, holdMs: number): Promise<void>;
  type(text: string): Promise<void>;
  /** @returns a PNG of the page as it is drawn, one pixel for each of CSS */
  picture(): Promise<Buffer>;
  /** What the page told of errors since it was opened. */
  errors(): Promise<readonly string[]>;
  close(): Promise<void>;
}

export const pause = (ms: number): Promise<void> => new Promise((next) => setTimeout(next, ms));

/** A mouse as both clients of browsers have it. */
interface Mouse {
  move(x: number, y: number): Promise<void>;
  down(): Promise<void>;
  up(): Promise<void>;
}

/** Down at a spot, and up again after so long. */
export async function pressWith(mouse: Mouse, { x, y }: Spot, holdMs: number): Promise<void> {
  await mouse.move(x, y);
  await mouse.down();
  await pause(holdMs);
  await mouse.up();
}
