import { KEYERS, switcherInputs } from '../../devices/switcher/numbers';
import { inOrder } from '../order';
import { type Family, type Source, TAKE_STRIP } from '../../show/index';
import { type ButtonPlan, command, lit, type OfferMaker, plan, type StripOffer, titled } from './plan';

const AUXILIARIES = [1, 2] as const;
/** Lengths of transitions, frames: one second at 50, and a slow fade. */
const MIX_FRAMES = 25;
const FADE_FRAMES = 50;

/** Sources in the colours that they have in the Rig. */
const inColour = (source: Source, strip: Family): Pick<ButtonPlan, 'family'> => ({
  family: source.family === strip ? null : source.family,
});

/** What a switcher can have on a panel: its sources to preview, to air and to auxiliaries, the take, black and keyers. */
export const switcherOffers: OfferMaker = (document, device, named) => {
  const { key } = device;
  const group = device.name;
  const most = switcherInputs(device.settings);
  const sources = inOrder(document.sources).filter(({ input }) => input !== null && input <= most);
  const offers: StripOffer[] = [];
  const offer = (name: string, words: string, family: Family, buttons: ButtonPlan[], first = false): void => {
    if (buttons.length === 0) return;
    const strips = [{ name: name === TAKE_STRIP ? name : titled(name, device, named), family, buttons }];
    offers.push({ key: `${key}/${name}`, group, words, strips, ...(first ? { first: true as const } : {}) });
  };
  offer(
    'Sources',
    'Sources to preview',
    'slate',
    sources.map((source) =>
      plan(source.name, [command(key, 'preview', { source: source.key })], {
        note: 'to preview',
        ...inColour(source, 'slate'),
        lamps: [lit(`onAir("${source.key}")`, 'onAir'), lit(`onPreview("${source.key}")`, 'onPreview')],
      }),
    ),
    true,
  );
  offer(
    'Direct to air',
    'Sources direct to program',
    'rose',
    sources.map((source) =>
      plan(source.name, [command(key, 'program', { source: source.key })], {
        note: 'to air',
        ...inColour(source, 'rose'),
        lamps: [lit(`onAir("${source.key}")`, 'onAir')],
      }),
    ),
  );
  const mixing = `${key}.mixing`;
  const take = [
    plan('Cut', [command(key, 'cut')], { note: 'preview to air' }),
    plan('Mix', [command(key, 'mix', { frames: MIX_FRAMES })], {
      note: `${MIX_FRAMES} f`,
      lamps: [lit(`${mixing} && ${key}.transition == "mix"`, 'armed')],
    }),
  ];
  // One take stands in reach on every panel; a second one would take its place there.
  if (!document.strips.some(({ name }) => name === TAKE_STRIP))
    offer(TAKE_STRIP, 'Take: cut and mix, in reach on every panel', 'stone', take, true);
  offer('Transitions', 'Wipe, mix by hand, fade to black and back', 'stone', [
    plan('Lever', [command(key, 'lever', { position: 0 })], {
      note: 'mix by hand',
      dial: { param: 'position', by: 0, min: 0, max: 1, step: 0.01, unit: '', reads: `${key}.lever` },
      lamps: [lit(`${mixing} && ${key}.lever > 0.0 && ${key}.lever < 1.0`, 'armed')],
    }),
    plan('Wipe', [command(key, 'wipe', { frames: MIX_FRAMES, direction: 'right' })], {
      note: `${MIX_FRAMES} f`,
      lamps: [lit(`${mixing} && ${key}.transition != "mix"`, 'armed')],
    }),
    plan('To black', [command(key, 'fadeToBlack', { on: true, frames: FADE_FRAMES })], {
      note: `{{ ${key}.black ? "air is black" : "${FADE_FRAMES} f" }}`,
      guard: 'secondTouch',
      lamps: [lit(`${key}.black`, 'onAir'), lit(`${key}.fading`, 'armed')],
    }),
    plan('From black', [command(key, 'fadeToBlack', { on: false, frames: FADE_FRAMES })], {
      note: `${FADE_FRAMES} f`,
      lamps: [lit(`${key}.black`, 'armed')],
    }),
  ]);
  for (const output of AUXILIARIES)
    offer(
      `Auxiliary ${output}`,
      `Auxiliary ${output} from every source`,
      'ochre',
      sources.map((source) =>
        plan(source.name, [command(key, 'aux', { output, source: source.key })], {
          note: `to auxiliary ${output}`,
          ...inColour(source, 'ochre'),
          lamps: [lit(`${key}.aux${output} == input("${source.key}")`, 'chosen')],
        }),
      ),
    );
  offer(
    'Keyers',
    'Keyers on and off',
    'clay',
    Array.from({ length: KEYERS }, (_, at) => at + 1).map((keyer) =>
      plan(`Keyer ${keyer}`, [command(key, 'keyer', { keyer, on: { cel: `!${key}.keyer${keyer}` } })], {
        note: `{{ ${key}.keyer${keyer} ? "on, press for off" : "off, press for on" }}`,
        lamps: [lit(`${key}.keyer${keyer}`, 'up')],
      }),
    ),
  );
  if (document.roles.length > 0)
    offer(
      'Roles',
      'Roles to preview, whoever has them',
      'lagoon',
      inOrder(document.roles).map((role) =>
        plan(role.name, [command(key, 'preview', { source: role.key })], {
          note: 'to preview',
          lamps: [lit(`onAir("${role.key}")`, 'onAir'), lit(`onPreview("${role.key}")`, 'onPreview')],
        }),
      ),
    );
  return offers;
};
