import { corvaneHill, demoId } from '@umbek/demo';
import { compileProgram, type Program } from '../../engine/index';
import { resolveCommand } from '../../engine/resolve';
import { UNKNOWN } from '../../expression/index';
import { applyEdit, type Button, listsOf, type ShowDocument, stepsWithin } from '../../show/index';
import { copiedText, panelFile, panelFromFile, pasted, readCopied } from '../chosen';
import { allSure, leftOpen, type Match, matchedTo, matchesOf, needsOf } from './index';

// Rules are the show's own, and stay at home.
const demo = { ...corvaneHill(), triggers: [] };
const ids = () => {
  let count = 0;
  return () => `01J0C0RVANEH1EXC${String((count += 1)).padStart(10, '0')}`;
};
const after = (show: ShowDocument, changes: Parameters<typeof applyEdit>[1]['changes']): ShowDocument => {
  const applied = applyEdit(show, { changes });
  if (!applied.ok) throw new Error(JSON.stringify(applied.error[0]));
  return applied.value;
};
const MAIN = demo.panels[0];
if (MAIN === undefined) throw new Error('The demo has no panel.');
const file = panelFile(demo, MAIN);
const needs = needsOf(demo, demo.buttons);

/** The same rig as another engineer keyed it: devices, sources and positions by other keys, sources on other inputs. */
const KEYED = /^(deskCam|lawnCam|domeCam|switcher|captions|roofCam|slides|black)$/;
const rekey = (key: string): string => (KEYED.test(key) ? `my${key.charAt(0).toUpperCase()}${key.slice(1)}` : key);
const other: ShowDocument = {
  ...demo,
  devices: demo.devices.map((device) => ({ ...device, key: rekey(device.key) })),
  sources: demo.sources.map((source) => ({
    ...source,
    key: rekey(source.key),
    input: source.input === null ? null : source.input + 1,
    camera: source.camera === null ? null : rekey(source.camera),
  })),
  positions: [],
  reframes: [],
  roles: [],
  values: [],
  people: [],
  panels: [],
  strips: [],
  buttons: [],
  macros: [],
};

/** Every command of a button as it would go out, device by its name, sources by theirs. */
function sentOf(button: Button, program: Program): string[] {
  const { document } = program;
  return listsOf(button)
    .flatMap(([, list]) => [...stepsWithin(list)])
    .flatMap((step) => {
      if (step.kind !== 'command' || step.device.startsWith('chosen.')) return [];
      const resolved = resolveCommand(step, program, () => UNKNOWN);
      const device = document.devices.find(({ key }) => key === step.device)?.name ?? step.device;
      if (!resolved.ok) return [`${device} ${step.command}: ${resolved.error.code}`];
      const { command, params } = resolved.value.command;
      const named = Object.entries(params)
        .filter(([key]) => key !== 'number' && key !== 'position')
        .map(([key, value]) => [
          key,
          key === 'source' ? document.sources.find(({ input }) => input === value)?.name : value,
        ]);
      return [`${device} ${command} ${JSON.stringify(named)}`];
    });
}

describe('a panel that goes into another show', () => {
  it('needs what its buttons name, and nothing else', () => {
    const names = file.strips.flatMap(({ strip }) => strip?.name ?? []);
    expect(names).toEqual(['Sources', 'Moments', 'Names', 'Boards', 'Positions', 'Program', 'Take']);
    const of = file.needs;
    expect(of?.devices.map(({ key }) => key)).toEqual(['deskCam', 'lawnCam', 'domeCam', 'switcher', 'captions']);
    expect(of?.sources.map(({ key }) => key)).toEqual(['deskCam', 'lawnCam', 'domeCam', 'roofCam', 'slides', 'black']);
    expect(of?.values.map(({ key }) => key)).toEqual(['meteors']);
    expect([of?.roles, of?.macros, of?.people].map((list) => list?.length)).toEqual([0, 0, 0]);
    expect(of?.positions.map(({ key }) => key)).toEqual([
      'inesClose',
      'tomaszClose',
      'twoShot',
      'bigScreen',
      'slitOpen',
      'telescope',
    ]);
  });

  it('is sure of itself in its own show, and is put in as it is', () => {
    expect(allSure(matchesOf(needs, demo))).toBe(true);
    const { changes, panelId } = panelFromFile(demo, file, ids(), matchesOf(file.needs ?? needs, demo));
    const show = after(demo, changes);
    const strips = show.strips.filter((strip) => strip.panelId === panelId);
    expect(strips.map(({ name }) => name)).toEqual(file.strips.map(({ strip }) => strip?.name));
    expect(show.values).toEqual(demo.values);
  });

  it('does in a rig that is keyed and wired otherwise what it did in its own, button for button', () => {
    const matches = matchesOf(file.needs ?? needs, other);
    expect(leftOpen(matches)).toEqual([]);
    const { changes, panelId } = panelFromFile(other, file, ids(), matches);
    const there = after(other, changes);
    const program = compileProgram(there, 1);
    expect(program.faults().map(({ message }) => message)).toEqual([]);
    const own = compileProgram(demo, 1);
    const mine = new Set(demo.strips.filter((strip) => strip.panelId === MAIN.id).map(({ id }) => id));
    const yours = new Set(there.strips.filter((strip) => strip.panelId === panelId).map(({ id }) => id));
    const [before, now] = [
      demo.buttons.filter(({ stripId }) => mine.has(stripId)),
      there.buttons.filter(({ stripId }) => yours.has(stripId)),
    ];
    expect(now.map(({ legend }) => legend)).toEqual(before.map(({ legend }) => legend));
    expect(now.map((button) => sentOf(button, program))).toEqual(before.map((button) => sentOf(button, own)));
    // Conditions ask for things as they are named here.
    const ines = now.find(({ legend }) => legend === 'Ines close');
    expect(ines?.lamps[0]?.when).toBe('myDeskCam.arrived == "inesClose" && onAir("myDeskCam")');
    // A head elsewhere does not hold the positions that came along.
    expect(there.positions.map(({ camera, headNumber }) => [camera, headNumber])[0]).toEqual(['myDeskCam', null]);
  });

  it('says what nothing stands for; its buttons are made and refuse their press in words', () => {
    const bare = { ...other, devices: other.devices.filter(({ kind }) => kind !== 'captions') };
    const matches = matchesOf(file.needs ?? needs, bare);
    expect(leftOpen(matches).map(({ name, what }) => `${what} ${name}`)).toEqual(['device Captions']);
    const { changes } = panelFromFile(bare, file, ids(), matches);
    const show = after(bare, changes);
    const program = compileProgram(show, 1);
    const ines = show.buttons.find(({ legend }) => legend === 'Ines Halloran');
    expect(program.faultOf(ines?.id ?? '')?.message).toBe('There is no device captions.');
    const lawn = show.buttons.find(({ legend }) => legend === 'Lawn cam');
    expect(program.faultOf(lawn?.id ?? '')).toBeUndefined();
  });

  it('takes the one that is chosen in place of the guess, also where two change places', () => {
    const text = copiedText(
      demo,
      new Set(demo.buttons.filter(({ legend }) => legend === 'Ines close').map(({ id }) => id)),
    );
    const read = readCopied(text);
    if ('words' in read || read.copied.needs === undefined) throw new Error('It cannot be read.');
    let matches: readonly Match[] = matchesOf(read.copied.needs, demo);
    const of = (table: string, key: string) =>
      matches.find((match) => match.table === table && match.key === key) as Match;
    matches = matchedTo(matches, of('devices', 'deskCam'), 'lawnCam');
    matches = matchedTo(matches, of('sources', 'deskCam'), 'slides');
    const { changes, buttons } = pasted(demo, demoId('PAN', 2), read.copied, ids(), undefined, '', matches);
    const made = after(demo, changes).buttons.find(({ id }) => id === buttons[0]);
    expect(made?.steps.slice(0, 3)).toMatchObject([
      { device: 'lawnCam', command: 'recall' },
      { device: 'switcher', command: 'preview', params: { source: 'slides' } },
      { until: 'lawnCam.arrived == "inesClose"' },
    ]);
    expect(made?.lamps[0]?.when).toBe('lawnCam.arrived == "inesClose" && onAir("slides")');
  });

  it('gives a macro that comes along the devices and positions of this rig, also those that it begins with', () => {
    const macro: ShowDocument['macros'][number] = {
      ...(demo.macros[0] as ShowDocument['macros'][number]),
      params: [
        { key: 'camera', start: 'deskCam' },
        { key: 'position', start: demo.positions.find(({ camera }) => camera === 'deskCam')?.key ?? '' },
      ],
      steps: [
        {
          id: 'recall',
          onFail: 'stop',
          kind: 'command',
          device: 'deskCam',
          deviceFrom: 'camera',
          command: 'recall',
          params: { position: { cel: 'param.position' } },
        },
      ],
      stopSteps: [],
      owns: [],
    };
    const [first] = demo.buttons;
    if (first === undefined) throw new Error('The demo has no button.');
    const run = {
      id: 'run',
      onFail: 'stop' as const,
      kind: 'run' as const,
      macro: macro.id,
      params: { camera: 'lawnCam' },
    };
    const tested = { ...first, steps: [run] };
    const read = readCopied(copiedText({ ...demo, macros: [macro], buttons: [tested] }, new Set([tested.id])));
    if ('words' in read || read.copied.needs === undefined) throw new Error('It cannot be read.');
    expect(read.copied.needs.devices.map(({ key }) => key).sort()).toEqual(['deskCam', 'lawnCam']);
    const matches = matchesOf(read.copied.needs, other);
    const panel = { ...(demo.panels[0] as ShowDocument['panels'][number]) };
    const show = { ...other, panels: [panel] };
    const { changes, buttons } = pasted(show, panel.id, read.copied, ids(), undefined, '', matches);
    const next = after(show, changes);
    const [brought] = next.macros;
    const [position] = next.positions;
    expect(brought?.params).toEqual([
      { key: 'camera', start: 'myDeskCam' },
      { key: 'position', start: position?.key },
    ]);
    expect([brought?.steps[0], position]).toMatchObject([
      { device: 'myDeskCam', deviceFrom: 'camera' },
      { camera: 'myDeskCam' },
    ]);
    expect(next.buttons.find(({ id }) => id === buttons[0])?.steps).toMatchObject([
      { params: { camera: 'myLawnCam' } },
    ]);
  });

  it('brings macros, values and people along under numbers and keys that are free', () => {
    const show = {
      ...other,
      macros: [{ ...(demo.macros[0] as ShowDocument['macros'][number]), id: demoId('MAC', 99), name: 'Another one' }],
      values: [{ ...(demo.values[2] as ShowDocument['values'][number]), name: 'Something else' }],
    };
    const run = {
      id: 'run',
      onFail: 'stop' as const,
      kind: 'run' as const,
      macro: demo.macros[0]?.id ?? '',
      params: {},
    };
    const add = {
      id: 'add',
      onFail: 'stop' as const,
      kind: 'set' as const,
      target: 'value.meteors',
      to: { cel: 'value.meteors + 1.0' },
    };
    const name = {
      id: 'name',
      onFail: 'stop' as const,
      kind: 'command' as const,
      device: 'captions',
      command: 'personIn',
      params: { person: 'wenZhao', ms: 400 },
    };
    const [first] = demo.buttons;
    if (first === undefined) throw new Error('The demo has no button.');
    const tested = { ...first, steps: [run, add, name], legend: '{{ value.meteors }}' };
    const from = { ...demo, buttons: [tested] };
    const read = readCopied(copiedText(from, new Set([tested.id])));
    if ('words' in read || read.copied.needs === undefined) throw new Error('It cannot be read.');
    const matches = matchesOf(read.copied.needs, show);
    expect(matches.filter(({ to }) => to === 'bring').map(({ what }) => what)).toEqual([
      'position',
      'show value',
      'person',
      'macro',
    ]);
    const panel = { ...(demo.panels[0] as ShowDocument['panels'][number]) };
    const { changes, buttons } = pasted(
      { ...show, panels: [panel] },
      panel.id,
      read.copied,
      ids(),
      undefined,
      '',
      matches,
    );
    const next = after({ ...show, panels: [panel] }, changes);
    expect(next.macros.map(({ number, name: called }) => [number, called])).toEqual([
      [1, 'Another one'],
      [2, 'Opening'],
    ]);
    const made = next.buttons.find(({ id }) => id === buttons[0]);
    expect([made?.legend, next.values.map(({ key }) => key)]).toEqual([
      '{{ value.meteorCount }}',
      ['meteors', 'meteorCount'],
    ]);
    expect(made?.steps[1]).toMatchObject({ target: 'value.meteorCount', to: { cel: 'value.meteorCount + 1.0' } });
    expect(next.macros[1]?.owns).toEqual(['myDeskCam']);
    expect(compileProgram(next, 1).faultOf(buttons[0] ?? '')).toBeUndefined();
  });
});
