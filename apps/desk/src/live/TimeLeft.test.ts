import { timeLeftWords } from './TimeLeft';

describe('the time left in words', () => {
  it('counts down to zero, keeps quiet about a hair too late, then says by how much', () => {
    expect([2449, 60, 0, -100, -149].map(timeLeftWords)).toEqual(['2.4 s', '0.1 s', '0.0 s', '0.0 s', '0.0 s']);
    expect([-151, -540, -61_000].map(timeLeftWords)).toEqual(['over by 0.2 s', 'over by 0.5 s', 'over by 61.0 s']);
  });
});
