import { fork } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { BUNDLE, DIST, ROOT, say } from '../scripts/lib.mjs';

/**
 * Ten faults, planted one at a time into a copy of the code that is built for it: the simulation has to find them. node simulate/planted.mjs
 * [seeds] [name] says after how many seeds each was found. Each entry: what it is, and in which file which text becomes which other.
 */
const FAULTS = [
  {
    name: 'stop dropped behind a failed step',
    edits: [
      [
        'packages/core/engine/stepRunner.ts',
        'if (task.eachTried) trouble ??= result.why;',
        'if (task.eachTried) return done(result);',
      ],
      [
        'packages/core/engine/pressIntake.ts',
        'const steps = [...this.endsOf(held), ...held.button.releaseSteps];',
        'const steps = held.button.releaseSteps;',
      ],
    ],
  },
  {
    name: 'retell from a copy',
    edits: [
      [
        'apps/server/drivers/oscDriver.ts',
        "if (unsettles.length > 0 && this.state === 'reached') this.readAll();",
        'for (const point of unsettles) { const value = this.points.get(point); if (value !== undefined) this.context.news.points({ [point]: value }); }',
      ],
      ['apps/server/drivers/oscDriver.ts', 'if (!this.doubts.holds(message.point))', 'if (true)'],
    ],
  },
  {
    name: 'doubled ok',
    edits: [
      [
        'apps/server/drivers/oscDriver.ts',
        'if (this.flight && id === `${this.idPrefix}.${this.flight.entry.id}`) this.finish(this.flight, event);',
        'if (this.flight && !id.startsWith("read")) this.finish(this.flight, event);',
      ],
    ],
  },
  {
    name: 'resend under a new id',
    edits: [
      [
        'apps/server/drivers/oscDriver.ts',
        'this.context.transmit(flight.bytes);',
        "this.context.transmit(encodeOsc([encodeRequest(this.kind.key, flight.entry.command.command, `${this.idPrefix}.${flight.entry.id}x${Math.floor(clock.now())}`, this.namesOf(flight.entry.command.command).map((name) => ({ value: flight.entry.command.params[name] ?? '', whole: false })))]));",
      ],
    ],
  },
  {
    name: 'lost lease timer',
    edits: [
      [
        'packages/core/engine/pressIntake.ts',
        'const due = held.renewedAt + LEASE_MS;',
        'const due = held.renewedAt + 1e9;',
      ],
    ],
  },
  {
    name: 'queue that survives a disconnect',
    edits: [
      ['apps/server/drivers/viscaDriver.ts', 'this.queue.fail(`Not sent: ${words}`);', ''],
      ['apps/server/drivers/oscDriver.ts', 'this.queue.fail(`Not sent: ${words}`);', ''],
      ['apps/server/drivers/commandQueue.ts', 'this.clock.now() + QUEUE_LIMIT_MS', 'this.clock.now() + 60_000'],
    ],
  },
  {
    name: 'stale arrived',
    edits: [
      ['packages/core/engine/stepRunner.ts', 'for (const key of unsettles) board.forget(key);', ''],
      [
        'apps/server/drivers/viscaDriver.ts',
        "this.drivenAt = -Infinity;\n      this.driving = false;\n      this.arrived = '';\n      entry.tell({ type: 'accepted' });\n      news.points({ travelling: true, arrived: '' });",
        "this.driving = false;\n      entry.tell({ type: 'accepted' });\n      news.points({ travelling: true });",
      ],
    ],
  },
  {
    name: 'two owners',
    edits: [
      [
        'packages/core/engine/owners.ts',
        'for (const rival of rivals) this.end(rival, `${name} took ${device}.`);',
        'void name;',
      ],
    ],
  },
  {
    name: 'value lost at a rotation',
    edits: [
      [
        'apps/server/journal/fold.ts',
        "kind: 'checkpoint',\n      t: this.t,\n      values: [...this.values],",
        "kind: 'checkpoint',\n      t: (this.values.clear(), this.t),\n      values: [],",
      ],
    ],
  },
  {
    name: 'up before down',
    edits: [
      ['packages/core/engine/pressIntake.ts', 'if (known?.up) {', 'if (known?.up && known.buttonId === "never") {'],
    ],
  },
];

const seeds = Number(process.argv[2] ?? 200);
/** Only faults whose name holds this. */
const only = process.argv[3] ?? '';

async function build(fault) {
  const { build: bundle } = await import('esbuild');
  const files = new Map();
  for (const [file, from, to] of fault.edits) {
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
        for (const one of children) one.kill();
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
