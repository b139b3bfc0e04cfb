import { aboutWords, batteryLow } from './aboutWords';

it('tells the battery of a station, and what its browser lacks', () => {
  expect(aboutWords({})).toBe('');
  expect(aboutWords({ battery: { percent: 34, charging: false }, lacks: ['screenOn', 'fullScreen', 'midi'] })).toBe(
    'Battery at 34 %, not charging. It cannot keep its screen on, fill its screen or hear MIDI.',
  );
  expect(aboutWords({ battery: { percent: 8, charging: true }, lacks: ['touch'] })).toBe(
    'Battery at 8 %, charging. It cannot tick at a touch.',
  );
  expect(
    [8, 24, 25].map((percent) => [
      batteryLow({ battery: { percent, charging: false } }),
      batteryLow({ battery: { percent, charging: true } }),
    ]),
  ).toEqual([
    [true, false],
    [true, false],
    [false, false],
  ]);
});
