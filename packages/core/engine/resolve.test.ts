import { UNKNOWN } from '../expression/index';
import type { PlainValue, Step } from '../show/index';
import { resolveArgument, resolveCommand, resolveDevice } from './resolve';
import { button, command, programOf, testShow } from './testShow';

type CommandStep = Extract<Step, { kind: 'command' }>;
const known = (points: Record<string, PlainValue>) => (key: string) => points[key] ?? UNKNOWN;
const resolved = (
  device: string,
  name: string,
  params: Record<string, unknown>,
  points: Record<string, PlainValue> = {},
) => {
  const step = command('s', device, name, params) as CommandStep;
  return resolveCommand(step, programOf(testShow([button(1, [step])])), known(points));
};

describe('a command as its device counts', () => {
  it('names sources by the input that carries them, and what it leaves out as declared', () => {
    expect(resolved('switcher', 'preview', { source: 'slides' })).toMatchObject({
      ok: true,
      value: { device: 'switcher', command: { command: 'preview', params: { source: 5 } }, unsettles: [] },
    });
    expect(resolved('switcher', 'aux', { source: 'roofCam' })).toMatchObject({
      value: { command: { params: { output: 1, source: 4 } } },
    });
    expect(resolved('switcher', 'mix', {})).toMatchObject({
      value: { command: { params: { frames: 25 } }, unsettles: ['switcher.mixing'] },
    });
  });

  it('takes a position as the place that it is, with the memory that holds it', () => {
    expect(resolved('lawnCam', 'recall', { position: 'visitors' })).toMatchObject({
      value: {
        command: { command: 'recall', params: { position: 'visitors', number: 2, pan: 22.5, tilt: -3, zoom: 1.6 } },
        unsettles: ['lawnCam.arrived', 'lawnCam.travelling'],
      },
    });
    expect(resolved('lawnCam', 'recall', { position: 'visitors', seconds: 5 })).toMatchObject({
      value: { command: { params: { number: 2, seconds: 5 } } },
    });
  });

  it('takes a stored reframe as a window of its source', () => {
    expect(resolved('switcher', 'reframeTo', { reframe: 'roofNorth', frames: 10 })).toMatchObject({
      value: { command: { command: 'reframe', params: { source: 4, x: 0.35, y: 0.3, scale: 2.2, frames: 10 } } },
    });
  });

  it('goes to the device that is chosen at that moment, and to none when nothing is', () => {
    const program = programOf(testShow([]));
    expect(resolveDevice({ device: 'chosen.camera' }, program, known({ 'chosen.camera': 'domeCam' }))).toEqual({
      ok: true,
      value: 'domeCam',
    });
    expect(resolveDevice({ device: 'chosen.camera' }, program, known({}))).toMatchObject({
      ok: false,
      error: { code: 'nothing-chosen', mend: 'Choose the camera first, then press again.' },
    });
    expect(resolveDevice({ device: 'chosen.camera' }, program, known({ 'chosen.camera': 'garden' }))).toMatchObject({
      ok: false,
    });
  });

  it('is not sent on a guess: unknown values and values that do not fit are told', () => {
    const count = { cel: 'value.meteors' };
    expect(resolved('captions', 'countSet', { count })).toMatchObject({
      ok: false,
      error: { code: 'unknown-value', message: '"value.meteors" is not known at present.' },
    });
    expect(resolved('captions', 'countSet', { count }, { 'value.meteors': 12 })).toMatchObject({
      value: { command: { params: { count: 12 } } },
    });
    expect(resolved('captions', 'countSet', { count }, { 'value.meteors': -1 })).toMatchObject({
      ok: false,
      error: { path: 'params.count' },
    });
  });

  it('works a plain argument out to itself', () => {
    const program = programOf(testShow([]));
    expect([resolveArgument('x', program, known({})), resolveArgument(false, program, known({}))]).toEqual([
      { ok: true, value: 'x' },
      { ok: true, value: false },
    ]);
  });
});
