import { readFileSync, writeFileSync } from 'node:fs';
import { cpus } from 'node:os';
import { benchLamps } from '../bench/lamps';
import { benchPage } from '../bench/page';
import { benchPress } from '../bench/press';
import { benchRehearsal } from '../bench/rehearsal';
import type { BenchRow } from '../bench/result';

/** npm run bench: every figure beside its limit, measured in this run. */
async function main(): Promise<void> {
  const rows: BenchRow[] = [benchLamps(), ...benchRehearsal(), ...(await benchPage()), ...(await benchPress())];
  const text = (value: number): string => (value >= 100 ? value.toFixed(0) : value >= 1 ? value.toFixed(2) : value.toPrecision(3));
  console.log(`\n${cpus().length} cores, Node ${process.version}\n`);
  const table = [
    '| what | measured | beside | ratio | to hold | |',
    '|---|---|---|---|---|---|',
    ...rows.map((one) => `| ${one.name} | ${text(one.value)} ${one.unit} | ${text(one.limit)} ${one.unit} | ${text(one.ratio)} | ≤ ${one.hold} | ${one.ratio <= one.hold ? 'holds' : 'missed'} |`),
  ];
  console.log(table.join('\n'));
  const readme = readFileSync('README.md', 'utf8');
  writeFileSync('README.md', readme.replace(/<!-- bench -->[\s\S]*<!-- \/bench -->/, () => `<!-- bench -->\n${cpus().length} cores, Node ${process.version}\n\n${table.join('\n')}\n<!-- /bench -->`));
  const results = rows.map(({ name, unit, value, limit, ratio }) => ({ name, unit, value, limit, ratio }));
  writeFileSync('bench/results.json', `${JSON.stringify(results, null, 2)}\n`);
  process.exit(rows.every((one) => one.ratio <= one.hold) ? 0 : 1);
}

void main();
