import { corvaneHill } from '@umbek/demo';
import { addressAfter, planDevices } from './manyPlan';

const document = corvaneHill();
const names = ['Recorder Dome-1', 'Recorder Dome-2'].map((name) => ({ name, words: { room: 'Dome' } }));

describe('many devices', () => {
  it('get keys, rooms and the ports or addresses one after the other', () => {
    const { devices, faults } = planDevices(
      names,
      { kind: 'recorder', host: '10.0.0.5', port: 9000, countsUp: 'port' },
      document,
    );
    expect(faults).toEqual([]);
    expect(devices.map(({ key, name, room, host, port }) => [key, name, room, host, port])).toEqual([
      ['recorderDome1', 'Recorder Dome-1', 'Dome', '10.0.0.5', 9000],
      ['recorderDome2', 'Recorder Dome-2', 'Dome', '10.0.0.5', 9001],
    ]);
    expect((devices[0]?.order ?? '') < (devices[1]?.order ?? '')).toBe(true);
    expect(
      planDevices(names, { kind: 'recorder', host: '10.0.0.9', port: 80, countsUp: 'address' }, document).devices.map(
        (device) => device.host,
      ),
    ).toEqual(['10.0.0.9', '10.0.0.10']);
  });

  it('are told where a name or an address is taken, or the addresses run out', () => {
    expect(
      planDevices(
        [{ name: 'Switcher', words: {} }],
        { kind: 'recorder', host: '127.0.0.1', port: 7001, countsUp: 'port' },
        document,
      ).faults,
    ).toEqual(['Switcher: There is one of this name already.']);
    expect(
      planDevices(names, { kind: 'recorder', host: '127.0.0.1', port: 7001, countsUp: 'port' }, document).faults[0],
    ).toMatch(/^Recorder Dome-1: Switcher is at 127\.0\.0\.1:7001 already\./);
    expect(
      planDevices(names, { kind: 'recorder', host: '10.0.0.255', port: 80, countsUp: 'address' }, document).faults,
    ).toEqual(['Recorder Dome-2: Each number of an IP address is at most 255.']);
    expect(addressAfter('gate.local', 1)).toBe('');
  });
});
