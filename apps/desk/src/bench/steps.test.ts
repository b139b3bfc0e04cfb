import { corvaneHill } from '@umbek/demo';
import { stepChoices } from '@umbek/core/programming';
import type { Step } from '@umbek/core/show';
import { duplicated, firstSuggestion, freeId, moved, withChoice } from './steps';

const show = corvaneHill();
const pause = (id: string): Step => ({ id, onFail: 'stop', kind: 'pause', length: { ms: 1 } });
const ids = (steps: readonly Step[]) => steps.map((step) => step.id).join('');

describe('a list of steps', () => {
  const steps = [pause('a'), pause('b'), pause('c')];
  it('is moved, doubled and added to with ids of its own', () => {
    expect([ids(moved(steps, 0, 1)), ids(moved(steps, 2, -1))]).toEqual(['bac', 'acb']);
    expect(ids(duplicated(steps, 1))).toBe('abs4c');
    expect(freeId([pause('s2'), pause('s3')])).toBe('s4');
    const [choice] = stepChoices(show, []);
    expect(choice && withChoice(steps, choice).map((step) => step.kind)).toEqual([
      'pause',
      'pause',
      'pause',
      'command',
    ]);
  });
});

describe('the first step of a new button', () => {
  const suggest = (device: string, command: string, params: Record<string, string>) =>
    firstSuggestion({ id: 'a', onFail: 'stop', kind: 'command', device, command, params }, show);
  it('gives it its name and its lamps', () => {
    expect(suggest('deskCam', 'recall', { position: 'twoShot' })).toEqual({
      legend: 'Two shot',
      lamps: [{ when: 'deskCam.arrived == "twoShot"', show: 'arrived' }],
    });
    expect(suggest('switcher', 'preview', { source: 'roofCam' })?.lamps).toEqual([
      { when: 'onAir("roofCam")', show: 'onAir' },
      { when: 'onPreview("roofCam")', show: 'onPreview' },
    ]);
    expect(suggest('switcher', 'cut', {})).toBeNull();
    expect(firstSuggestion(pause('a'), show)).toBeNull();
  });
});
