import { kindOf, ptzHead } from '../devices/index';
import type { Dial, PlainValue, ShowDocument, Step } from '../show/index';
import { fieldsOf } from './fields';
import { typeOfValue } from './valueFields';

/** Where a number has no bounds of its own. */
const USUAL_MAX = 100;

/** Smallest change that suits a range: about a hundredth of it, in 1, 2 or 5. */
export function stepFor(min: number, max: number, whole: boolean): number {
  const rough = Math.max((max - min) / 100, 1e-6);
  const power = 10 ** Math.floor(Math.log10(rough));
  const step = [1, 2, 5, 10].map((item) => item * power).find((candidate) => candidate >= rough * 0.999) ?? power;
  return whole ? Math.max(1, Math.round(step)) : Number(step.toPrecision(3));
}

/**
 * What can be turned of a step: each parameter that counts and whose present value its device tells, and a show value that counts. The point
 * is found by doing the command in thought: it becomes what the parameter says.
 */
export function dialsOf(
  step: Step | undefined,
  document: ShowDocument,
): { readonly title: string; readonly dial: Dial }[] {
  if (step?.kind === 'set') {
    const value = document.values.find(({ key }) => step.target === `value.${key}`);
    if (value === undefined || typeof value.start !== 'number') return [];
    const unit = typeOfValue(value) === 'duration' ? 's' : '';
    return [
      { title: value.name, dial: { param: 'to', by: 0, min: 0, max: USUAL_MAX, step: 1, unit, reads: step.target } },
    ];
  }
  if (step?.kind !== 'command') return [];
  const device = document.devices.find(({ key }) => key === step.device);
  const kind = step.device === 'chosen.camera' ? ptzHead : kindOf(device, document);
  const definition = kind?.commands[step.command];
  if (definition?.effect === undefined) return [];
  const { effect } = definition;
  const given: Record<string, PlainValue> = {};
  for (const [key, argument] of Object.entries(step.params)) if (typeof argument !== 'object') given[key] = argument;
  return fieldsOf(definition).flatMap((field) => {
    if (field.type !== 'number') return [];
    // A number that stands nowhere else: the point that becomes it is the one that it turns.
    const mark = 0.123456789;
    const made = effect.makes({ ...given, [field.key]: mark }, () => undefined);
    const point = Object.entries(made).find(([, value]) => value === mark)?.[0];
    if (point === undefined) return [];
    const [min, max] = [field.min ?? 0, field.max ?? USUAL_MAX];
    const reads = step.device === 'chosen.camera' ? `at(chosen.camera).${point}` : `${step.device}.${point}`;
    return [
      {
        title: field.title,
        dial: { param: field.key, by: 0, min, max, step: stepFor(min, max, field.whole), unit: field.unit, reads },
      },
    ];
  });
}
