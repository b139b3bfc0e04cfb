import { pointsOf } from '../devices/index';
import type { ShowDocument, ShowValue } from '../show/index';
import { typeOfValue } from '../engine/valueWords';
import { type Field, textField } from './fields';
import { inOrder } from './order';
import { isHead, partOf } from '../show/part';

export { typeOfValue, valueWords } from '../engine/valueWords';

/** Types of show values in the words of the Bench, those used most first. */
export const VALUE_TYPES: readonly { readonly value: Exclude<ShowValue['type'], 'plain'>; readonly label: string }[] = [
  { value: 'text', label: 'Text' },
  { value: 'number', label: 'Number' },
  { value: 'switch', label: 'Switch' },
  { value: 'choice', label: 'Choice' },
  { value: 'source', label: 'Source' },
  { value: 'role', label: 'Role' },
  { value: 'camera', label: 'Camera' },
  { value: 'destination', label: 'Destination' },
  { value: 'duration', label: 'Duration' },
  { value: 'list', label: 'List' },
];

/** A show value as a form shows it, by its type: a role is meant by its key, a destination by its number. */
export function fieldOfValue(document: ShowDocument, value: ShowValue, title: string): Field {
  const type = typeOfValue(value);
  const plain = textField(value.key, title, value.start);
  switch (type) {
    case 'text':
    case 'list':
      return plain;
    case 'number':
      return { ...plain, type: 'number' };
    case 'duration':
      return { ...plain, type: 'number', unit: 's', min: 0, max: 86_400 };
    case 'switch':
      return { ...plain, type: 'switch' };
    case 'choice':
      return { ...plain, things: value.choices.map((name) => ({ key: name, name })) };
    case 'source':
      return { ...plain, reference: 'source' };
    case 'role':
      return { ...plain, things: inOrder(document.roles) };
    case 'camera':
      return { ...plain, things: inOrder(document.devices).filter((candidate) => isHead(candidate, document)) };
    case 'destination':
      return { ...plain, type: 'number', whole: true, min: 1, max: destinationsOf(document) };
  }
}

/** Destinations of the largest router of the rig; one where there is none. */
function destinationsOf(document: ShowDocument): number {
  const counts = document.devices
    .filter((device) => partOf(device, document) === 'router')
    .map((device) => Object.keys(pointsOf(device, document)).filter((point) => /^out\d+$/.test(point)).length);
  return Math.max(1, ...counts);
}

/** Values whose content a parameter can be given: a text takes any, a number takes numbers, a thing its own kind. */
export function valuesFor(document: ShowDocument, field: Field): ShowValue[] {
  return inOrder(document.values).filter((value) => {
    const type = typeOfValue(value);
    if (field.reference !== null) return field.reference === 'source' && (type === 'source' || type === 'role');
    switch (field.type) {
      case 'number':
        return type === 'number' || type === 'duration' || type === 'destination';
      case 'switch':
        return type === 'switch';
      case 'choice':
        return type === 'choice' && value.choices.every((choice) => field.choices.includes(choice));
      case 'text':
        return type === 'text' || type === 'choice';
    }
  });
}

/** The show value that an expression is and nothing else; null for any other. */
export const valueNamed = (cel: string): string | null => /^\s*value\.([A-Za-z0-9]+)\s*$/.exec(cel)?.[1] ?? null;
