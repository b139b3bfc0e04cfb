import type { PlainValue, ProfileFile } from '../../show/index';
import { ProfileFile as Schema } from '../../show/index';
import { kindOfProfile } from './index';

const command = (key: string, params: object[], sets: object) => ({
  key,
  words: key,
  params,
  send: [{ as: 'text', text: key }],
  sets,
});
const point = (key: string) => ({ key, words: key, type: 'number', from: { as: 'text', pattern: `${key} (.*)` } });
const profile: ProfileFile = Schema.parse({
  format: 'umbek-profile',
  version: 1,
  name: 'Fog machine',
  transport: { kind: 'tcp' },
  commands: [
    command('level', [{ key: 'percent', min: 0, max: 100 }], { level: { cel: 'param.percent' } }),
    command('on', [], { running: true }),
    command('off', [], { running: false }),
    command('full', [], { level: 100, running: true }),
    command('purge', [], { level: 0, fluid: 0 }),
    command('beep', [], {}),
  ],
  points: [point('level'), point('running'), point('fluid')],
});
const kind = kindOfProfile(profile);
const at =
  (points: Record<string, PlainValue>) =>
  (name: string): PlainValue | undefined =>
    points[name];
const undo = (key: string, params: Record<string, PlainValue>, points: Record<string, PlainValue>) =>
  kind.commands[key]?.effect?.undo(params, at(points));

describe('what takes a command of a profile back', () => {
  it('is the command itself with what stood before, where it sets a point to its parameter', () => {
    expect(kind.commands.level?.effect?.makes({ percent: 40 }, at({}))).toEqual({ level: 40 });
    expect(undo('level', { percent: 40 }, { level: 15 })).toEqual([{ command: 'level', params: { percent: 15 } }]);
  });

  it('is the command that sets the point to what it was, where one does', () => {
    expect(undo('on', {}, { running: false })).toEqual([{ command: 'off', params: {} }]);
    expect(undo('on', {}, { running: true })).toEqual([]);
    expect(undo('full', {}, { level: 30, running: false })).toEqual([
      { command: 'level', params: { percent: 30 } },
      { command: 'off', params: {} },
    ]);
  });

  it('is nothing where a point is not known, or no command sets it to what it was', () => {
    expect(undo('level', { percent: 40 }, {})).toBeNull();
    expect(undo('purge', {}, { level: 10, fluid: 80 })).toBeNull();
    expect(kind.commands.beep?.effect).toBeUndefined();
  });
});
