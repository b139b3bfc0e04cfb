import { fork } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { cpus } from 'node:os';
import { benchBig } from '../bench/big';
import { farStations } from '../bench/farStations';
import { benchLamps } from '../bench/lamps';
import { benchRules } from '../bench/rules';
import { benchMachines } from '../bench/machines';
import { benchPage } from '../bench/page';
import { benchPanels } from '../bench/panels';
import { benchPress } from '../bench/press';
import { benchRehearsal } from '../bench/rehearsal';
import { benchStations } from '../bench/stations';
import { benchTiming } from '../bench/timing';
import type { BenchRow } from '../bench/result';

/** In a process of its own: what the other figures leave behind in this one's memory and compiled code is not its matter. */
const ALONE: Readonly<Record<string, () => BenchRow[]>> = {
  lamps: () => [benchLamps()],
  rehearsal: benchRehearsal,
  rules: benchRules,
};

const alone = (name: string): Promise<BenchRow[]> =>
  new Promise((done, failed) => {
    const child = fork(process.argv[1] ?? '', ['alone', name], { stdio: ['ignore', 'inherit', 'inherit', 'ipc'] });
    child.once('message', (rows) => done(rows as BenchRow[]));
    child.once('exit', (code) => failed(new Error(`The figure ${name} ended with ${code ?? 'a signal'}.`)));
  });

const PARTS: Readonly<Record<string, () => Promise<BenchRow[]>>> = {
  lamps: () => alone('lamps'),
  rehearsal: () => alone('rehearsal'),
  rules: () => alone('rules'),
  page: benchPage,
  panels: benchPanels,
  machines: benchMachines,
  press: benchPress,
  timing: benchTiming,
  stations: benchStations,
  big: benchBig,
};

/** A rented machine shares its processors: above this share of what was wanted, a figure measures the neighbours. */
const MOST_STOLEN = 0.1;

/** Processor time since the machine began, in hundredths of a second; `/proc/stat` of Linux counts it. */
function processorTime(): { readonly stolen: number; readonly wanted: number } {
  const [user = 0, nice = 0, system = 0, _idle, _waiting, interrupt = 0, soft = 0, stolen = 0] = (
    readFileSync('/proc/stat', 'utf8').split('\n')[0] ?? ''
  )
    .split(/\s+/)
    .slice(1)
    .map(Number);
  return { stolen, wanted: user + nice + system + interrupt + soft + stolen };
}

/** npm run bench: every figure beside its limit, measured in this run, and into the README. `npm run bench -- page press` measures some and only prints. */
async function main(asked: readonly string[]): Promise<void> {
  const rows: BenchRow[] = [];
  const disturbed: string[] = [];
  for (const [name, measure] of Object.entries(PARTS)) {
    if (asked.length > 0 && !asked.includes(name)) continue;
    const before = processorTime();
    rows.push(...(await measure()));
    const after = processorTime();
    const share = (after.stolen - before.stolen) / Math.max(1, after.wanted - before.wanted);
    if (share > MOST_STOLEN) disturbed.push(`${name}: ${(share * 100).toFixed(0)} %`);
  }
  const text = (value: number): string =>
    value >= 100 ? value.toFixed(0) : value >= 1 ? value.toFixed(2) : value.toPrecision(3);
  console.log(`\n${cpus().length} cores, Node ${process.version}\n`);
  const table = [
    '| what | measured | beside | ratio | to hold | |',
    '|---|---|---|---|---|---|',
    ...rows.map(
      (benchRow) =>
        `| ${benchRow.name} | ${text(benchRow.value)} ${benchRow.unit} | ${text(benchRow.limit)} ${benchRow.unit} | ${text(benchRow.ratio)} | ≤ ${benchRow.hold} | ${benchRow.ratio <= benchRow.hold ? 'holds' : 'missed'} |`,
    ),
  ];
  console.log(table.join('\n'));
  if (disturbed.length > 0)
    console.log(
      `\nOf the processor time that was wanted, others on this machine's host had so much: ${disturbed.join(', ')}. These figures say little; measure them again.`,
    );
  if (asked.length > 0) process.exit(0);
  const readme = readFileSync('README.md', 'utf8');
  writeFileSync(
    'README.md',
    readme.replace(
      /<!-- bench -->[\s\S]*<!-- \/bench -->/,
      () => `<!-- bench -->\n${cpus().length} cores, Node ${process.version}\n\n${table.join('\n')}\n<!-- /bench -->`,
    ),
  );
  const results = rows.map(({ name, unit, value, limit, ratio }) => ({ name, unit, value, limit, ratio }));
  writeFileSync('bench/results.json', `${JSON.stringify(results, null, 2)}\n`);
  process.exit(rows.every((benchRow) => benchRow.ratio <= benchRow.hold) ? 0 : 1);
}

const measured = process.argv[2] === 'alone' ? ALONE[process.argv[3] ?? '']?.() : undefined;
if (process.argv[2] === 'far') void farStations(process.argv[3] ?? '');
else if (measured) process.send?.(measured, () => process.exit(0));
else void main(process.argv.slice(2));
