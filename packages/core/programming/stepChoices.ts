import { kindOf, pointsOf } from '../devices/index';
import {
  type Device,
  frameMs,
  PEOPLE_LIST,
  type PlainValue,
  type Position,
  type ShowDocument,
  type Step,
} from '../show/index';
import { arrivalLimit } from '../engine/arrivalLimit';
import { negated } from '../engine/conditions';
import { SELECTIONS } from '../engine/selections';
import { inOrder } from './order';
import { fieldsOf, startOf } from './fields';
import { countTo } from '../engine/sentence';
import { isHead, partOf } from '../show/part';
import { oppositesOf } from './opposite';

type Draft<S> = S extends Step ? Omit<S, 'id'> : never;

/** A step that can be put in, ready to run as it stands. */
export interface StepChoice {
  readonly key: string;
  readonly group: string;
  readonly words: string;
  readonly step: Draft<Step>;
}

const WAIT_MS = 6000;
/** As long as a clip may be that is waited for, milliseconds. */
const CLIP_MS = 3_600_000;
/** So much before its end somebody gets ready, seconds. */
const NEAR_S = 5;
/** So long a caption is read, milliseconds. */
const KEPT_MS = 6000;
/** So many of the people list stand among the steps to choose from. */
const MOST_PEOPLE = 20;

/** Everything a step can be in this show: what suits the steps so far first, then by device, then time, values and macros. */
export function stepChoices(document: ShowDocument, before: readonly Step[]): StepChoice[] {
  return [
    ...nextInLine(document, before),
    ...document.devices.flatMap((device) => [
      ...commandChoices(document, device.key),
      ...(device.kind === 'switcher'
        ? document.sources.flatMap((source) =>
            source.input === null ? [] : [mixTo(document, device, source, device.name)],
          )
        : []),
    ]),
    ...waitChoices(document),
    ...otherChoices(document),
  ];
}

const arrival = (document: ShowDocument, device: Device, position: Position): StepChoice => ({
  key: `next/${device.key}/${position.key}`,
  group: 'Next in line',
  words: `Wait until ${device.name} has arrived at ${position.name}`,
  step: {
    onFail: 'stop',
    kind: 'wait',
    until: `${device.key}.arrived == "${position.key}"`,
    timeoutMs: arrivalLimit(document, device, position),
  },
});

/** Puts a source on preview and mixes to it, as one. */
const mixTo = (
  document: ShowDocument,
  switcher: Device,
  { key, name }: ShowDocument['sources'][number],
  group: string,
): StepChoice => {
  const mix = kindOf(switcher, document)?.commands.mix;
  const frames = mix === undefined ? undefined : fieldsOf(mix).find((field) => field.key === 'frames')?.start;
  return {
    key: `${group}/mixTo/${key}`,
    group,
    words: `Mix to ${name}`,
    step: {
      onFail: 'stop',
      kind: 'group',
      name: `Mix to ${name}`,
      steps: [
        {
          id: 'next',
          onFail: 'stop',
          kind: 'command',
          device: switcher.key,
          command: 'preview',
          params: { source: key },
        },
        {
          id: 'mix',
          onFail: 'stop',
          kind: 'command',
          device: switcher.key,
          command: 'mix',
          params: { frames: frames ?? 25 },
        },
      ],
    },
  };
};

/** A camera that was recalled and not waited for is what most people forget; after it comes the cut. */
function nextInLine(document: ShowDocument, before: readonly Step[]): StepChoice[] {
  const waits = before.flatMap((step) => (step.kind === 'wait' ? [step.until] : [])).join(' ');
  const arrivals = before.flatMap((step) => {
    if (step.kind !== 'command' || step.command !== 'recall') return [];
    const device = document.devices.find((candidate) => candidate.key === step.device);
    const position = document.positions.find((candidate) => candidate.key === step.params.position);
    if (!device || !position || waits.includes(`${device.key}.arrived`)) return [];
    return [arrival(document, device, position)];
  });
  const switcher = document.devices.find((device) => device.kind === 'switcher');
  const takes: StepChoice[] =
    switcher &&
    before.length > 0 &&
    !before.some((step) => step.kind === 'command' && step.device === switcher.key && step.command === 'cut')
      ? [
          {
            key: 'next/cut',
            group: 'Next in line',
            words: 'Cut',
            step: { onFail: 'stop', kind: 'command', device: switcher.key, command: 'cut', params: {} },
          },
        ]
      : [];
  const last = before.at(-1);
  const source =
    last?.kind === 'command' && last.command === 'recall'
      ? document.sources.find((candidate) => candidate.camera === last.device)
      : undefined;
  const previews: StepChoice[] =
    switcher && source
      ? [
          {
            key: 'next/preview',
            group: 'Next in line',
            words: `Put ${source.name} on preview`,
            step: {
              onFail: 'stop',
              kind: 'command',
              device: switcher.key,
              command: 'preview',
              params: { source: source.key },
            },
          },
        ]
      : [];
  // Once it has arrived, its picture is what comes next.
  const [, arrived] = last?.kind === 'wait' ? (/^([a-z][A-Za-z0-9]{0,39})\.arrived == /.exec(last.until) ?? []) : [];
  const shown = arrived === undefined ? undefined : document.sources.find(({ camera }) => camera === arrived);
  const mixes = switcher && shown?.input != null ? [mixTo(document, switcher, shown, 'Next in line')] : [];
  return [...keptFor(document, last), ...mixedWith(document, last), ...arrivals, ...takes, ...mixes, ...previews];
}

/** After a clip has begun to play: a mix that is over when the clip is. */
function mixedWith(document: ShowDocument, last: Step | undefined): StepChoice[] {
  const player = last?.kind === 'command' ? document.devices.find(({ key }) => key === last.device) : undefined;
  const switcher = document.devices.find(({ kind }) => kind === 'switcher');
  if (last?.kind !== 'command' || player === undefined || switcher === undefined) return [];
  const params = Object.fromEntries(
    Object.entries(last.params).flatMap(([key, to]) => (typeof to === 'object' ? [] : [[key, to]])),
  );
  const runs = kindOf(player, document)?.commands[last.command]?.effect?.makes(params, () => undefined) ?? {};
  const left = Object.entries(pointsOf(player, document)).find(
    ([, { ticks }]) => ticks?.by === -1 && runs[ticks.while] === true,
  );
  const during = left?.[1].ticks?.while;
  if (left === undefined || during === undefined) return [];
  const frames = Math.round(1000 / frameMs(document.show.frameRate));
  const seconds = Math.round(frames * frameMs(document.show.frameRate)) / 1000;
  return [
    {
      key: 'next/mixed',
      group: 'Next in line',
      words: `Mix so that it ends with the clip, ${frames} f`,
      step: {
        onFail: 'stop',
        kind: 'group',
        name: 'Mix that ends with the clip',
        steps: [
          {
            id: 'near',
            onFail: 'stop',
            kind: 'wait',
            until: `${player.key}.${during} && ${player.key}.${left[0]} < ${seconds}`,
            timeoutMs: CLIP_MS,
          },
          { id: 'mix', onFail: 'stop', kind: 'command', device: switcher.key, command: 'mix', params: { frames } },
        ],
      },
    },
  ];
}

/** What came in is to go out again: a caption is seldom meant to stay. */
function keptFor(document: ShowDocument, last: Step | undefined): StepChoice[] {
  const device = last?.kind === 'command' ? document.devices.find(({ key }) => key === last.device) : undefined;
  if (last === undefined || device === undefined || partOf(device, document) !== 'captions') return [];
  const [out, ...more] = oppositesOf([last], document);
  if (out === undefined || out.step === null || more.length > 0) return [];
  return [
    {
      key: 'next/kept',
      group: 'Next in line',
      words: `Keep it for ${KEPT_MS / 1000} s, then ${out.words.charAt(0).toLowerCase()}${out.words.slice(1)}`,
      step: {
        onFail: 'stop',
        kind: 'group',
        name: `Keep it for ${KEPT_MS / 1000} s`,
        steps: [
          { id: 'kept', onFail: 'stop', kind: 'pause', length: { ms: KEPT_MS } },
          { ...out.step, id: 'out' },
        ],
      },
    },
  ];
}

function commandChoices(document: ShowDocument, key: string): StepChoice[] {
  const device = document.devices.find((candidate) => candidate.key === key);
  const kind = kindOf(device, document);
  if (!device || !kind) return [];
  return Object.entries(kind.commands).flatMap(([command, definition]) => {
    const fields = fieldsOf(definition);
    const params: Record<string, PlainValue> = Object.fromEntries(
      fields.filter((field) => field.required || field.start !== null).map((field) => [field.key, startOf(field)]),
    );
    const choice = (more: Record<string, PlainValue>, name: string): StepChoice => ({
      key: `${key}/${command}/${name}`,
      group: device.name,
      words: name === '' ? definition.words : `${definition.words}: ${name}`,
      step: { onFail: 'stop', kind: 'command', device: key, command, params: { ...params, ...more } },
    });
    const reference = fields.find((field) => field.reference !== null);
    if (reference === undefined) return [choice({}, '')];
    // Ten thousand are no list to choose a step from: the one who is chosen comes first, others are found in the step.
    if (reference.reference === 'person')
      return [
        {
          ...choice({}, 'the chosen person'),
          step: {
            onFail: 'stop',
            kind: 'command',
            device: key,
            command,
            params: { ...params, [reference.key]: { cel: 'chosen.person' } },
          },
        },
        ...inOrder(document.people)
          .slice(0, MOST_PEOPLE)
          .map((item) => choice({ [reference.key]: item.key }, item.name)),
      ];
    const things =
      reference.reference === 'reframe'
        ? document.reframes
        : reference.reference === 'position'
          ? document.positions.filter((position) => position.camera === key)
          : [...document.sources.filter((source) => source.input !== null), ...document.roles];
    const chosen =
      reference.reference === 'source'
        ? [
            {
              ...choice({}, 'the chosen source'),
              step: {
                onFail: 'stop' as const,
                kind: 'command' as const,
                device: key,
                command,
                params: { ...params, [reference.key]: { cel: 'chosen.source' } },
              },
            },
          ]
        : [];
    return [...things.map((thing) => choice({ [reference.key]: thing.key }, thing.name)), ...chosen];
  });
}

function waitChoices(document: ShowDocument): StepChoice[] {
  return document.devices.flatMap((device) => {
    const points = pointsOf(device, document);
    return Object.entries(points).flatMap(([point, definition]): StepChoice[] => {
      const wait = (until: string, words: string, timeoutMs = WAIT_MS): StepChoice => ({
        key: `wait/${until}`,
        group: 'Wait until',
        words,
        step: { onFail: 'stop', kind: 'wait', until, timeoutMs },
      });
      if (definition.ticks?.by === -1)
        return [
          wait(
            `${device.key}.${definition.ticks.while} && ${device.key}.${point} < ${NEAR_S}`,
            `Wait until ${device.name}: ${definition.words.toLowerCase()} is under ${NEAR_S} s`,
            CLIP_MS,
          ),
        ];
      if (definition.type !== 'switch') return [];
      return [
        wait(`${device.key}.${point}`, `Wait until ${device.name}: ${definition.words.toLowerCase()}`),
        wait(`!${device.key}.${point}`, `Wait until ${device.name}: ${negated(definition.words.toLowerCase())}`),
      ];
    });
  });
}

/** Selections that are chosen from the rig; the camera says also whose window it is, and people are found. */
const OFFERED = ['source', 'destination', 'layout', 'place', 'recorderGroup'] as const;
/** So many of each are listed. */
const MOST_CHOSEN = 200;

const PEOPLE_CHOICES: readonly StepChoice[] = [
  {
    key: 'people/next',
    group: 'People',
    words: 'Choose the next person',
    step: { onFail: 'stop', kind: 'set', target: 'chosen.person', to: '', by: 1 },
  },
  {
    key: 'people/previous',
    group: 'People',
    words: 'Choose the previous person',
    step: { onFail: 'stop', kind: 'set', target: 'chosen.person', to: '', by: -1 },
  },
  {
    key: 'people/find',
    group: 'People',
    words: 'Show the people list',
    step: { onFail: 'stop', kind: 'show', panel: PEOPLE_LIST, page: '' },
  },
];

/** Steps that others stand in. */
const BLOCKS: readonly StepChoice[] = [
  {
    key: 'if',
    group: 'Steps in steps',
    words: 'If … otherwise',
    step: { onFail: 'stop', kind: 'if', when: 'true', steps: [], otherwise: [] },
  },
  {
    key: 'together',
    group: 'Steps in steps',
    words: 'Together: several in the same instant',
    step: { onFail: 'stop', kind: 'together', steps: [] },
  },
  {
    key: 'repeat',
    group: 'Steps in steps',
    words: 'Repeat: a number of times, while something is so, or for each of a list',
    step: { onFail: 'stop', kind: 'repeat', over: { times: 2 }, steps: [] },
  },
  {
    key: 'group',
    group: 'Steps in steps',
    words: 'Group: steps with a name',
    step: { onFail: 'stop', kind: 'group', name: 'Steps', steps: [] },
  },
];

function otherChoices(document: ShowDocument): StepChoice[] {
  return [
    { key: 'pause', group: 'Time', words: 'Pause 1 s', step: { onFail: 'stop', kind: 'pause', length: { ms: 1000 } } },
    {
      key: 'pauseFrames',
      group: 'Time',
      words: 'Pause 25 f',
      step: { onFail: 'stop', kind: 'pause', length: { frames: 25 } },
    },
    ...document.devices
      .filter((device) => isHead(device, document))
      .map((device): StepChoice => ({
        key: `choose/${device.key}`,
        group: 'Choose',
        words: `Choose ${device.name} as the camera`,
        step: { onFail: 'stop', kind: 'set', target: 'chosen.camera', to: device.key },
      })),
    ...document.sources
      .filter(({ camera, input }) => camera === null && input !== null)
      .map((source): StepChoice => ({
        key: `choose/${source.key}`,
        group: 'Choose',
        words: `Choose the window of ${source.name} as the camera`,
        step: { onFail: 'stop', kind: 'set', target: 'chosen.camera', to: source.key },
      })),
    ...OFFERED.flatMap((selection) =>
      (SELECTIONS[selection]?.choices(document) ?? []).slice(0, MOST_CHOSEN).map(({ value, name }): StepChoice => ({
        key: `choose/${selection}/${value}`,
        group: 'Choose',
        words: `Choose ${name} as the ${SELECTIONS[selection]?.words ?? selection}`,
        step: { onFail: 'stop', kind: 'set', target: `chosen.${selection}`, to: value },
      })),
    ),
    ...(document.people.length === 0 ? [] : PEOPLE_CHOICES),
    ...document.values.map((value): StepChoice => ({
      key: `set/${value.key}`,
      group: 'Values',
      words: `Set ${value.name}`,
      step: { onFail: 'stop', kind: 'set', target: `value.${value.key}`, to: value.start },
    })),
    ...document.values
      .filter(({ type }) => type === 'number')
      .map(({ key, name }): StepChoice => ({
        key: `count/${key}`,
        group: 'Values',
        words: `Count ${name} up`,
        step: { onFail: 'stop', kind: 'set', target: `value.${key}`, to: countTo(`value.${key}`, 1) },
      })),
    ...document.panels.flatMap((panel): StepChoice[] =>
      [{ id: '', name: '' }, ...panel.pages].map((page) => ({
        key: `show/${panel.id}/${page.id}`,
        group: 'Panels and pages',
        words: page.id === '' ? `Show panel ${panel.name}` : `Show ${panel.name}, page ${page.name}`,
        step: { onFail: 'stop', kind: 'show', panel: panel.id, page: page.id },
      })),
    ),
    ...document.triggers.flatMap(({ id, name, kind }): StepChoice[] =>
      (kind === 'when' ? (['arm', 'disarm', 'fire'] as const) : (['arm', 'disarm'] as const)).map((does) => ({
        key: `trigger/${id}/${does}`,
        group: 'Triggers',
        words: `${does === 'arm' ? 'Arm' : does === 'disarm' ? 'Disarm' : 'Fire'} ${name}`,
        step: { onFail: 'stop', kind: 'trigger', trigger: id, does },
      })),
    ),
    ...BLOCKS,
    {
      key: 'ask',
      group: 'Operator',
      words: 'Ask the operator: continue or stop',
      step: { onFail: 'stop', kind: 'ask', question: 'Continue?', timeoutMs: 60_000, onTimeout: 'stop' },
    },
    { key: 'note', group: 'Operator', words: 'Note', step: { onFail: 'stop', kind: 'note', text: '' } },
    {
      key: 'restore',
      group: 'Steps in steps',
      words: 'Restore what was there before',
      step: { onFail: 'stop', kind: 'restore', devices: [] },
    },
    ...document.buttons.map(({ id, legend }): StepChoice => ({
      key: `press/${id}`,
      group: 'Buttons',
      words: `Press ${legend}`,
      step: { onFail: 'stop', kind: 'press', button: id, holdMs: 500 },
    })),
    ...document.macros.map((macro): StepChoice => ({
      key: `run/${macro.id}`,
      group: 'Macros',
      words: `Run ${macro.number} ${macro.name}`,
      step: { onFail: 'stop', kind: 'run', macro: macro.id, params: {} },
    })),
  ];
}

/** Those of which every word of the search is found in group or words. */
export function searched<T extends { readonly group: string; readonly words: string }>(
  choices: readonly T[],
  search: string,
): T[] {
  const wanted = search.toLowerCase().split(/\s+/).filter(Boolean);
  return choices.filter((choice) => {
    const text = `${choice.group} ${choice.words}`.toLowerCase();
    return wanted.every((word) => text.includes(word));
  });
}
