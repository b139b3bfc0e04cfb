import { corvaneHill } from '@umbek/demo';
import { compileExpression } from '../expression/index';
import { askables, celOf, conditionOf, conditionWords, type SimpleCondition } from './conditions';

const show = corvaneHill();

describe('a condition from lists', () => {
  it.each<[SimpleCondition, string, string]>([
    [
      { scope: 'switcher', point: 'aux1', is: 'is', value: { source: 'roofCam' } },
      'switcher.aux1 == input("roofCam")',
      'Switcher: input on auxiliary output 1 is Roof cam',
    ],
    [{ scope: 'captions', point: 'nameUp', is: 'is', value: true }, 'captions.nameUp', 'Captions: name caption is up'],
    [
      { scope: 'captions', point: 'nameUp', is: 'is', value: false },
      '!captions.nameUp',
      'Captions: name caption is up, not so',
    ],
    [
      { scope: 'captions', point: 'nameText', is: 'isNot', value: 'Wen "W" Zhao' },
      'captions.nameText != "Wen \\"W\\" Zhao"',
      'Captions: name on the caption is not Wen "W" Zhao',
    ],
    [
      { scope: 'deskCam', point: 'pan', is: 'over', value: -12.5 },
      'deskCam.pan > -12.5',
      'Desk cam: pan is over -12.5 °',
    ],
    [
      { scope: 'spool', point: 'clips', is: 'has', value: 'Opening film' },
      '"Opening film" in lines(spool.clips)',
      'Spool: clips on the player has Opening film',
    ],
    [
      { scope: 'lines', point: 'waiting', is: 'hasNot', value: 'Wen "W" Zhao' },
      '!("Wen \\"W\\" Zhao" in lines(lines.waiting))',
      'Lines: guests who wait does not have Wen "W" Zhao',
    ],
  ])('%j is %s, and is read back', (condition, cel, words) => {
    expect(celOf(condition)).toBe(cel);
    expect(conditionOf(cel, show)).toEqual(condition);
    expect(conditionWords(condition, show)).toBe(words);
    expect(compileExpression(cel).ok).toBe(true);
  });

  it('that says more than one thing, or asks for what is gone, is none', () => {
    for (const cel of [
      'captions.nameUp && switcher.black',
      'gone.point',
      'switcher.gone == 3',
      'deskCam.pan',
      '',
      '1 == 1',
    ])
      expect([cel, conditionOf(cel, show)]).toEqual([cel, null]);
  });

  it('a switch that is not on is the switch that is off', () => {
    expect(celOf({ scope: 'captions', point: 'nameUp', is: 'isNot', value: false })).toBe('captions.nameUp');
    expect(celOf({ scope: 'captions', point: 'nameUp', is: 'isNot', value: true })).toBe('!captions.nameUp');
  });

  it('offers show values and the points of all devices, each with its type', () => {
    const all = askables(show);
    expect(all.find(({ scope }) => scope === 'value')).toMatchObject({ group: 'Show values' });
    expect(all.find(({ scope, point }) => scope === 'switcher' && point === 'program')).toMatchObject({
      type: 'number',
      input: true,
    });
  });
});
