import { corvaneHill } from '@umbek/demo';
import { button, command } from '../engine/testShow';
import { buttonCsv, buttonList, buttonSheet } from './buttonList';

const demo = corvaneHill();
const strip = demo.strips.find(({ name }) => name === 'Names');
if (strip === undefined) throw new Error('No Names.');
const own = button(1, [command('n', 'captions', 'nameIn', { name: 'Wen, "Zhao"' })], {
  stripId: strip.id,
  legend: '=1+1 <b>',
  mode: 'hold',
  guard: 'secondTouch',
  releaseSteps: [command('o', 'captions', 'nameOut')],
  lamps: [{ when: 'captions.nameUp', show: 'up' }],
});
const show = { ...demo, buttons: [own] };

describe('the list of all buttons', () => {
  it('tells where each stands, how it is pressed, what it does and when it lights', () => {
    expect(buttonList(show)).toEqual([
      {
        panel: 'Main',
        page: '',
        strip: 'Names',
        place: 1,
        legend: '=1+1 <b>',
        how: 'while held, second touch',
        does: ['Caption Wen, "Zhao" in', 'At release: Take the name caption out'],
        lights: ['up: Name caption is up'],
      },
    ]);
    expect(buttonList(demo)).toHaveLength(demo.buttons.length);
  });

  it('as CSV quotes what has to be quoted, and no text becomes a formula', () => {
    expect(buttonCsv(show)).toBe(
      'Panel,Page,Strip,Place,Legend,Pressed,Does,Lights\r\n' +
        'Main,,Names,1,\'=1+1 <b>,"while held, second touch","Caption Wen, ""Zhao"" in; At release: Take the name caption out",up: Name caption is up\r\n',
    );
  });

  it('as a sheet holds no markup that somebody wrote into a legend', () => {
    const sheet = buttonSheet(show);
    expect(sheet).toContain('<b>=1+1 &lt;b&gt;</b>');
    expect(sheet).toContain('<h2>Main</h2><h3>Names</h3>');
    expect(sheet.match(/<script/i)).toBeNull();
  });
});
