import type { Announced } from './discovery';
import { listenMulticast } from './multicast';

/** What the finder's process tells the engine. */
export type FromFinder = { readonly up: Announced } | { readonly down: Announced } | { readonly trouble: string };

/** A network that shouts is told on so often a second; the rest is dropped here. */
const MOST_A_SECOND = 100;
let left = MOST_A_SECOND;
setInterval(() => (left = MOST_A_SECOND), 1000);
const tell = (message: FromFinder): void => {
  if ((left -= 1) >= 0) process.send?.(message);
};

listenMulticast(JSON.parse(process.argv[2] ?? '[]') as string[], (error) =>
  tell({ trouble: error instanceof Error ? error.message : String(error) }),
)(
  (up) => tell({ up }),
  (down) => tell({ down }),
);
process.on('disconnect', () => process.exit(0));
