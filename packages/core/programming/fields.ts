import { z } from 'zod';
import type { CommandDefinition } from '../devices/index';
import type { PlainValue } from '../show/index';

/** One parameter of a command as a form shows it. */
export interface Field {
  readonly key: string;
  readonly title: string;
  readonly type: 'number' | 'text' | 'switch' | 'choice';
  readonly unit: string;
  readonly whole: boolean;
  readonly min: number | null;
  readonly max: number | null;
  /** Longest text. */
  readonly longest: number | null;
  readonly choices: readonly string[];
  /** Things to choose from by name, where it is none of the kinds that a reference names. */
  readonly things?: readonly { readonly key: string; readonly name: string }[];
  /** What the text points at. */
  readonly reference: 'source' | 'position' | 'reframe' | 'person' | null;
  /** The device's own point that lists what there is to choose, one a line. */
  readonly listedIn: string | null;
  readonly required: boolean;
  /** May be left out: the device then does what it does by itself. */
  readonly optional: boolean;
  readonly start: PlainValue | null;
  /** What it begins with when somebody no longer leaves it out. */
  readonly suggested: PlainValue | null;
}

/** A line of text under a key, for what no command declares; other types spread over it. */
export const textField = (key: string, title: string, start: PlainValue | null): Field => ({
  key,
  title,
  type: 'text',
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
  start,
  suggested: null,
});

interface Property {
  readonly type?: string;
  readonly title?: string;
  readonly unit?: string;
  readonly reference?: string;
  readonly listedIn?: string;
  readonly enum?: readonly string[];
  readonly minimum?: number;
  readonly maximum?: number;
  readonly maxLength?: number;
  readonly default?: PlainValue;
  readonly suggested?: PlainValue;
}

const known = new WeakMap<CommandDefinition, readonly Field[]>();
/** JSON Schema writes the bounds of "any whole number" out; nobody wants to read them. */
const UNBOUNDED = Number.MAX_SAFE_INTEGER;

/** The parameters of a command in their declared order, from its schema. */
export function fieldsOf(command: CommandDefinition): readonly Field[] {
  const before = known.get(command);
  if (before) return before;
  const schema = z.toJSONSchema(command.params, { io: 'input' }) as {
    properties?: Record<string, Property>;
    required?: string[];
  };
  const fields = Object.entries(schema.properties ?? {}).map(([key, property]): Field => ({
    key,
    title: property.title ?? key,
    type: property.enum
      ? 'choice'
      : property.type === 'boolean'
        ? 'switch'
        : property.type === 'string'
          ? 'text'
          : 'number',
    unit: property.unit ?? '',
    whole: property.type === 'integer',
    min: property.minimum !== undefined && property.minimum > -UNBOUNDED ? property.minimum : null,
    max: property.maximum !== undefined && property.maximum < UNBOUNDED ? property.maximum : null,
    longest: property.maxLength ?? null,
    choices: property.enum ?? [],
    reference:
      property.reference === 'source' ||
      property.reference === 'position' ||
      property.reference === 'reframe' ||
      property.reference === 'person'
        ? property.reference
        : null,
    listedIn: property.listedIn ?? null,
    required: schema.required?.includes(key) === true,
    optional: schema.required?.includes(key) !== true && property.default === undefined,
    start: property.default ?? null,
    suggested: property.suggested ?? null,
  }));
  known.set(command, fields);
  return fields;
}

/** What a field holds before anybody has filled it in. */
export function startOf(field: Field): PlainValue {
  if (field.start !== null) return field.start;
  if (field.suggested !== null) return field.suggested;
  switch (field.type) {
    case 'number':
      return Math.max(field.min ?? 0, Math.min(field.max ?? 0, 0));
    case 'switch':
      return true;
    case 'choice':
      return field.choices[0] ?? '';
    case 'text':
      return field.required ? field.title : '';
  }
}

/** What is wrong with a plain value, with the mend; null when it fits. */
export function faultOf(field: Field, value: PlainValue): string | null {
  if (field.type === 'number') {
    if (typeof value !== 'number' || !Number.isFinite(value)) return 'Give a number.';
    if (field.whole && !Number.isInteger(value)) return 'Give a whole number.';
    if (field.min !== null && value < field.min) return `At least ${field.min} ${field.unit}`.trim() + '.';
    if (field.max !== null && value > field.max) return `At most ${field.max} ${field.unit}`.trim() + '.';
    return null;
  }
  if (field.type === 'choice')
    return field.choices.includes(String(value)) ? null : `Choose one of ${field.choices.join(', ')}.`;
  if (field.type === 'text') {
    if (field.required && value === '') return 'Give a text.';
    if (field.longest !== null && String(value).length > field.longest) return `At most ${field.longest} characters.`;
  }
  return null;
}
