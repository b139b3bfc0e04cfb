import { loadFonts, paintCap } from './paintCap';
import type { Painted, Painting } from './painter';

/** The painter's process: draws what it is asked, in turn, and ends with the engine. */
loadFonts(process.argv[2] ?? '');
process.on('message', ({ id, caps, width, height }: Painting) => {
  const pictures = caps.map((cap) => paintCap(cap, { width, height }));
  process.send?.({ id, pictures } satisfies Painted);
});
process.send?.({ ready: true } satisfies Painted);
process.on('disconnect', () => process.exit(0));
