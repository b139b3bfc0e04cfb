import { demoId } from '@umbek/demo';
import { button, command, macro, programOf, step, testShow } from '../engine/testShow';
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
      button(2, [command('d', 'deskCam', 'drive', { pan: 10 })], {
        mode: 'hold',
        releaseSteps: [command('s', 'deskCam', 'stop')],
      }),
    ]),
  );
  const timeline = (number: number, state: [string, number][] = []) => {
    const result = rehearse({ program, what: { buttonId: demoId('BTN', 500 + number), holdMs: 700 }, state });
    if (!result.ok) throw new Error(result.error.message);
    return result.value;
  };

  it('tells also what is answered after a run that failed, and that this is not its length', () => {
    const both = button(9, [
      step({
        kind: 'together',
        id: 't',
        // Neither of them records: each refuses.
        steps: [command('a', 'recorder1', 'split'), command('b', 'recorder2', 'split')],
      }),
    ]);
    const result = rehearse({ program: programOf(testShow([both])), what: { buttonId: both.id } });
    if (!result.ok) throw new Error(result.error.message);
    const { entries, durationMs } = result.value;
    expect(entries.flatMap((entry) => (entry.kind === 'outcome' ? [entry.device, entry.outcome] : []))).toEqual([
      'recorder1',
      'refused',
      'recorder2',
      'refused',
    ]);
    expect(durationMs).toBe(entries.find((entry) => entry.kind === 'runEnd')?.t);
  });

  it('tells what becomes of points on the way, where that is asked for', () => {
    const pressed = button(8, [command('p', 'switcher', 'preview', { source: 'roofCam' })]);
    const watched = rehearse({
      program: programOf(testShow([pressed])),
      what: { buttonId: pressed.id },
      watches: true,
    });
    const unasked = rehearse({ program: programOf(testShow([pressed])), what: { buttonId: pressed.id } });
    // Roof cam comes in at 4.
    expect(watched.ok && watched.value.changes?.map(([, key, value]) => [key, value])).toContainEqual([
      'switcher.preview',
      4,
    ]);
    expect(unasked.ok && unasked.value.changes).toBeUndefined();
  });

  it('tells when each thing would happen', () => {
    // Zoom to 4.2×: code ln 4.2 / ln 20 · 16384 = 7849; 6500 codes/s, 16000 codes/s²: 7849/6500 + 6500/16000 = 1.6138 s, the slowest axis.
    const commands = timeline(1).entries.flatMap((entry) =>
      entry.kind === 'command' ? [[entry.command.command, Math.round(entry.t)]] : [],
    );
    expect(commands).toEqual([
      ['recall', 0],
      ['cut', 1622],
    ]);
  });

  it('begins where the camera stands', () => {
    const near = timeline(1, [
      ['deskCam.pan', -12.45],
      ['deskCam.tilt', 3],
      ['deskCam.zoom', 4.2],
    ]);
    expect(near.durationMs).toBeLessThan(30);
  });

  it('holds a hold button and releases it', () => {
    const presses = timeline(2).entries.flatMap((entry) =>
      entry.kind === 'press'
        ? [[entry.phase, entry.t]]
        : entry.kind === 'command'
          ? [[entry.command.command, entry.t]]
          : [],
    );
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

  it('has no order between devices that are foreseen at one time, and keeps it on each of them', () => {
    const both = programOf(
      testShow([
        button(3, [
          step({
            kind: 'together',
            id: 't',
            steps: [command('a', 'switcher', 'preview', { source: 'slides' }), command('b', 'captions', 'countOut')],
          }),
          step({ kind: 'pause', id: 'p', length: { ms: 500 } }),
          command('c', 'switcher', 'cut'),
        ]),
      ]),
    );
    const predicted = rehearse({ program: both, what: { buttonId: demoId('BTN', 503) }, state: [] });
    if (!predicted.ok) throw new Error(predicted.error.message);
    const { entries } = predicted.value;
    const swapped = (a: number, b: number) => {
      const copy = [...entries];
      [copy[a], copy[b]] = [copy[b] as (typeof entries)[number], copy[a] as (typeof entries)[number]];
      return copy;
    };
    const at = (kind: string, device: string): number =>
      entries.findIndex((entry) => entry.kind === kind && 'device' in entry && entry.device === device);
    // Which of the two answers first is chance.
    expect(compare(entries, swapped(at('outcome', 'switcher'), at('outcome', 'captions'))).sameOrder).toBe(true);
    // An answer before its command, and a cut before the pause is over, are not.
    expect(compare(entries, swapped(at('command', 'captions'), at('outcome', 'captions'))).sameOrder).toBe(false);
    const cut = entries.findIndex((entry) => entry.kind === 'command' && entry.command.command === 'cut');
    expect(compare(entries, swapped(at('outcome', 'captions'), cut)).sameOrder).toBe(false);
    expect(compare(entries, entries.slice(0, -1)).sameOrder).toBe(false);
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

describe('a macro', () => {
  const waits = macro(
    1,
    [
      command('recall', 'deskCam', 'recall', { position: { cel: 'param.position' } }),
      step({ kind: 'wait', id: 'w', until: 'deskCam.arrived == param.position', timeoutMs: 6000 }),
      command('cut', 'switcher', 'cut'),
    ],
    { params: [{ key: 'position', start: 'inesClose' }] },
  );
  const tried = button(1, [step({ kind: 'run', id: 'run', macro: waits.id, params: {} })]);
  const program = programOf(testShow([tried], [waits]));
  const ended = (what: Parameters<typeof rehearse>[0]['what']) => {
    const result = rehearse({ program, what, state: [] });
    if (!result.ok) throw new Error(result.error.message);
    const end = result.value.entries.find((entry) => entry.kind === 'runEnd');
    return end?.kind === 'runEnd' ? [end.how, end.t] : null;
  };

  it('is predicted alike run by itself, from a button, and pressed by its id as in its editor', () => {
    const [how, t] = ended({ macroId: waits.id }) ?? [];
    expect(how).toBe('done');
    expect(Number(t)).toBeGreaterThan(500);
    expect(ended({ buttonId: tried.id })).toEqual([how, t]);
    expect(ended({ buttonId: waits.id })).toEqual([how, t]);
  });
});
