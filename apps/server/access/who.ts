import { type ErrorReply, type Right, RIGHTS } from '@umbek/protocol';

/** Who asks: a station that was let in from the network, or somebody at the engine's own machine. */
export interface Who {
  /** Of a station that was let in: the id under which it is kept. Null at the engine's own machine, which may do everything. */
  readonly key: string | null;
  /** Its name, and who works at it, as those who let it in know them; at the engine's own machine it says them itself. */
  readonly name: string;
  readonly person: string;
  /** Its own, and those of whoever is signed in at it. */
  readonly rights: readonly Right[];
  /** Whether somebody of the crew is signed in at it, whose name its person then is. */
  readonly signedIn: boolean;
}

export const HERE: Who = { key: null, name: '', person: '', rights: RIGHTS, signedIn: false };

export const may = ({ rights }: Pick<Who, 'rights'>, right: Right): boolean => rights.includes(right);

/** How much right somebody has, to be compared: whoever may let others in has most. */
export const rankOf = ({ rights }: Pick<Who, 'rights'>): number =>
  rights.includes('admit') ? 3 : rights.includes('program') ? 2 : rights.includes('operate') ? 1 : 0;

/** Rank of other gear, which may run what it was given. */
export const GEAR_RANK = 1;

const DEEDS: Readonly<Record<Right, string>> = {
  see: 'look at the show',
  operate: 'operate',
  program: 'change the show',
  admit: 'let others in',
};

/** The one refusal of what a station has no right to. */
export const mayNot = (right: Right): ErrorReply => ({
  code: `may-not-${right}`,
  message: `This station may not ${DEEDS[right]}.`,
  mend: 'Sign in under This station as somebody who may, or ask somebody who may let others in.',
});
