import { writeSync } from 'node:fs';
import { JournalPipe } from './journalPipe';

describe('the pipe of the as-run', () => {
  it('gives what was written, whole letters only, and never waits', () => {
    const pipe = new JournalPipe();
    expect(pipe.read()).toBe('');
    const bytes = Buffer.from('["Réka"]\n');
    writeSync(pipe.fd, bytes.subarray(0, 4));
    expect(pipe.read()).toBe('["R');
    writeSync(pipe.fd, bytes.subarray(4));
    expect(pipe.read()).toBe('éka"]\n');
    pipe.close();
    expect(pipe.read()).toBe('');
  });

  it('refuses what does not fit, and takes it when there is room', () => {
    const pipe = new JournalPipe();
    const much = Buffer.alloc(1_000_000, 'x');
    const first = writeSync(pipe.fd, much);
    expect(first).toBeLessThan(much.length);
    expect(() => writeSync(pipe.fd, much)).toThrow('EAGAIN');
    expect(pipe.read()).toHaveLength(first);
    expect(writeSync(pipe.fd, Buffer.from('more'))).toBe(4);
    expect(pipe.read()).toBe('more');
    pipe.close();
  });
});
