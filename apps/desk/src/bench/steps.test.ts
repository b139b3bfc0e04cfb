import { corvaneHill } from '@umbek/demo';
import { newButton, stepChoices } from '@umbek/core/programming';
import type { Step } from '@umbek/core/show';
import { added, listChanged, listOf, type StepOwner } from './owner';
import { firstSuggestion, freeId, stepAdded, withChoice } from './steps';

const show = corvaneHill();
const ids = (steps: readonly Step[]) => steps.map((step) => step.id).join('');
const pause = (id: string): Step => ({ id, onFail: 'stop', kind: 'pause', length: { ms: 1 } });

describe('a list of steps', () => {
  const steps = [pause('a'), pause('b'), pause('c')];
  it('is added to with ids of its own, also of what stands inside', () => {
    expect(freeId([pause('s2'), pause('s3')])).toBe('s4');
    const group: Step = { id: 'g', onFail: 'stop', kind: 'group', name: 'G', steps: [pause('s3')] };
    expect(freeId([group])).toBe('s4');
    const [choice] = stepChoices(show, []);
    expect(choice && withChoice(steps, choice, steps).map((step) => step.kind)).toEqual([
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
    const choice = stepChoices(show, []).find((stepChoice) => stepChoice.words === 'Recall a position: Two shot');
    if (!choice) throw new Error('no choice');
    const fields = (changes: readonly { field: string }[]) => changes.map(({ field }) => field);
    expect(fields(stepAdded(button, choice, show, []))).toEqual(['steps', 'legend', 'lamps']);
    expect(fields(stepAdded({ ...button, legend: 'Mine' }, choice, show, []))).toEqual(['steps', 'lamps']);
    expect(fields(stepAdded({ ...button, steps: [pause('a')] }, choice, show, [pause('a')]))).toEqual(['steps']);
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
    expect(suggest('captions', 'personIn', { person: 'luciaFerran' })).toEqual({
      legend: 'Lucía Ferrán',
      lamps: [{ when: 'button.isSo', show: 'up' }],
    });
    expect(firstSuggestion(pause('a'), show)).toBeNull();
  });
});

describe('the lists of a button', () => {
  const button = {
    ...newButton(show, '01J0C0RVANEH1NEW0000000001', show.strips[0]?.id ?? ''),
    steps: [pause('s1')],
    sets: [{ id: 'set2', legend: '', steps: [pause('s2')], so: '' }],
    additions: [{ at: 'held' as const, ms: 500, steps: [pause('s3')] }],
  };
  const owner: StepOwner = { entity: 'buttons', entry: button };
  const [choice] = stepChoices(show, []);

  it('are read and changed each by itself, and no step of one has the id of a step of another', () => {
    expect(ids(listOf(owner, 'sets.set2'))).toBe('s2');
    expect(ids(listOf(owner, 'additions.held'))).toBe('s3');
    expect(listOf(owner, 'additions.again')).toEqual([]);
    expect(listChanged(owner, 'sets.set2', [])).toMatchObject({ field: 'sets', to: [{ id: 'set2', steps: [] }] });
    if (choice === undefined) throw new Error('no choice');
    const [change] = added(owner, 'additions.held', choice, { ...show, buttons: [button] });
    expect(change).toMatchObject({ field: 'additions', to: [{ at: 'held', steps: [{ id: 's3' }, { id: 's4' }] }] });
  });
});
