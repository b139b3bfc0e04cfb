import { kindOf, pointsOf } from '../devices/index';
import { type ShowDocument, Voices } from '../show/index';
import { inOrder } from './order';

/** A microphone, a shot or a position that can be chosen. */
export interface VoiceChoice {
  readonly key: string;
  readonly group: string;
  readonly words: string;
}

/** The microphones of a show: every level that is told many times a second. Key: its point. */
export const micChoices = (document: ShowDocument): VoiceChoice[] =>
  document.devices.flatMap((device) =>
    Object.entries(pointsOf(device, document)).flatMap(([point, { type, often }]) =>
      type === 'number' && often === true && point.endsWith('Level')
        ? [{ key: `${device.key}.${point}`, group: device.name, words: micName(device.settings.names, point) }]
        : [],
    ),
  );

/** A channel by the name that it has in the Rig, with its number. */
function micName(names: unknown, point: string): string {
  const [, number = ''] = /^ch(\d+)Level$/.exec(point) ?? [];
  const name: unknown = Array.isArray(names) ? names[Number(number) - 1] : undefined;
  return typeof name === 'string' && name !== '' ? `${name} (channel ${number})` : `Channel ${number}`;
}

/** What a shot can be. Key: its source or role. */
export const shotChoices = (document: ShowDocument): VoiceChoice[] => [
  ...document.sources.flatMap(({ key, name, input }) =>
    input === null ? [] : [{ key, group: 'Sources', words: name }],
  ),
  ...document.roles.map(({ key, name }) => ({ key, group: 'Roles', words: name })),
];

/** Where the camera of a shot can be sent while it is not on air. Key: the position; empty for none. */
export function aheadChoices(source: string, document: ShowDocument): VoiceChoice[] {
  const camera = document.sources.find(({ key }) => key === source)?.camera ?? null;
  const stored = inOrder(document.positions).filter((candidate) => camera !== null && candidate.camera === camera);
  return stored.length === 0
    ? []
    : [
        { key: '', group: 'Positions', words: 'It stays as it is' },
        ...stored.map(({ key, name }) => ({ key, group: 'Positions', words: name })),
      ];
}

/** Switchers that can take shots. Key: the device. */
export const takerChoices = (document: ShowDocument): VoiceChoice[] =>
  document.devices.flatMap((device) => {
    const kind = kindOf(device, document);
    return kind?.airOf !== undefined && kind.commands.program !== undefined
      ? [{ key: device.key, group: 'Switchers', words: device.name }]
      : [];
  });

/** Microphones and shots to begin from: the first two channels, and the first two sources with cameras. Null: there are not two microphones, or no switcher. */
export function freshVoices(document: ShowDocument): Voices | null {
  const [switcher] = takerChoices(document);
  const sources = document.sources.filter(({ input }) => input !== null);
  const shots = [...sources.filter(({ camera }) => camera !== null), ...sources];
  const mics = micChoices(document).slice(0, 2);
  if (switcher === undefined || mics.length < 2 || shots.length === 0) return null;
  return Voices.parse({
    kind: 'voices',
    switcher: switcher.key,
    mics: mics.map(({ key, words }, at) => ({
      name: words.replace(/ \(channel \d+\)$/, ''),
      level: key,
      source: (shots[at] ?? shots[0])?.key,
    })),
  });
}

/** "Ines: Desk cam, Tomasz: Lawn cam, several or nobody: Star charts". */
export function voicesWords({ mics, wide }: Voices, document: ShowDocument): string {
  const name = (key: string): string =>
    [...document.sources, ...document.roles].find((candidate: { readonly key: string }) => candidate.key === key)
      ?.name ?? 'a source that is gone';
  return [
    ...mics.map((mic) => `${mic.name}: ${name(mic.source)}`),
    ...(wide === null ? [] : [`several or nobody: ${name(wide.source)}`]),
  ].join(', ');
}
