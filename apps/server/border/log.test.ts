import { mkdtempSync, readFileSync, existsSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { openLog, putLogAside } from './log';

const folder = (): string => mkdtempSync(join(tmpdir(), 'umbek-log-'));
const linesOf = async (file: string, count: number): Promise<Record<string, unknown>[]> => {
  for (let tries = 0; tries < 100; tries += 1) {
    const lines = existsSync(file) ? readFileSync(file, 'utf8').trim().split('\n').filter(Boolean) : [];
    if (lines.length >= count) return lines.map((line) => JSON.parse(line) as Record<string, unknown>);
    await new Promise((next) => setTimeout(next, 20));
  }
  throw new Error('Nothing was written.');
};

describe('the log', () => {
  it('holds a line an entry with level, time and process, and leaves out what is below its level', async () => {
    const at = folder();
    const log = openLog(at, 'engine', 'warn');
    log.info('not this');
    log.error({ where: 'a timer', err: new Error('boom') }, 'something failed, alone');
    const lines = await linesOf(join(at, 'umbek.log'), 1);
    expect(lines).toHaveLength(1);
    expect(lines[0]).toMatchObject({ level: 50, who: 'engine', where: 'a timer', msg: 'something failed, alone' });
    expect(String(lines[0]?.time)).toMatch(/^\d{4}-\d\d-\d\dT/);
    expect((lines[0]?.err as { stack: string }).stack).toContain('boom');
  });

  it('takes a level that does not exist as info', async () => {
    const at = folder();
    const log = openLog(at, 'parent', 'loud');
    log.debug('not this');
    log.info('this');
    expect((await linesOf(join(at, 'umbek.log'), 1)).map((line) => line.msg)).toEqual(['this']);
  });

  it('is put aside once it has grown to 8 MB, and not before', () => {
    const at = folder();
    putLogAside(at);
    writeFileSync(join(at, 'umbek.log'), 'x'.repeat(8 * 1024 * 1024 - 1));
    putLogAside(at);
    expect(existsSync(join(at, 'umbek.log.1'))).toBe(false);
    writeFileSync(join(at, 'umbek.log'), 'x'.repeat(8 * 1024 * 1024));
    putLogAside(at);
    expect([existsSync(join(at, 'umbek.log')), existsSync(join(at, 'umbek.log.1'))]).toEqual([false, true]);
  });

  it('ends nothing where the disk takes nothing', () => {
    const at = folder();
    writeFileSync(join(at, 'umbek.log'), '');
    const log = openLog(at, 'engine');
    expect(() => log.error('lost')).not.toThrow();
    expect(() => putLogAside(join(at, 'nowhere'))).not.toThrow();
  });
});
