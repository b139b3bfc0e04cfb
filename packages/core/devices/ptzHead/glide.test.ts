import { glideStep, ptzHead, PtzSettings } from './index';

const settings = PtzSettings.parse({ panSpeed: 80, panAcceleration: 120 });

describe('a slow move', () => {
  it('takes the speed step whose time comes nearest', () => {
    // 40° at 3.33°/s a step and 120°/s²: step 2 takes 40/6.67 + 6.67/120 = 6.06 s, step 3 takes 4 + 0.08 = 4.08 s.
    expect(glideStep('pan', 0, 40, 4, settings)).toBe(3);
    expect(glideStep('pan', 0, 40, 5.5, settings)).toBe(2);
    // On so short a way it never gets faster than √(120·40) = 69.3°/s, which is less than step 21: faster ones win nothing.
    expect(glideStep('pan', 0, -40, 0.5, settings)).toBe(21);
    expect(glideStep('pan', 0, 40, 60, settings)).toBe(1);
  });

  it('is foretold as slow by the model, and the next one is not', () => {
    const model = ptzHead.startModel({ panSpeed: 80, panAcceleration: 120, replyDelayMs: 0 }, 0);
    const slow = model.step({
      type: 'command',
      id: 'a',
      now: 0,
      command: { command: 'goTo', params: { pan: 40, tilt: 0, seconds: 4 } },
    });
    expect(slow.wakeAt).toBeCloseTo(4083.3, 0);
    model.step({ type: 'wake', now: slow.wakeAt ?? 0 });
    // Back at 80°/s: the way is shorter than v²/a = 53.3°, so 2·√(40/120) = 1.155 s.
    const fast = model.step({
      type: 'command',
      id: 'b',
      now: 5000,
      command: { command: 'goTo', params: { pan: 0, tilt: 0 } },
    });
    expect((fast.wakeAt ?? 0) - 5000).toBeCloseTo(1154.7, 0);
  });
});
