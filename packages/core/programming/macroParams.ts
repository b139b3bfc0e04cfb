import { useOfParam } from '../engine/paramUse';
import type { Macro, ShowDocument } from '../show/index';
import { type Field, fieldsOf } from './fields';

/** A parameter of a macro as a form shows it: the field of the command that it is given on to; a plain text or number where it is not. */
export function fieldOfParam(
  document: ShowDocument,
  macro: Macro,
  key: string,
): { readonly field: Field; readonly device: string } {
  const use = useOfParam(macro, key, document);
  const given = use && fieldsOf(use.definition).find((field) => field.key === use.param);
  if (use && given) return { field: { ...given, key, title: wordsOfKey(key) }, device: use.device };
  const start = macro.params.find((param) => param.key === key)?.start;
  const type = typeof start === 'number' ? 'number' : typeof start === 'boolean' ? 'switch' : 'text';
  return {
    device: '',
    field: {
      key,
      title: wordsOfKey(key),
      type,
      unit: '',
      whole: false,
      min: null,
      max: null,
      longest: 2000,
      choices: [],
      reference: null,
      listedIn: null,
      required: false,
      optional: false,
      start: typeof start === 'object' ? null : (start ?? null),
      suggested: null,
    },
  };
}

/** `slowSource2` in people's words: "Slow source 2". */
export function wordsOfKey(key: string): string {
  const words = key.replace(/([a-z])([A-Z\d])/g, '$1 $2').toLowerCase();
  return words.charAt(0).toUpperCase() + words.slice(1);
}
