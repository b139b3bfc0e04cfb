import type { DeviceHealth } from '@umbek/protocol';
import { faultsOf } from './faults';

const device = (name: string, state: DeviceHealth['state'], lastReplyMs: number | null): DeviceHealth => ({
  id: name,
  key: name,
  name,
  kind: 'captions',
  address: '127.0.0.1:9000',
  state,
  lastReplyMs,
  words: '',
  malformed: 0,
});
const WELL = { disk: null, database: true };

describe('what is wrong', () => {
  it('is nothing while every device answers and everything is kept', () => {
    expect(faultsOf([device('A', 'reached', 5)], 0, WELL)).toEqual([]);
  });

  it('tells silent devices first, then what cannot be kept, then what was switched off', () => {
    const devices = [device('A', 'off', null), device('B', 'reached', 1), device('C', 'silent', 4000)];
    const stores = { disk: 'ENOSPC: no space left on device, write', database: false };
    expect(faultsOf(devices, 10_000, stores).map(({ words, heardAt }) => [words, heardAt])).toEqual([
      ['C does not answer', 6000],
      ['The disk is full', undefined],
      ['The database does not answer', undefined],
      ['A is switched off in the Rig', null],
    ]);
  });

  it('says what the disk said, and what goes on', () => {
    const disk = (said: string) => faultsOf([], 0, { disk: said, database: true })[0];
    expect(disk('EROFS: read-only file system, open')?.words).toBe('The disk cannot be written');
    expect(disk('EIO: i/o error, write')?.words).toBe('The disk fails');
    expect(disk('ENOSPC: no space left on device, write')?.fix).toBe(
      'Make room on the engine’s machine. Presses go on. The as-run waits in memory and is written then.',
    );
  });
});
