import type { LinkState } from './context';

/** Why a command ended whose device was closed, moved or removed meanwhile. */
export const LET_GO = 'The device was closed meanwhile; whether it did this is unknown.';

/** How the state of a link is told to people. */
export function wordsOf(state: LinkState, title: string, protocol: string, silentForMs: number | null): string {
  switch (state) {
    case 'reached':
      return `${title} answers.`;
    case 'foreign':
      return `${title} answers, but not as ${protocol}. Check the port.`;
    case 'off':
      return `${title} is switched off here.`;
    case 'silent': {
      const last =
        silentForMs === null
          ? 'It was never heard.'
          : `Last reply ${Math.max(1, Math.round(silentForMs / 1000))} s ago.`;
      return `${title} does not answer. ${last} Check power and port.`;
    }
  }
}
