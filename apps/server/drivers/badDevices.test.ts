import { corvaneHill } from '@umbek/demo';
import { compileProgram } from '@umbek/core/engine';
import { Chance } from '../../../simulate/chance';
import { SimMachine } from '../../../simulate/machine';
import { SimNet } from '../../../simulate/net';
import { SimClock } from '../../../simulate/processes';

const BAD = 2000;
// It counts messages, not milliseconds: on a machine that does other things as well it takes longer than Jest's five seconds.
jest.setTimeout(60_000);

/** Every kind of the demo on the simulated net, with the engine as it runs. */
async function setUp(seed: number) {
  const clock = new SimClock();
  const chance = new Chance(seed);
  const net = new SimNet(clock, chance);
  const demo = corvaneHill();
  const devices = demo.devices.map((device, index) => ({ ...device, host: 'sim', port: index + 1 }));
  for (const { key, kind, port, settings } of devices) net.add({ key, kind, port, settings });
  const machine = new SimMachine(clock, net, chance, { ...demo, devices });
  void machine.begin();
  await clock.goTo(4000, () => undefined);
  return { clock, net, machine, devices };
}

const program = compileProgram(corvaneHill(), 1);
const KINDS = [...new Set(program.document.devices.map((device) => device.kind))];

describe.each(['implausible', 'babbling'] as const)('a device that is %s', (fault) => {
  it.each(KINDS)(`says ${BAD} such things and more, and the engine goes on: %s`, async (kind) => {
    const { clock, net, machine, devices } = await setUp(kind.length * 31 + fault.length);
    const bad = devices.filter((device) => device.kind === kind);
    for (const { port } of bad) Object.assign(net.at(port).faults, { [fault]: true });
    for (let count = 0; count < BAD; count += 1) {
      for (const { port } of bad) net.badly(net.at(port));
      if (count % 20 === 0) await clock.goTo(clock.now() + 25, () => undefined);
    }
    await clock.goTo(clock.now() + 500, () => undefined);
    const { host } = machine;
    expect([machine.deaths, host?.allTroubles(), machine.errors]).toEqual([[], [], []]);
    // Everybody else is served as ever, and the device itself once it is well again.
    const other = devices.find((device) => device.kind === (kind === 'switcher' ? 'captions' : 'switcher'));
    expect(host?.engine.board.read(`${other?.key ?? ''}.reached`)).toBe(true);
    for (const { port } of bad) Object.assign(net.at(port).faults, { [fault]: false });
    await clock.goTo(clock.now() + 9000, () => undefined);
    for (const { key } of bad) expect([key, host?.engine.board.read(`${key}.reached`)]).toEqual([key, true]);
    await machine.kill('The test is over.');
  });
});
