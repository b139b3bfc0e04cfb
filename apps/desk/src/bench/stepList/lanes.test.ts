import { corvaneHill } from '@umbek/demo';
import { lanesOf, markEvery, stateAt } from './lanes';
import type { Timeline } from './rehearsal';

const show = corvaneHill();
const input = (key: string): number => show.sources.find((source) => source.key === key)?.input ?? 0;
const timeline: Timeline = {
  durationMs: 2500,
  cutOff: false,
  entries: [
    { kind: 'runStart', t: 0 },
    { kind: 'step', t: 0, path: 'steps.0', words: 'Recall Two shot on Desk cam' },
    { kind: 'command', t: 0, device: 'deskCam', commandId: 'r/steps.0', command: { command: 'recall' } },
    { kind: 'stepEnd', t: 20, path: 'steps.0', ok: true },
    { kind: 'step', t: 20, path: 'steps.1', words: 'Wait until Desk cam has arrived at Two shot' },
    { kind: 'outcome', t: 1500, device: 'deskCam', commandId: 'r/steps.0', outcome: 'done' },
    { kind: 'stepEnd', t: 1500, path: 'steps.1', ok: true },
    { kind: 'command', t: 1500, device: 'switcher', commandId: 'b', command: { command: 'cut' } },
    { kind: 'outcome', t: 1540, device: 'switcher', commandId: 'b', outcome: 'refused' },
    { kind: 'command', t: 2000, device: 'captions', commandId: 'c', command: { command: 'nameIn' } },
  ],
  changes: [
    [1500, 'switcher.program', null],
    [1540, 'switcher.program', input('deskCam')],
    [1540, 'captions.nameUp', true],
    [1540, 'lamp@x', true],
    [1600, 'captions.nameUp', false],
  ],
};

describe('the lanes of a rehearsal', () => {
  it('tell what is on air, what each device does, and what is waited for', () => {
    const lanes = lanesOf(timeline, show, (key) => (key === 'switcher.program' ? input('roofCam') : undefined));
    expect(lanes.map(({ name, bars }) => [name, bars.map(({ start, end, words }) => [start, end, words])])).toEqual([
      [
        'On air',
        [
          [0, 1540, 'Roof cam'],
          [1540, 2500, 'Desk cam'],
        ],
      ],
      ['Desk cam', [[0, 1500, 'Recall Two shot on Desk cam']]],
      ['Switcher', [[1500, 1540, 'cut']]],
      // Nothing was heard of it: it goes on to the end.
      ['Captions', [[2000, 2500, 'nameIn']]],
      ['Waits', [[20, 1500, 'Wait until Desk cam has arrived at Two shot']]],
    ]);
    expect(lanes.map(({ bars }) => bars.some(({ trouble }) => trouble))).toEqual([false, false, true, false, false]);
  });

  it('tell what is so at a time, the latest first', () => {
    expect(stateAt(timeline, 1550, show).map(({ about, is }) => `${about}: ${is}`)).toEqual([
      'Captions: name caption is up: yes',
      'Switcher: input on program: Desk cam',
    ]);
    expect(stateAt(timeline, 2000, show)[0]).toMatchObject({ key: 'captions.nameUp', is: 'no' });
    expect(stateAt(timeline, 0, show)).toEqual([]);
    // A clock that runs on does not stand before what happened.
    const clock = [0, 1, 2, 3].map((left) => [1700 + left, 'captions.countdownLeft', 4 - left] as const);
    const running = { ...timeline, changes: [...(timeline.changes ?? []), ...clock] };
    expect(stateAt(running, 2000, show).map(({ key }) => key)).toEqual([
      'captions.nameUp',
      'switcher.program',
      'captions.countdownLeft',
    ]);
  });

  it('are marked every so often', () => {
    expect([900, 2500, 22_400, 600_000].map(markEvery)).toEqual([0.1, 0.5, 5, 60]);
  });
});
