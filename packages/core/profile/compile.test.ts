import { DEVICE_KINDS, generic, kindOfProfile } from '../devices/index';
import { ProfileFile } from '../show/index';
import { compileProfile, DOME_SLIT, HOUSE_LIGHTS, type Incoming, SAMPLE_PROFILES } from './index';

const profile = (more: object): ProfileFile =>
  ProfileFile.parse({ format: 'umbek-profile', version: 1, name: 'Test', transport: { kind: 'tcp' }, ...more });
const compiled = (file: ProfileFile) => {
  const made = compileProfile(file);
  if (!made.ok) throw new Error(made.error.map((item) => `${item.path} ${item.message}`).join('; '));
  return made.value;
};
const faults = (file: ProfileFile): string[] => {
  const made = compileProfile(file);
  return made.ok ? [] : made.error.map((item) => `${item.path ?? ''}: ${item.code}`);
};
const command = (send: object, params: object[] = []): object => ({ key: 'go', words: 'Go', params, send: [send] });
const LEVEL = { key: 'level', type: 'number', min: 0, max: 100, whole: true };

describe('a profile', () => {
  it('puts OSC messages together, each argument with its type', () => {
    const said = compiled(HOUSE_LIGHTS).messagesOf('level', { area: 3, percent: 40 });
    expect(said).toEqual({
      ok: true,
      value: [{ as: 'osc', address: '/area/3/level', args: [{ type: 'f', value: 0.4 }] }],
    });
  });

  it('fills HTTP paths and JSON bodies without letting a text break out of its place', () => {
    const file = profile({
      transport: { kind: 'http' },
      commands: [
        command(
          {
            as: 'http',
            method: 'PUT',
            path: '/rooms/{{ param.room }}',
            json: { level: { cel: 'param.level' }, note: 'to {{ param.level }}', deep: [true, null] },
          },
          [LEVEL, { key: 'room', type: 'text' }],
        ),
      ],
    });
    expect(compiled(file).messagesOf('go', { level: 7, room: 'a/b "c"' })).toEqual({
      ok: true,
      value: [
        {
          as: 'http',
          method: 'PUT',
          path: '/rooms/a%2Fb%20%22c%22',
          body: '{"level":7,"note":"to 7","deep":[true,null]}',
          contentType: 'application/json',
        },
      ],
    });
  });

  it('makes bytes and MIDI, and refuses what does not fit them', () => {
    const bytes = compiled(
      profile({ commands: [command({ as: 'bytes', bytes: [2, { cel: 'param.level' }, 3] }, [LEVEL])] }),
    );
    expect(bytes.messagesOf('go', { level: 80 })).toEqual({
      ok: true,
      value: [{ as: 'bytes', bytes: Uint8Array.of(2, 80, 3) }],
    });
    const midi = compiled(
      profile({
        transport: { kind: 'midi' },
        commands: [
          command({ as: 'midi', message: 'control', channel: 2, number: 7, value: { cel: 'param.level * 2' } }, [
            LEVEL,
          ]),
        ],
      }),
    );
    expect(midi.messagesOf('go', { level: 50 })).toMatchObject({
      ok: true,
      value: [{ channel: 2, number: 7, value: 100 }],
    });
    expect(midi.messagesOf('go', { level: 80 })).toMatchObject({
      ok: false,
      error: { message: '160 is no whole number from 0 to 127.' },
    });
    expect(bytes.messagesOf('go', {})).toMatchObject({ ok: false, error: { code: 'cannot-say' } });
  });

  it('reads points from OSC, JSON, patterns, bytes and MIDI', () => {
    expect(compiled(HOUSE_LIGHTS).read({ as: 'osc', address: '/area/2/level', values: [0.25] })).toEqual({
      area2: 0.25,
    });
    expect(compiled(DOME_SLIT).read({ as: 'text', text: 'SLIT=35 MOTOR=RUN' })).toEqual({ opening: 35, moving: true });
    const json = compiled(
      profile({
        transport: { kind: 'http' },
        points: [
          { key: 'lamp', words: 'Lamp', type: 'switch', from: { as: 'json', path: '$.lamps[1].on' } },
          { key: 'heat', words: 'Heat', type: 'number', from: { as: 'json', path: '$.heat' } },
        ],
      }),
    );
    expect(json.read({ as: 'text', text: '{"heat":"21.5","lamps":[{"on":0},{"on":1}]}' })).toEqual({
      lamp: true,
      heat: 21.5,
    });
    expect(json.read({ as: 'text', text: 'no JSON' })).toEqual({});
    const bytes = compiled(
      profile({
        points: [{ key: 'level', words: 'Level', type: 'number', from: { as: 'bytes', pattern: '^02 4C (..) 03' } }],
      }),
    );
    expect(bytes.read({ as: 'bytes', bytes: Uint8Array.of(2, 0x4c, 0x1f, 3) })).toEqual({ level: 31 });
    const midi = compiled(
      profile({
        transport: { kind: 'midi' },
        points: [
          { key: 'key', words: 'Key', type: 'switch', from: { as: 'midi', message: 'note', channel: 1, number: 60 } },
        ],
      }),
    );
    const note = (message: string, value: number): Incoming => ({ as: 'midi', message, channel: 1, number: 60, value });
    expect([midi.read(note('noteOn', 90)), midi.read(note('noteOff', 40)), midi.read(note('noteOn', 0))]).toEqual([
      { key: true },
      { key: false },
      { key: false },
    ]);
  });

  it('tells every fault with its path', () => {
    expect(faults(profile({ commands: [command({ as: 'osc', address: '/x' })] }))).toEqual([
      'commands.0.send.0.as: wrong-transport',
    ]);
    expect(faults(profile({ commands: [command({ as: 'text', text: 'L {{ param.lvl }}' }, [LEVEL])] }))).toEqual([
      'commands.0.send.0.text: unknown-name',
    ]);
    expect(faults(profile({ commands: [command({ as: 'text', text: 'L {{ param.level' }, [LEVEL])] }))).toEqual([
      'commands.0.send.0.text: bad-live-text',
    ]);
    expect(faults(profile({ commands: [{ ...command({ as: 'text', text: 'L' }), sets: { nothing: 1 } }] }))).toEqual([
      'commands.0.sets.nothing: unknown-name',
    ]);
    const point = (from: object): ProfileFile => profile({ points: [{ key: 'a', words: 'A', from }] });
    expect(faults(point({ as: 'text', pattern: '(' }))).toEqual(['points.0.from.pattern: bad-pattern']);
    expect(faults(point({ as: 'text', pattern: 'a(?=b)' }))).toEqual(['points.0.from.pattern: bad-pattern']);
    expect(faults(point({ as: 'text', pattern: 'a' }))).toEqual(['points.0.from.group: bad-pattern']);
    expect(faults(point({ as: 'json', path: '$[' }))).toEqual(['points.0.from.path: bad-path']);
    expect(
      faults(profile({ commands: [command({ as: 'text', text: 'L' }, [{ ...LEVEL, start: 200 }, LEVEL])] })),
    ).toEqual(['commands.0.params.1.key: key-clash', 'commands.0.params.0.start: bad-start']);
  });

  it('finds a pattern in linear time, also one that others never finish', () => {
    const slow = compiled(profile({ points: [{ key: 'a', words: 'A', from: { as: 'text', pattern: '^(a+)+$' } }] }));
    expect(slow.read({ as: 'text', text: `${'a'.repeat(4000)}b` })).toEqual({});
  });

  it('is refused with an unknown transport', () => {
    expect(ProfileFile.safeParse({ ...HOUSE_LIGHTS, transport: { kind: 'pigeon' } }).error?.issues[0]?.path).toEqual([
      'transport',
      'kind',
    ]);
  });

  it('has samples that hold together', () => {
    for (const sample of SAMPLE_PROFILES) expect([ProfileFile.parse(sample), faults(sample)]).toEqual([sample, []]);
  });
});

describe('the kind of a profile', () => {
  it('has the commands and points of the profile, with ranges and starts', () => {
    const kind = kindOfProfile(HOUSE_LIGHTS);
    expect(kindOfProfile(HOUSE_LIGHTS)).toBe(kind);
    expect(kind.commands.level?.params.parse({})).toEqual({ area: 1, percent: 60 });
    expect(kind.commands.level?.params.safeParse({ area: 5 }).success).toBe(false);
    expect(Object.keys(kind.points)).toEqual(['area1', 'area2', 'area3', 'area4']);
    expect(DEVICE_KINDS.generic).toBe(generic);
  });

  it('rehearses with the stated delay', () => {
    const model = kindOfProfile(DOME_SLIT).startModel({ profile: 'slit' }, 0, { opening: 0, moving: false });
    const sent = model.step({
      type: 'command',
      id: '1',
      command: { command: 'open', params: { percent: 40 } },
      now: 100,
    });
    expect([sent.replies, sent.points, sent.wakeAt]).toEqual([
      [{ id: '1', at: 100, event: 'done' }],
      { opening: 0, moving: false },
      2100,
    ]);
    expect(model.step({ type: 'wake', now: 2100 })).toMatchObject({
      points: { opening: 40, moving: false },
      wakeAt: null,
    });
  });
});
