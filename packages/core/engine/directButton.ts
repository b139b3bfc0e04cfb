import { ptzHead } from '../devices/index';
import type { ReadKey } from '../expression/index';
import { type Button, PLAIN_BUTTON, type PlainValue, type Step } from '../show/index';
import type { Program } from './program';
import { DIRECT_STEP } from './resolve';

/** A command sent without a button: from a camera's own controls, or "send now". It is pressed, held and released like any other. */
export interface DirectCommand {
  readonly device: string;
  readonly command: string;
  readonly params: Readonly<Record<string, PlainValue>>;
}

const nameOf = (chosen: unknown, { sources }: Program): string | undefined =>
  typeof chosen === 'string' ? sources.get(chosen)?.name : undefined;

/** In place of a device: the command is the selection, its parameter `to` what is chosen. No device can have this key. */
const CHOICE = 'chosen';

/** A press that chooses something, such as a person who was found in the list. */
function choiceButton(id: string, { command, params }: DirectCommand, program: Program): Button {
  const step: Step = {
    id: DIRECT_STEP,
    onFail: 'stop',
    kind: 'set',
    target: `${CHOICE}.${command}`,
    to: params.to ?? '',
  };
  return { ...PLAIN_BUTTON, id, stripId: '', legend: program.sentence(step).slice(0, 120), steps: [step], order: 'a' };
}

/** A button made up for one press of a command: held when the command moves until it is told to end, and then ended by what ends it. */
export function directButton(id: string, asked: DirectCommand, program: Program, read: ReadKey): Button {
  if (asked.device === CHOICE) return choiceButton(id, asked, program);
  // Which device is chosen is settled here: the release goes where the press went.
  const chosen = asked.device.includes('.') ? read(asked.device) : asked.device;
  // A source without motors is moved as the chosen camera that it is.
  const direct = typeof chosen === 'string' && program.devices.has(chosen) ? { ...asked, device: chosen } : asked;
  const kind = direct.device === 'chosen.camera' ? ptzHead : program.kindOf(direct.device);
  const definition = kind?.commands[direct.command];
  const step = (stepId: string, command: string, params: DirectCommand['params']): Step => ({
    id: stepId,
    onFail: 'stop',
    kind: 'command',
    device: direct.device,
    command,
    params,
  });
  const end = direct.params.forSeconds === undefined ? definition?.endedBy : undefined;
  return {
    ...PLAIN_BUTTON,
    id,
    stripId: '',
    legend:
      `${definition?.words ?? direct.command} · ${program.devices.get(direct.device)?.name ?? nameOf(chosen, program) ?? direct.device}`.slice(
        0,
        120,
      ),
    mode: end ? 'hold' : 'press',
    steps: [step(DIRECT_STEP, direct.command, direct.params)],
    releaseSteps: end ? [step('end', end.command, end.params)] : [],
    lamps: [],
    order: 'a',
  };
}
