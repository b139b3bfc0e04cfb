export { colour, families } from '@umbek/look';

export const font = {
  regular: 'PlexCondensed_400',
  medium: 'PlexCondensed_500',
  semibold: 'PlexCondensed_600',
  bold: 'PlexCondensed_700',
} as const;

/** From this width on, places use a rail and several columns. */
export const WIDE = 1000;
