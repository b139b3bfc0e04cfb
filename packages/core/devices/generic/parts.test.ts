import { MAST_CAM } from '../../profile/samples';
import { compileProfile } from '../../profile/index';
import { stepChoices, stripOffers } from '../../programming/index';
import { setUp as bare } from '../../engine/testEngine';
import { button, command, testShow } from '../../engine/testShow';
import { compileProgram } from '../../engine/index';
import { HandPort } from '../../engine/testEngine';
import type { Button, Device, Position, ProfileFile, ShowDocument } from '../../show/index';
import { isHead } from '../../show/part';
import { arrivalTimeoutMs, kindOf, kindOfProfile, pointsOf } from '../index';

const MEMORY: Pick<Position, 'pan' | 'tilt' | 'zoom' | 'focus' | 'iris' | 'inHead'> = {
  pan: 0,
  tilt: 0,
  zoom: 1,
  focus: null,
  iris: null,
  inHead: null,
};

/** The test show with a mast camera on input 9, and two positions of it: one in memory 3, one that the head does not hold. */
function withMast(buttons: Button[] = [], settings: Record<string, unknown> = {}): ShowDocument {
  const show = testShow(buttons);
  const [device] = show.devices;
  const [source] = show.sources;
  if (!device || !source) throw new Error('The test show is empty.');
  const mast: Device = {
    ...device,
    id: '01J0C0RVANEH1DEV00000000M1',
    key: 'mast',
    name: 'Mast cam',
    kind: 'generic',
    port: 4711,
    settings: { profile: 'mastCam', ...settings },
    order: 'z0',
  };
  const at = (key: string, headNumber: number | null): Position => ({
    ...MEMORY,
    id: `01J0C0RVANEH1P0S00000000M${headNumber ?? 0}`,
    key,
    name: key,
    camera: 'mast',
    headNumber,
    order: `z${headNumber ?? 0}`,
  });
  return {
    ...show,
    devices: [...show.devices, mast],
    sources: [
      ...show.sources,
      { ...source, id: '01J0C0RVANEH1SRC00000000M1', key: 'mastCam', input: 9, camera: 'mast' },
    ],
    positions: [...show.positions, at('gate', 3), at('nowhere', null)],
    profiles: [{ id: '01J0C0RVANEH1PRF00000000M1', key: 'mastCam', content: MAST_CAM, order: 'z' }],
  };
}

const GATE = button(1, [command('r', 'mast', 'recall', { position: 'gate' })]);

/** An engine with that show, its mast answered for by hand. */
function setUp(buttons: Button[], settings: Record<string, unknown> = {}) {
  const all = bare([]);
  const port = new HandPort();
  all.engine.setProgram(compileProgram(withMast(buttons, settings), 2, all.engine.program));
  all.engine.attach('mast', port);
  all.engine.newsOf('mast').reached(true, 'here');
  return { ...all, port };
}

describe('a device whose profile fills the part of a head', () => {
  const kind = kindOfProfile(MAST_CAM);

  it('is moved, ended and undone as a head is, with what its messages have use for', () => {
    expect(isHead({ kind: 'generic', settings: { profile: 'mastCam' } }, withMast())).toBe(true);
    expect(Object.keys(kind.commands.recall?.params.shape ?? {})).toEqual(['position']);
    expect(Object.keys(kind.commands.nudge?.params.shape ?? {})).toEqual(['x', 'y', 'forSeconds']);
    expect(kind.commands.nudge).toMatchObject({ movesPicture: true, endedBy: { command: 'stop' }, lane: 'nudge' });
    expect(kind.commands.stop?.lane).toBe('stop');
    expect(kind.commands.recall?.unsettles).toEqual(['arrived', 'travelling']);
    // It says neither pan nor tilt: where it stood is not known, and nothing brings it back.
    expect(kind.commands.recall?.effect?.undo({}, () => 0)).toBeNull();
    expect(Object.keys(kind.points)).toEqual(['memory', 'travelling', 'arrived']);
  });

  it('is recalled by the number of its memory, and says which position has none', () => {
    const none = button(2, [command('r', 'mast', 'recall', { position: 'nowhere' })]);
    const { press, port } = setUp([GATE, none]);
    expect(press(GATE)).toMatchObject({ accepted: true });
    expect(port.sent[0]?.command).toMatchObject({ command: 'recall', params: { position: 'gate', number: 3 } });
    expect(press(none, 'down', { pressId: 'p2' })).toMatchObject({
      accepted: false,
      error: { message: 'nowhere has no memory number, and this head recalls by that number.' },
    });
  });

  it('asks for a second touch while it is on air, unless its set-up lets it move', () => {
    for (const [settings, accepted] of [
      [{}, false],
      [{ onAirMoves: 'allow' }, true],
    ] as const) {
      const { engine, press } = setUp([GATE], settings);
      engine.newsOf('switcher').points({ program: 9 });
      expect(press(GATE).accepted).toBe(accepted);
    }
  });

  it('moves for a stated length, which its messages need not know; where its profile has no stop there is none', () => {
    const short = button(4, [command('n', 'mast', 'nudge', { x: 1, forSeconds: 0.5 })]);
    const { press, port } = setUp([short]);
    expect(press(short)).toMatchObject({ accepted: true });
    expect(port.sent[0]?.command.params).toMatchObject({ x: 1, forSeconds: 0.5 });
    const endless = kindOfProfile({ ...MAST_CAM, commands: MAST_CAM.commands.filter(({ key }) => key !== 'stop') });
    expect(Object.keys(endless.commands.nudge?.params.shape ?? {})).toEqual(['x', 'y']);
  });

  it('rehearsed, it stands again when the length is over, and not before', () => {
    const head = kind.startModel({ profile: 'mastCam' }, 0, { travelling: false });
    const say = (now: number, name: string, params: Record<string, number>) =>
      head.step({ type: 'command', id: name, command: { command: name, params }, now }).points;
    const at = (now: number) => head.step({ type: 'wake', now }).points.travelling;
    const delay = MAST_CAM.commands.find(({ key }) => key === 'nudge')?.delayMs ?? NaN;
    expect(say(0, 'nudge', { x: 1, y: 0, forSeconds: 0.5 })).toMatchObject({ travelling: true });
    expect([at(499 + delay), at(500 + delay)]).toEqual([true, false]);
    // Another move in between: the end of the first one is none of its business.
    say(2000, 'nudge', { x: 1, y: 0, forSeconds: 0.5 });
    say(2100, 'nudge', { x: 1, y: 0 });
    expect(at(9000)).toBe(true);
  });

  it('may be the chosen camera, is stopped by a stop-all, and its held move ends with its press', () => {
    const held = button(3, [command('n', 'chosen.camera', 'nudge', { x: -1 })], {
      mode: 'hold',
      releaseSteps: [command('s', 'chosen.camera', 'stop')],
    });
    const { engine, press, port } = setUp([held]);
    engine.board.set('chosen@main.camera', 'mast');
    press(held);
    press(held, 'up');
    expect(port.names()).toEqual(['nudge', 'stop']);
    engine.stopAll('desk');
    expect(port.names()).toEqual(['nudge', 'stop', 'stop']);
  });

  it('rehearses: unknown while it travels, there after its time', () => {
    const model = kind.startModel({ profile: 'mastCam', onAirMoves: 'allow' }, 0, { memory: 1, arrived: 'old' });
    const recall = { command: 'recall', params: { position: 'gate', number: 3 } };
    expect(model.step({ type: 'command', id: 'a', command: recall, now: 100 }).points).toMatchObject({
      arrived: '',
      travelling: true,
    });
    expect(model.step({ type: 'wake', now: 1599 }).points).toMatchObject({ arrived: '' });
    expect(model.step({ type: 'wake', now: 1600 }).points).toMatchObject({
      arrived: 'gate',
      memory: 3,
      travelling: false,
    });
    // Sent elsewhere on its way, it never gets to the first place.
    model.step({ type: 'command', id: 'b', command: recall, now: 2000 });
    model.step({ type: 'command', id: 'c', command: { command: 'nudge', params: { x: 1, y: 0 } }, now: 2500 });
    expect(model.step({ type: 'wake', now: 9000 }).points).toMatchObject({ arrived: '' });
  });

  it('is offered what a head is, without what it is not told and does not tell', () => {
    const offers = stripOffers(withMast());
    const choose = offers.find(({ key }) => key === 'cameras/choose')?.strips[0];
    expect(choose?.buttons.some(({ legend }) => legend === 'Mast cam')).toBe(true);
    const positions = offers.find(({ key }) => key === 'cameras/positions/mast')?.strips[0];
    expect(positions?.buttons.find(({ legend }) => legend === 'gate')).toMatchObject({
      legend: 'gate',
      note: '{{ mast.travelling ? "moving" : "recall" }}',
      lamps: [{ when: 'mast.arrived == "gate"', show: 'arrived' }],
    });
    const silent: ProfileFile = { ...MAST_CAM, points: MAST_CAM.points.filter(({ key }) => key === 'memory') };
    const show = withMast();
    const less = stripOffers({ ...show, profiles: show.profiles.map((profile) => ({ ...profile, content: silent })) });
    expect(less.find(({ key }) => key === 'cameras/positions/mast')?.strips[0]?.buttons[0]?.note).toBe('');
  });

  it('is waited for as long as its profile says that a recall takes, with a margin', () => {
    const waitOf = (delayMs: number): number | undefined => {
      const show = withMast();
      const commands = MAST_CAM.commands.map((item) => ({ ...item, delayMs }));
      const profiles = show.profiles.map((profile) => ({ ...profile, content: { ...MAST_CAM, commands } }));
      const recall = command('r', 'mast', 'recall', { position: 'gate' });
      const [next] = stepChoices({ ...show, profiles }, [recall]);
      return next?.step.kind === 'wait' ? next.step.timeoutMs : undefined;
    };
    expect(waitOf(1500)).toBe(6000);
    expect(waitOf(20_000)).toBe(arrivalTimeoutMs(20_000));
    expect(waitOf(20_000)).toBeGreaterThan(25_000);
  });

  it('that nothing stops is a fault of its profile', () => {
    const endless = { ...MAST_CAM, commands: MAST_CAM.commands.filter(({ key }) => key !== 'stop') };
    expect(compileProfile(endless)).toMatchObject({
      ok: false,
      error: [
        {
          code: 'no-end',
          message: 'The command nudge moves until it is told to stop, and nothing of the profile stops it.',
        },
      ],
    });
    expect(compileProfile(MAST_CAM).ok).toBe(true);
  });
});

describe('a device whose profile fills the part of another kind', () => {
  /** The same show with a recorder by profile that starts, stops and says whether it records. */
  const recorder = (): ShowDocument => {
    const show = withMast();
    const text = (key: string, words: string): ProfileFile['commands'][number] => ({
      key,
      words,
      params: [],
      send: [{ as: 'text', text: key === 'start' ? 'REC {{ param.file }}' : 'STOP' }],
      seenOnAir: false,
      repeatable: true,
      delayMs: 20,
      sets: { recording: key === 'start' },
    });
    const content: ProfileFile = {
      ...MAST_CAM,
      name: 'Reel',
      part: 'recorder',
      commands: [text('start', 'Record'), text('stop', 'Stop')],
      points: [{ ...(MAST_CAM.points[1] as ProfileFile['points'][number]), key: 'recording', words: 'It records' }],
    };
    return { ...show, profiles: show.profiles.map((profile) => ({ ...profile, content })) };
  };

  it('has its strips, with what it can be told and tells, beside those of that kind', () => {
    const show = recorder();
    const device = show.devices.at(-1) as Device;
    expect(kindOf(device, show)?.part).toBe('recorder');
    expect(Object.keys(pointsOf(device, show))).toEqual(['recording']);
    const strips = stripOffers(show).find(({ key }) => key === 'recorders/rooms')?.strips ?? [];
    const [all] = strips;
    expect(all?.buttons.map(({ legend, note }) => [legend, note])).toEqual([
      ['Record all', '7 recorders'],
      ['Stop all', 'touch twice'],
    ]);
    // It does not tell whether it stopped unasked, nor for how long it has recorded.
    const own = strips.flatMap(({ buttons }) => buttons).find(({ legend }) => legend === 'Mast cam');
    expect(own).toMatchObject({ note: '', lamps: [{ when: 'mast.recording', show: 'recording' }] });
    expect(own?.steps.map(({ kind }) => kind)).toEqual(['set', 'together', 'wait']);
    expect(compileProfile(show.profiles[0]?.content as ProfileFile).ok).toBe(true);
  });

  it('that is a router has a strip for each destination that it tells', () => {
    const show = withMast();
    const [point] = MAST_CAM.points;
    const content: ProfileFile = {
      ...MAST_CAM,
      part: 'router',
      commands: [
        {
          ...(MAST_CAM.commands[0] as ProfileFile['commands'][number]),
          key: 'connect',
          send: [{ as: 'text', text: 'X {{ param.source }} {{ param.destination }}' }],
        },
      ],
      points: [1, 2, 3].map((out) => ({ ...(point as ProfileFile['points'][number]), key: `out${out}` })),
    };
    expect(compileProfile(content).ok).toBe(true);
    const offers = stripOffers({ ...show, profiles: show.profiles.map((profile) => ({ ...profile, content })) });
    const own = offers.filter(({ key }) => key.startsWith('mast/destination'));
    expect(own).toHaveLength(3);
    expect(own[2]?.strips[0]?.buttons[4]).toMatchObject({
      steps: [{ device: 'mast', command: 'connect', params: { destination: 3, source: 5 } }],
      lamps: [{ when: 'mast.out3 == 5', show: 'chosen' }],
    });
  });
});
