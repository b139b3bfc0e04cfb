import type { Family } from '@umbek/core/show';

/** Colours of the look. The red and the green of program and preview are the trade's meaning. */
export const colour = {
  ground: '#101F20',
  plate: '#172B2C',
  raised: '#1F3839',
  hairline: '#2E4A4A',
  text: '#E9E4D6',
  muted: '#9DB0AC',
  cap: '#EAE3D2',
  capHead: '#D5CCB9',
  /** A cap that is held. */
  capDown: '#DDD5C2',
  legend: '#15201F',
  /** Small letters on the colour of a family: the legend's own ink is a shade too light for the blue one. */
  ink: '#0B1112',
  note: '#4F5A57',
  onAir: '#EC4A43',
  onPreview: '#46B56A',
  warning: '#F2A72E',
} as const;

export const families: Readonly<Record<Family, string>> = {
  clay: '#C9683F',
  ochre: '#D6A23C',
  moss: '#86A04F',
  lagoon: '#3E9E95',
  slate: '#6486B8',
  plum: '#94639C',
  stone: '#9B958A',
  rose: '#C77088',
};
