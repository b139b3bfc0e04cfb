import { linesOf } from '../expression/index';
import type { ShowDocument, ShowValue } from '../show/index';

/** The type that a value is edited by: its own, or that of what it begins with. */
export const typeOfValue = ({ type, start }: Pick<ShowValue, 'type' | 'start'>): Exclude<ShowValue['type'], 'plain'> =>
  type !== 'plain' ? type : typeof start === 'number' ? 'number' : typeof start === 'boolean' ? 'switch' : 'text';

/** The content of a value in people's words. */
export function valueWords(document: ShowDocument, value: ShowValue, content: ShowValue['start'] | undefined): string {
  if (content === undefined) return 'not known';
  if (typeof content === 'boolean') return content ? 'on' : 'off';
  const type = typeOfValue(value);
  if (type === 'duration') return `${content} s`;
  if (type === 'list') {
    const entries = linesOf(String(content));
    return entries.length === 0
      ? 'empty'
      : `${entries.length} ${entries.length === 1 ? 'entry' : 'entries'}: ${entries.slice(0, 3).join(', ')}${entries.length > 3 ? ' …' : ''}`;
  }
  if (content === '') return type === 'text' ? 'empty' : 'nothing chosen';
  if (type === 'text' || typeof content === 'number') return String(content);
  const named = [...document.sources, ...document.roles, ...document.devices].find(({ key }) => key === content);
  return type === 'choice' ? content : (named?.name ?? `${content} is gone`);
}
