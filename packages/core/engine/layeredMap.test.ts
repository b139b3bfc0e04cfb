import { LayeredMap } from './layeredMap';

describe('a map that follows another', () => {
  const first = LayeredMap.of(
    new Map([
      ['a', 1],
      ['b', 2],
    ]),
  );

  it('differs from it where it was changed, and leaves it as it was', () => {
    const second = first.next();
    second.set('b', 20);
    second.set('c', 3);
    second.delete('a');
    expect([...second]).toEqual([
      ['b', 20],
      ['c', 3],
    ]);
    expect([second.size, second.has('a'), second.get('a'), second.get('c')]).toEqual([2, false, undefined, 3]);
    expect([...first]).toEqual([
      ['a', 1],
      ['b', 2],
    ]);
  });

  it('takes back what it had given, and what it had taken away', () => {
    const second = first.next();
    second.set('c', 3);
    second.delete('c');
    second.delete('b');
    second.set('b', 5);
    expect([...second.keys()]).toEqual(['a', 'b']);
    expect([...second.values()]).toEqual([1, 5]);
  });

  it('holds after thousands of changes, one map after the other', () => {
    let map = first;
    for (let index = 0; index < 3000; index += 1) {
      map = map.next();
      map.set(`k${index % 1000}`, index);
      if (index % 3 === 0) map.delete(`k${(index * 7) % 1000}`);
    }
    const plain = new Map<string, number>([...first]);
    for (let index = 0; index < 3000; index += 1) {
      plain.set(`k${index % 1000}`, index);
      if (index % 3 === 0) plain.delete(`k${(index * 7) % 1000}`);
    }
    expect(new Map(map)).toEqual(plain);
    expect(map.size).toBe(plain.size);
  });
});
