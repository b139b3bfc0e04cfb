import type { PlainValue } from '../show/index';
import { type DeviceCommand, DEVICE_KINDS, type DeviceKind, type Points } from './index';

/** Settings that leave nothing to chance, and points to begin from where the usual start would show nothing. */
const FROM: Readonly<Record<string, Points>> = {
  captions: {
    nameUp: true,
    nameText: 'Obi Adeyemi',
    nameTitle: 'Dune Camp',
    countUp: true,
    count: 41,
    countLabel: 'so far',
  },
  guestGateway: { line1Guest: 'Wen Zhao', line1Connected: true, line1Picture: true },
};

const SETTINGS: Readonly<Record<string, Record<string, unknown>>> = {
  clipPlayer: { clips: [{ name: 'Opening film', seconds: 60 }] },
  slides: { titles: ['Cover', 'Radiant', 'Rates', 'Dawn', 'Thanks'] },
};

/** What a command is given beside its own defaults, as a device is told it. */
const PARAMS: Readonly<Partial<Record<string, DeviceCommand['params']>>> = {
  'switcher.program': { source: 5 },
  'switcher.preview': { source: 6 },
  'switcher.aux': { output: 2, source: 7 },
  'switcher.lever': { position: 0.4 },
  'switcher.name': { input: 3, name: 'Dome' },
  'switcher.bank2Program': { source: 5 },
  'switcher.bank2Preview': { source: 6 },
  'switcher.background': { layout: 1, source: 4 },
  'switcher.boxOccupant': { layout: 2, box: 3, source: 4 },
  'switcher.boxBorder': { layout: 1, box: 1, width: 0.02 },
  'switcher.boxOrder': { layout: 1, box: 2, order: 4 },
  'switcher.keyFill': { keyer: 1, source: 8 },
  'switcher.keyKind': { keyer: 1, kind: 'chroma' },
  'switcher.keyColour': { keyer: 1, colour: '#0000FF' },
  'switcher.keyClip': { keyer: 2, clip: 12 },
  'switcher.keyGain': { keyer: 2, gain: 88 },
  'switcher.reframe': { source: 3, x: 0.4, y: 0.6, scale: 2, frames: 10 },
  'switcher.reframeTo': { source: 3, x: 0.4, y: 0.6, scale: 2, frames: 10 },
  'captions.nameIn': { name: 'Wen Zhao', title: 'Cape Bright', ms: 200 },
  'captions.personIn': { name: 'Obi Adeyemi', title: 'Dune Camp', ms: 200 },
  'captions.countIn': { count: 50, label: 'meteors', ms: 200 },
  'captions.countSet': { count: 42 },
  'captions.layerIn': { layer: 3, template: 'Ticker', field1: 'Clear skies until two' },
  'captions.layerField': { layer: 2, field: 1, text: 'Dew' },
  'recorder.start': { file: 'night' },
  'router.connect': { destination: 7, source: 3 },
  'router.protect': { destination: 7, on: true },
  'soundMixer.fader': { channel: 2, db: -12 },
  'soundMixer.mute': { channel: 2, on: true },
  'slides.goTo': { slide: 4 },
  'venueScreen.brightness': { level: 22 },
  'venueScreen.contrast': { level: 33 },
  'venueScreen.output': { on: false },
  'streamEncoder.rate': { kbit: 3000 },
  'guestGateway.mute': { line: 1, on: true },
  'guestGateway.picture': { line: 1, on: false },
  'ptzHead.recall': { position: 'deskClose', number: -1, pan: 12, tilt: 4, zoom: 3 },
  'ptzHead.goTo': { pan: -20, tilt: 5, zoom: 2 },
  'ptzHead.focusMode': { mode: 'manual' },
  'ptzHead.irisMode': { mode: 'manual' },
  'ptzHead.whiteBalance': { mode: 'outdoor' },
  'ptzHead.power': { on: false },
  'ptzHead.tally': { on: true },
};
/** A template that the caption engine has by itself. */
const templateOf = (points: Points): string =>
  String(points.templates ?? '')
    .split('\n')[0]
    ?.split('\t')[0] ?? '';

/** What has to be done first for there to be something to take back. */
const FIRST: Readonly<Record<string, readonly DeviceCommand[]>> = {
  'ptzHead.focus': [{ command: 'focusMode', params: { mode: 'manual' } }],
  'ptzHead.iris': [{ command: 'irisMode', params: { mode: 'manual' } }],
  'clipPlayer.play': [{ command: 'cue', params: { clip: 'Opening film', channel: 1, layer: 1, loop: false } }],
  'clipPlayer.loop': [{ command: 'cue', params: { clip: 'Opening film', channel: 1, layer: 1, loop: false } }],
  'slides.previous': [{ command: 'next', params: {} }],
};

/** Cannot be taken back: what they did away with, or set going, does not come back by a command. */
const ONE_WAY: ReadonlySet<string> = new Set([
  'clipPlayer.clear',
  'clipPlayer.stop',
  'ptzHead.store',
  'recorder.delete',
  'recorder.split',
  'replayServer.cue',
  'replayServer.mark',
  'replayServer.markAt',
  'replayServer.stop',
  'switcher.runMacro',
  'venueScreen.storeSetUp',
]);
/** A press of them can be taken back only from some states; tested by hand below, or seen in the tests of the engine. */
const BY_STATE: ReadonlySet<string> = new Set([
  'captions.countdownIn',
  'captions.countdownOut',
  'clipPlayer.cue',
  'clipPlayer.goTo',
  'clipPlayer.pause',
  'guestGateway.putOnLine',
  'guestGateway.takeOff',
  'ptzHead.drive',
  'ptzHead.nudge',
  'ptzHead.stop',
  'recorder.stop',
  'replayServer.pause',
  'replayServer.play',
  'replayServer.speed',
  'streamEncoder.stop',
  'venueScreen.recallSetUp',
]);
/** Points that go on by themselves, or tell of the way and not of the place. */
const ASIDE =
  /reframing|Left$|Position$|Level$|Open$|elapsed|timecode|Stage$|transition|nameText|nameTitle|Label$|^count$|Field\d|Template$|arrived|setUp|spaceGb|hoursLeft|^files?$|lostFrames|^focus$|^iris$/;

/** A device of a kind on a clock of its own. */
function running(kind: DeviceKind, key: string) {
  let now = 0;
  const model = kind.startModel(SETTINGS[key] ?? {}, 0, FROM[key] ?? {});
  const settle = (ms: number): void => {
    const until = now + ms;
    let { wakeAt } = model.step({ type: 'read', now });
    while (wakeAt !== null && wakeAt <= until) {
      now = Math.max(now, wakeAt);
      ({ wakeAt } = model.step({ type: 'wake', now }));
    }
    now = until;
  };
  const points = (): Points => ({ ...model.step({ type: 'read', now }).points });
  let ids = 0;
  const tell = (command: DeviceCommand): void => {
    const copied = { ...command, params: { ...command.params } };
    const source = /^input:(\d+)$/.exec(String(copied.params.source))?.[1];
    if (source !== undefined) (copied.params as Record<string, PlainValue>).source = Number(source);
    const { replies } = model.step({ type: 'command', id: `c${(ids += 1)}`, command: copied, now });
    const refused = replies.find((reply) => reply.event === 'refused');
    if (refused !== undefined) throw new Error(`${command.command}: ${refused.why ?? ''}`);
    settle(8000);
  };
  settle(100);
  return { points, tell };
}

const compared = (points: Points): Points =>
  Object.fromEntries(Object.entries(points).filter(([name]) => !ASIDE.test(name)));
const cases = Object.entries(DEVICE_KINDS).flatMap(([key, kind]) =>
  Object.entries(kind.commands).map(
    ([name, definition]) => [`${key}.${name}`, { key, kind, name, definition }] as const,
  ),
);

describe('a command and what takes it back', () => {
  it.each(cases.filter(([id]) => !ONE_WAY.has(id) && !BY_STATE.has(id)))(
    '%s',
    (id, { key, kind, name, definition }) => {
      const device = running(kind, key);
      for (const command of FIRST[id] ?? []) device.tell(command);
      const before = device.points();
      const given = id === 'captions.layerIn' ? { ...PARAMS[id], template: templateOf(before) } : (PARAMS[id] ?? {});
      const fitting = definition.params.safeParse(given);
      const params = (fitting.success ? { ...fitting.data, ...given } : given) as Record<string, PlainValue>;
      const read = (point: string): PlainValue | undefined => before[point];
      const makes = definition.effect?.makes(params, read) ?? {};
      const undo = definition.effect?.undo(params, read);
      device.tell({ command: definition.sentAs ?? name, params });
      const after = device.points();
      for (const [point, value] of Object.entries(makes)) expect([point, after[point]]).toEqual([point, value]);
      expect(undo).not.toBeNull();
      for (const command of undo ?? []) device.tell(command);
      expect(compared(device.points())).toEqual(compared(before));
    },
  );

  it('is said of every command: it has an effect, or it is known to go one way', () => {
    const without: string[] = cases.flatMap(([id, { definition }]) => (definition.effect === undefined ? [id] : []));
    expect(without.filter((id) => !ONE_WAY.has(id))).toEqual([]);
    expect([...ONE_WAY].filter((id) => !without.includes(id))).toEqual([]);
  });

  const undoOf = (id: string, params: DeviceCommand['params'], points: Points) => {
    const found = cases.find(([item]) => String(item) === id)?.[1].definition.effect;
    return found?.undo(params, (name) => points[name]);
  };

  it('brings the texts of a caption back that was up, and takes out one that was not', () => {
    const up = { nameUp: true, nameText: 'Obi Adeyemi', nameTitle: 'Dune Camp' };
    expect(undoOf('captions.nameIn', { name: 'Wen Zhao', ms: 400 }, up)).toEqual([
      { command: 'nameIn', params: { name: 'Obi Adeyemi', title: 'Dune Camp', ms: 400 } },
    ]);
    expect(undoOf('captions.nameIn', { name: 'Wen Zhao', ms: 400 }, { ...up, nameUp: false })).toEqual([
      { command: 'nameOut', params: { ms: 400 } },
    ]);
    expect(undoOf('captions.nameOut', { ms: 300 }, { ...up, nameUp: false })).toEqual([]);
  });

  it('knows what cannot come back: a recording that was stopped, a clip that played, a countdown begun anew', () => {
    expect(undoOf('recorder.stop', {}, { recording: true })).toBeNull();
    expect(undoOf('recorder.stop', {}, { recording: false })).toEqual([]);
    const playing = { ch1Layer1Clip: 'Tour of the dome', ch1Layer1Playing: true, ch1Layer1Loop: false };
    expect(undoOf('clipPlayer.cue', { clip: 'Holding loop', channel: 1, layer: 1 }, playing)).toBeNull();
    expect(
      undoOf('clipPlayer.cue', { clip: 'Holding loop', channel: 1, layer: 1 }, { ...playing, ch1Layer1Playing: false }),
    ).toEqual([{ command: 'cue', params: { clip: 'Tour of the dome', channel: 1, layer: 1, loop: false } }]);
    expect(undoOf('captions.countdownIn', { seconds: 60, ms: 400 }, { countdownUp: true })).toBeNull();
  });

  it('gives nothing where what stood before is not known', () => {
    expect(undoOf('switcher.program', { source: 3 }, {})).toBeNull();
    expect(undoOf('switcher.cut', {}, { program: 3 })).toBeNull();
    expect(undoOf('ptzHead.recall', { position: 'deskClose' }, { pan: 1, tilt: 2 })).toBeNull();
  });

  it('brings a guest back onto the line, and the one who was there before', () => {
    expect(undoOf('guestGateway.putOnLine', { guest: 'Wen Zhao', line: 2 }, { line2Guest: 'Obi Adeyemi' })).toEqual([
      { command: 'takeOff', params: { line: 2 } },
      { command: 'putOnLine', params: { guest: 'Obi Adeyemi', line: 2 } },
    ]);
    expect(undoOf('guestGateway.takeOff', { line: 2 }, { line2Guest: '' })).toEqual([]);
  });
});
