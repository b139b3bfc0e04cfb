import { captions, ptzHead, speedStepOf, PtzSettings, switcher, zoomCodeOf, zoomRatioOf } from './index';
import type { RunningModel } from './kind';

const say = (model: RunningModel, now: number, command: string, params: Record<string, string | number> = {}, id = command) => model.step({ type: 'command', id, command: { command, params }, now });

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
    expect(say(head, 900, 'recall', { number: 7 }).replies).toMatchObject([{ event: 'refused', why: 'The head holds nothing under number 7.' }]);
  });

  it('stores where it looks, and finds it again by its number', () => {
    const head = ptzHead.startModel(settings, 0, { pan: 30, tilt: 10, zoom: 2 });
    say(head, 0, 'store', { number: 5 });
    say(head, 0, 'goTo', { pan: 0, tilt: 0, zoom: 1 });
    head.step({ type: 'wake', now: 60_000 });
    say(head, 60_000, 'recall', { number: 5 });
    expect(head.step({ type: 'wake', now: 120_000 }).points).toMatchObject({ pan: 30, tilt: 10, zoom: 2, arrived: '#5' });
  });

  it('takes the nearest step of its speed table, never zero, and half the zoom motor for √20 times', () => {
    const whole = PtzSettings.parse(settings);
    // 80°/s over 24 steps is 3.33°/s a step.
    expect([speedStepOf('pan', 10, whole), speedStepOf('pan', 0.1, whole), speedStepOf('pan', 999, whole)]).toEqual([3, 1, 24]);
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
    expect(model.step({ type: 'wake', now: 500 }).points).toMatchObject({ mixing: false, mixPosition: 0, program: 2, preview: 1 });
  });

  it('refuses an input that it does not have, and a mix during a mix', () => {
    const model = switcher.startModel({ inputs: 8 }, 0);
    expect(say(model, 0, 'preview', { source: 9 }).replies).toMatchObject([{ event: 'refused', why: 'There is no input 9.' }]);
    say(model, 0, 'mix', { frames: 25 });
    expect(say(model, 20, 'mix', { frames: 25 }).replies).toMatchObject([{ event: 'refused' }]);
  });
});

describe('captions', () => {
  it('bring a name in over its length and take it out again', () => {
    const model = captions.startModel({}, 0);
    expect(say(model, 0, 'nameIn', { name: 'Ines Halloran', title: 'Host', ms: 400 }).points).toMatchObject({ nameUp: true, nameStage: 'comingIn', nameText: 'Ines Halloran' });
    expect(model.step({ type: 'wake', now: 400 }).points).toMatchObject({ nameStage: 'in' });
    expect(say(model, 1000, 'nameOut', { ms: 300 }).points).toMatchObject({ nameUp: false, nameStage: 'goingOut' });
    expect(model.step({ type: 'wake', now: 1300 }).points).toMatchObject({ nameStage: 'out' });
  });
});
