import { HOUSE_LIGHTS } from '@umbek/core/samples';
import {
  argumentFault,
  argumentFrom,
  argumentText,
  bytesFrom,
  bytesText,
  commandOf,
  jsonFaults,
  lineOf,
  mapFrom,
  mapText,
  overTransport,
  pointOf,
  TRANSPORTS,
} from './profileDraft';
import { ProfileFile } from '@umbek/core/show';

describe('the draft of a profile', () => {
  it('reads arguments as they are typed', () => {
    expect([
      argumentFrom('{{ param.level / 100.0 }}', 'number'),
      argumentFrom('0,5', 'number'),
      argumentFrom('on', 'switch'),
      argumentFrom('12', 'text'),
    ]).toEqual([{ cel: 'param.level / 100.0' }, 0.5, true, '12']);
    expect([argumentText({ cel: 'param.level' }), argumentText(3)]).toEqual(['{{ param.level }}', '3']);
    expect([
      argumentFault('much', 'number'),
      argumentFault('{{ param.x }}', 'number'),
      argumentFault('maybe', 'switch'),
    ]).toEqual([expect.stringContaining('Give a number'), null, expect.stringContaining('true or false')]);
  });

  it('reads bytes and word lists', () => {
    expect(bytesFrom('02 4c {{ param.level }} 03')).toEqual([2, 0x4c, { cel: 'param.level' }, 3]);
    expect(bytesText([2, { cel: 'param.level' }, 255])).toBe('02 {{ param.level }} FF');
    expect([bytesFrom('2'), bytesFrom('zz'), bytesFrom('')]).toEqual([null, null, null]);
    expect(mapFrom('ON = true\nOFF=false\nHALF = 0.5\nbad')).toEqual({ ON: true, OFF: false, HALF: 0.5 });
    expect(mapText({ ON: true, WARM: 'warm' })).toBe('ON = true\nWARM = warm');
  });

  it('makes commands and states that hold together over every transport', () => {
    for (const { value } of TRANSPORTS) {
      const made = overTransport(
        {
          ...HOUSE_LIGHTS,
          commands: [...HOUSE_LIGHTS.commands, commandOf('osc', 'go', 'Go')],
          points: [...HOUSE_LIGHTS.points, pointOf('osc', 'heat', 'Heat')],
        },
        value,
      );
      expect(ProfileFile.safeParse(made).success).toBe(true);
      expect(made.commands.map((command) => command.key)).toEqual(['level', 'dark', 'go']);
    }
  });

  it('finds the line of a fault', () => {
    const text = '{\n  "name": "X",\n  "commands": [\n    {\n      "key": "a"\n    }\n  ]\n}';
    expect([
      lineOf(text, 'name'),
      lineOf(text, 'commands.0.key'),
      lineOf(text, 'commands.0.send.0.as'),
      lineOf(text, 'nothing'),
    ]).toEqual([2, 5, 4, 1]);
    expect(jsonFaults('{\n  "a": 1\n  "b": 2\n}')[0]).toMatchObject({ line: 3 });
    expect(jsonFaults('{}')).toEqual([]);
  });
});
