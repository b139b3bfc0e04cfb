import { fits, legendFor, spokenLegend } from './legend';

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

  it('is told to whoever edits it with its live parts as they are now', () => {
    expect(spokenLegend('Wen Zhao', 'other')).toBe('Wen Zhao');
    expect(spokenLegend('{{ spool.clipsAt1 }}', 'Opening film')).toBe('Opening film');
    expect(spokenLegend('Mark {{ secondLook.marksAt1 }}', undefined)).toBe('Mark –');
    expect(spokenLegend('{{ spool.clipsAt5 }}', '')).toBe('–');
  });

  it('is the short form only where there is one and the long one does not fit', () => {
    expect(legendFor('Dome cam to lawn screens', 'Dome → lawn', 104)).toBe('Dome → lawn');
    expect(legendFor('Dome cam to lawn screens', 'Dome → lawn', 200)).toBe('Dome cam to lawn screens');
    expect(legendFor('Dome cam to lawn screens', '', 104)).toBe('Dome cam to lawn screens');
  });
});
