import { corvaneHill } from '@umbek/demo';
import { type Announced, Discovery } from './discovery';

const HEAD: Announced = { name: 'Stage left', type: 'visca', from: '10.0.0.9', port: 52381, txt: {} };

function room() {
  let up: (announced: Announced) => void = () => undefined;
  let down = up;
  let ended = false;
  const discovery = new Discovery((added, gone) => {
    up = added;
    down = gone;
    return () => (ended = true);
  });
  const document = corvaneHill();
  return {
    discovery,
    up: (item: Partial<Announced>) => up({ ...HEAD, ...item }),
    down: (item: Partial<Announced>) => down({ ...HEAD, ...item }),
    list: () => discovery.list(document).found,
    document,
    isEnded: () => ended,
  };
}

describe('devices that announce themselves', () => {
  it('are offered with kind and address, and named where the show has them already', () => {
    const { up, down, list, discovery, isEnded, document } = room();
    up({});
    up({ name: 'Mixer', type: 'osc', port: 7000, txt: { kind: 'soundMixer' } });
    const [device] = document.devices;
    up({ name: 'Known', from: device?.host ?? '', port: device?.port ?? 0, txt: { kind: device?.kind } });
    expect(list()).toEqual([
      { name: 'Known', kind: device?.kind, host: device?.host, port: device?.port, device: device?.name },
      { name: 'Mixer', kind: 'soundMixer', host: '10.0.0.9', port: 7000, device: null },
      { name: 'Stage left', kind: 'ptzHead', host: '10.0.0.9', port: 52381, device: null },
    ]);
    down({});
    expect(list().map(({ name }) => name)).toEqual(['Known', 'Mixer']);
    discovery.close();
    expect(isEnded()).toBe(true);
  });

  it('are passed over where nobody could drive them, or where they say what cannot be', () => {
    const { up, list } = room();
    up({ name: 'Printer', type: 'http', port: 80 });
    up({ type: 'osc' });
    up({ type: 'http', txt: { kind: 'constructor' } });
    up({ type: 'http', txt: { kind: 7 } });
    up({ port: 0 });
    up({ port: 70_000 });
    up({ port: Number.NaN });
    expect(list()).toEqual([]);
  });

  it('fill no memory, and their names carry no control characters', () => {
    const { up, list } = room();
    for (let port = 1; port <= 5000; port += 1) up({ port, name: `Head\u0000\n ${'x'.repeat(500)}` });
    expect(list()).toHaveLength(200);
    expect(list()[0]?.name).toBe(`Head ${'x'.repeat(55)}`);
    expect(new Discovery(null).list({ devices: [] })).toEqual({ listens: false, found: [] });
  });
});
