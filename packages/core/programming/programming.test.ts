import { corvaneHill, demoId } from '@umbek/demo';
import { captions, ptzHead, switcher, travelMs, PtzSettings } from '../devices/index';
import { sentenceOf } from '../engine/index';
import type { Step } from '../show/index';
import {
  airEffect,
  fieldsOf,
  faultOf,
  inOrder,
  lampChoices,
  lampRuleWords,
  orderBetween,
  orderMoved,
  searched,
  startOf,
  stepChoices,
  usesOf,
} from './index';

const show = corvaneHill();
const recall: Step = {
  id: 'a',
  onFail: 'stop',
  kind: 'command',
  device: 'deskCam',
  command: 'recall',
  params: { position: 'inesClose' },
};

describe('the fields of a command', () => {
  it('come from its declaration, with unit, bounds, default and reference', () => {
    const [frames] = fieldsOf(switcher.commands.mix ?? never());
    expect(frames).toMatchObject({
      key: 'frames',
      title: 'Length',
      type: 'number',
      unit: 'f',
      whole: true,
      min: 1,
      max: 1000,
      start: 25,
      required: false,
    });
    expect(fieldsOf(ptzHead.commands.recall ?? never())[0]).toMatchObject({ reference: 'position', required: true });
    expect(fieldsOf(ptzHead.commands.whiteBalance ?? never())[0]).toMatchObject({
      type: 'choice',
      choices: ['auto', 'indoor', 'outdoor', 'onePush', 'manual'],
      start: 'auto',
    });
  });

  it('begin with what fits, and say what does not', () => {
    const pan = fieldsOf(ptzHead.commands.goTo ?? never())[0] ?? never();
    expect([startOf(pan), faultOf(pan, 171), faultOf(pan, -170), faultOf(pan, Number.NaN)]).toEqual([
      0,
      'At most 170 °.',
      null,
      'Give a number.',
    ]);
    const name = fieldsOf(captions.commands.nameIn ?? never())[0] ?? never();
    expect([startOf(name), faultOf(name, ''), faultOf(name, 'x'.repeat(121))]).toEqual([
      'Name',
      'Give a text.',
      'At most 120 characters.',
    ]);
  });
});

describe('the steps to choose from', () => {
  it('name each position of each camera, and each source on an input', () => {
    const words = stepChoices(show, []).map((choice) => `${choice.group}: ${choice.words}`);
    expect(words).toContain('Desk cam: Recall a position: Ines close');
    expect(words).not.toContain('Desk cam: Recall a position: Slit open');
    expect(words).toContain('Switcher: Put a source on preview: Roof cam');
  });

  it('offer the wait for a camera that was recalled, then the cut, until they are there', () => {
    const next = (steps: Step[]) =>
      stepChoices(show, steps)
        .filter((choice) => choice.group === 'Next in line')
        .map((choice) => choice.words);
    expect(next([])).toEqual([]);
    expect(next([recall])).toEqual(['Wait until Desk cam has arrived at Ines close', 'Cut', 'Put Desk cam on preview']);
    expect(
      next([recall, { id: 'b', onFail: 'stop', kind: 'wait', until: 'deskCam.arrived == "inesClose"', timeoutMs: 1 }]),
    ).toEqual(['Cut', 'Mix to Desk cam']);
  });

  it('offer to take a caption out again after it was read, as steps of one group', () => {
    const up: Step = {
      id: 'n',
      onFail: 'stop',
      kind: 'command',
      device: 'captions',
      command: 'nameIn',
      params: { name: 'Ines Halloran', title: 'Host', ms: 400 },
    };
    const [first] = stepChoices(show, [up]);
    expect(first?.words).toBe('Keep it for 6 s, then take the name caption out');
    expect(first?.step).toMatchObject({
      kind: 'group',
      steps: [
        { kind: 'pause', length: { ms: 6000 } },
        { kind: 'command', device: 'captions', command: 'nameOut' },
      ],
    });
    // What goes out by itself, or was taken out, is not kept.
    const out: Step = { ...up, command: 'nameOut', params: {} };
    expect(stepChoices(show, [out])[0]?.key).not.toBe('next/kept');
  });

  it('are found by words in any order', () => {
    expect(searched(stepChoices(show, []), 'ines recall').map((choice) => choice.words)).toEqual([
      'Recall a position: Ines close',
    ]);
  });
});

describe('lamp rules to choose from', () => {
  it('speak of things by name', () => {
    expect(lampChoices(show).find((choice) => choice.words === 'Roof cam is on air')?.rule).toEqual({
      when: 'onAir("roofCam")',
      show: 'onAir',
    });
    expect(lampRuleWords({ when: 'deskCam.arrived == "twoShot"', show: 'arrived' }, show)).toBe(
      'Desk cam has arrived at Two shot',
    );
    expect(lampRuleWords({ when: '1 < 2', show: 'up' }, show)).toBe('1 < 2');
  });
});

describe('what a try puts on air', () => {
  const points = switcher.startModel({ startProgram: 4, startPreview: 2 }, 0).step({ type: 'read', now: 0 }).points;
  const state = Object.fromEntries(Object.entries(points).map(([point, value]) => [`switcher.${point}`, value]));
  const effects = (steps: readonly Step[]) => airEffect(steps, show, (key) => state[key]);
  const ines = show.buttons.find((button) => button.id === demoId('BTN', 7))?.steps ?? [];

  it('follows the steps: the camera is off air while it swings, then it is cut to', () => {
    expect(effects(ines)).toEqual(['Desk cam goes on air', 'Captions: bring a name caption in']);
  });

  it('is nothing for a preview and a recall off air, and the swing for a camera on air', () => {
    expect(effects([recall])).toEqual([]);
    state['switcher.program'] = 1;
    expect(effects([recall])).toEqual(['Desk cam, on air: recall a position']);
  });
});

describe('where a thing is used', () => {
  it('lists the joystick whose full speed a value is', () => {
    const show = corvaneHill();
    const fast = { ...show, show: { ...show.show, stick: { ...show.show.stick, range: 'meteors' } } };
    const stick = { at: { entity: 'show', id: show.show.id, path: ['stick'] }, where: 'Joystick, full speed' };
    expect(usesOf(fast, { kind: 'value', key: 'meteors' })).toEqual([
      ...usesOf(show, { kind: 'value', key: 'meteors' }),
      stick,
    ]);
    expect(usesOf(fast, { kind: 'value', key: 'recording' })).not.toContainEqual(stick);
  });

  it('lists buttons by panel and strip, macros, positions and sources', () => {
    const where = usesOf(show, { kind: 'device', key: 'domeCam' }).map((use) => use.where);
    expect(where).toEqual(
      expect.arrayContaining([
        'Main · Sources · Dome cam',
        'Main · Moments · Slit open',
        'Position · Telescope',
        'Source · Dome cam',
      ]),
    );
    expect(where).not.toContain('Main · Moments · Ines close');
    expect(usesOf(show, { kind: 'position', key: 'twoShot' }).map((use) => use.where)).toEqual([
      'Main · Positions · Two shot',
      'Cameras · Positions · Two shot',
      'Macro 1 · Opening',
    ]);
    expect(usesOf(show, { kind: 'value', key: 'meteors' }).map((use) => use.where)).toEqual([
      'Main · Boards · Count board',
      'Main · Boards · Meteor +1',
      'Macro 2 · Meteor!',
      'Trigger · Count board over the sky',
    ]);
    expect(usesOf(show, { kind: 'source', key: 'black' }).map((use) => use.where)).toEqual([
      'Main · Sources · Black',
      'Lines · Layouts · Desk and line 1',
      'Lines · Layouts · Charts and desk',
      'Macro 4 · Closing',
    ]);
  });
});

describe('order', () => {
  it('finds room between any two neighbours, and moves by one place', () => {
    expect(orderBetween('a0', 'a1') > 'a0' && orderBetween('a0', 'a1') < 'a1').toBe(true);
    const list = ['a0', 'a1', 'a2'].map((order, index) => ({ id: String(index), order }));
    const moved = (id: string, by: -1 | 1) =>
      inOrder(list.map((item) => (item.id === id ? { ...item, order: orderMoved(list, id, by) ?? item.order } : item)))
        .map((item) => item.id)
        .join('');
    expect([moved('0', 1), moved('2', -1), moved('1', 1), moved('0', -1)]).toEqual(['102', '021', '021', '012']);
  });
});

describe('a sentence', () => {
  it('uses the names of today', () => {
    expect(sentenceOf(recall, show)).toBe('Recall Ines close on Desk cam');
    expect(sentenceOf({ id: 'c', onFail: 'stop', kind: 'set', target: 'chosen.camera', to: 'lawnCam' }, show)).toBe(
      'Choose Lawn cam as the camera',
    );
    expect(
      sentenceOf(
        { id: 'd', onFail: 'stop', kind: 'command', device: 'chosen.camera', command: 'stop', params: {} },
        show,
      ),
    ).toBe('Stop the chosen camera');
  });
});

describe('a predicted travel', () => {
  it('takes the slowest axis and the reply delay', () => {
    const settings = PtzSettings.parse({
      panSpeed: 80,
      panAcceleration: 160,
      tiltSpeed: 60,
      tiltAcceleration: 100,
      replyDelayMs: 10,
    });
    // Pan 120°: 120/80 + 80/160 = 2 s. Tilt 36°: 36/60 + 60/100 = 1.2 s (36 = v²/a). And 10 ms.
    expect(travelMs({ pan: 0, tilt: 0, zoom: 1 }, { pan: 120, tilt: 36, zoom: 1 }, settings)).toBeCloseTo(2010, 6);
  });
});

function never(): never {
  throw new Error('The declaration has changed.');
}
