import { USUAL } from '../../devices/drawn';
import { placeOf } from '../../devices/kind';
import { MACROS, macroNamePoint } from '../../devices/switcher/numbers';
import { PEOPLE_PLACES } from '../../engine/liveLists';
import { type Device, PEOPLE_LIST, type ShowDocument, type Step } from '../../show/index';
import { inOrder } from '../order';
import { command, count, lit, type OfferMaker, oneStrip, plan, type StripOffer, titled } from './plan';

/** Places of a strip that follows clips, and of one that follows marks. */
const [MOST_CLIPS, MOST_MARKS] = [12, 8];

/** Places of a strip that follows what the device lists: what comes and goes, and never moves while it is there. */
const places = (most: number): number[] => Array.from({ length: most }, (_, at) => at + 1);

/** Clips as the player has them. */
export const clips: OfferMaker = (_document, device, named) => {
  const { key } = device;
  return [
    oneStrip(device, 'clips', 'Clips, as the player has them: cue and play', {
      name: titled('Clips', device, named),
      family: 'plum',
      buttons: places(MOST_CLIPS).map((place) => {
        const clip = `${key}.${placeOf('clips', place)}`;
        return plan(
          `{{ ${clip} }}`,
          [command(key, 'cue', { clip: { cel: clip }, loop: false }), command(key, 'play')],
          {
            note: 'cue and play',
            there: `${clip} != ""`,
            lamps: [
              lit(`${key}.ch1Layer1Clip == ${clip} && ${key}.ch1Layer1Playing`, 'up'),
              lit(`${key}.ch1Layer1Clip == ${clip}`, 'armed'),
            ],
          },
        );
      }),
    }),
  ];
};

/** Marks that are still in the buffer. */
export const marks: OfferMaker = (_document, device, named) => {
  const { key } = device;
  return [
    oneStrip(device, 'marks', 'Marks, as long as they are in the buffer: cue', {
      name: titled('Marks', device, named),
      family: 'plum',
      buttons: places(MOST_MARKS).map((place) => {
        const mark = `${key}.${placeOf('marks', place)}`;
        return plan(
          `Mark {{ ${mark} }}`,
          [command(key, 'cue', { mark: { cel: mark }, channel: 1, angle: 1, speed: 50 })],
          {
            note: 'cue, half speed',
            there: `${mark} != 0`,
            lamps: [
              lit(`${key}.ch1Mark == ${mark} && ${key}.ch1Rolling`, 'up'),
              lit(`${key}.ch1Mark == ${mark}`, 'armed'),
            ],
          },
        );
      }),
    }),
  ];
};

/** Guests while they are on their line, whose picture a source carries. */
export const guests: OfferMaker = (document, device, named) => {
  const { key } = device;
  const switcher = document.devices.find(({ kind }) => kind === 'switcher');
  const lines = count(device.settings, 'lines', USUAL.guestGateway.lines).flatMap((line) => {
    const source = document.sources.find((each) => each.line === line && each.input !== null);
    return switcher === undefined || source === undefined ? [] : [{ line, source, switcher }];
  });
  if (lines.length === 0) return [];
  return [
    oneStrip(device, 'guests', 'Guests who are there: to preview', {
      name: titled('Guests', device, named),
      family: 'rose',
      buttons: lines.map(({ line, source, switcher: { key: to } }) =>
        plan(`{{ ${key}.line${line}Guest }}`, [command(to, 'preview', { source: source.key })], {
          note: `{{ ${key}.line${line}Muted ? "muted" : "line ${line}" }}`,
          there: `${key}.line${line}Connected`,
          lamps: [lit(`onAir("${source.key}")`, 'onAir'), lit(`onPreview("${source.key}")`, 'onPreview')],
        }),
      ),
    }),
  ];
};

/** Macros that a switcher keeps: those that have a name. */
export const keptMacros: OfferMaker = (_document, device, named) => {
  const { key } = device;
  return [
    oneStrip(device, 'macros', 'Macros that the switcher keeps', {
      name: titled('Kept macros', device, named),
      family: 'stone',
      buttons: places(MACROS).map((macro) => {
        const name = `${key}.${macroNamePoint(macro)}`;
        return plan(`{{ ${name} }}`, [command(key, 'runMacro', { macro })], {
          note: `number ${macro}`,
          there: `${name} != ""`,
        });
      }),
    }),
  ];
};

/** So many of the people list become buttons of one strip; more than these are found and chosen. */
const MOST_NAMES = 24;

/** Captions of the people list: whoever is chosen, and one button for each of its first. */
export function nameOffers(document: ShowDocument, device: Device, named: boolean): StripOffer[] {
  if (document.people.length === 0) return [];
  const { key } = device;
  const step = (by: number): Step => ({
    id: 'choose',
    onFail: 'stop',
    kind: 'set',
    target: 'chosen.person',
    to: '',
    by,
  });
  const out = plan('Name out', [command(key, 'nameOut', { ms: 300 })], { lamps: [lit(`${key}.nameUp`, 'up')] });
  return [
    oneStrip(device, 'chosenName', 'Names: next, previous, find, and the chosen one in', {
      name: titled('Chosen name', device, named),
      family: 'clay',
      buttons: [
        plan('Previous', [step(-1)], { note: 'person' }),
        plan('{{ chosen.personName }}', [command(key, 'personIn', { person: { cel: 'chosen.person' }, ms: 400 })], {
          note: '{{ chosen.personTitle }}',
          lamps: [lit('button.isSo', 'up')],
        }),
        plan('Next', [step(1)], { note: 'person' }),
        plan('Find', [{ id: 'find', onFail: 'stop', kind: 'show', panel: PEOPLE_LIST, page: '' }], {
          note: 'people list',
        }),
        out,
      ],
    }),
    oneStrip(device, 'listed', 'Names: as the people list has them', {
      name: titled('People', device, named),
      family: 'clay',
      buttons: places(PEOPLE_PLACES).map((place) => {
        const at = `people.at${place}`;
        return plan(`{{ ${at}Name }}`, [command(key, 'personIn', { person: { cel: at }, ms: 400 })], {
          note: `{{ ${at}Title }}`,
          there: `${at} != ""`,
          lamps: [lit('button.isSo', 'up')],
        });
      }),
    }),
    oneStrip(device, 'names', 'Names: one button a person', {
      name: titled('Names', device, named),
      family: 'clay',
      buttons: [
        ...inOrder(document.people)
          .slice(0, MOST_NAMES)
          .map((person) =>
            plan(person.name, [command(key, 'personIn', { person: person.key, ms: 400 })], {
              note: person.title,
              lamps: [lit('button.isSo', 'up')],
            }),
          ),
        out,
      ],
    }),
  ];
}
