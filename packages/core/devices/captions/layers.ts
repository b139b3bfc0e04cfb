/** The layers of a caption engine: each holds one template with its fields, comes in and goes out over a length, and may stay for so long. */
import { z } from 'zod';
import { allOf, NOTHING, puts } from '../effects';
import type { PlainValue } from '../../show/index';
import type { CommandDefinition, CommandEffect, DeviceCommand, PointDefinition, Points } from '../kind';

export const LAYERS = 6;
const FIELDS = 4;
const list = (count: number): number[] => Array.from({ length: count }, (_, index) => index + 1);

/** What a caption engine has to show: a name and the names of its fields. */
export const Template = z.strictObject({
  name: z.string().min(1).max(60),
  fields: z.array(z.string().min(1).max(40)).max(FIELDS).default([]),
});
export type Template = z.infer<typeof Template>;

export const TEMPLATES: readonly Template[] = [
  { name: 'Lower third', fields: ['Name', 'Title', 'Place'] },
  { name: 'Logo', fields: [] },
  { name: 'Count board', fields: ['Label', 'Count'] },
  { name: 'Countdown', fields: ['Label', 'Seconds'] },
  { name: 'Ticker', fields: ['Text'] },
  { name: 'Clock', fields: ['Place'] },
];

type Stage = 'out' | 'comingIn' | 'in' | 'goingOut';

interface Layer {
  readonly template: string;
  readonly texts: readonly string[];
  readonly stage: Stage;
  /** When its motion ends. */
  readonly endsAt: number | null;
  /** When it goes by itself. */
  readonly goesAt: number | null;
  readonly outMs: number;
}

export type Layers = readonly Layer[];

const EMPTY: Layer = { template: '', texts: ['', '', '', ''], stage: 'out', endsAt: null, goesAt: null, outMs: 300 };
const up = ({ stage }: Layer): boolean => stage === 'comingIn' || stage === 'in';
const secondsLeft = ({ goesAt }: Layer, now: number): number =>
  goesAt === null ? 0 : Math.max(0, Math.ceil((goesAt - now) / 1000 - 1e-9));

export function startLayers(from: Points, now: number): Layers {
  return list(LAYERS).map((number) => {
    const left = Number(from[`layer${number}Left`] ?? 0);
    return {
      ...EMPTY,
      template: String(from[`layer${number}Template`] ?? ''),
      texts: list(FIELDS).map((field) => String(from[`layer${number}Field${field}`] ?? '')),
      stage: from[`layer${number}Up`] === true ? 'in' : 'out',
      goesAt: left > 0 ? now + left * 1000 : null,
    };
  });
}

/** Whether anything changes by itself. Asked in every step of a rehearsal. */
export function goesOn(layers: Layers): boolean {
  for (const layer of layers) if (layer.endsAt !== null || layer.goesAt !== null) return true;
  return false;
}

/** What has gone on by itself up to now. The same when nothing has. */
export function advanceLayers(layers: Layers, now: number): Layers {
  if (!goesOn(layers)) return layers;
  let changed = false;
  const next = layers.map((layer) => {
    let item = layer;
    if (item.endsAt !== null && now + 1e-6 >= item.endsAt)
      item =
        item.stage === 'comingIn' ? { ...item, stage: 'in', endsAt: null } : { ...item, stage: 'out', endsAt: null };
    if (item.goesAt !== null && now + 1e-6 >= item.goesAt)
      item = up(item)
        ? { ...item, stage: 'goingOut', endsAt: now + item.outMs, goesAt: null }
        : { ...item, goesAt: null };
    changed ||= item !== layer;
    return item;
  });
  return changed ? next : layers;
}

/** When something next changes by itself: a motion ends, another second has gone, a layer goes. */
export function layersWake(layers: Layers, now: number): number | null {
  if (!goesOn(layers)) return null;
  let wake: number | null = null;
  for (const layer of layers) {
    const { endsAt, goesAt } = layer;
    const second = goesAt === null ? null : Math.max(now, goesAt - Math.max(0, secondsLeft(layer, now) - 1) * 1000);
    for (const at of [endsAt, second]) if (at !== null && (wake === null || at < wake)) wake = at;
  }
  return wake;
}

export const layerPoints = (layers: Layers, now: number): Points =>
  Object.fromEntries(
    layers.flatMap((layer, index) => [
      [`layer${index + 1}Template`, layer.template],
      [`layer${index + 1}Up`, up(layer)],
      [`layer${index + 1}Stage`, layer.stage],
      [`layer${index + 1}Left`, secondsLeft(layer, now)],
      ...layer.texts.map((text, field) => [`layer${index + 1}Field${field + 1}`, text] as const),
    ]),
  );

/** The templates as they are told: one a line, its fields behind it. */
export const templateText = (templates: readonly Template[]): string =>
  templates.map(({ name, fields }) => (fields.length === 0 ? name : `${name}: ${fields.join(', ')}`)).join('\n');

/** Carries one of the commands below out. @returns the new layers, why it is refused, or undefined when it is none of these */
export function actLayers(
  layers: Layers,
  { command, params }: DeviceCommand,
  now: number,
  templates: readonly Template[],
): Layers | string | undefined {
  const at = Number(params.layer) - 1;
  const layer = layers[at];
  const withLayer = (next: Layer): Layers => layers.map((item, index) => (index === at ? next : item));
  if (!['layerIn', 'layerOut', 'layerField', 'layerClear'].includes(command)) return undefined;
  if (layer === undefined) return `There is no layer ${at + 1}.`;
  switch (command) {
    case 'layerIn': {
      const template = templateNamed(params.template);
      if (!templates.some((candidate) => candidate.name === template)) return `There is no template ${template}.`;
      const seconds = Number(params.seconds ?? 0);
      return withLayer({
        template,
        texts: list(FIELDS).map((field) => String(params[`field${field}`] ?? '')),
        stage: 'comingIn',
        endsAt: now + Number(params.ms),
        goesAt: seconds > 0 ? now + seconds * 1000 : null,
        outMs: Number(params.ms),
      });
    }
    case 'layerOut':
      return layer.stage === 'out'
        ? layers
        : withLayer({ ...layer, stage: 'goingOut', endsAt: now + Number(params.ms), goesAt: null });
    case 'layerField':
      return withLayer({
        ...layer,
        texts: layer.texts.map((text, index) => (index === Number(params.field) - 1 ? String(params.text) : text)),
      });
    default:
      return withLayer(EMPTY);
  }
}

const LayerNumber = z.number().int().min(1).max(LAYERS).default(1).meta({ title: 'Layer' });
const Length = z.number().min(0).max(10_000).meta({ title: 'Length', unit: 'ms' });
const FieldText = (field: number) =>
  z
    .string()
    .max(240)
    .default('')
    .meta({ title: `Field ${field}` });

/** What the list of templates tells may come back whole: name and fields. */
const templateNamed = (point: PlainValue | undefined): string => String(point ?? '').split(':')[0] ?? '';

const layerBack: CommandEffect['undo'] = ({ layer = 1, ms = 300 }, read) => {
  const at = `layer${String(layer)}`;
  const fields = list(FIELDS).map((field) => `field${field}`);
  const known = allOf([`${at}Up`, `${at}Template`, ...list(FIELDS).map((field) => `${at}Field${field}`)], read);
  if (known === null) return null;
  const [up, template = '', ...texts] = known;
  if (up !== true) return [{ command: 'layerOut', params: { layer, ms } }];
  const shown = Object.fromEntries(fields.map((field, index) => [field, texts[index] ?? '']));
  return [{ command: 'layerIn', params: { layer, template, ...shown, ms } }];
};

const LAYER_IN: CommandEffect = {
  makes: ({ layer = 1, template = '' }) => ({
    [`layer${String(layer)}Up`]: true,
    [`layer${String(layer)}Template`]: templateNamed(template),
  }),
  undo: layerBack,
};

const LAYER_OUT: CommandEffect = {
  makes: ({ layer = 1 }) => ({ [`layer${String(layer)}Up`]: false }),
  undo: (params, read) => (read(`layer${String(params.layer ?? 1)}Up`) === false ? NOTHING : layerBack(params, read)),
};

export const LAYER_COMMANDS: Readonly<Record<string, CommandDefinition>> = {
  layerIn: {
    words: 'Bring a template in on a layer',
    phrase: 'Bring {template} in on layer {layer}',
    params: z.strictObject({
      layer: LayerNumber,
      template: z.string().min(1).max(200).meta({ title: 'Template', listedIn: 'templates' }),
      field1: FieldText(1),
      field2: FieldText(2),
      field3: FieldText(3),
      field4: FieldText(4),
      ms: Length.default(400),
      seconds: z.number().min(0).max(86_400).default(0).meta({ title: 'Stays, 0 until taken', unit: 's' }),
    }),
    seenOnAir: true,
    repeatable: true,
    effect: LAYER_IN,
  },
  layerOut: {
    words: 'Take a layer out',
    phrase: 'Take layer {layer} out',
    params: z.strictObject({ layer: LayerNumber, ms: Length.default(300) }),
    seenOnAir: true,
    repeatable: true,
    effect: LAYER_OUT,
  },
  layerField: {
    words: 'Change a field of a layer',
    phrase: 'Field {field} of layer {layer} to {text}',
    params: z.strictObject({
      layer: LayerNumber,
      field: z.number().int().min(1).max(FIELDS).default(1).meta({ title: 'Field' }),
      text: FieldText(1).meta({ title: 'Text' }),
    }),
    seenOnAir: true,
    repeatable: true,
    effect: puts('layerField', 'layer{layer}Field{field}', 'text'),
  },
  layerClear: {
    words: 'Clear a layer at once',
    phrase: 'Clear layer {layer}',
    params: z.strictObject({ layer: LayerNumber }),
    seenOnAir: true,
    repeatable: true,
    effect: LAYER_OUT,
  },
};

export const LAYER_POINTS: Readonly<Record<string, PointDefinition>> = {
  templates: { words: 'Templates with their fields, one a line', type: 'text' },
  ...Object.fromEntries(
    list(LAYERS).flatMap((layer): [string, PointDefinition][] => [
      [`layer${layer}Up`, { words: `Layer ${layer} is up`, type: 'switch' }],
      [`layer${layer}Template`, { words: `Template on layer ${layer}`, type: 'text' }],
      [`layer${layer}Stage`, { words: `Layer ${layer}: out, animating in, in, animating out`, type: 'text' }],
      [`layer${layer}Left`, { words: `Seconds until layer ${layer} goes`, type: 'number', unit: 's' }],
      ...list(FIELDS).map((field): [string, PointDefinition] => [
        `layer${layer}Field${field}`,
        { words: `Field ${field} of layer ${layer}`, type: 'text' },
      ]),
    ]),
  ),
};
