/** What is wrong with a position that a head is to recall by its memory, and the mend. */
export const noMemoryWords = (name: string): readonly [message: string, mend: string] => [
  `${name} has no memory number, and this head recalls by that number.`,
  'Set its memory number on the page of the head in the Rig.',
];
