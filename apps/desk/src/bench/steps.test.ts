import { corvaneHill } from '@umbek/core/demo';
import { stepChoices } from '@umbek/core/programming';
import type { Step } from '@umbek/core/show';
import { hostFault, portFault } from '../rig/address';
import { keyFrom } from '../rig/keys';
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

describe('an address', () => {
  it('is told what is wrong with it', () => {
    expect([hostFault('127.0.0.1'), hostFault('cam-1.local')]).toEqual([null, null]);
    expect([hostFault(''), hostFault('1.2.3'), hostFault('1.2.3.400'), hostFault('a b')]).toEqual([
      'Give an address, such as 127.0.0.1.',
      'An IP address has four numbers with dots between.',
      'Each number of an IP address is at most 255.',
      'An address holds letters, digits, dots and hyphens.',
    ]);
    expect(portFault('0', '127.0.0.1', show, null)).toBe('A port is a whole number from 1 to 65535.');
    expect(portFault('7001', '127.0.0.1', show, 'captions')).toBe(
      'Switcher is at 127.0.0.1:7001 already. Give this one another port.',
    );
    expect(portFault('7001', '127.0.0.1', show, 'switcher')).toBeNull();
  });
});

describe('a key', () => {
  it("comes from the name, and is nobody else's", () => {
    expect(keyFrom('Gate cam 2', new Set(), 'head')).toBe('gateCam2');
    expect(keyFrom('Desk cam', new Set(['deskCam', 'deskCam2']), 'head')).toBe('deskCam3');
    expect(keyFrom('שלום', new Set(), 'head')).toBe('head');
    expect(keyFrom('value', new Set(), 'head')).toBe('value2');
  });
});
