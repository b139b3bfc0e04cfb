import type { Family } from '@umbek/core/show';
import { families } from './tokens';

const dark = 'rgba(16,31,32,0.55)';

/** Each family's own small pattern, so that it can be told without its colour. Laid over the colour as a background of the web. */
const patterns: Readonly<Record<Family, { image: string; size?: string }>> = {
  clay: { image: `repeating-linear-gradient(135deg, ${dark} 0 2px, transparent 2px 7px)` },
  ochre: { image: `radial-gradient(circle, ${dark} 0 1.1px, transparent 1.4px)`, size: '6px 5px' },
  moss: { image: `repeating-linear-gradient(90deg, ${dark} 0 2px, transparent 2px 6px)` },
  lagoon: {
    image: `radial-gradient(circle at 50% 120%, transparent 0 3px, ${dark} 3.2px 4.4px, transparent 4.6px)`,
    size: '10px 6px',
  },
  slate: { image: 'none' },
  plum: {
    image: `repeating-linear-gradient(45deg, ${dark} 0 1px, transparent 1px 5px), repeating-linear-gradient(135deg, ${dark} 0 1px, transparent 1px 5px)`,
  },
  stone: { image: `repeating-linear-gradient(90deg, ${dark} 0 9px, transparent 9px 16px)` },
  rose: {
    image: `linear-gradient(135deg, ${dark} 25%, transparent 25%), linear-gradient(225deg, ${dark} 25%, transparent 25%)`,
    size: '8px 8px',
  },
};

/** Colour and pattern of a family, for plates and foot bands. */
export const familyFill = (family: Family): object => ({
  backgroundColor: families[family],
  backgroundImage: patterns[family].image,
  ...(patterns[family].size === undefined ? {} : { backgroundSize: patterns[family].size }),
});

/** The plate's own words stand on plain colour: the pattern only frames them. */
export const FAMILY_NAMES: readonly Family[] = ['clay', 'ochre', 'moss', 'lagoon', 'slate', 'plum', 'stone', 'rose'];
