import { made } from '../changes';
import { inOrder, orderBetween } from '../order';
import { sharedChanges, shareOf } from '../share';
import { GENERIC, kindOf, pointsOf } from '../../devices/index';
import {
  type Button,
  type Change,
  type Macro,
  type Panel,
  type ShowDocument,
  type Step,
  stepsWithin,
  type Strip,
} from '../../show/index';
import { partOf } from '../../show/part';
import { cameraOffers, viewOffers } from './cameraStrips';
import { chosenOnSwitcher } from './chosenStrips';
import { MACHINE_OFFERS } from './machineStrips';
import { type OfferMaker, plan, type StripOffer } from './plan';
import { recorderOffers } from './recorderStrips';
import { switcherOffers } from './switcherStrips';

export type { ButtonPlan, StripOffer, StripPlan } from './plan';

const MOST_MACROS = 40;
const MOST_TRIGGERS = 40;

function macroOffers({ macros }: ShowDocument): StripOffer[] {
  if (macros.length === 0) return [];
  return [
    {
      key: 'macros',
      group: 'Macros',
      words: 'Macros of this show',
      strips: [
        {
          name: 'Macros',
          family: 'stone',
          buttons: [...macros]
            .sort((a, b) => a.number - b.number)
            .slice(0, MOST_MACROS)
            .map((macro) =>
              plan(macro.name, [{ id: 'run', onFail: 'stop', kind: 'run', macro: macro.id, params: {} }], {
                note: `macro ${macro.number}`,
              }),
            ),
        },
      ],
    },
  ];
}

/** A cap for each trigger that arms and disarms it in turn and tells whether it is armed or holds; and one for each that can be fired by hand. */
function triggerOffers(document: ShowDocument): StripOffer[] {
  const triggers = inOrder(document.triggers).slice(0, MOST_TRIGGERS);
  if (triggers.length === 0) return [];
  const does = (id: string, what: 'arm' | 'disarm' | 'fire'): Step => ({
    id: what,
    onFail: 'stop',
    kind: 'trigger',
    trigger: id,
    does: what,
  });
  const arms = triggers.map(({ id, name, kind }) =>
    plan(name, [does(id, 'arm')], {
      sets: [{ id: 'set2', legend: name.slice(0, 120), steps: [does(id, 'disarm')], so: '' }],
      lamps: [
        ...(kind !== 'when' ? [{ when: `holds("${id}")`, show: 'up' as const }] : []),
        { when: `armed("${id}")`, show: 'armed' },
      ],
    }),
  );
  const fires = triggers.flatMap(({ id, name, kind }) => (kind === 'when' ? [plan(name, [does(id, 'fire')])] : []));
  const offer = (key: string, words: string, name: string, buttons: StripOffer['strips'][number]['buttons']) => ({
    key,
    group: 'Triggers',
    words,
    strips: [{ name, family: 'ochre' as const, buttons }],
  });
  return [
    offer('triggers.arm', 'Arm and disarm each trigger', 'Triggers', arms),
    ...(fires.length === 0 ? [] : [offer('triggers.fire', 'Fire a trigger by hand', 'Fire', fires)]),
  ];
}

/** Ready-made strips, as the rig of this show makes them possible: what works is offered, and nothing else. */
export function stripOffers(document: ShowDocument): StripOffer[] {
  const devices = inOrder(document.devices);
  const ofKind = (kind: string) => devices.filter((device) => partOf(device, document) === kind);
  const each = (kind: string, make: OfferMaker): StripOffer[] => {
    const all = ofKind(kind);
    return all.flatMap((device) => make(document, device, all.length > 1));
  };
  return fitting(document, [
    ...each('switcher', (show, device, named) => [
      ...switcherOffers(show, device, named),
      ...chosenOnSwitcher(show, device, named),
    ]),
    ...cameraOffers(document, ofKind('ptzHead')),
    ...viewOffers(document),
    ...recorderOffers(document, ofKind('recorder')),
    ...Object.entries(MACHINE_OFFERS).flatMap(([kind, make]) => each(kind, make)),
    ...macroOffers(document),
    ...triggerOffers(document),
  ]);
}

/**
 * What a device by profile fills the part of a kind with may be less than that kind: buttons that tell it something that it is not told are left
 * out, and so is what reads a state that it does not give.
 */
function fitting(document: ShowDocument, offers: readonly StripOffer[]): StripOffer[] {
  const known = document.devices
    .filter(({ kind }) => kind === GENERIC)
    .map((device) => ({
      key: device.key,
      commands: kindOf(device, document)?.commands ?? {},
      points: pointsOf(device, document),
    }));
  if (known.length === 0) return [...offers];
  const tells = (text: string): boolean =>
    known.every(({ key, points }) =>
      [...text.matchAll(new RegExp(`\\b${key}\\.([A-Za-z0-9]+)`, 'g'))].every(
        ([, point = '']) => point in points || point === 'reached',
      ),
    );
  const takes = (steps: readonly Step[]): boolean =>
    [...stepsWithin(steps)].every((step) => {
      if (step.kind === 'wait') return tells(step.until);
      const device = step.kind === 'command' ? known.find(({ key }) => key === step.device) : undefined;
      return device === undefined || (step.kind === 'command' && step.command in device.commands);
    });
  return offers.flatMap((offer) => {
    const strips = offer.strips
      .map((strip) => ({
        ...strip,
        buttons: strip.buttons
          .filter(({ steps, releaseSteps }) => takes(steps) && takes(releaseSteps))
          .map((button) => ({
            ...button,
            note: tells(button.note) ? button.note : '',
            lamps: button.lamps.filter(({ when }) => tells(when)),
          })),
      }))
      .filter(({ buttons }) => buttons.length > 0);
    return strips.length === 0 ? [] : [{ ...offer, strips }];
  });
}

/**
 * The changes that make these offers strips of a panel, below those that it has.
 * @param newId gives each new entry its id
 * @param page that they stand on; left out: on every page
 * @param share the buttons of a strip that differ in one thing run one macro, each giving its own
 * @returns the changes, and the ids of the strips
 */
export function stripsMade(
  document: ShowDocument,
  panelId: string,
  offers: readonly StripOffer[],
  newId: () => string,
  page = '',
  share = false,
): { readonly changes: Change[]; readonly strips: string[] } {
  const changes: Change[] = [];
  const strips: string[] = [];
  let last = inOrder(document.strips.filter((strip) => strip.panelId === panelId)).at(-1)?.order ?? null;
  let withMacros = document;
  const values = new Set(document.values.map(({ key }) => key));
  let lastValue = inOrder(document.values).at(-1)?.order ?? null;
  for (const value of offers.flatMap((offer) => offer.values ?? [])) {
    if (values.has(value.key)) continue;
    values.add(value.key);
    lastValue = orderBetween(lastValue, null);
    changes.push(made('values', { ...value, id: newId(), order: lastValue }));
  }
  for (const { name, family, buttons } of offers.flatMap((offer) => offer.strips)) {
    last = orderBetween(last, null);
    const strip: Strip = { id: newId(), panelId, name, family, page, order: last };
    strips.push(strip.id);
    changes.push(made('strips', strip));
    let order: string | null = null;
    const row = buttons.map((button): Button => {
      order = orderBetween(order, null);
      return { ...button, id: newId(), stripId: strip.id, order };
    });
    const shared = share ? sharedRow(withMacros, row, name, newId) : null;
    if (shared !== null) {
      withMacros = { ...withMacros, macros: [...withMacros.macros, shared.macro] };
      changes.push(made('macros', shared.macro));
    }
    for (const button of row) changes.push(made('buttons', shared?.buttons.get(button.id) ?? button));
  }
  return { changes, strips };
}

/** Fewer buttons than these are changed one by one as soon as together. */
const FEWEST_SHARED = 3;

/** A macro, and the buttons that run it now. */
interface SharedRow {
  readonly macro: Macro;
  readonly buttons: ReadonlyMap<string, Button>;
}

/** The largest part of a row that does the same but for one thing, as one macro that its buttons run; null where no three of them do. */
function sharedRow(
  document: ShowDocument,
  row: readonly Button[],
  name: string,
  newId: () => string,
): SharedRow | null {
  // Those of one device before those of one kind of device: each of them differs in less.
  return (
    sharedWhere(document, row, name, newId, (device) => device) ??
    sharedWhere(document, row, name, newId, (device) => document.devices.find(({ key }) => key === device)?.kind ?? '')
  );
}

function sharedWhere(
  document: ShowDocument,
  row: readonly Button[],
  name: string,
  newId: () => string,
  same: (device: string) => string,
): SharedRow | null {
  /** What a button does, without what it does it with. */
  const deed = ({ steps }: Button): string =>
    JSON.stringify(steps, (key, value: unknown) => {
      if (key === 'params') return Object.keys(value as object);
      if (key === 'device') return same(String(value));
      return key === 'to' || key === 'until' || key === 'id' ? '' : value;
    });
  const alike = new Map<string, Button[]>();
  for (const button of row) alike.set(deed(button), [...(alike.get(deed(button)) ?? []), button]);
  const [most = []] = [...alike.values()].sort((a, b) => b.length - a.length);
  if (most.length < FEWEST_SHARED) return null;
  const found = shareOf({ ...document, buttons: [...document.buttons, ...row] }, most);
  if ('words' in found || found.params.length !== 1) return null;
  const { changes, macro } = sharedChanges(document, most, found, name, newId);
  const runs = new Map(changes.flatMap(({ entity, id, to }) => (entity === 'buttons' ? [[id, to as Step[]]] : [])));
  return {
    macro,
    buttons: new Map(most.map((button) => [button.id, { ...button, steps: runs.get(button.id) ?? button.steps }])),
  };
}

/** A first panel for a rig that has none: what nearly every show needs of what it holds. */
export function firstPanel(
  document: ShowDocument,
  newId: () => string,
): { readonly panel: Panel; readonly changes: Change[] } {
  const last = inOrder(document.panels).at(-1)?.order ?? null;
  const panel: Panel = { id: newId(), name: 'Main', pages: [], order: orderBetween(last, null) };
  const offers = stripOffers(document).filter((offer) => offer.first === true);
  return { panel, changes: [made('panels', panel), ...stripsMade(document, panel.id, offers, newId).changes] };
}
