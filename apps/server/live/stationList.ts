import type { ShowDocument } from '@umbek/core/show';
import { stationOf } from '@umbek/core/shown';
import type { LiveAbout, StationsReply } from '@umbek/protocol';
import type { Who } from '../access/who';

/** A page or pad that has said who it is. */
export interface Station {
  readonly name: string;
  person: string;
  /** It says so itself; what it was given counts beside it. */
  readonly operate: boolean;
  readonly who: Who;
  /** Of the panel that it shows. */
  linkGroup: string;
  /** The one that it asked for: it counts where it acts as no station of the show. */
  readonly ownGroup: string;
  /** Station of the show that it acts as. */
  readonly claims: string | null;
  /** Left out: a page. */
  readonly pad?: PadOf;
  panel: string | null;
  /** What it says of the machine that it runs on. */
  about?: LiveAbout;
}

const aboutOf = (
  station: { readonly about?: LiveAbout | undefined } | undefined,
): Pick<StationsReply[number], 'battery' | 'lacks'> =>
  station?.about === undefined
    ? {}
    : {
        lacks: station.about.lacks,
        ...(station.about.battery === undefined ? {} : { battery: station.about.battery }),
      };

/** What a pad with keys tells of itself. */
export type PadOf = NonNullable<StationsReply[number]['pad']>;

/** Connections of one name are told apart by a number that says nothing to people. */
export const plainName = (name: string): string => name.replace(/#\d+$/, '');

/** Stations of the show, present or not, and pages and pads that act as none of them. @param all those that are there, the one that came last at the end */
export function stationList(document: ShowDocument, all: readonly Station[]): StationsReply {
  return [
    ...document.stations.map(({ id, name, opensOn, linkGroup }) => {
      const here = all.filter(({ claims }) => claims === id);
      // Of several the one that came last.
      const last = here.at(-1);
      return {
        id,
        name,
        present: last !== undefined,
        panel: last === undefined ? opensOn : last.panel,
        ...(last === undefined || last.person === '' ? {} : { person: last.person }),
        linkGroup,
        pages: here.length,
        ...(last?.pad === undefined ? {} : { pad: last.pad }),
        ...aboutOf(last),
      };
    }),
    ...all
      .filter(({ claims }) => stationOf(document, claims) === undefined)
      .map(({ name, person, panel, linkGroup, pad, about }) => ({
        id: name,
        name: plainName(name),
        present: true,
        panel,
        ...(person === '' ? {} : { person }),
        linkGroup,
        pages: 1,
        ...(pad === undefined ? {} : { pad }),
        ...aboutOf({ about }),
      })),
  ];
}
