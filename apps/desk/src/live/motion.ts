import { media } from './media';

/** Whether the person asked their device for less motion. */
export const reducedMotion = (): boolean => media('(prefers-reduced-motion: reduce)');
