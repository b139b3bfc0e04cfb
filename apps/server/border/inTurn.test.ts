import { InTurn } from './inTurn';

const turn = (): Promise<void> => new Promise((next) => setImmediate(next));

describe('work that comes in a crowd', () => {
  it('is done one piece in each turn, in its order, and a piece that fails holds up none', async () => {
    const turns = new InTurn();
    const done: number[] = [];
    for (const at of [1, 2, 3]) turns.take(() => void done.push(at));
    expect([done, turns.length]).toEqual([[1], 2]);
    await turn();
    expect(done).toEqual([1, 2]);
    await turn();
    await turn();
    expect([done, turns.length]).toEqual([[1, 2, 3], 0]);
    expect(() =>
      turns.take(() => {
        throw new Error('It fails.');
      }),
    ).toThrow('It fails.');
    turns.take(() => void done.push(4));
    expect(done).toEqual([1, 2, 3]);
    await turn();
    expect(done).toEqual([1, 2, 3, 4]);
  });
});
