import { chmodSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, relative } from 'node:path';
import {
  buildPage,
  buildProcesses,
  buildScript,
  freePort,
  needChromium,
  needEngines,
  needModules,
  run,
  say,
  startPostgres,
  step,
} from './lib.mjs';

/** npm test: lint, types, unit, server and browser tests and 200 simulated shows, on a fresh machine too. Ends with `N passed, N failed`. */

/** A machine whose host gives its processors to others for a while gets so long to have them back, before what failed is run once more. */
const CALM_WITHIN_MS = 600_000;
/** Looked at so often, each time with so much work. */
const LOOK_MS = 5000;
const WORK_MS = 300;
/** Of the processor time that is wanted, others may have so much. */
const MOST_STOLEN = 0.15;
/** So many files of a suite are named with what they took, the slowest first. */
const FILES_TOLD = 8;
/** Whole-system tests that hold no short real time: two of them run beside each other. */
const PATIENT = [
  'access',
  'badInput',
  'bench',
  'crew',
  'desk',
  'disk',
  'doing',
  'editing',
  'exchange',
  'goBack',
  'inHand',
  'joining',
  'layers',
  'lists',
  'macros',
  'mainByTouch',
  'moving',
  'pads',
  'pages',
  'pressed',
  'newUser',
  'otherGear',
  'people',
  'phone',
  'profiles',
  'rig',
  'rigging',
  'shortcuts',
  'shows',
  'sizes',
  'start',
  'stations',
  'steps',
  'strips',
  'triggers',
  'together',
  'why',
  'windows',
];
/** Random shows on virtual time; `npm run simulate -- --seeds 1000` plays more. */
const SEEDS = 200;

const totals = { passed: 0, failed: 0 };
const count = (passed, failed) => {
  totals.passed += passed;
  totals.failed += failed;
};

/** A check that passes or fails as a whole. */
async function check(name, command, args, env = {}) {
  const passed = await holds(name, command, args, env);
  count(passed ? 1 : 0, passed ? 0 : 1);
}

async function holds(name, command, args, env) {
  try {
    await step(name, () => run(command, args, { env: { ...process.env, ...env } }));
    return true;
  } catch (error) {
    say(`  ${name} failed: ${error.message}`);
    return false;
  }
}

/** Processor time that was wanted and that others had since the machine began; `/proc/stat` of Linux counts it. */
function processorTime() {
  const [user, nice, system, , , interrupt, soft, stolen] = readFileSync('/proc/stat', 'utf8')
    .split('\n')[0]
    .split(/\s+/)
    .slice(1)
    .map(Number);
  return { stolen, wanted: user + nice + system + interrupt + soft + stolen };
}

/** Waits until others on the host have little of the processors, for ten minutes at the most. */
async function calm() {
  const end = Date.now() + CALM_WITHIN_MS;
  for (;;) {
    const before = processorTime();
    // Time can only be taken from somebody who wants it.
    for (const until = Date.now() + WORK_MS; Date.now() < until;);
    await new Promise((next) => setTimeout(next, LOOK_MS));
    const after = processorTime();
    const share = (after.stolen - before.stolen) / Math.max(1, after.wanted - before.wanted);
    if (share <= MOST_STOLEN) return;
    if (Date.now() > end) return say(`  Others on the host still have ${Math.round(share * 100)} % of the processors.`);
  }
}

/** @returns what Jest found, or null when it ended without a word */
async function jest(name, args, env, folder) {
  const output = join(folder, `${name}.json`);
  await step(name, () =>
    run('npx', ['jest', ...args, '--forceExit', '--json', `--outputFile=${output}`], {
      env: { ...process.env, ...env },
      stdio: ['ignore', 'ignore', 'inherit'],
    }),
  ).catch(() => undefined);
  try {
    const result = JSON.parse(readFileSync(output, 'utf8'));
    const files = result.testResults.map(({ name: file, startTime, endTime }) => ({ file, took: endTime - startTime }));
    for (const { file, took } of files.sort((a, b) => b.took - a.took).slice(0, FILES_TOLD))
      say(`    ${(took / 1000).toFixed(1)} s  ${relative(process.cwd(), file)}`);
    return result;
  } catch {
    say(`  ${name} gave no result.`);
    return null;
  }
}

function countResult(result) {
  if (result === null || result.numTotalTests === 0) return count(0, 1);
  count(result.numPassedTests, result.numFailedTests + result.numRuntimeErrorTestSuites);
}

/**
 * Tests of the whole system hold real times, and a machine that is lent to others for minutes breaks those. A file that failed is run once more
 * when all else is over, and both outcomes are said; a file that fails then too has failed.
 * @returns the files that failed
 */
async function wholeSystem(name, files, args, env, folder) {
  const paths = files.map((file) => join('e2e', `${file}.test.ts`));
  const first = await jest(name, ['--selectProjects', 'e2e', ...args, '--runTestsByPath', ...paths], env, folder);
  const failed = first?.testResults.filter(({ status }) => status === 'failed') ?? [];
  if (failed.length === 0) countResult(first);
  else
    count(
      first.numPassedTests -
        failed.flatMap((file) => file.assertionResults).filter(({ status }) => status === 'passed').length,
      0,
    );
  for (const { name: file, assertionResults } of failed) {
    say(`  ${relative(process.cwd(), file)} failed the first time:`);
    for (const { fullName, status } of assertionResults) if (status === 'failed') say(`    ${fullName}`);
  }
  return failed.map((file) => file.name);
}

const folder = mkdtempSync(join(tmpdir(), 'umbek-test-'));
// PostgreSQL runs as a user of its own and has to get in.
chmodSync(folder, 0o755);
let database = null;
// Ended from outside, it leaves no database behind.
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'])
  process.once(signal, () => {
    database?.stop();
    process.exit(1);
  });
try {
  await needModules();
  await needChromium();
  await needEngines();
  await buildProcesses();
  await buildPage();
  // One core each: the types take as long as the other two.
  await Promise.all([
    check('Format', 'npx', ['prettier', '--check', '--log-level', 'warn', '.']).then(() =>
      check('Lint', 'npx', ['eslint', '.', '--max-warnings', '0']),
    ),
    check('Types', 'npx', ['tsc', '-p', 'tsconfig.json']),
  ]);
  database = await step('Starting PostgreSQL for the tests', async () => startPostgres(folder, await freePort()));
  const env = { UMBEK_TEST_DATABASE: database.url.replace(/\/umbek$/, '/postgres') };
  countResult(
    await jest('Unit and server tests', ['--selectProjects', 'core', 'server', 'desk', '--maxWorkers=2'], env, folder),
  );
  // Before the tests that hold real times: it takes both cores, and its own time is a virtual one.
  await check(`The simulation, ${SEEDS} shows`, 'node', [
    // It makes and drops whole engines: with more room for what is young, a twelfth less time.
    '--max-semi-space-size=64',
    await buildScript('scripts/simulate.ts'),
    '--seeds',
    String(SEEDS),
  ]);
  const files = readdirSync('e2e').flatMap((file) => (file.endsWith('.test.ts') ? [file.slice(0, -8)] : []));
  const inTime = files.filter((file) => !PATIENT.includes(file));
  const failed = await wholeSystem('Browser tests', PATIENT, ['--maxWorkers=2'], env, folder);
  const engines = ['The page in three browser engines', 'node', [await buildScript('scripts/engines.ts')], env];
  const drawn = await holds(...engines);
  if (drawn) count(1, 0);
  failed.push(...(await wholeSystem('Whole-system tests in real time', inTime, ['--runInBand'], env, folder)));
  if (failed.length > 0 || !drawn) await step('Waiting until the machine is calm', calm);
  if (!drawn) await check(`${engines[0]}, once more`, ...engines.slice(1));
  if (failed.length > 0)
    countResult(
      await jest(
        `What failed, once more: ${failed.length} of the files`,
        ['--selectProjects', 'e2e', '--runInBand', '--runTestsByPath', ...failed],
        env,
        folder,
      ),
    );
} catch (error) {
  say(error instanceof Error ? (error.stack ?? error.message) : String(error));
  count(0, 1);
} finally {
  database?.stop();
  rmSync(folder, { recursive: true, force: true });
}
say(`${totals.passed} passed, ${totals.failed} failed`);
process.exit(totals.failed === 0 && totals.passed > 0 ? 0 : 1);
