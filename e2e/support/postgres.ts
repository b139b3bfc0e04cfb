import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import pg from 'pg';

/** Stops the PostgreSQL that a database is in, at once and without asking. @returns what starts it again */
export async function stopPostgres(url: string): Promise<() => void> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  const { rows } = await client.query<{ data_directory: string }>('show data_directory');
  await client.end();
  const folder = rows[0]?.data_directory ?? '';
  // The postmaster writes down how it was started: program first, then every option in quotes.
  const [program = '', ...options] = [
    ...readFileSync(join(folder, 'postmaster.opts'), 'utf8').matchAll(/"([^"]*)"|(\S+)/g),
  ].map((match) => match[1] ?? match[2] ?? '');
  const rest = options.filter((option, index) => option !== '-D' && options[index - 1] !== '-D');
  const control = join(dirname(program), 'pg_ctl');
  const call = (...args: string[]): void => {
    const command = [control, '-D', folder, ...args];
    if (process.getuid?.() === 0)
      execFileSync('runuser', ['-u', 'postgres', '--', ...command], { cwd: '/', stdio: 'ignore' });
    else execFileSync(control, command.slice(1), { stdio: 'ignore' });
  };
  call('-m', 'immediate', '-w', 'stop');
  return () => call('-l', join(dirname(folder), 'server.log'), '-w', '-o', rest.join(' '), 'start');
}
