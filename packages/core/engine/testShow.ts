import { type Button, type Macro, PLAIN_BUTTON, type ShowDocument, type Step } from '../show/index';
import { corvaneHill, demoId } from '@umbek/demo';
import { compileProgram, type Program } from './program';

/** A step with what most tests leave as it is. */
export const step = (partial: { kind: Step['kind']; id: string } & Record<string, unknown>): Step =>
  ({ onFail: 'stop', ...partial }) as Step;

export const command = (id: string, device: string, name: string, params: Record<string, unknown> = {}): Step =>
  step({ kind: 'command', id, device, command: name, params });

export const button = (number: number, steps: Step[], more: Partial<Button> = {}): Button => ({
  ...PLAIN_BUTTON,
  id: demoId('BTN', 500 + number),
  stripId: demoId('STR', 1),
  legend: `Button ${number}`,
  steps,
  order: `z${number}`,
  ...more,
});

export const macro = (number: number, steps: Step[], more: Partial<Macro> = {}): Macro => ({
  id: demoId('MAC', 500 + number),
  number: 500 + number,
  name: `Macro ${number}`,
  folder: '',
  params: [],
  steps,
  stopSteps: [],
  atStop: 'steps',
  again: 'startOver',
  owns: [],
  ...more,
});

export const testShow = (buttons: Button[], macros: Macro[] = []): ShowDocument => ({
  ...corvaneHill(),
  buttons,
  macros,
});

export const programOf = (document: ShowDocument): Program => compileProgram(document, 1);
