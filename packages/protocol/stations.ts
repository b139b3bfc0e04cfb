/** Stations: who is there, and what each shows. */
import { Id } from '@umbek/core/show';
import { z } from 'zod';
import { LiveAbout } from './live';

export const StationsReply = z.array(
  z.object({
    /** Of a station of the show its id; of a page that acts as none of them the name of its connection. */
    id: z.string(),
    name: z.string(),
    /** Something acts as it now. */
    present: z.boolean(),
    /** Id of the panel that it shows; of one that is not there the panel on which it opens. */
    panel: z.string().nullable(),
    person: z.string().optional(),
    linkGroup: z.string(),
    /** Of a station of the show: pages that act as it, where they are several. */
    pages: z.number(),
    battery: LiveAbout.shape.battery.meta({ description: 'Of the page that came last, where its browser tells.' }),
    lacks: LiveAbout.shape.lacks.optional().meta({ description: 'What its browser lacks.' }),
    /** Left out: what acts as it is a page. */
    pad: z.object({ serial: z.string(), columns: z.number(), rows: z.number() }).optional(),
  }),
);
export type StationsReply = z.infer<typeof StationsReply>;

export const StationShowBody = z.strictObject({ panel: Id }).meta({ id: 'StationShow' });

export const FoundReply = z.object({
  /** False: Umbek listens on its own machine only, and so hears nobody. */
  listens: z.boolean(),
  found: z.array(
    z.object({
      name: z.string(),
      kind: z.string(),
      host: z.string(),
      port: z.number(),
      /** Name of the device of the show that stands there already; null: none does. */
      device: z.string().nullable(),
    }),
  ),
});
export type FoundReply = z.infer<typeof FoundReply>;
