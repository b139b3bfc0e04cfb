import type { Change, Panel, ShowDocument, Strip } from '../show/index';
import { changed, removed } from './changes';

/** A strip goes, and its buttons with it. */
export const stripRemoved = ({ buttons }: ShowDocument, strip: Strip): Change[] => [
  ...buttons.filter((button) => button.stripId === strip.id).map((button) => removed('buttons', button)),
  removed('strips', strip),
];

/** A panel goes, with its strips and their buttons. */
export const panelRemoved = (show: ShowDocument, panel: Panel): Change[] => [
  ...show.strips.filter((strip) => strip.panelId === panel.id).flatMap((strip) => stripRemoved(show, strip)),
  // Stations that may show it, or open on it, know it no more.
  ...show.stations.flatMap((station) => [
    ...(station.panels.includes(panel.id)
      ? [
          changed(
            'stations',
            station,
            'panels',
            station.panels.filter((id) => id !== panel.id),
          ),
        ]
      : []),
    ...(station.opensOn === panel.id ? [changed('stations', station, 'opensOn', null)] : []),
  ]),
  removed('panels', panel),
];
