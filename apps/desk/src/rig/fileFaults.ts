interface Fault {
  readonly message?: string;
  readonly mend?: string;
  readonly path?: string;
}

/** @returns undefined when the text is not JSON */
export function readJson(text: string): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    return undefined;
  }
}

const isRecord = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null;
const spaced = (word: string): string => word.replace(/([A-Z])/g, ' $1').toLowerCase();

/** A fault of a show file as it concerns somebody who chose that file: which thing of it, by its name, and what of that thing. */
export function inTheFile<T extends Fault>(fault: T, file: unknown): T {
  const { path, message } = fault;
  const [root, list = '', index = '', ...rest] = (path ?? '').split('.');
  if (root !== 'document' || message === undefined || !isRecord(file)) return fault;
  const things: unknown = isRecord(file.document) ? file.document[list] : undefined;
  const thing: unknown = Array.isArray(things) ? things[Number(index)] : undefined;
  if (!isRecord(thing)) return fault;
  const name = [thing.name, thing.legend, thing.key].find(
    (candidate) => typeof candidate === 'string' && candidate !== '',
  );
  const what = spaced(list).replace(/ies$/, 'y').replace(/s$/, '');
  const where = [
    `${what.charAt(0).toUpperCase()}${what.slice(1)} ${Number(index) + 1}${typeof name === 'string' ? ` (${name})` : ''}`,
    ...rest.map((part) => (/^\d+$/.test(part) ? `number ${Number(part) + 1}` : spaced(part))),
  ].join(', ');
  const words = message.startsWith(`${path ?? ''}: `) ? message.slice((path ?? '').length + 2) : message;
  return { ...fault, message: `${where}: ${words.charAt(0).toLowerCase()}${words.slice(1)}.`.replace(/\.\.$/, '.') };
}
