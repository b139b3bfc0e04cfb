import { execFile, type ExecFileException } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { freePort } from './support/demo';

jest.setTimeout(60_000);

const start = (folder: string, port: number): Promise<{ code: number | string; said: string }> =>
  new Promise((ended) => {
    execFile(
      process.execPath,
      ['scripts/start.mjs'],
      { env: { ...process.env, UMBEK_DATA: folder, UMBEK_PORT: String(port) }, timeout: 40_000 },
      (error: ExecFileException | null, out, trouble) =>
        ended({ code: error === null ? 0 : (error.code ?? error.signal ?? '?'), said: `${out}${trouble}` }),
    );
  });
const freshFolder = (): string => mkdtempSync(join(tmpdir(), 'umbek-start-'));

/** Field 22 of `stat`: when a process began, in ticks since the machine was switched on (proc(5)). */
const beganOf = (pid: number): string =>
  readFileSync(`/proc/${pid}/stat`, 'utf8')
    .replace(/^.*\) /, '')
    .split(' ')[19] ?? '';

describe('a second start', () => {
  it('on a folder that a living Umbek has says so in a sentence and touches nothing', async () => {
    const folder = freshFolder();
    const lock = join(folder, 'lock');
    const text = JSON.stringify({ pid: process.pid, started: beganOf(process.pid), address: 'http://127.0.0.1:4400' });
    writeFileSync(lock, text);
    const before = statSync(lock).mtimeMs;
    const { code, said } = await start(folder, await freePort());
    expect(code).toBe(1);
    expect(said).toContain(
      `Umbek already runs with this data folder, at http://127.0.0.1:4400 (process ${process.pid}).`,
    );
    expect(said).not.toContain('    at ');
    expect([readdirSync(folder), readFileSync(lock, 'utf8'), statSync(lock).mtimeMs]).toEqual([['lock'], text, before]);
  });

  it('on a port that somebody has says so, starts nothing, and gives the folder back', async () => {
    const folder = freshFolder();
    const other = createServer();
    await new Promise<void>((listens) => other.listen(0, '127.0.0.1', listens));
    const address = other.address();
    const port = typeof address === 'object' && address !== null ? address.port : 0;
    const { code, said } = await start(folder, port);
    other.close();
    expect(code).toBe(1);
    expect(said).toContain(`Port ${port} is taken by another program. End it, or set UMBEK_PORT to another port.`);
    expect(said).not.toContain('    at ');
    expect(readdirSync(folder)).toEqual([]);
  });
});
