import { Endless, leverAt, onScale, PickUp } from './turn';

const LEVEL = { min: -60, max: 10, step: 0.5 };
/** Where a knob stands that says so many of 127. */
const at = (value: number): number => value / 127;

describe('a knob with ends', () => {
  it('turns nothing until it has met the value, and says which way that is', () => {
    const knob = new PickUp();
    // −12 dB stands at 48 of 70 steps, 0.686 of the way: 87 of 127.
    expect(knob.moved(at(20), -12, LEVEL, 0)).toEqual({ meet: -12, way: 'up' });
    expect(knob.moved(at(60), -12, LEVEL, 20)).toEqual({ meet: -12, way: 'up' });
    // Near enough: 86 of 127 is −12.6 dB, in steps of a half −12.5.
    expect(knob.moved(at(86), -12, LEVEL, 40)).toEqual({ to: -12.5 });
    expect(knob.moved(at(127), -12, LEVEL, 60)).toEqual({ to: 10 });
    expect(knob.moved(at(0), -12, LEVEL, 80)).toEqual({ to: -60 });
  });

  it('that is thrown across the value in one go has met it', () => {
    const knob = new PickUp();
    expect(knob.moved(at(127), -12, LEVEL, 0)).toEqual({ meet: -12, way: 'down' });
    expect(knob.moved(at(20), -12, LEVEL, 10)).toEqual({ to: -49 });
  });

  it('keeps what it met while the device says so later than the hand, and meets it anew when something else changed it at rest', () => {
    const knob = new PickUp();
    knob.moved(at(87), -12, LEVEL, 0);
    expect(knob.moved(at(100), -12, LEVEL, 100)).toEqual({ to: -5 });
    // The device still says −12: the knob goes on.
    expect(knob.moved(at(102), -12, LEVEL, 200)).toEqual({ to: -4 });
    // It rested, and its value is what it was turned to.
    expect(knob.moved(at(103), -4, LEVEL, 5000)).toEqual({ to: -3 });
    // It rested, and somebody faded out.
    expect(knob.moved(at(104), -60, LEVEL, 9000)).toEqual({ meet: -60, way: 'down' });
    expect(knob.moved(at(50), -60, LEVEL, 9100)).toEqual({ meet: -60, way: 'down' });
    expect(knob.moved(at(0), -60, LEVEL, 9200)).toEqual({ to: -60 });
  });

  it('turns nothing where the value is not known, and goes on where it was met before it became unknown', () => {
    const knob = new PickUp();
    expect(knob.moved(at(87), undefined, LEVEL, 0)).toEqual({ unknown: true });
    knob.moved(at(87), -12, LEVEL, 100);
    expect(knob.moved(at(90), undefined, LEVEL, 200)).toEqual({ to: -10.5 });
  });

  it('meets a coarse value within one of its steps', () => {
    const knob = new PickUp();
    expect(knob.moved(at(40), 1, { min: 0, max: 4, step: 1 }, 0)).toEqual({ to: 1 });
    expect(knob.moved(at(80), 1, { min: 0, max: 4, step: 1 }, 10)).toEqual({ to: 3 });
  });
});

describe('a knob without ends', () => {
  it('goes on from where the value stands, in its steps, to its ends', () => {
    const knob = new Endless();
    expect(knob.moved(1, -12, LEVEL, 0)).toEqual({ to: -11.5 });
    // The device has not said so yet.
    expect(knob.moved(3, -12, LEVEL, 20)).toEqual({ to: -10 });
    expect(knob.moved(127, -12, LEVEL, 40)).toEqual({ to: -10.5 });
    expect(knob.moved(65, -12, LEVEL, 60)).toEqual({ to: -42 });
    // At rest the device's word counts again.
    expect(knob.moved(1, 9.5, LEVEL, 5000)).toEqual({ to: 10 });
    expect(knob.moved(63, 9.5, LEVEL, 5010)).toEqual({ to: 10 });
    expect(new Endless().moved(1, undefined, LEVEL, 0)).toEqual({ unknown: true });
  });
});

it('a lever stands at its far end where its axis is −1', () => {
  expect([leverAt(-1), leverAt(0), leverAt(1), leverAt(-1.2)]).toEqual([1, 0.5, 0, 1]);
  expect(onScale(0.30000000000000004, { min: 0, max: 1, step: 0.1 })).toBe(0.3);
});
