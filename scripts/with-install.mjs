import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  buildPage,
  buildProcesses,
  buildScript,
  endRunning,
  freePort,
  needChromium,
  needEngines,
  needModules,
  run,
  startPostgres,
} from './lib.mjs';

/**
 * Runs a TypeScript script of ours (bench, shots, soak) with everything it needs in place and a database of its own. With `--bare` before its
 * name it needs nothing but the packages (simulate).
 */

const folder = mkdtempSync(join(tmpdir(), 'umbek-run-'));
// PostgreSQL runs as a user of its own and has to get in.
chmodSync(folder, 0o755);
let database = null;
let code = 0;
// Ended from outside, it leaves neither script nor database behind.
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'])
  process.once(signal, () => {
    endRunning();
    database?.stop();
    process.exit(1);
  });
try {
  const bare = process.argv[2] === '--bare';
  const [entry, ...rest] = process.argv.slice(bare ? 3 : 2);
  await needModules();
  if (!bare) {
    await needChromium();
    if (entry === 'scripts/engines.ts') await needEngines();
    await buildProcesses();
    await buildPage();
    database = await startPostgres(folder, await freePort());
  }
  const env = database === null ? {} : { UMBEK_TEST_DATABASE: database.url.replace(/\/umbek$/, '/postgres') };
  await run('node', [await buildScript(entry), ...rest], { env: { ...process.env, ...env } });
} catch (error) {
  process.stderr.write(`${error.message}\n`);
  code = 1;
} finally {
  database?.stop();
  rmSync(folder, { recursive: true, force: true });
}
process.exit(code);
