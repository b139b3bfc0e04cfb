import { compileProgram } from '@umbek/core/engine';
import { VirtualClock } from '@umbek/core/rehearse';
import { corvaneHill, demoId } from '@umbek/demo';
import { type LiveServerMessage, PadTelling } from '@umbek/protocol';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { LiveDesk } from '../live/liveDesk';
import { Pad } from './pad';
import { PadPlaces } from './padPlaces';
import type { Painter } from './painter';

const [PANEL, STATION, BIG, LIST] = [demoId('PAN', 90), demoId('STA', 90), demoId('STR', 90), demoId('STR', 91)];
const button = (number: number): string => demoId('BTN', 900 + number);
const demo = corvaneHill();
const [plain] = demo.buttons;
const [strip] = demo.strips;
const [panel] = demo.panels;
if (plain === undefined || strip === undefined || panel === undefined) throw new Error('The demo is empty.');
const made = (number: number, stripId: string, more: object = {}) => ({
  ...plain,
  id: button(number),
  stripId,
  legend: `Cap ${number}`,
  note: '',
  order: `a${number}`,
  ...more,
});
/** A strip of two, one of them held, and one of two, one of them turned by a hand. */
const program = compileProgram(
  {
    ...demo,
    panels: [{ ...panel, id: PANEL, name: 'Two', pages: [] }],
    strips: [
      { ...strip, id: BIG, panelId: PANEL, family: 'plum', page: '', order: 'a1' },
      { ...strip, id: LIST, panelId: PANEL, family: 'moss', page: '', order: 'a2' },
    ],
    buttons: [
      made(1, BIG),
      made(2, BIG, { mode: 'hold' }),
      made(3, LIST),
      made(4, LIST, { dial: { param: 'level', by: 0, min: 0, max: 9, step: 1, unit: '', reads: '1' } }),
    ],
    stations: [
      {
        id: STATION,
        name: 'Left pad',
        place: '',
        panels: [],
        opensOn: PANEL,
        linkGroup: 'main',
        loose: [],
        parts: [],
        placed: [],
        order: 'a',
      },
    ],
  },
  3,
);
const settle = async (): Promise<void> => {
  for (let turns = 0; turns < 20; turns += 1) await new Promise((next) => setImmediate(next));
};
const ids = ['01J0C0RVANEH1BVTT0N0000001', '01J0C0RVANEH1BVTT0N0000002'];

function opened({ placed = true, painter }: { placed?: boolean; painter?: Painter } = {}) {
  const clock = new VirtualClock(5000);
  const places = new PadPlaces(join(mkdtempSync(join(tmpdir(), 'umbek-pads-')), 'pads.json'));
  if (placed) void places.place('A1', STATION);
  const tellings: PadTelling[] = [];
  const asked: Record<string, unknown>[] = [];
  let behind = 0;
  let gone = false;
  const desk = {
    connect: () => ({
      message: (text: string) => asked.push(JSON.parse(text) as Record<string, unknown>),
      closed: () => (gone = true),
    }),
  } as unknown as LiveDesk;
  const pad = new Pad(
    {
      // What goes out holds to what is published.
      send: (text) => void tellings.push(PadTelling.parse(JSON.parse(text))),
      get bufferedAmount() {
        return behind;
      },
      close: () => (gone = true),
    },
    {
      desk,
      clock,
      places,
      program: () => program,
      painter: painter ?? { paint: () => Promise.resolve(null) },
    },
  );
  const says = (message: object): void => pad.message(JSON.stringify(message));
  const live = (message: object): void => pad.send(JSON.stringify(message as LiveServerMessage));
  const hello = async (more: object = {}): Promise<void> => {
    says({ type: 'hello', protocol: 1, name: 'Pad', serial: 'A1', columns: 2, rows: 2, ...more });
    live({ type: 'snapshot', faces: {}, runs: [] });
    await settle();
  };
  /** The caps that were told since, in short. */
  const caps = (): string[] =>
    tellings
      .splice(0)
      .flatMap((message) => (message.type === 'caps' ? message.caps : []))
      .map(
        ({ key, legend, lamp, note }) => `${key} ${legend}${lamp === null ? '' : ` ${lamp}`}${note && ` (${note})`}`,
      );
  return {
    pad,
    clock,
    places,
    tellings,
    asked,
    says,
    live,
    hello,
    caps,
    isGone: () => gone,
    lag: (to: number) => (behind = to),
  };
}

describe('a pad', () => {
  it('shows the panel of its station on its keys, and then only what changed', async () => {
    const { hello, caps, live, asked, tellings } = opened();
    await hello();
    expect(tellings[0]).toEqual({ type: 'welcome', protocol: 1, leaseMs: 400, station: 'Left pad', engine: 5000 });
    expect(caps()).toEqual(['0 Cap 1', '1 Cap 2', '2 Cap 3', '3 Cap 4']);
    expect(asked).toMatchObject([
      { type: 'hello', station: 'Pad', claims: STATION },
      { type: 'shows', panel: PANEL, strips: [BIG, LIST] },
    ]);
    live({ type: 'changes', faces: { [button(3)]: { sign: 'onAir', lost: false, note: '' } } });
    await settle();
    expect(caps()).toEqual(['2 Cap 3 onAir (on air)']);
    live({ type: 'changes', faces: { [button(3)]: { sign: 'onAir', lost: false, note: '' } } });
    await settle();
    expect(caps()).toEqual([]);
  });

  it('without a place shows nothing and says so; given one, it shows that at once', async () => {
    const { pad, hello, caps, tellings, places, live } = opened({ placed: false });
    await hello();
    expect(tellings[0]).toMatchObject({ station: null });
    expect(caps()).toEqual(['0 Give it a place (Rig, Stations)', '1 ', '2 ', '3 ']);
    void places.place('A1', STATION);
    pad.placed();
    live({ type: 'snapshot', faces: {}, runs: [] });
    await settle();
    expect(tellings[0]).toMatchObject({ type: 'welcome', station: 'Left pad' });
    expect(caps()).toEqual(['0 Cap 1', '1 Cap 2', '2 Cap 3', '3 Cap 4']);
  });

  it('presses, holds and lets go what stood on the key when the finger came down', async () => {
    const { hello, says, live, asked, tellings } = opened();
    await hello({ columns: 2, rows: 1 });
    asked.length = 0;
    tellings.length = 0;
    // Two keys: one cap and the key that turns the page.
    says({ type: 'down', key: 0, press: ids[0], at: 4990 });
    live({ type: 'answer', pressId: ids[0], phase: 'down', accepted: true, runId: null });
    says({ type: 'down', key: 1, press: ids[1] });
    says({ type: 'up', press: ids[1] });
    await settle();
    expect(tellings).toMatchObject([
      { type: 'answer', press: ids[0], accepted: true },
      { type: 'answer', press: ids[1], accepted: true },
      { type: 'caps', page: 2, pages: 4, caps: [{ key: 0, legend: 'Cap 2', holds: true }, { legend: 'More' }] },
    ]);
    says({ type: 'hold', press: ids[0] });
    says({ type: 'up', press: ids[0] });
    says({ type: 'up', press: ids[0] });
    expect(asked).toEqual([
      { type: 'press', pressId: ids[0], buttonId: button(1), phase: 'down', at: 4990 },
      { type: 'press', pressId: ids[0], buttonId: button(1), phase: 'hold' },
      { type: 'press', pressId: ids[0], buttonId: button(1), phase: 'up' },
    ]);
  });

  it('refuses in words what a key cannot do, what is empty and what it does not understand', async () => {
    const { hello, says, pad, tellings } = opened();
    says({ type: 'down', key: 0, press: ids[0] });
    await hello({ columns: 3 });
    tellings.splice(1);
    const { type: _type, ...before } = tellings.splice(0)[0] ?? { type: '' };
    expect(before).toEqual({ code: 'no-hello', words: 'This pad has not said what it is.', mend: 'Send hello first.' });
    says({ type: 'down', key: 4, press: ids[0] });
    says({ type: 'down', key: 5, press: ids[0] });
    says({ type: 'down', key: 999, press: ids[0] });
    says({ type: 'lift', key: 1 });
    says({ type: 'down', key: 0, press: 'mine' });
    pad.message('{');
    expect(tellings).toMatchObject([
      { accepted: false, words: 'Cap 4 is turned by dragging, and a key cannot.' },
      { accepted: false, words: 'Nothing stands on this key.' },
      { accepted: false, words: 'Nothing stands on this key.' },
      { type: 'error', code: 'bad-field' },
      { type: 'error', code: 'bad-field' },
      { type: 'error', code: 'bad-json' },
    ]);
  });

  it.each([
    [0, 'pad-too-old', 'Update the program of the pad.'],
    [2, 'pad-too-new', 'Update Umbek.'],
  ])('of protocol %i is told so and let go', (protocol, code, mend) => {
    const { says, tellings, isGone } = opened();
    says({ type: 'hello', protocol, anything: 'else' });
    expect(tellings).toEqual([
      { type: 'error', code, mend, words: `This pad speaks protocol ${protocol}, and Umbek speaks 1.` },
    ]);
    expect(isGone()).toBe(true);
  });

  it('tells a run on its key, and that it failed for a moment', async () => {
    const { hello, live, caps, clock } = opened();
    await hello();
    caps();
    const run = { runId: 'r', name: 'Cap 1', buttonId: button(1), step: '', leftMs: null };
    live({ type: 'run', run });
    await settle();
    expect(caps()).toEqual(['0 Cap 1 working']);
    live({ type: 'run', run: { ...run, ended: { how: 'failed', why: 'No answer.' } } });
    await settle();
    expect(caps()).toEqual(['0 Cap 1 failed (No answer.)']);
    clock.runTo(9000);
    await settle();
    expect(caps()).toEqual(['0 Cap 1']);
  });

  it('that lags is told nothing until it has caught up, and then what is so by then', async () => {
    const { hello, live, caps, lag, clock } = opened();
    await hello();
    caps();
    lag(600_000);
    for (const sign of ['onPreview', 'onAir', 'chosen']) {
      live({ type: 'changes', faces: { [button(1)]: { sign, lost: false, note: '' } } });
      await settle();
    }
    expect(caps()).toEqual([]);
    lag(0);
    clock.runTo(6000);
    await settle();
    expect(caps()).toEqual(['0 Cap 1 chosen']);
  });

  it('with displays is sent pictures; those that cannot be drawn are told in words', async () => {
    let draws = true;
    const painter: Painter = {
      paint: (caps, { width }) =>
        Promise.resolve(draws ? caps.map(({ legend }) => Buffer.from(`${width} ${legend}`).toString('base64')) : null),
    };
    const { hello, live, tellings, clock } = opened({ painter });
    await hello({ picture: { width: 72, height: 72 } });
    const picture = (): (string | undefined)[] =>
      tellings
        .splice(0)
        .flatMap((message) => (message.type === 'caps' ? message.caps : []))
        .map((cap) => (cap.picture === undefined ? undefined : Buffer.from(cap.picture, 'base64').toString()));
    expect(picture()).toEqual(['72 Cap 1', '72 Cap 2', '72 Cap 3', '72 Cap 4']);
    draws = false;
    live({ type: 'changes', faces: { [button(2)]: { sign: null, lost: true, note: '' } } });
    await settle();
    expect(picture()).toEqual([undefined]);
    // As soon as it can be drawn again, it is; what changed meanwhile is told once.
    draws = true;
    clock.runTo(8000);
    await settle();
    expect(picture()).toEqual(['72 Cap 2']);
    clock.runTo(20_000);
    await settle();
    expect(picture()).toEqual([]);
  });

  it('that floods is slowed down, and told so once a second', async () => {
    const { hello, says, tellings, clock } = opened();
    await hello();
    tellings.length = 0;
    for (let times = 0; times < 1000; times += 1) says({ type: 'time', sent: times });
    const [answers, errors] = [
      tellings.filter(({ type }) => type === 'time'),
      tellings.filter(({ type }) => type === 'error'),
    ];
    // 600 at once, of which the hello took one.
    expect([answers.length, errors.length]).toEqual([599, 1]);
    clock.runTo(6000);
    says({ type: 'time', sent: 1 });
    expect(tellings.at(-1)).toEqual({ type: 'time', sent: 1, engine: 6000 });
  });
});

describe('the places of pads', () => {
  it('are known after a start, and a file that was cut off is none', async () => {
    const file = join(mkdtempSync(join(tmpdir(), 'umbek-pads-')), 'pads.json');
    const places = new PadPlaces(file);
    await Promise.all([places.place('A1', STATION), places.place('A2', STATION), places.place('A1', null)]);
    const again = new PadPlaces(file);
    expect([again.of('A1'), again.of('A2')]).toEqual([null, STATION]);
    writeFileSync(file, '[["A2","');
    expect(new PadPlaces(file).of('A2')).toBeNull();
    await expect(new PadPlaces(join(file, 'pads.json')).place('A1', STATION)).rejects.toThrow();
  });
});
