const TYPES: Readonly<Record<string, string>> = {
  string: 'text',
  int: 'a number',
  double: 'a number',
  uint: 'a number',
  bool: 'yes or no',
  null: 'nothing',
  list: 'a list',
  map: 'a table',
};

const typeWords = (type: string): string => {
  const bare = type.trim().replace(/^dyn<(.*)>$/, '$1');
  return TYPES[bare.replace(/<.*$/, '')] ?? bare;
};

const BESIDE = /^no such overload: (.+?) (<=|>=|==|!=|<|>|\+|-|\*|\/|%|in|&&|\|\|) (.+)$/;
const CALLED = /^found no matching overload for '([A-Za-z.]+)\((.*)\)'/;

/** What the library of expressions says of values that do not fit each other, in words of people who write conditions. */
export function plainFault(message = 'This is not a CEL expression.'): string {
  const line = message.split('\n')[0] ?? message;
  const [, left, sign = '', right = ''] = BESIDE.exec(line) ?? [];
  if (left !== undefined) {
    const pair = `${typeWords(left)} and ${typeWords(right)}`;
    const does = /[<>=]/.test(sign) ? 'be compared with' : 'be put together with';
    return `${pair.charAt(0).toUpperCase()}${pair.slice(1)} cannot ${does} ${sign}.`;
  }
  const [, name, types = ''] = CALLED.exec(line) ?? [];
  if (name === undefined) return line;
  return `${name}() does not take ${types === '' ? 'nothing' : types.split(',').map(typeWords).join(' and ')}.`;
}
