/** The people list as a station searches it. */
import { Person } from '@umbek/core/show';
import { z } from 'zod';

/** So many of those who are found are told. */
export const PEOPLE_TOLD = 50;

export const PeopleReply = z.object({
  people: z.array(Person).max(PEOPLE_TOLD),
  /** In how many the words were found. */
  found: z.number().int(),
  /** How many the list has. */
  all: z.number().int(),
});
export type PeopleReply = z.infer<typeof PeopleReply>;
