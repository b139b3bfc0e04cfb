import { inOrder } from '../order';
import type { Argument, Device, ShowDocument, Step } from '../../show/index';
import { type ButtonPlan, command, lit, plan, type StripOffer, type StripPlan } from './plan';

/** Frames over which a stored view is taken. */
const VIEW_FRAMES = 25;

const choose = (camera: string): Step => ({
  id: 'choose',
  onFail: 'stop',
  kind: 'set',
  target: 'chosen.camera',
  to: camera,
});

/** A move of the chosen camera that its release ends. */
const nudge = (legend: string, params: Readonly<Record<string, Argument>>): ButtonPlan =>
  plan(legend, [command('chosen.camera', 'nudge', params)], {
    note: 'while held',
    mode: 'hold',
    releaseSteps: [command('chosen.camera', 'stop')],
  });

const MOVES: StripPlan = {
  name: 'Move',
  family: 'ochre',
  buttons: [
    nudge('Left', { x: -1 }),
    nudge('Up', { y: 1 }),
    nudge('Down', { y: -1 }),
    nudge('Right', { x: 1 }),
    nudge('Closer', { zoom: 1 }),
    nudge('Wider', { zoom: -1 }),
    plan('Slow left', [command('chosen.camera', 'nudge', { x: -0.3 })], {
      note: 'while held',
      mode: 'hold',
      releaseSteps: [command('chosen.camera', 'stop')],
    }),
    plan('Slow right', [command('chosen.camera', 'nudge', { x: 0.3 })], {
      note: 'while held',
      mode: 'hold',
      releaseSteps: [command('chosen.camera', 'stop')],
    }),
    plan('Middle', [command('chosen.camera', 'home')], { note: 'pan 0, tilt 0' }),
    plan('Autofocus', [command('chosen.camera', 'focusMode', { mode: 'auto' })], { note: 'chosen camera' }),
  ],
};

/** Sources without motors that have stored views: their window is moved like a camera. */
const withViews = (document: ShowDocument) =>
  inOrder(document.sources).filter(
    ({ key, camera, input }) =>
      camera === null && input !== null && document.reframes.some(({ source }) => source === key),
  );

/** Stored views of the sources that no motor moves. */
export function viewOffers(document: ShowDocument): StripOffer[] {
  const switcher = document.devices.find(({ kind }) => kind === 'switcher')?.key;
  if (switcher === undefined) return [];
  return withViews(document).map(({ key, name }) => ({
    key: `cameras/views/${key}`,
    group: 'Cameras',
    words: `Views of ${name}`,
    strips: [
      {
        name: `${name}: views`.slice(0, 120),
        family: 'lagoon',
        buttons: [
          ...inOrder(document.reframes.filter(({ source }) => source === key)).map((reframe) =>
            plan(reframe.name, [command(switcher, 'reframeTo', { reframe: reframe.key, frames: VIEW_FRAMES })], {
              note: `${reframe.scale.toFixed(1)}×`,
            }),
          ),
          plan(
            'Full view',
            [command(switcher, 'reframe', { source: key, x: 0.5, y: 0.5, scale: 1, frames: VIEW_FRAMES })],
            {
              note: 'again',
            },
          ),
        ],
      },
    ],
  }));
}

/** What the heads of a rig can have on a panel: choosing one and moving it, and the stored positions of each. */
export function cameraOffers(document: ShowDocument, heads: readonly Device[]): StripOffer[] {
  if (heads.length === 0) return [];
  const switcher = document.devices.find(({ kind }) => kind === 'switcher');
  const sourceOf = (camera: string) =>
    document.sources.find((source) => source.camera === camera && source.input !== null);
  const windows = switcher === undefined ? [] : withViews(document);
  const chooser = (preview: boolean): StripPlan => ({
    name: 'Choose',
    family: 'slate',
    buttons: [
      ...heads.map(({ key, name }) => {
        const source = preview && switcher ? sourceOf(key) : undefined;
        return plan(
          name,
          [choose(key), ...(source && switcher ? [command(switcher.key, 'preview', { source: source.key })] : [])],
          {
            note: `{{ ${key}.travelling ? "moving" : "standing" }}`,
            lamps: [lit(`chosen.camera == "${key}"`, 'chosen')],
          },
        );
      }),
      // No motor moves them: the same caps move their window.
      ...windows.map(({ key, name }) =>
        plan(name, [choose(key), ...(preview && switcher ? [command(switcher.key, 'preview', { source: key })] : [])], {
          note: 'its window',
          lamps: [lit(`chosen.camera == "${key}"`, 'chosen')],
        }),
      ),
    ],
  });
  const group = 'Cameras';
  const offers: StripOffer[] = [
    {
      key: 'cameras/choose',
      group,
      words: 'Choose a camera, and move it',
      strips: [chooser(false), MOVES],
      first: true,
    },
  ];
  if (switcher && heads.some(({ key }) => sourceOf(key)))
    offers.push({
      key: 'cameras/chooseAndPreview',
      group,
      words: 'Choose a camera, preview and move it',
      strips: [chooser(true), MOVES],
    });
  for (const { key, name } of heads) {
    const positions = inOrder(document.positions.filter(({ camera }) => camera === key));
    if (positions.length === 0) continue;
    offers.push({
      key: `cameras/positions/${key}`,
      group,
      words: `Positions of ${name}`,
      strips: [
        {
          name: heads.length > 1 ? `${name}: positions` : 'Positions',
          family: 'lagoon',
          buttons: positions.map((position) =>
            plan(position.name, [command(key, 'recall', { position: position.key })], {
              note: `{{ ${key}.travelling ? "moving" : "recall" }}`,
              picture: `position:${position.key}`,
              lamps: [lit(`${key}.arrived == "${position.key}"`, 'arrived')],
            }),
          ),
        },
      ],
      first: true,
    });
  }
  return offers;
}
