import { corvaneHill } from '@umbek/demo';
import { inOrder } from './order';
import { type DialChosen, numberDialled, numbersOf } from './dialNumber';

const show = corvaneHill();
const NOTHING: DialChosen = { camera: undefined, destination: undefined };
const dial = (takes: Parameters<typeof numberDialled>[1], digits: string, chosen: Partial<DialChosen> = {}) =>
  numberDialled(show, takes, digits, { ...NOTHING, ...chosen });
const router = show.devices.find(({ kind }) => kind === 'router');
const settings = router?.settings as { destinations: number; sources: number };
const switcher = show.devices.find(({ kind }) => kind === 'switcher')?.key;

describe('a number on a dial pad', () => {
  it('is a source that goes to preview', () => {
    const source = show.sources.find(({ input }) => input === 1);
    expect(dial('preview', '1')).toMatchObject({
      sends: { device: switcher, command: 'preview', params: { source: source?.key } },
      words: `${source?.name} to preview`,
    });
    // Inputs 10 to 16 and so on begin with it.
    expect(dial('preview', '1').longer).toBe(
      show.sources.filter(({ input }) => input !== null && input >= 10 && String(input).startsWith('1')).length,
    );
    expect(dial('preview', '999')).toEqual({ sends: null, words: 'No source has this number', longer: 0 });
  });

  it('is a position of the chosen camera, in its order', () => {
    const positions = inOrder(show.positions.filter(({ camera }) => camera === 'deskCam'));
    expect(dial('position', '2', { camera: 'deskCam' })).toMatchObject({
      sends: { device: 'deskCam', command: 'recall', params: { position: positions[1]?.key } },
      words: `Desk cam to ${positions[1]?.name}`,
    });
    expect(dial('position', String(positions.length + 1), { camera: 'deskCam' }).sends).toBeNull();
    expect(dial('position', '0', { camera: 'deskCam' }).words).toBe('Desk cam has no such position');
    expect(dial('position', '1').words).toBe('No camera with positions is chosen. Choose one first');
  });

  it('chooses a destination of the router, and routes a source to it', () => {
    expect(dial('destination', '4')).toMatchObject({
      sends: { device: 'chosen', command: 'destination', params: { to: 4 } },
    });
    expect(dial('source', '2', { destination: 4 }).sends).toEqual({
      device: router?.key,
      command: 'connect',
      params: { destination: 4, source: 2 },
    });
    expect(dial('source', '2').words).toBe('No destination is chosen. Choose one first');
    expect(dial('destination', String(settings.destinations + 1)).sends).toBeNull();
    expect(dial('source', '0', { destination: 4 }).sends).toBeNull();
  });

  it('routes by both numbers, each with as many digits as the larger one of the router needs', () => {
    const big = {
      ...show,
      devices: show.devices.map((device) =>
        device.kind === 'router' ? { ...device, settings: { ...settings, destinations: 150, sources: 150 } } : device,
      ),
    };
    const say = (digits: string) => numberDialled(big, 'crosspoint', digits, NOTHING);
    expect(say('0')).toEqual({ sends: null, words: '3 digits of the destination, then 3 of the source', longer: 1 });
    expect(say('149').words).toBe('Destination 149, then 3 digits of the source');
    expect(say('149007').sends).toEqual({
      device: router?.key,
      command: 'connect',
      params: { destination: 149, source: 7 },
    });
    expect(say('151').words).toBe(`${router?.name} has 150 destinations`);
    expect(say('149151').sends).toBeNull();
  });

  it('is offered for what the show has', () => {
    expect(numbersOf(show)).toEqual(['preview', 'position', 'destination', 'source', 'crosspoint']);
    expect(numbersOf({ devices: [], sources: [], positions: [] })).toEqual([]);
    expect(numberDialled({ devices: [], sources: [], positions: [] }, 'source', '1', NOTHING).words).toBe(
      'This show has no router',
    );
  });
});
