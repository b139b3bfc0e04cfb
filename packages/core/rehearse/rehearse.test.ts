import { demoId } from '../demo/index';
import { button, command, programOf, step, testShow } from '../engine/testShow';
import { compare } from './compare';
import { rehearse } from './rehearse';
import { VirtualClock } from './virtualClock';

describe('the virtual clock', () => {
  it('runs ties in the order of scheduling, and what is past at once', () => {
    const clock = new VirtualClock();
    const ran: string[] = [];
    clock.at(10, () => ran.push('b'));
    clock.at(5, () => {
      ran.push('a');
      clock.at(0, () => ran.push('late'));
      clock.at(10, () => ran.push('d'));
    });
    const cancel = clock.at(10, () => ran.push('never'));
    clock.at(10, () => ran.push('c'));
    cancel();
    expect(clock.runTo(10)).toBe(5);
    expect(ran).toEqual(['a', 'late', 'b', 'c', 'd']);
  });
});

describe('a rehearsal', () => {
  const program = programOf(
    testShow([
      button(1, [
        command('recall', 'deskCam', 'recall', { position: 'inesClose' }),
        step({ kind: 'wait', id: 'w', until: 'deskCam.arrived == "inesClose"', timeoutMs: 6000 }),
        command('cut', 'switcher', 'cut'),
      ]),
      button(2, [command('d', 'deskCam', 'drive', { pan: 10 })], { mode: 'hold', releaseSteps: [command('s', 'deskCam', 'stop')] }),
    ]),
  );
  const timeline = (number: number, state: [string, number][] = []) => {
    const result = rehearse({ program, what: { buttonId: demoId('BTN', 500 + number), holdMs: 700 }, state });
    if (!result.ok) throw new Error(result.error.message);
    return result.value;
  };

  it('tells when each thing would happen', () => {
    // Zoom to 4.2×: code ln 4.2 / ln 20 · 16384 = 7849; 6500 codes/s, 16000 codes/s²: 7849/6500 + 6500/16000 = 1.6138 s, the slowest axis.
    const commands = timeline(1).entries.flatMap((entry) => (entry.kind === 'command' ? [[entry.command.command, Math.round(entry.t)]] : []));
    expect(commands).toEqual([
      ['recall', 0],
      ['cut', 1622],
    ]);
  });

  it('begins where the camera stands', () => {
    const near = timeline(1, [['deskCam.pan', -12.45], ['deskCam.tilt', 3], ['deskCam.zoom', 4.2]]);
    expect(near.durationMs).toBeLessThan(30);
  });

  it('holds a hold button and releases it', () => {
    const presses = timeline(2).entries.flatMap((entry) => (entry.kind === 'press' ? [[entry.phase, entry.t]] : entry.kind === 'command' ? [[entry.command.command, entry.t]] : []));
    expect(presses).toEqual([
      ['down', 0],
      ['drive', 0],
      ['up', 700],
      ['stop', 700],
    ]);
  });

  it('is cut off after as many events as it may cost', () => {
    const result = rehearse({ program, what: { buttonId: demoId('BTN', 501) }, mostEvents: 3 });
    expect(result.ok && [result.value.events, result.value.cutOff]).toEqual([3, true]);
  });

  it('gives the same timeline every time', () => {
    expect(timeline(1).entries).toEqual(timeline(1).entries);
  });

  it('held against itself differs by nothing; held against a slower run it tells the error', () => {
    const { entries } = timeline(1);
    expect(compare(entries, entries)).toMatchObject({ sameOrder: true, worstMs: 0 });
    const slower = entries.map((entry) => (entry.t > 1000 ? { ...entry, t: entry.t + 250 } : entry));
    const compared = compare(entries, slower);
    expect([compared.sameOrder, compared.worstMs]).toEqual([true, 250]);
    expect(compare(entries, entries.slice(0, -1)).sameOrder).toBe(false);
  });
});
