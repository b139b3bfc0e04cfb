/** What is drawn of a device, and the numbers of its settings that this takes, without the schemas: a page that only operates has no use for those. */

/** What counts where a device's settings say nothing. The schemas take their usual values from here. */
export const USUAL = {
  /** Compass direction of pan 0, degrees; horizontal angle of view at the wide end, degrees. */
  ptzHead: { heading: 0, wideAngle: 63 },
  soundMixer: { channels: 7 },
  switcher: { inputs: 16 },
  guestGateway: { lines: 6 },
} as const;

/** A number of a device's settings, or the usual one where they hold none. */
export function numberOf(settings: unknown, name: string, usual: number): number {
  const value = typeof settings === 'object' && settings !== null ? (settings as Record<string, unknown>)[name] : null;
  return typeof value === 'number' && Number.isFinite(value) ? value : usual;
}
