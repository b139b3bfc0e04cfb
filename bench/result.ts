/** One measured figure beside what it is measured against, in the same run. */
export interface BenchRow {
  readonly name: string;
  readonly unit: string;
  readonly value: number;
  /** What the value is divided by, or held under. */
  readonly limit: number;
  readonly ratio: number;
  /** The ratio may be at most this. */
  readonly hold: number;
}

export const row = (name: string, unit: string, value: number, limit: number, hold: number): BenchRow => ({
  name,
  unit,
  value,
  limit,
  ratio: value / limit,
  hold,
});

export function quantile(samples: readonly number[], share: number): number {
  const sorted = [...samples].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))] ?? Number.NaN;
}
