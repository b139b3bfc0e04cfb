import { corvaneHill } from '@umbek/demo';
import { newButton, stepChoices } from '@umbek/core/programming';
import type { Step } from '@umbek/core/show';
import { duplicated, firstSuggestion, freeId, moved, stepAdded, withChoice } from './steps';

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

describe('a step that is added', () => {
  it('gives a button that nobody has named its name and its lamps, and only with its first step', () => {
    const button = { ...newButton(show, '01J0C0RVANEH1NEW0000000001', show.strips[0]?.id ?? '') };
    const choice = stepChoices(show, []).find((one) => one.words === 'Recall a position: Two shot');
    if (!choice) throw new Error('no choice');
    const fields = (changes: readonly { field: string }[]) => changes.map(({ field }) => field);
    expect(fields(stepAdded(button, 'steps', choice, show))).toEqual(['steps', 'legend', 'lamps']);
    expect(fields(stepAdded({ ...button, legend: 'Mine' }, 'steps', choice, show))).toEqual(['steps']);
    expect(fields(stepAdded(button, 'releaseSteps', choice, show))).toEqual(['releaseSteps']);
    expect(fields(stepAdded({ ...button, steps: [pause('a')] }, 'steps', choice, show))).toEqual(['steps']);
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
