import fc from 'fast-check';
import { DueQueue } from './dueQueue';

const drained = (queue: DueQueue): void => {
  for (let due = queue.next(); due !== undefined; due = queue.next()) due.run?.();
};

describe('calls that wait for their time', () => {
  it('come by due time, ties in the order in which they were scheduled, whatever was taken back', () => {
    fc.assert(
      fc.property(
        fc.array(fc.record({ at: fc.integer({ min: 0, max: 20 }), takenBack: fc.boolean() }), { maxLength: 200 }),
        (calls) => {
          const queue = new DueQueue();
          const ran: number[] = [];
          calls.forEach(({ at, takenBack }, index) => {
            const due = queue.add(at, () => ran.push(index));
            if (takenBack) due.run = null;
          });
          drained(queue);
          // A stable sort by time is the order that is meant.
          const meant = calls
            .map((call, index) => ({ ...call, index }))
            .filter(({ takenBack }) => !takenBack)
            .sort((a, b) => a.at - b.at);
          expect(ran).toEqual(meant.map(({ index }) => index));
        },
      ),
    );
  });

  it('may be added while others run, also at the same time', () => {
    const queue = new DueQueue();
    const ran: string[] = [];
    queue.add(5, () => {
      ran.push('first');
      queue.add(5, () => ran.push('third'));
      queue.add(1, () => ran.push('second'));
    });
    drained(queue);
    expect(ran).toEqual(['first', 'second', 'third']);
    expect([queue.first(), queue.next()]).toEqual([undefined, undefined]);
  });
});
