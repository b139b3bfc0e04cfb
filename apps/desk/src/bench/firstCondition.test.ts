import { corvaneHill } from '@umbek/demo';
import { askables } from '@umbek/core/programming';
import { firstCondition } from './ConditionForm';

const show = corvaneHill();
const asked = (scope: string, point: string) => {
  const found = askables(show).find((askable) => askable.scope === scope && askable.point === point);
  if (found === undefined) throw new Error(`${scope}.${point}`);
  return found;
};

describe('a condition that was chosen just now', () => {
  it('asks for what is so now, a source by its name', () => {
    const first = (scope: string, point: string, now?: string | number | boolean) =>
      firstCondition(asked(scope, point), now, show.sources).value;
    expect(first('switcher', 'aux1', 4)).toEqual({ source: 'roofCam' });
    expect(first('switcher', 'aux1', 63)).toBe(63);
    expect(first('deskCam', 'pan', -3)).toBe(-3);
    expect(first('deskCam', 'pan')).toBe(0);
    expect(first('captions', 'nameUp', false)).toBe(true);
    expect(first('captions', 'nameText', 'Wen')).toBe('Wen');
  });
});
