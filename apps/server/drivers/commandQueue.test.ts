import type { CommandEvent } from '@umbek/core/engine';
import { VirtualClock } from '@umbek/core/rehearse';
import { CommandQueue, QUEUE_LIMIT_MS, type QueuedCommand } from './commandQueue';

function setUp() {
  const clock = new VirtualClock();
  const queue = new CommandQueue(clock);
  const outcomes: Record<string, string> = {};
  const add = (id: string, lane: QueuedCommand['lane'] = 'plain') =>
    queue.add({
      id,
      lane,
      command: { command: id, params: {} },
      tell: (event: CommandEvent) =>
        (outcomes[id] = event.type === 'outcome' ? `${event.outcome}: ${event.why ?? ''}` : event.type),
    });
  return { clock, queue, outcomes, add };
}

describe('the queue of a device', () => {
  it('gives commands out in the order in which they came', () => {
    const { queue, add } = setUp();
    for (const id of ['a', 'b', 'c']) add(id);
    expect([queue.next()?.id, queue.next()?.id, queue.next()?.id, queue.next()]).toEqual(['a', 'b', 'c', undefined]);
  });

  it('keeps only the newest nudge, and tells the older one so', () => {
    const { clock, queue, outcomes, add } = setUp();
    add('left', 'nudge');
    add('recall');
    add('right', 'nudge');
    clock.runTo(0);
    expect(outcomes).toEqual({ left: 'refused: A newer nudge took its place.' });
    expect([queue.next()?.id, queue.next()?.id, queue.size]).toEqual(['recall', 'right', 0]);
  });

  it('lets a stop go ahead of everything: nothing before it is sent any more', () => {
    const { clock, queue, outcomes, add } = setUp();
    add('recall');
    add('left', 'nudge');
    add('stop', 'stop');
    clock.runTo(0);
    expect(outcomes).toEqual({
      recall: 'refused: A stop went ahead of it.',
      left: 'refused: A stop went ahead of it.',
    });
    expect(queue.next()?.id).toBe('stop');
  });

  it('fails what was not sent within 500 ms, and only that', () => {
    const { clock, queue, outcomes, add } = setUp();
    add('early');
    clock.runTo(QUEUE_LIMIT_MS - 100);
    add('later');
    expect(queue.next()?.id).toBe('early');
    clock.runTo(QUEUE_LIMIT_MS + 50);
    expect(outcomes).toEqual({});
    clock.runTo(2 * QUEUE_LIMIT_MS);
    expect(outcomes).toEqual({ later: 'refused: It was not sent within 500 ms: the device was busy.' });
    expect(queue.size).toBe(0);
  });

  it('takes one back, and never calls back from inside the call that drops it', () => {
    const { clock, queue, outcomes, add } = setUp();
    const takeBack = add('a');
    takeBack();
    expect(outcomes).toEqual({});
    clock.runTo(0);
    expect([outcomes, queue.next()]).toEqual([{ a: 'refused: Cancelled before it was sent.' }, undefined]);
  });
});
