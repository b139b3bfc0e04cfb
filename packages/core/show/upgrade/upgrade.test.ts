import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { ShowDocument } from '../entities';
import { SHOW_VERSION, upgradeChanges, upgradeShow } from './index';

const golden = (version: number): Record<string, never> =>
  JSON.parse(readFileSync(join(__dirname, 'golden', `show-v${version}.json`), 'utf8')) as Record<string, never>;

describe('stored shows of earlier versions', () => {
  it.each(Array.from({ length: SHOW_VERSION }, (_, index) => index + 1))(
    'version %i opens as a show of today',
    (version) => {
      const parsed = ShowDocument.safeParse(upgradeShow(golden(version), version));
      expect(parsed.error?.issues ?? []).toEqual([]);
    },
  );

  it('version 1 becomes the version 2 that was looked at by hand', () => {
    expect(upgradeShow(golden(1), 1)).toEqual(golden(2));
  });

  it('names sources where numbers stood, and the answers to a second press anew', () => {
    const show = {
      devices: [{ key: 'switcher', kind: 'switcher' }],
      sources: [
        { key: 'deskCam', input: 1 },
        { key: 'layout1', input: 17 },
      ],
      buttons: [
        {
          lamps: [
            { when: 'deskCam.arrived == "inesClose" && switcher.program == 1', show: 'onAir' },
            { when: 'switcher.preview == 17', show: 'onPreview' },
            { when: 'switcher.program == 9', show: 'onAir' },
            { when: 'switcher.aux1 != 1', show: 'up' },
          ],
          note: '{{ switcher.program == 1 ? "here" : "there" }}',
          steps: [{ kind: 'together', steps: [{ kind: 'wait', until: 'switcher.program == 17' }] }],
        },
      ],
      macros: [{ again: 'restart' }, { again: 'queue' }, { again: 'stop' }, { again: 'ignore' }],
    };
    expect(upgradeShow(show, 1)).toMatchObject({
      buttons: [
        {
          lamps: [
            { when: 'deskCam.arrived == "inesClose" && onAir("deskCam")' },
            { when: 'onPreview("layout1")' },
            // Nothing stands on that input: the number is all there is to go by.
            { when: 'switcher.program == 9' },
            { when: 'switcher.aux1 != input("deskCam")' },
          ],
          note: '{{ switcher.program == input("deskCam") ? "here" : "there" }}',
          steps: [{ steps: [{ until: 'switcher.program == input("layout1")' }] }],
        },
      ],
      macros: [{ again: 'startOver' }, { again: 'runAfterwards' }, { again: 'end' }, { again: 'ignore' }],
    });
  });

  it('changes of the edit log are brought up as well, so that an undo finds what it left', () => {
    const show = { devices: [{ key: 'sw', kind: 'switcher' }], sources: [{ key: 'roofCam', input: 4 }] };
    const change = (entity: 'buttons' | 'macros', field: string, from: unknown, to: unknown) => ({
      entity,
      id: 'x',
      field,
      from,
      to,
    });
    const lamps = (when: string) => [{ when, show: 'onAir' }];
    expect(
      upgradeChanges(
        [
          change('macros', 'again', 'queue', 'stop'),
          change('buttons', 'lamps', [], lamps('sw.program == 4')),
          change('macros', '*', null, { again: 'restart' }),
        ],
        1,
        show,
      ),
    ).toEqual([
      change('macros', 'again', 'runAfterwards', 'end'),
      change('buttons', 'lamps', [], lamps('onAir("roofCam")')),
      change('macros', '*', null, { again: 'startOver' }),
    ]);
  });
});
