import { ptzHead } from '../devices/index';
import { isHead } from '../show/part';
import { type ReadKey } from '../expression/index';
import { type AppError, errorsOf, type Source, type Step } from '../show/index';
import type { Program } from './program';

type CommandStep = Extract<Step, { kind: 'command' }>;

/** The chosen camera, where it is a source that no motor moves: its window stands for it. */
export interface Motorless {
  readonly source: Source;
  readonly input: number;
  /** Key of the switcher that holds its window. */
  readonly switcher: string;
}

const CHOSEN_CAMERA = 'chosen.camera';

/** Null where the reference means no such source; an error in words where it does and cannot be moved. */
export function motorlessOf(reference: string, program: Program, read: ReadKey): Motorless | AppError | null {
  if (reference !== CHOSEN_CAMERA) return null;
  const chosen = read(CHOSEN_CAMERA);
  if (typeof chosen !== 'string' || program.devices.has(chosen)) return null;
  const source = program.sources.get(chosen);
  if (source === undefined || source.camera !== null) return null;
  const switcher = program.document.devices.find(({ kind }) => kind === 'switcher')?.key;
  if (source.input === null || switcher === undefined)
    return {
      code: 'no-input',
      message: `${source.name} has no motors, and is on no input of the switcher.`,
      mend: 'Give the source its input number, or choose another camera.',
    };
  return { source, input: source.input, switcher };
}

/** Why a command means nothing for a window; null when it does mean something. */
export function unfitForWindow({ command, params }: CommandStep, { source }: Motorless): AppError | null {
  if (command === 'nudge' || command === 'stop' || command === 'home') {
    const plain = Object.fromEntries(Object.entries(params).filter(([, value]) => typeof value !== 'object'));
    const parsed = ptzHead.commands[command]?.params.safeParse(plain);
    return parsed === undefined || parsed.success ? null : (errorsOf(parsed.error, 'params')[0] ?? null);
  }
  const recalls = command === 'recall' || command === 'goTo';
  return {
    code: 'no-motors',
    message: recalls
      ? `${source.name} has no motors: it has no camera positions.`
      : `${source.name} has no motors and no lens: only its window moves.`,
    mend: recalls ? 'Recall one of its stored views.' : 'Choose a camera with motors first.',
  };
}

/** Whether a key names what can be chosen as the camera: a head, or a source without one. */
export function isCamera(key: string, { devices, sources, document }: Program): boolean {
  const device = devices.get(key);
  return device === undefined ? sources.get(key)?.camera === null : isHead(device, document);
}
