import { PtzSettings } from '@umbek/core/devices';
import { corvaneHill } from '@umbek/demo';
import { headDiffers, memoriesFor, roundSteps, writeSteps } from './positionSteps';

const positions = corvaneHill()
  .positions.filter((position) => position.camera === 'deskCam')
  .slice(0, 2);
const [first, second] = positions;

describe('rounds and memories of a head', () => {
  it('recalls each, waits until it has arrived, and looks at it for so long', () => {
    expect(roundSteps('deskCam', positions, PtzSettings.parse({}), 2000).map((step) => step.id)).toEqual([
      'recall0',
      'arrive0',
      'look0',
      'recall1',
      'arrive1',
    ]);
  });

  it('goes where the show says and stores it there, under the number that it has or the next free one', () => {
    if (!first || !second) throw new Error('The demo has no positions.');
    const memories = memoriesFor([
      { ...first, headNumber: null },
      { ...second, headNumber: 1 },
    ]);
    expect([...(memories ?? [])]).toEqual([
      [first.key, 2],
      [second.key, 1],
    ]);
    const steps = writeSteps('deskCam', [first], new Map([[first.key, 2]]));
    expect(steps.map((step) => (step.kind === 'command' ? step.params : step.kind))).toEqual([
      { pan: -12.45, tilt: 3, zoom: 4.2 },
      'wait',
      { number: 2 },
      'pause',
    ]);
    expect(
      memoriesFor(Array.from({ length: 128 }, (_, index) => ({ ...first, key: `p${index}`, headNumber: null }))),
    ).toBeNull();
  });

  it('knows when the head holds an older place', () => {
    if (!first) throw new Error('The demo has no positions.');
    expect([
      headDiffers(first),
      headDiffers({ ...first, pan: first.pan + 1 }),
      headDiffers({ ...first, headNumber: null }),
      headDiffers({ ...first, inHead: null }),
    ]).toEqual([false, true, null, null]);
  });
});
