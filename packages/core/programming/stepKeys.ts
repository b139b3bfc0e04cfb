import { kindOf, ptzHead } from '../devices/index';
import { compiledExpression } from '../expression/index';
import { expressionsOf, type PlainValue, type ShowDocument, type Step } from '../show/index';

/** So many places are looked at for one step. */
const MOST_KEYS = 12;

/**
 * What to look at while a step is done: points and values that its conditions read, that it sets, or that its command makes something of, by their
 * keys (`switcher.program`, `value.meteors`). What it calls is not gone into.
 */
export function keysOfStep(step: Step, document: ShowDocument): string[] {
  const keys = new Set<string>();
  for (const text of expressionsOf(step)) {
    const compiled = compiledExpression(text);
    if (compiled.ok)
      for (const key of compiled.value.reads) if (!key.includes('@') && !key.startsWith('param.')) keys.add(key);
  }
  if (step.kind === 'set') keys.add(step.target);
  if (step.kind === 'command') {
    // Which device a parameter names is not known here.
    const device = step.deviceFrom === undefined ? document.devices.find(({ key }) => key === step.device) : undefined;
    const kind = step.device === 'chosen.camera' ? ptzHead : kindOf(device, document);
    const definition = kind?.commands[step.command];
    const given: Record<string, PlainValue> = {};
    for (const [key, argument] of Object.entries(step.params)) if (typeof argument !== 'object') given[key] = argument;
    const fitting = definition?.params.safeParse(given);
    const params = (fitting?.success === true ? fitting.data : given) as Record<string, PlainValue>;
    if (device !== undefined)
      for (const point of Object.keys(definition?.effect?.makes(params, () => undefined) ?? {}))
        keys.add(`${device.key}.${point}`);
  }
  return [...keys].slice(0, MOST_KEYS);
}
