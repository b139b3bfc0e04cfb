/** What the engine says when it does not do something: what is wrong, and what to do about it. */
export interface Refused {
  readonly message?: string;
  readonly mend?: string;
}

/** A refusal in one line. @param otherwise where the reply says nothing itself */
export const replyWords = ({ message, mend }: Refused, otherwise = 'It was refused.'): string =>
  `${message ?? otherwise} ${mend ?? ''}`.trim();
