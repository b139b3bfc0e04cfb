import { fits, legendFor } from './legend';

describe('a legend on a cap', () => {
  // 104 px leave room for 11 letters a line.
  it('fits when its words stand whole in two lines', () => {
    expect(fits('Desk cam', 104)).toBe(true);
    expect(fits('Dome cam to the lawn', 104)).toBe(true);
    expect(fits('Dome cam to lawn screens', 104)).toBe(false);
    expect(fits('Auxiliaryoutput', 104)).toBe(false);
    expect(fits('Dome cam to lawn screens', 200)).toBe(true);
    expect(fits('', 60)).toBe(true);
  });

  it('is the short form only where there is one and the long one does not fit', () => {
    expect(legendFor('Dome cam to lawn screens', 'Dome → lawn', 104)).toBe('Dome → lawn');
    expect(legendFor('Dome cam to lawn screens', 'Dome → lawn', 200)).toBe('Dome cam to lawn screens');
    expect(legendFor('Dome cam to lawn screens', '', 104)).toBe('Dome cam to lawn screens');
  });
});
