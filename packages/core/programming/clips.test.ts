import { corvaneHill } from '@umbek/demo';
import { clash, clipSteps, freeSlot, playersOf, slotsOf, transitionsOf } from './clips';

const show = corvaneHill();
const [spool] = playersOf(show);
const AS_IT_IS = { transition: '', ms: 500, loop: false };

describe('clips that become steps', () => {
  it('come from the players of the show, layer by layer', () => {
    expect(playersOf(show).map(({ key }) => key)).toEqual(['spool']);
    expect(spool && slotsOf(spool, show)).toEqual([
      { channel: 1, layer: 1 },
      { channel: 1, layer: 2 },
      { channel: 2, layer: 1 },
      { channel: 2, layer: 2 },
    ]);
    expect(spool && transitionsOf(spool, show)).toEqual(['cut', 'mix', 'push']);
  });

  it('are made ready together and begin together', () => {
    const steps = clipSteps(
      'spool',
      [
        { clip: 'Opening film', channel: 1, layer: 1 },
        { clip: 'Holding loop', channel: 1, layer: 2 },
      ],
      { transition: 'mix', ms: 400, loop: true },
    );
    const inside = steps.map((step) => (step.kind === 'together' ? step.steps : []));
    expect(inside.map((list) => list.map((step) => step.kind === 'command' && [step.command, step.params]))).toEqual([
      [
        ['transition', { kind: 'mix', ms: 400, channel: 1, layer: 1 }],
        ['cue', { clip: 'Opening film', channel: 1, layer: 1, loop: true }],
        ['transition', { kind: 'mix', ms: 400, channel: 1, layer: 2 }],
        ['cue', { clip: 'Holding loop', channel: 1, layer: 2, loop: true }],
      ],
      [
        ['play', { channel: 1, layer: 1 }],
        ['play', { channel: 1, layer: 2 }],
      ],
    ]);
  });

  it('are two plain steps where there is one clip, and none where there is none', () => {
    expect(clipSteps('spool', [{ clip: 'Opening film', channel: 2, layer: 1 }], AS_IT_IS)).toEqual([
      {
        onFail: 'stop',
        kind: 'command',
        device: 'spool',
        command: 'cue',
        params: { clip: 'Opening film', channel: 2, layer: 1, loop: false },
      },
      { onFail: 'stop', kind: 'command', device: 'spool', command: 'play', params: { channel: 2, layer: 1 } },
    ]);
    expect(clipSteps('spool', [], AS_IT_IS)).toEqual([]);
  });

  it('take the next free layer, and tell where two would stand on one', () => {
    const slots = [
      { channel: 1, layer: 1 },
      { channel: 1, layer: 2 },
    ];
    const first = { clip: 'a', channel: 1, layer: 1 };
    expect(freeSlot(slots, [first])).toEqual({ channel: 1, layer: 2 });
    expect(freeSlot(slots, [first, { clip: 'b', channel: 1, layer: 2 }])).toEqual({ channel: 1, layer: 2 });
    expect(clash([first, { clip: 'b', channel: 1, layer: 2 }])).toBeNull();
    expect(clash([first, { clip: 'b', channel: 1, layer: 1 }])).toMatchObject({ channel: 1, layer: 1 });
  });
});
