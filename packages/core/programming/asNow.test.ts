import { corvaneHill } from '@umbek/demo';
import { kindOf } from '../devices/index';
import type { PlainValue } from '../show/index';
import { stepsAsNow } from './asNow';

const show = corvaneHill();

/** What a device of the demo shows after these commands, by its model. */
function after(key: string, ...commands: readonly [string, Record<string, PlainValue>][]): Record<string, PlainValue> {
  const device = show.devices.find((candidate) => candidate.key === key);
  const model = kindOf(device, show)?.startModel(device?.settings ?? {}, 0, {});
  if (model === undefined) throw new Error(`There is no ${key}.`);
  let now = 0;
  for (const [command, params] of commands) {
    model.step({ type: 'command', id: command, command: { command, params }, now });
    now += 10_000;
    model.step({ type: 'wake', now });
  }
  const { points } = model.step({ type: 'read', now });
  return Object.fromEntries(Object.entries(points).map(([name, value]) => [`${key}.${name}`, value]));
}
const words = (key: string, points: Readonly<Record<string, PlainValue>>, all = false): string[] =>
  stepsAsNow(show, [key], (name) => points[name]).flatMap(({ words: sentence, differs }) =>
    all || differs ? [sentence] : [],
  );

describe('what a device shows now, as steps', () => {
  it('of a switcher: program and preview by the names of their sources, and nothing that is as when it was switched on', () => {
    const points = after('switcher', ['program', { source: 3 }], ['preview', { source: 1 }]);
    expect(words('switcher', points).sort()).toEqual(['Preview Desk cam', 'Put Dome cam on air']);
    expect(words('switcher', points, true).length).toBeGreaterThan(2);
  });

  it('of captions: the one that is up with what it says; of those that are out nothing by itself', () => {
    const points = after('captions', ['nameIn', { name: 'Wen Zhao', title: 'Observer', ms: 400 }]);
    expect(words('captions', points)).toEqual(['Caption Wen Zhao in']);
  });

  it('of a router and a mixer: each crosspoint and each level that was changed', () => {
    expect(words('exchange', after('exchange', ['connect', { destination: 7, source: 3 }]))).toHaveLength(1);
    const levels = words(
      'sound',
      after('sound', ['fader', { channel: 2, db: -12, ms: 0 }], ['mute', { channel: 1, on: true }]),
    );
    expect(levels).toHaveLength(2);
  });

  it('of a head: the position where it stands, else where it looks', () => {
    const here = { 'deskCam.pan': 10, 'deskCam.tilt': -2, 'deskCam.zoom': 2 };
    expect(words('deskCam', { ...here, 'deskCam.arrived': 'twoShot' })).toEqual(['Recall Two shot on Desk cam']);
    const [only, ...rest] = stepsAsNow(
      show,
      ['deskCam'],
      (name) => ({ ...here, 'deskCam.arrived': '' })[name as never],
    );
    expect(rest).toEqual([]);
    expect(only?.step).toMatchObject({ command: 'goTo', params: { pan: 10, tilt: -2, zoom: 2 } });
  });

  it('of one that does not answer: nothing', () => {
    expect(words('switcher', {}, true)).toEqual([]);
    expect(stepsAsNow(show, ['gone'], () => 1)).toEqual([]);
  });
});
