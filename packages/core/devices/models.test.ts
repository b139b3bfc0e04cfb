import {
  captions,
  isSwitcherInput,
  ptzHead,
  speedStepOf,
  PtzSettings,
  switcher,
  switcherLayoutOf,
  zoomCodeOf,
  zoomRatioOf,
} from './index';
import type { RunningModel } from './kind';

const say = (
  model: RunningModel,
  now: number,
  command: string,
  params: Record<string, string | number | boolean> = {},
  id = command,
) => model.step({ type: 'command', id, command: { command, params }, now });

describe('the head', () => {
  const settings = { panSpeed: 80, panAcceleration: 160, replyDelayMs: 10 };

  it('accepts a recall after its reply delay and is done when the slowest axis has arrived', () => {
    const head = ptzHead.startModel(settings, 0);
    // Pan 120° takes 2 s (see motion); tilt and zoom stand.
    const recalled = say(head, 0, 'recall', { position: 'far', number: -1, pan: 120, tilt: 0, zoom: 1 });
    expect(recalled.replies).toEqual([{ id: 'recall', at: 10, event: 'accepted' }]);
    expect(recalled.wakeAt).toBeCloseTo(2010, 6);
    expect(recalled.points).toMatchObject({ travelling: true, arrived: '' });
    const arrived = head.step({ type: 'wake', now: 2010 });
    expect(arrived.replies).toMatchObject([{ id: 'recall', event: 'done' }]);
    expect(arrived.points).toMatchObject({ pan: 120, travelling: false, arrived: 'far' });
  });

  it('tells a recall as refused when a newer move takes its axes, and when the head holds nothing there', () => {
    const head = ptzHead.startModel(settings, 0);
    say(head, 0, 'recall', { position: 'far', number: -1, pan: 120, tilt: 0, zoom: 1 });
    expect(say(head, 500, 'stop').replies).toEqual([
      { id: 'recall', at: 510, event: 'refused', why: 'Cancelled by a newer move.' },
      { id: 'stop', at: 510, event: 'done' },
    ]);
    expect(say(head, 900, 'recall', { number: 7 }).replies).toMatchObject([
      { event: 'refused', why: 'The head holds nothing under number 7.' },
    ]);
  });

  it('drives for as long as it states: it stands when its stop has reached it, unless it was moved otherwise meanwhile', () => {
    const head = ptzHead.startModel(settings, 0);
    const driven = say(head, 0, 'drive', { pan: 10, forSeconds: 2 });
    expect(driven).toMatchObject({ replies: [{ id: 'drive', at: 10, event: 'done' }], wakeAt: 2010 });
    expect(head.step({ type: 'read', now: 2009 }).points).toMatchObject({ travelling: true });
    const over = head.step({ type: 'wake', now: 2010 });
    expect(over).toMatchObject({ replies: [], wakeAt: null, points: { travelling: false } });
    const { pan } = head.step({ type: 'read', now: 9000 }).points;
    expect(head.step({ type: 'read', now: 20_000 }).points).toMatchObject({ pan, travelling: false });
    // A nudge with a length the same; a held one that comes into it goes on, and a recall goes to its place.
    say(head, 20_000, 'nudge', { x: -1, y: 0, forSeconds: 1 });
    say(head, 20_500, 'nudge', { x: 1, y: 0 });
    expect(head.step({ type: 'wake', now: 21_010 }).points).toMatchObject({ travelling: true });
    say(head, 22_000, 'drive', { pan: 5, forSeconds: 1 });
    say(head, 22_100, 'recall', { position: 'far', number: -1, pan: 120, tilt: 0, zoom: 1 });
    expect(head.step({ type: 'wake', now: 23_010 }).points).toMatchObject({ travelling: true });
    expect(head.step({ type: 'wake', now: 60_000 }).points).toMatchObject({ pan: 120, arrived: 'far' });
  });

  it('stores where it looks, and finds it again by its number', () => {
    const head = ptzHead.startModel(settings, 0, { pan: 30, tilt: 10, zoom: 2 });
    say(head, 0, 'store', { number: 5 });
    say(head, 0, 'goTo', { pan: 0, tilt: 0, zoom: 1 });
    head.step({ type: 'wake', now: 60_000 });
    say(head, 60_000, 'recall', { number: 5 });
    expect(head.step({ type: 'wake', now: 120_000 }).points).toMatchObject({
      pan: 30,
      tilt: 10,
      zoom: 2,
      arrived: '#5',
    });
  });

  it('takes the nearest step of its speed table, never zero, and half the zoom motor for √20 times', () => {
    const whole = PtzSettings.parse(settings);
    // 80°/s over 24 steps is 3.33°/s a step.
    expect([speedStepOf('pan', 10, whole), speedStepOf('pan', 0.1, whole), speedStepOf('pan', 999, whole)]).toEqual([
      3, 1, 24,
    ]);
    expect(zoomRatioOf(0x2000, whole)).toBeCloseTo(Math.sqrt(20), 9);
    expect(zoomCodeOf(20, whole)).toBe(0x4000);
  });
});

describe('the switcher', () => {
  it('cuts by exchanging program and preview', () => {
    const model = switcher.startModel({ startProgram: 4, startPreview: 1 }, 0);
    expect(say(model, 0, 'cut').points).toMatchObject({ program: 1, preview: 4 });
  });

  it('mixes over so many frames, telling its position, and exchanges at the end', () => {
    const model = switcher.startModel({ frameRate: 50, startProgram: 1, startPreview: 2 }, 0);
    expect(say(model, 0, 'mix', { frames: 25 }).points).toMatchObject({ mixing: true, mixPosition: 0, program: 1 });
    // 25 frames at 50 a second are 500 ms; after 200 ms it is at frame 10 of 25.
    expect(model.step({ type: 'wake', now: 200 }).points).toMatchObject({ mixing: true, mixPosition: 0.4 });
    expect(model.step({ type: 'wake', now: 500 }).points).toMatchObject({
      mixing: false,
      mixPosition: 0,
      program: 2,
      preview: 1,
    });
  });

  it('mixes by hand: from the end that the lever left, and the next one the other way', () => {
    const model = switcher.startModel({ startProgram: 1, startPreview: 2 }, 0);
    const lever = (position: number) => say(model, 0, 'lever', { position }).points;
    expect(lever(0.25)).toMatchObject({ mixing: true, mixPosition: 0.25, lever: 0.25, program: 1 });
    expect(lever(1)).toMatchObject({ mixing: false, mixPosition: 0, lever: 1, program: 2, preview: 1 });
    expect(lever(0.9)).toMatchObject({ mixing: true, mixPosition: 0.1, program: 2, preview: 1 });
    // Back where it was: no transition has been.
    expect(lever(1)).toMatchObject({ mixing: false, program: 2, preview: 1 });
    expect(lever(0)).toMatchObject({ mixing: false, program: 1, preview: 2 });
    say(model, 0, 'mix', { frames: 25 });
    expect(say(model, 0, 'lever', { position: 0.5 }).replies).toMatchObject([{ event: 'refused' }]);
  });

  it('wipes as it mixes, and tells which way the edge travels', () => {
    const model = switcher.startModel({ frameRate: 50, startProgram: 1, startPreview: 2 }, 0);
    expect(say(model, 0, 'wipe', { frames: 10, direction: 'left' }).points).toMatchObject({
      mixing: true,
      mixPosition: 0,
      transition: 'wipe left',
    });
    // 10 frames at 50 a second are 200 ms; at 100 ms it is half way.
    expect(model.step({ type: 'wake', now: 100 }).points).toMatchObject({ mixing: true, mixPosition: 0.5 });
    expect(model.step({ type: 'wake', now: 200 }).points).toMatchObject({ mixing: false, program: 2, preview: 1 });
    expect(say(model, 300, 'mix', { frames: 10 }).points).toMatchObject({ transition: 'mix' });
  });

  it('fades to black frame by frame, back from half way as evenly, and leaves program and preview alone', () => {
    const model = switcher.startModel({ frameRate: 50, startProgram: 1, startPreview: 2 }, 0);
    expect(model.step({ type: 'read', now: 0 }).points).toMatchObject({ black: false, fading: false, blackLevel: 0 });
    expect(say(model, 0, 'fadeToBlack', { on: true, frames: 50 }).points).toMatchObject({
      black: false,
      fading: true,
      blackLevel: 0,
    });
    // 50 frames are a second: after 500 ms half of it.
    const half = model.step({ type: 'wake', now: 500 });
    expect([half.points, half.wakeAt]).toMatchObject([{ black: false, fading: true, blackLevel: 0.5 }, 520]);
    expect(say(model, 500, 'fadeToBlack', { on: false, frames: 50 }).points).toMatchObject({
      fading: true,
      blackLevel: 0.5,
    });
    expect(model.step({ type: 'wake', now: 1000 }).points).toMatchObject({ blackLevel: 0.25 });
    expect(model.step({ type: 'wake', now: 1500 }).points).toMatchObject({
      black: false,
      fading: false,
      blackLevel: 0,
      program: 1,
      preview: 2,
    });
    say(model, 2000, 'fadeToBlack', { on: true, frames: 1 });
    const black = model.step({ type: 'wake', now: 2020 });
    expect([black.points, black.wakeAt]).toMatchObject([{ black: true, fading: false, blackLevel: 1 }, null]);
  });

  it('counts its own outputs on behind its inputs: two layouts, the second mix bank, test bars', () => {
    expect([16, 17, 18, 19].map((source) => isSwitcherInput(source, { inputs: 16 }))).toEqual([
      true,
      false,
      false,
      false,
    ]);
    expect([16, 17, 18, 19].map((source) => switcherLayoutOf(source, { inputs: 16 }))).toEqual([null, 1, 2, null]);
    // What the page offers for inputs alone is what the switcher refuses for anything else.
    expect(
      say(switcher.startModel({ inputs: 16 }, 0), 0, 'reframe', { source: 17, x: 0.5, y: 0.5, scale: 2, frames: 0 })
        .replies,
    ).toMatchObject([{ event: 'refused', why: 'Only an input can be reframed.' }]);
  });

  it('refuses an input that it does not have, and a mix during a mix', () => {
    const model = switcher.startModel({ inputs: 8 }, 0);
    expect(say(model, 0, 'preview', { source: 13 }).replies).toMatchObject([
      { event: 'refused', why: 'There is no input 13.' },
    ]);
    say(model, 0, 'mix', { frames: 25 });
    expect(say(model, 20, 'mix', { frames: 25 }).replies).toMatchObject([{ event: 'refused' }]);
  });
});

describe('captions', () => {
  it('bring a name in over its length and take it out again', () => {
    const model = captions.startModel({}, 0);
    expect(say(model, 0, 'nameIn', { name: 'Ines Halloran', title: 'Host', ms: 400 }).points).toMatchObject({
      nameUp: true,
      nameStage: 'comingIn',
      nameText: 'Ines Halloran',
    });
    expect(model.step({ type: 'wake', now: 400 }).points).toMatchObject({ nameStage: 'in' });
    expect(say(model, 1000, 'nameOut', { ms: 300 }).points).toMatchObject({ nameUp: false, nameStage: 'goingOut' });
    expect(model.step({ type: 'wake', now: 1300 }).points).toMatchObject({ nameStage: 'out' });
  });
});

describe('the layers of the caption engine', () => {
  it('brings a template in with its fields, lets it stay for so long, and counts its seconds', () => {
    const model = captions.startModel({}, 0);
    expect(
      say(model, 0, 'layerIn', { layer: 2, template: 'Ticker: Text', field1: 'Clear until three', ms: 400, seconds: 3 })
        .points,
    ).toMatchObject({
      layer2Up: true,
      layer2Template: 'Ticker',
      layer2Field1: 'Clear until three',
      layer2Stage: 'comingIn',
      layer2Left: 3,
    });
    const inPlace = model.step({ type: 'wake', now: 400 });
    expect([inPlace.points.layer2Stage, inPlace.wakeAt]).toEqual(['in', 1000]);
    expect(model.step({ type: 'wake', now: 1000 }).points).toMatchObject({ layer2Left: 2 });
    const going = model.step({ type: 'wake', now: 3000 });
    expect([going.points.layer2Up, going.points.layer2Stage, going.wakeAt]).toEqual([false, 'goingOut', 3400]);
    expect(model.step({ type: 'wake', now: 3400 }).points).toMatchObject({ layer2Stage: 'out', layer2Left: 0 });
  });

  it('refuses a template that it does not have, and changes a field in place', () => {
    const model = captions.startModel({ templates: [{ name: 'Logo' }, { name: 'Score', fields: ['Home'] }] }, 0);
    expect(model.step({ type: 'read', now: 0 }).points.templates).toBe('Logo\nScore: Home');
    expect(say(model, 0, 'layerIn', { layer: 1, template: 'Ticker', ms: 0 }).replies).toMatchObject([
      { event: 'refused', why: 'There is no template Ticker.' },
    ]);
    say(model, 0, 'layerIn', { layer: 1, template: 'Score', field1: '1', ms: 0 });
    expect(say(model, 10, 'layerField', { layer: 1, field: 1, text: '2' }).points).toMatchObject({
      layer1Field1: '2',
      layer1Up: true,
    });
    expect(say(model, 20, 'layerClear', { layer: 1 }).points).toMatchObject({ layer1Up: false, layer1Template: '' });
  });
});

describe('the rest of the switcher', () => {
  it('moves a box over so many frames, and tells the new place when it is there', () => {
    const model = switcher.startModel({ frameRate: 50 }, 0);
    expect(
      say(model, 0, 'boxPlace', { layout: 1, box: 2, x: 0.1, y: 0.2, width: 0.5, height: 0.5, frames: 25 }).points,
    ).toMatchObject({ layout1Moving: true, layout1Box2Place: '0.51 0.15 0.47 0.47' });
    // 25 frames at 50 a second are 500 ms.
    expect(model.step({ type: 'wake', now: 499 }).points).not.toHaveProperty('layout1Box2Place');
    expect(model.step({ type: 'wake', now: 500 }).points).toMatchObject({
      layout1Moving: false,
      layout1Box2Place: '0.1 0.2 0.5 0.5',
    });
  });

  it('has a second bank, keyer settings, and its own outputs as sources behind the inputs', () => {
    const model = switcher.startModel({ inputs: 16 }, 0);
    say(model, 0, 'bank2Preview', { source: 5 });
    expect(say(model, 0, 'bank2Cut').points).toMatchObject({ bank2Program: 5, bank2Preview: 1 });
    // 17 is layout 1.
    expect(say(model, 0, 'preview', { source: 17 }).points).toMatchObject({ preview: 17 });
    expect(say(model, 0, 'boxOccupant', { source: 21, layout: 2, box: 1 }).replies).toMatchObject([
      { event: 'refused', why: 'There is no input 21.' },
    ]);
    say(model, 0, 'keyKind', { keyer: 2, kind: 'chroma' });
    expect(say(model, 0, 'keyColour', { keyer: 2, colour: '#0a0B0c' }).points).toMatchObject({
      keyer2Kind: 'chroma',
      keyer2Colour: '#0A0B0C',
    });
    expect(say(model, 0, 'keyColour', { keyer: 2, colour: 'green' }).replies).toMatchObject([{ event: 'refused' }]);
  });

  it('keeps a reframed window inside the frame', () => {
    const model = switcher.startModel({}, 0);
    // At twice the size the centre can come no nearer to the edge than a quarter of the frame.
    expect(say(model, 0, 'reframe', { source: 4, x: 0, y: 0.9, scale: 2, frames: 0 }).points).toMatchObject({
      input4Window: '0.25 0.75 2',
    });
    expect(say(model, 0, 'reframe', { source: 4, x: 0.2, y: 0.2, scale: 1, frames: 0 }).points).toMatchObject({
      input4Window: '0.5 0.5 1',
    });
  });

  it('tells whether an input has a picture', () => {
    const model = switcher.startModel({}, 0);
    expect(model.step({ type: 'read', now: 0 }).points).toMatchObject({ input3Picture: 'good' });
    expect(say(model, 0, 'input3Black').points).toMatchObject({ input3Picture: 'black' });
    expect(say(model, 0, 'picturesGood').points).toMatchObject({ input3Picture: 'good' });
  });

  it('puts back what was saved: each content that belongs to its set-up is set by a command of its own', () => {
    const was = switcher.startModel({}, 0);
    for (const [command, params] of [
      ['boxPlace', { layout: 1, box: 1, x: 0, y: 0, width: 0.3, height: 0.3, frames: 0 }],
      ['boxCrop', { layout: 1, box: 1, left: 0.1, top: 0, right: 0.1, bottom: 0 }],
      ['keyClip', { keyer: 1, clip: 20 }],
      ['name', { input: 2, name: 'Garden' }],
    ] as const)
      say(was, 0, command, params);
    const saved = was.step({ type: 'read', now: 0 }).points;
    const fresh = switcher.startModel({}, 0);
    for (const [point, definition] of Object.entries(switcher.points)) {
      const value = saved[point];
      const back = value === undefined ? undefined : definition.restore?.(value);
      if (!back) continue;
      // What names an input as it was told comes to the device as its number.
      const params = Object.fromEntries(
        Object.entries(back.params).map(([key, item]) => [
          key,
          typeof item === 'string' && item.startsWith('input:') ? Number(item.slice(6)) : item,
        ]),
      );
      fresh.step({ type: 'command', id: point, command: { command: back.command, params }, now: 0 });
    }
    expect(fresh.step({ type: 'read', now: 0 }).points).toEqual(saved);
  });
});
