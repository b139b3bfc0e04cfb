import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { standinsDocs } from './docs';

describe('docs/standins.md', () => {
  it('is what the declarations give: run npm run docs', () => {
    expect(readFileSync(join(process.cwd(), 'docs/standins.md'), 'utf8')).toBe(standinsDocs());
  });

  it('lists every stand-in with its addresses and every command with its ranges', () => {
    const docs = standinsDocs();
    expect(docs).toContain('| Spool | Clip player | 7003 UDP | 8003 | OSC with request ids |');
    expect(docs).toContain('| Exchange | Router | 7020 TCP | 8020 | SW-P-08 |');
    expect(docs).toContain(
      '| `POST /commands/brightness` `{ id, level }` | Brightness | level: number 0 to 100 %, 80 when left out |',
    );
    expect(docs).toContain('`failStart` (the next start fails)');
  });
});
