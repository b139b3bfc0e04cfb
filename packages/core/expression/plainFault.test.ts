import { compileExpression, ExpressionFault } from './index';

const faultOf = (text: string): string => {
  const compiled = compileExpression(text);
  if (!compiled.ok) return compiled.error.message;
  const value = compiled.value.evaluate((key) => (key === 'value.client' ? 'abc' : 3));
  return value instanceof ExpressionFault ? value.message : `no fault: ${String(value)}`;
};

describe('what does not fit in a condition', () => {
  it('is told in plain words, by the real library', () => {
    expect(faultOf('value.client > 3')).toBe('Text and a number cannot be compared with >.');
    expect(faultOf('value.client + 3')).toBe('Text and a number cannot be put together with +.');
    expect(faultOf('size(value.meteors) > 1')).toBe('size() does not take a number.');
    expect(faultOf('value.client in lines(value.meteors)')).toBe('lines() does not take a number.');
    expect(faultOf('!value.client')).toBe('Only yes or no can be negated.');
    expect(faultOf('"a" > 1')).toMatch(/^Text and a number cannot be compared with >\./);
  });
});
