/** What is wrong with a position that a head is to recall by its memory, and the mend. */
export const noMemoryWords = (name: string): readonly [message: string, mend: string] => [
  `${name} has no memory in the head, and the head is told positions by their memory.`,
  'Give the position the number of its memory.',
];
