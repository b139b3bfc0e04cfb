import { EventReader } from './eventReader';

describe('server-sent events', () => {
  it.each(['\n', '\r\n', '\r'])('end their lines with any of the three endings, wherever a piece is cut: %j', (end) => {
    const text = [
      'data: one',
      '',
      'event: x',
      'data: two',
      'data:three',
      '',
      ': comment',
      '',
      'data: four',
      '',
      '',
    ].join(end);
    for (let cut = 0; cut <= text.length; cut += 1) {
      const reader = new EventReader();
      const found = [
        ...(reader.push(text.slice(0, cut)) ?? []),
        ...(reader.push(text.slice(cut)) ?? []),
        ...(reader.push(`data: x${end}`) ?? []),
      ];
      expect(found).toEqual(['one', 'two\nthree', 'four']);
    }
  });

  it('give up on a line that grows without end', () => {
    expect(new EventReader().push('x'.repeat(1_000_001))).toBeNull();
  });
});
