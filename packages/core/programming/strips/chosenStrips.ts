import { SELECTIONS } from '../../engine/selections';
import type { Device, Family, LampRule, ShowDocument, Step } from '../../show/index';
import { type ButtonPlan, command, lit, type OfferMaker, plan, titled } from './plan';

/** So many of what can be chosen become buttons of one strip: a router of 150 by 150 has a cap for each of its destinations and sources. */
const MOST_CHOSEN = 200;

/** Lit while what the button does is so, for whatever is chosen. */
const SO: LampRule = lit('button.isSo', 'chosen');
export const CHOSEN_SOURCE = { cel: 'chosen.source' } as const;
const CHOSEN_DESTINATION = { cel: 'chosen.destination' } as const;

/** A button for each thing that can be chosen. @param note what else each of them tells */
export const choosers = (
  document: ShowDocument,
  selection: string,
  note: (value: string | number) => string = () => '',
): ButtonPlan[] =>
  (SELECTIONS[selection]?.choices(document) ?? []).slice(0, MOST_CHOSEN).map(({ value, name }) => {
    const choose: Step = { id: 'choose', onFail: 'stop', kind: 'set', target: `chosen.${selection}`, to: value };
    return plan(name, [choose], {
      note: note(value),
      lamps: [lit(`chosen.${selection} == ${JSON.stringify(value)}`, 'chosen')],
    });
  });

/** Destinations, and what then goes there: on two stations of a link group each may stand on one. */
export const routes = (
  document: ShowDocument,
  device: Device,
  named: boolean,
  sources: readonly { readonly number: number; readonly name: string }[],
): ReturnType<OfferMaker> => {
  const destinations = choosers(
    document,
    'destination',
    (value) => `{{ "gets " + string(${device.key}.out${value}) }}`,
  );
  if (destinations.length === 0) return [];
  const strip = (name: string, family: Family, buttons: readonly ButtonPlan[]) => ({
    name: titled(name, device, named),
    family,
    buttons,
  });
  return [
    {
      key: `${device.key}/chosen`,
      group: device.name,
      words: 'Choose a destination, then what goes there',
      strips: [
        strip('Destination', 'slate', destinations),
        strip(
          'Goes there',
          'lagoon',
          sources.slice(0, MOST_CHOSEN).map(({ number, name }) =>
            plan(name, [command(device.key, 'connect', { destination: CHOSEN_DESTINATION, source: number })], {
              note: `source ${number}`,
              lamps: [SO],
            }),
          ),
        ),
      ],
    },
  ];
};

/** A source, and then where it goes; a box of a layout, and then what stands in it. */
export const chosenOnSwitcher: OfferMaker = (document, device, named) => {
  const { key } = device;
  const strip = (name: string, family: Family, buttons: readonly ButtonPlan[]) => ({
    name: titled(name, device, named),
    family,
    buttons,
  });
  const sources = choosers(document, 'source');
  if (sources.length === 0) return [];
  const to = (legend: string, name: string, params: Readonly<Record<string, number>> = {}) =>
    plan(legend, [command(key, name, { ...params, source: CHOSEN_SOURCE })], {
      note: '{{ chosen.source }}',
      lamps: [SO],
    });
  const inBox = document.sources.filter(({ input }) => input !== null).slice(0, MOST_CHOSEN);
  return [
    {
      key: `${key}/chosenSource`,
      group: device.name,
      words: 'Choose a source, then where it goes',
      strips: [
        strip('Source', 'slate', sources),
        strip('Goes to', 'lagoon', [
          to('Preview', 'preview'),
          to('On air', 'program'),
          to('Auxiliary 1', 'aux', { output: 1 }),
          to('Auxiliary 2', 'aux', { output: 2 }),
        ]),
      ],
    },
    {
      key: `${key}/chosenPlace`,
      group: device.name,
      words: 'Choose a box of a layout, then the source in it',
      strips: [
        strip('Layout', 'stone', choosers(document, 'layout')),
        strip('Box', 'slate', choosers(document, 'place')),
        strip(
          'In the box',
          'lagoon',
          inBox.map((source) =>
            plan(
              source.name,
              [
                command(key, 'boxOccupant', {
                  layout: { cel: 'chosen.layout' },
                  box: { cel: 'chosen.place' },
                  source: source.key,
                }),
              ],
              { note: 'in the box', lamps: [SO] },
            ),
          ),
        ),
      ],
    },
  ];
};
