import { corvaneHill, demoId } from '@umbek/demo';
import type { Step } from '../show/index';
import { type RecordedLine, recordedSteps } from './recorded';

const show = corvaneHill();
const BUTTON = show.buttons.find(({ legend }) => legend === 'Dome cam')?.id ?? '';
const press = (t: number, pressId: string, buttonId: string, phase = 'down', station = 'Desk 1'): RecordedLine => ({
  kind: 'press',
  t,
  pressId,
  phase,
  buttonId,
  station,
});
const run = (t: number, runId: string, id: string): RecordedLine => ({
  kind: 'runStart',
  t,
  runId,
  cause: { kind: 'press', id },
});
const sent = (t: number, runId: string, device: string, command: string, params = {}): RecordedLine => ({
  kind: 'command',
  t,
  runId,
  device,
  command: { command, params },
});
const read = (steps: readonly Step[]) => steps.map(({ id: _id, onFail: _onFail, ...rest }) => rest);

describe('touches recorded as steps', () => {
  const lines = [
    press(1000, 'a', BUTTON, 'down', 'Desk 1#2'),
    run(1000, 'r1', 'a'),
    // What the button does comes with it.
    sent(1001, 'r1', 'switcher', 'preview', { source: 3 }),
    press(1080, 'a', BUTTON, 'up'),
    press(1500, 'x', BUTTON, 'down', 'Gate room'),
    press(3000, 'b', 'switcher.program'),
    run(3000, 'r2', 'b'),
    sent(3001, 'r2', 'switcher', 'program', { source: 4 }),
    press(3050, 'c', 'deskCam.drive'),
    run(3050, 'r3', 'c'),
    sent(3052, 'r3', 'deskCam', 'drive', { pan: 5, tilt: 0, zoom: 0 }),
    press(4252, 'c', 'deskCam.drive', 'up'),
    sent(4253, 'r3', 'deskCam', 'stop'),
    press(6000, 'd', demoId('MAC', 1)),
  ];

  it('are this station’s own, with the real pauses', () => {
    expect(read(recordedSteps(lines, 'Desk 1', show, true))).toEqual([
      { kind: 'press', button: BUTTON, holdMs: 80 },
      // From 1.000 s to 3.001 s.
      { kind: 'pause', length: { ms: 2000 } },
      { kind: 'command', device: 'switcher', command: 'program', params: { source: 'roofCam' } },
      // Held for 1.2 s; the touch after 51 ms is a second hand.
      { kind: 'command', device: 'deskCam', command: 'drive', params: { pan: 5, tilt: 0, zoom: 0, forSeconds: 1.2 } },
      { kind: 'pause', length: { ms: 2950 } },
      { kind: 'run', macro: demoId('MAC', 1), params: {} },
    ]);
  });

  it('go at once without the pauses, and what was refused is left out', () => {
    const refused: RecordedLine = { kind: 'refusal', t: 1001, pressId: 'a', phase: 'down', station: 'Desk 1' };
    const [first = press(0, '', ''), ...rest] = lines;
    expect(read(recordedSteps([first, refused, ...rest], 'Desk 1', show, false)).map(({ kind }) => kind)).toEqual([
      'command',
      'command',
      'run',
    ]);
    expect(recordedSteps(lines, 'Nobody', show, true)).toEqual([]);
  });
});
