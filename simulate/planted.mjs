import { fork } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { BUNDLE, DIST, ROOT, say } from '../scripts/lib.mjs';

/** Each fault: what it is, and in which file which text becomes which other. */
const FAULTS = JSON.parse(readFileSync(join(ROOT, 'simulate', 'plantedFaults.json'), 'utf8'));

/**
 * Faults, planted one at a time into a copy of the code that is built for it: the simulation has to find them. node simulate/planted.mjs
 * [seeds] [name] says after how many seeds each was found.
 */
const seeds = Number(process.argv[2] ?? 200);
/** Only faults whose name holds this. */
const only = process.argv[3] ?? '';

async function build(fault) {
  const { build: bundle } = await import('esbuild');
  const files = new Map();
  for (const { file, from, to } of fault.edits) {
    const path = join(ROOT, file);
    const text = files.get(path) ?? readFileSync(path, 'utf8');
    if (!text.includes(from)) throw new Error(`${fault.name}: ${file} does not hold "${from}".`);
    files.set(
      path,
      text.replace(from, () => to),
    );
  }
  const plugin = {
    name: 'planted',
    setup(on) {
      on.onLoad({ filter: /\.ts$/ }, ({ path }) =>
        files.has(path) ? { contents: files.get(path), loader: 'ts' } : undefined,
      );
    },
  };
  await bundle({ ...BUNDLE, entryPoints: { planted: 'scripts/simulate.ts' }, plugins: [plugin] });
  return join(DIST, 'planted.mjs');
}

/** Plays until a seed finds it. @returns the seed and what it said */
function find(file) {
  return new Promise((done) => {
    let found = null;
    const children = [0, 1].map((index) =>
      fork(file, ['--worker', String(1 + index), String(seeds - index), '2'], {
        stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
      }),
    );
    let running = children.length;
    for (const child of children) {
      child.on('message', ({ seed, broken }) => {
        if (broken.length === 0 || found !== null) return;
        found = { seed, words: broken[0] };
        for (const child of children) child.kill();
      });
      child.once('exit', () => {
        running -= 1;
        if (running === 0) done(found);
      });
    }
  });
}

let count = 0;
const planted = FAULTS.filter(({ name }) => name.includes(only));
for (const fault of planted) {
  const found = await find(await build(fault));
  if (found !== null) count += 1;
  say(`${fault.name}: ${found === null ? `not found within ${seeds} seeds` : `seed ${found.seed}: ${found.words}`}`);
}
say(`\n${count} of ${planted.length} planted faults were found within ${seeds} seeds.`);
process.exit(count >= planted.length * 0.9 ? 0 : 1);
