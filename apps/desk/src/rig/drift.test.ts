import { corvaneHill } from '@umbek/demo';
import { contentWords, differencesOf, setUpPoints } from './drift';

const show = corvaneHill();
const switcher = show.devices.find((device) => device.key === 'switcher');

describe('drift', () => {
  it('lists what is not as it was saved, each with what puts it back; the unknown is no difference', () => {
    if (!switcher) throw new Error('The demo has no switcher.');
    expect(setUpPoints(switcher, show).map(([point]) => point)).toEqual(
      expect.arrayContaining(['input1Name', 'keyer1Kind', 'layout1Box1Place']),
    );
    const setUp = {
      id: '01J0C0RVANEH1SVP000000001A',
      device: 'switcher',
      savedAt: '',
      points: { input2Name: 'Lawn cam', keyer1Kind: 'linear', layout1Box1Occupant: 4, layout2Background: 3 },
    };
    const now: Record<string, string | number> = {
      'switcher.input2Name': 'Garden',
      'switcher.keyer1Kind': 'linear',
      'switcher.layout1Box1Occupant': 2,
    };
    expect(
      differencesOf(switcher, setUp, show, (key) => now[key]).sort((difference, other) =>
        difference.point < other.point ? -1 : 1,
      ),
    ).toMatchObject([
      {
        point: 'input2Name',
        saved: 'Lawn cam',
        now: 'Garden',
        command: { command: 'name', params: { input: 2, name: 'Lawn cam' } },
      },
      {
        point: 'layout1Box1Occupant',
        saved: 4,
        now: 2,
        command: { command: 'boxOccupant', params: { source: 'input:4', layout: 1, box: 1 } },
      },
    ]);
    expect([
      contentWords(4, { means: 'input' }, show),
      contentWords(0, { means: 'input' }, show),
      contentWords(true, {}, show),
      contentWords(4, {}, show),
    ]).toEqual(['Roof cam', 'nothing', 'yes', '4']);
  });
});
