import { chmodSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { buildPage, buildProcesses, freePort, needModules, needPackage, run, say, startPostgres, step } from './lib.mjs';

/** npm test: lint, types, unit, server and browser tests, on a fresh machine too. Ends with `N passed, N failed`. */

const totals = { passed: 0, failed: 0 };
const count = (passed, failed) => {
  totals.passed += passed;
  totals.failed += failed;
};

/** A check that passes or fails as a whole. */
async function check(name, command, args) {
  try {
    await step(name, () => run(command, args));
    count(1, 0);
  } catch (error) {
    say(`  ${name} failed: ${error.message}`);
    count(0, 1);
  }
}

async function jest(name, args, env, folder) {
  const output = join(folder, `${name}.json`);
  await step(name, () => run('npx', ['jest', ...args, '--forceExit', '--json', `--outputFile=${output}`], { env: { ...process.env, ...env }, stdio: ['ignore', 'ignore', 'inherit'] })).catch(() => undefined);
  try {
    const result = JSON.parse(readFileSync(output, 'utf8'));
    count(result.numPassedTests, result.numFailedTests + result.numRuntimeErrorTestSuites);
    if (result.numTotalTests === 0) count(0, 1);
  } catch {
    say(`  ${name} gave no result.`);
    count(0, 1);
  }
}

const folder = mkdtempSync(join(tmpdir(), 'umbek-test-'));
// PostgreSQL runs as a user of its own and has to get in.
chmodSync(folder, 0o755);
let database = null;
try {
  await needModules();
  await needPackage('/usr/bin/chromium', 'chromium');
  await buildProcesses();
  await buildPage();
  await check('Lint', 'npx', ['eslint', '.', '--max-warnings', '0']);
  await check('Types', 'npx', ['tsc', '-p', 'tsconfig.json']);
  database = await step('Starting PostgreSQL for the tests', async () => startPostgres(folder, await freePort()));
  const env = { UMBEK_TEST_DATABASE: database.url.replace(/\/umbek$/, '/postgres') };
  await jest('Unit and server tests', ['--selectProjects', 'core', 'server', 'desk', '--maxWorkers=2'], env, folder);
  await jest('Browser and whole-system tests', ['--selectProjects', 'e2e', '--runInBand'], env, folder);
} catch (error) {
  say(error instanceof Error ? (error.stack ?? error.message) : String(error));
  count(0, 1);
} finally {
  database?.stop();
  rmSync(folder, { recursive: true, force: true });
}
say(`${totals.passed} passed, ${totals.failed} failed`);
process.exit(totals.failed === 0 && totals.passed > 0 ? 0 : 1);
