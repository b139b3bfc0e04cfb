import { button, command, macro, step, testShow } from './testShow';
import { compileProgram } from './program';

const faults = (...args: Parameters<typeof testShow>) => {
  return compileProgram(testShow(...args), 1)
    .faults()
    .map(({ code, path, message }) => ({ code, path, message }));
};

describe('a show that is made ready', () => {
  it('tells a macro that calls itself, over others too, with the way it goes', () => {
    const first = macro(1, [step({ kind: 'run', id: 'a', macro: macro(2, []).id, params: {} })]);
    const second = macro(2, [
      step({ kind: 'together', id: 'b', steps: [step({ kind: 'run', id: 'c', macro: first.id, params: {} })] }),
    ]);
    expect(faults([], [first, second])).toEqual([
      { code: 'macro-circle', path: 'macros.0.steps', message: 'Macro 1 calls itself: Macro 1 → Macro 2 → Macro 1.' },
    ]);
  });

  it.each([
    ['dekCam.arrived == "inesClose"', 'There is no device dekCam. (at character 1 of "dekCam.arrived == "inesClose"")'],
    [
      'deskCam.arived == "inesClose"',
      'Desk cam has no point arived. (at character 1 of "deskCam.arived == "inesClose"")',
    ],
    [
      'deskCam.travelling && value.metors > 3',
      'There is no show value metors. (at character 23 of "deskCam.travelling && value.metors > 3")',
    ],
    ['param.seconds > 3', 'This macro has no parameter seconds. (at character 1 of "param.seconds > 3")'],
  ])('tells an unknown name and where it stands: %s', (until, message) => {
    expect(faults([button(1, [step({ kind: 'wait', id: 'w', until, timeoutMs: 1000 })])])).toEqual([
      { code: 'unknown-name', path: 'buttons.0.steps.0.until', message },
    ]);
  });

  it('tells every dangling reference and every parameter out of range, not only the first', () => {
    const steps = [
      command('a', 'deskCam', 'recall', { position: 'nowhere' }),
      command('b', 'switcher', 'mix', { frames: 0 }),
      command('c', 'switcher', 'explode'),
      command('d', 'nobody', 'cut'),
    ];
    expect(faults([button(1, steps)]).map(({ code, path }) => [code, path])).toEqual([
      ['dangling', 'buttons.0.steps.0.params.position'],
      ['bad-field', 'buttons.0.steps.1.params.frames'],
      ['unknown-command', 'buttons.0.steps.2.command'],
      ['dangling', 'buttons.0.steps.3.device'],
    ]);
  });

  it('takes an input that the switcher itself told of in place of a source', () => {
    const steps = (source: string) => [command('a', 'switcher', 'boxOccupant', { source, layout: 1, box: 3 })];
    expect(faults([button(1, steps('input:8'))])).toEqual([]);
    expect(faults([button(1, steps('input:x'))]).map(({ code }) => code)).toEqual(['dangling']);
  });

  it('tells two devices at one address apart before the show', () => {
    const show = testShow([]);
    const devices = show.devices.map((device, index) =>
      index === 1 ? { ...device, port: show.devices[0]?.port ?? 0 } : device,
    );
    const compiled = compileProgram({ ...show, devices }, 1);
    expect(compiled.faults().map((error) => error.message)).toEqual([
      'Desk cam and Lawn cam are both at 127.0.0.1:52381.',
      'Lawn cam and Desk cam are both at 127.0.0.1:52381.',
    ]);
    expect(compiled.deviceFault('lawnCam')).toMatchObject({ mend: 'Give one of them another port.' });
    expect(compiled.deviceFault('domeCam')).toBeUndefined();
  });

  it('knows what an edit concerns, also after one that was worked out and not taken', () => {
    const recall = command('a', 'deskCam', 'recall', { position: 'inesClose' });
    const show = testShow([button(1, [recall])]);
    const program = compileProgram(show, 1);
    program.complete();
    // Refused, or its database was away: nobody runs this one.
    compileProgram({ ...show, buttons: show.buttons.map((item) => ({ ...item, steps: [] })) }, 2, program);
    const renamed = show.positions.map((position) =>
      position.key === 'inesClose' ? { ...position, name: 'Very close' } : position,
    );
    const next = compileProgram({ ...show, positions: renamed }, 2, program);
    expect(next.sentence(recall)).toBe('Recall Very close on Desk cam');
    expect([...(next.changedButtons ?? [])]).toEqual([show.buttons[0]?.id]);
  });

  it('is the same whether an edit is worked in at once or in slices, and tells all that changed', () => {
    const recall = (id: string, position: string) => command(id, 'deskCam', 'recall', { position });
    const show = testShow([1, 2, 3].map((number) => button(number, [recall(`s${number}`, 'inesClose')])));
    const program = compileProgram(show, 1);
    const first = { ...show, buttons: show.buttons.map((item, at) => (at === 0 ? { ...item, steps: [] } : item)) };
    const second = {
      ...first,
      buttons: first.buttons.map((item, at) => (at === 2 ? { ...item, legend: 'New' } : item)),
    };
    const slice = compileProgram(first, 2, program);
    const whole = compileProgram(second, 2, program);
    const sliced = compileProgram(second, 2, slice, slice.changedButtons);
    expect(new Set(sliced.changedButtons)).toEqual(new Set(whole.changedButtons));
    expect(sliced.changedButtons?.size).toBe(2);
    expect(sliced.faults()).toEqual(whole.faults());
  });
});
