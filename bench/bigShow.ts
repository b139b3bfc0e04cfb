import { corvaneHill, demoId } from '@umbek/demo';
import {
  type Button,
  type Macro,
  type Panel,
  PLAIN_BUTTON,
  type ShowDocument,
  type Step,
  type Strip,
} from '@umbek/core/show';

export const BIG_BUTTONS = 5000;
export const BIG_MACROS = 1000;
const STRIP = 20;
const STRIPS_A_PANEL = 5;

const order = (index: number): string => `c${String(index).padStart(6, '0')}`;

/** The demo's rig with 5,000 buttons on 50 panels, each with two lamp rules and three steps, and 1,000 macros of ten steps. */
export function bigShow(ports?: Parameters<typeof corvaneHill>[0]): ShowDocument {
  const show = corvaneHill(ports);
  const [first] = show.strips;
  const heads = show.positions.map((position) => ({
    key: position.key,
    device: position.camera,
  }));
  const cameras = show.sources.filter((source) => source.camera !== null).map((source) => source.key);
  const steps = (index: number): Step[] => {
    const at = heads[index % heads.length];
    if (at === undefined) throw new Error('The demo has no position.');
    return [
      {
        id: 'recall',
        onFail: 'stop',
        kind: 'command',
        device: at.device,
        command: 'recall',
        params: { position: at.key },
      },
      { id: 'wait', onFail: 'stop', kind: 'wait', until: `${at.device}.arrived == "${at.key}"`, timeoutMs: 5000 },
      {
        id: 'preview',
        onFail: 'stop',
        kind: 'command',
        device: 'switcher',
        command: 'preview',
        params: { source: cameras[index % cameras.length] ?? 'lawnCam' },
      },
    ];
  };
  const panels = Array.from({ length: BIG_BUTTONS / STRIP / STRIPS_A_PANEL }, (_, index): Panel => ({
    id: demoId('PAN', 1000 + index),
    name: `Panel ${index + 1}`,
    pages: [],
    order: order(index),
  }));
  const strips = Array.from({ length: BIG_BUTTONS / STRIP }, (_, index): Strip => ({
    id: demoId('STR', 1000 + index),
    panelId: demoId('PAN', 1000 + Math.floor(index / STRIPS_A_PANEL)),
    name: `Row ${index + 1}`,
    family: first?.family ?? 'moss',
    page: '',
    order: order(index),
  }));
  const buttons = Array.from({ length: BIG_BUTTONS }, (_, index): Button => ({
    ...PLAIN_BUTTON,
    id: demoId('BTN', 1000 + index),
    stripId: demoId('STR', 1000 + Math.floor(index / STRIP)),
    legend: `Button ${index + 1}`,
    // A few only cut: what is measured is their press.
    steps: index % STRIP === 0 ? steps(index).slice(2) : steps(index),
    lamps: [
      { when: `onAir("${cameras[index % cameras.length] ?? ''}")`, show: 'onAir' },
      { when: `switcher.input${(index % 60) + 1}Name == "Name ${index}"`, show: 'onPreview' },
    ],
    order: order(index),
  }));
  const macros = Array.from({ length: BIG_MACROS }, (_, index): Macro => ({
    id: demoId('MAC', 1000 + index),
    number: 1000 + index,
    name: `Macro ${index + 1}`,
    folder: '',
    params: [],
    steps: [0, 1, 2]
      .flatMap((part) => steps(index + part).map((step) => ({ ...step, id: `${step.id}${part}` })))
      .concat([{ id: 'pause', onFail: 'stop', kind: 'pause', length: { ms: 200 } }]),
    stopSteps: [],
    atStop: 'steps',
    again: 'startOver',
    owns: [],
  }));
  return { ...show, panels, strips, buttons, macros };
}
