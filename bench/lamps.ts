import { corvaneHill, demoId } from '@umbek/demo';
import { compileProgram, Engine } from '@umbek/core/engine';
import { compileExpression } from '@umbek/core/expression';
import { VirtualClock } from '@umbek/core/rehearse';
import { PLAIN_BUTTON, type ShowDocument } from '@umbek/core/show';
import { type BenchRow, quantile, row } from './result';

const RULES = 5000;
const READERS = 10;
const ROUNDS = 4000;

/** A show of so many buttons with one lamp rule each; the first ten read `switcher.preview`, the others the names of inputs. */
export function showWithButtons(count: number, ports?: Parameters<typeof corvaneHill>[0]): ShowDocument {
  const show = corvaneHill(ports);
  const stripId = demoId('STR', 1);
  const buttons = Array.from({ length: count }, (_, index) => ({
    ...PLAIN_BUTTON,
    id: demoId('BTN', 1000 + index),
    stripId,
    legend: `Button ${index + 1}`,
    steps: [
      {
        id: 'preview',
        onFail: 'stop' as const,
        kind: 'command' as const,
        device: 'switcher',
        command: 'preview',
        params: { source: index % 2 === 0 ? 'lawnCam' : 'domeCam' },
      },
    ],
    lamps: [
      {
        when:
          index < READERS
            ? `switcher.preview == ${(index % 16) + 1}`
            : `switcher.input${(index % 60) + 1}Name == "Name ${index}"`,
        show: 'onPreview' as const,
      },
    ],
    order: `b${String(index).padStart(6, '0')}`,
  }));
  return { ...show, buttons };
}

/** One point change → lamp changes ready, beside calling the ten compiled expressions in a loop. Blocks of both take turns. */
export function benchLamps(): BenchRow {
  const compiled = compileProgram(showWithButtons(RULES), 1);
  const engine = new Engine({
    clock: new VirtualClock(),
    journal: { append: () => undefined },
    program: compiled,
    newId: () => 'x',
  });
  engine.board.set('switcher.reached', true);
  const lamps = engine.lamps('main');
  const expressions = compiled.document.buttons.slice(0, READERS).map((button) => {
    const expression = compileExpression(button.lamps[0]?.when ?? 'true');
    if (!expression.ok) throw new Error(expression.error.message);
    return expression.value;
  });
  const values = new Map<string, number>();
  const read = (key: string): number => values.get(key) ?? 0;
  let sink = 0;
  const [lamp, loop]: number[][] = [[], []];
  for (let round = 0; round < ROUNDS; round += 1) {
    const value = (round % 16) + 1;
    const began = performance.now();
    engine.board.set('switcher.preview', value);
    sink += lamps.takeChanges().size;
    const middle = performance.now();
    values.set('switcher.preview', value);
    for (const expression of expressions) if (expression.evaluate(read) === true) sink += 1;
    const end = performance.now();
    if (round < ROUNDS / 4) continue;
    lamp?.push((middle - began) * 1000);
    loop?.push((end - middle) * 1000);
  }
  if (sink === 0) throw new Error('No lamp changed: the bench measures nothing.');
  return row(
    'Point change → lamps ready, 5,000 rules of which 10 read it (median)',
    'µs',
    quantile(lamp ?? [], 0.5),
    quantile(loop ?? [], 0.5),
    3,
  );
}
