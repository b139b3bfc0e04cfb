import { kindOf } from '../../devices/index';
import type { ShowDocument, Step } from '../../show/index';

/** Whether a *while* rule can keep what a step makes, and take it back by itself. */
export function isKeepable(step: Pick<Step, 'kind'> & Partial<Step>, document: ShowDocument): boolean {
  if (step.kind === 'note') return true;
  const whole = step as Step;
  if (whole.kind === 'set') return whole.by === undefined && whole.target.startsWith('value.');
  if (whole.kind !== 'command') return false;
  const device = document.devices.find(({ key }) => key === whole.device);
  const command = device && kindOf(device, document)?.commands[whole.command];
  return (
    command?.effect !== undefined &&
    command.effect.relative !== true &&
    command.movesPicture !== true &&
    command.lane !== 'stop'
  );
}
