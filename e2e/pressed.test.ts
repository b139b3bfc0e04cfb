import { createSocket } from 'node:dgram';
import { PLAIN_BUTTON } from '@umbek/core/show';
import { demoId } from '@umbek/demo';
import type { ShortcutOn } from '@umbek/core/show';
import { encodeOsc } from '@umbek/wire/osc';
import type { BrowserContext, Page } from 'playwright-core';
import { ulid } from 'ulid';
import { browser, freshDemo, SIZES, sizes, useBrowser } from './support/browser';
import { type Demo, until } from './support/demo';
import { ExamplePad } from './support/examplePad';

jest.setTimeout(120_000);
useBrowser();

const STAR_CHARTS = demoId('BTN', 5);
let demo: Demo;
const contexts: BrowserContext[] = [];
beforeAll(async () => (demo = await freshDemo()));
afterEach(async () => {
  for (const context of contexts.splice(0)) await context.close();
});

/** MIDI inputs and a stick that a script plays, in place of those of the machine. */
const SCRIPTED = `
  const inputs = new Map();
  const lit = {};
  const out = (name) => ({ id: 'out ' + name, type: 'output', state: 'connected', name, send: ([status, number, value]) => {
    (lit[name] ??= {})[status + ' ' + number] = value;
    // A port that is looped through gives back what it is sent.
    if (name === 'loop') inputs.get('loop')?.dispatchEvent(Object.assign(new Event('midimessage'), { data: new Uint8Array([status, number, value]) }));
  } });
  const outputs = new Map(['keys', 'loop', 'synth'].map((name) => [name, out(name)]));
  const access = Object.assign(new EventTarget(), { inputs, outputs });
  const port = (id) => Object.assign(new EventTarget(), { id, type: 'input', state: 'connected', name: id });
  const tell = (one) => access.dispatchEvent(Object.assign(new Event('statechange'), { port: one }));
  navigator.requestMIDIAccess = () => Promise.resolve(access);
  const pads = [null];
  navigator.getGamepads = () => pads;
  const buttons = (down) => Array.from({ length: 12 }, (_none, at) => ({ pressed: down.includes(at), value: 0 }));
  window.scripted = {
    lit,
    plug(id) { const one = port(id); inputs.set(id, one); tell(one); },
    pull(id) { const one = inputs.get(id); inputs.delete(id); one.state = 'disconnected'; tell(one); },
    midi(id, bytes) { inputs.get(id).dispatchEvent(Object.assign(new Event('midimessage'), { data: new Uint8Array(bytes) })); },
    lever(axes) { pads[0] = { ...(pads[0] ?? { index: 0, mapping: '', buttons: buttons([]) }), axes }; },
    stick(down) { pads[0] = down === null ? null : { index: 0, mapping: '', axes: [0, 0, 0], buttons: buttons(down) }; },
  };
  window.scripted.plug('keys');
`;
interface Scripted {
  plug(id: string): void;
  pull(id: string): void;
  midi(id: string, bytes: number[]): void;
  stick(down: number[] | null): void;
  lever(axes: number[]): void;
}
const play = (page: Page, what: keyof Scripted, ...args: unknown[]): Promise<void> =>
  page.evaluate(
    ([name, given]) => {
      const { scripted } = window as unknown as { scripted: Record<string, (...all: unknown[]) => void> };
      scripted[name as string]?.(...(given as unknown[]));
    },
    [what, args] as const,
  );

async function openScripted(size: keyof typeof SIZES, path = '/'): Promise<Page> {
  const context = await browser.newContext({ viewport: SIZES[size], hasTouch: size === 'phone' });
  contexts.push(context);
  await context.addInitScript(SCRIPTED);
  const page = await context.newPage();
  await page.goto(`${demo.url}${path}`);
  if (path === '/') await page.getByText(/^(\d+) of \1 reached$/).waitFor({ timeout: 20_000 });
  return page;
}

const show = async () =>
  (await (await fetch(`${demo.url}/api/show`)).json()) as {
    shortcuts: { id: string; on: ShortcutOn }[];
    macros: { id: string; number: number; name: string }[];
    buttons: { id: string; legend: string; mode: string }[];
    stations: { id: string; name: string }[];
  };
const effects = async (command: string): Promise<number> =>
  (await demo.standins.switcher.report()).effects.filter((effect) => effect.command === command).length;
const previews = (): Promise<number> => effects('preview');
const moving = async (): Promise<unknown> => (await demo.standins.deskCam.report()).points.travelling;

async function shortcut(on: ShortcutOn, runs: object, station: string | null = null): Promise<void> {
  const id = ulid();
  const to = { id, on, runs, station, order: `a${id.slice(-4)}` };
  const edit = {
    editId: ulid(),
    label: 'Shortcut',
    by: 'test',
    changes: [{ entity: 'shortcuts', id, field: '*', from: null, to }],
  };
  expect((await demo.post('/api/edits', edit)).status).toBe(200);
}
/** The demo's button that moves the chosen camera to the left while it is held. */
const LEFT = async (): Promise<string> =>
  (await show()).buttons.find(({ legend, mode }) => mode === 'hold' && legend === 'Left')?.id ?? '';
const choose = (camera: string) =>
  demo.post('/api/steps/run', {
    name: 'Choose',
    steps: [{ id: 'c', kind: 'set', target: 'chosen.camera', to: camera }],
    station: 'test',
  });

describe.each(sizes)('a dial pad (%s)', (size) => {
  it('runs a macro by its own number without any set-up: what it would run is seen before Enter', async () => {
    const page = await openScripted(size);
    await page.getByRole('button', { name: 'Dial a number' }).click();
    const pad = page.getByTestId('dial-pad');
    await pad.getByText('Dialling').waitFor();
    await pad.getByRole('button', { name: 'Dial 9' }).click();
    await pad.getByText('Nothing has this code').waitFor();
    await pad.getByRole('button', { name: 'Take the last digit back' }).click();
    await pad.getByRole('button', { name: 'Dial 1', exact: true }).click();
    await pad.getByText('Macro 1 · Opening').waitFor();
    await pad.getByRole('button', { name: 'Enter' }).click();
    const runs = await until('the macro runs', async () => {
      const now = await demo.runs();
      return now.length > 0 && now;
    });
    await pad.getByText(/^(sent|running)$/).waitFor();
    for (const run of runs) await demo.post(`/api/runs/${run}/stop`, { station: 'test' });
    await until('it is over', async () => (await demo.runs()).length === 0);
    // Digits that nobody goes on with are forgotten.
    await pad.getByRole('button', { name: 'Dial 1', exact: true }).click();
    await pad.getByText('Macro 1 · Opening').waitFor();
    await pad.getByText('Macro 1 · Opening').waitFor({ state: 'detached', timeout: 10_000 });
    await pad.getByRole('button', { name: 'Close' }).click();
    await page.getByRole('button', { name: 'Dial a number' }).waitFor();
  });
});

describe.each(sizes)('a dial pad that takes numbers (%s)', (size) => {
  it('puts a source on preview, recalls a position, chooses a destination and routes to it: each is told before Enter', async () => {
    await choose('deskCam');
    const page = await openScripted(size);
    await page.getByRole('button', { name: 'Dial a number' }).click();
    const pad = page.getByTestId('dial-pad');
    const match = page.getByTestId('dial-match');
    const takes = (name: string) => pad.getByRole('button', { name, exact: true }).click();
    const dial = async (digits: string): Promise<void> => {
      for (const digit of digits) await pad.getByRole('button', { name: `Dial ${digit}` }).click();
    };
    const enter = () => pad.getByRole('button', { name: 'Enter' }).click();
    await takes('Preview');
    await match.getByText('Type the number of a source, for preview').waitFor();
    await dial('2');
    await match.getByText(/ to preview$/).waitFor();
    const before = await previews();
    await enter();
    await until('it is on preview', async () => (await previews()) === before + 1);
    await takes('Position');
    await dial('9');
    await dial('9');
    await match.getByText('Desk cam has no such position').waitFor();
    await takes('Position');
    await dial('1');
    await match.getByText(/^Desk cam to /).waitFor();
    await enter();
    await until('it is asked of the head', async () =>
      (await demo.asRun()).some(({ kind, buttonId }) => kind === 'press' && buttonId === 'deskCam.recall'),
    );
    await takes('Destination');
    await dial('4');
    await match.getByText(/^Choose /).waitFor();
    await enter();
    await takes('Source');
    const route = async (digits: string): Promise<void> => {
      await dial(digits);
      await match.getByText(/ to /).waitFor();
      await enter();
    };
    const out = async (number: number): Promise<unknown> =>
      (await demo.standins.exchange.report()).points[`out${number}`];
    await route('3');
    await until('it is routed', async () => (await out(4)) === 3);
    await takes('Crosspoint');
    await match.getByText('Type a destination, then a source').waitFor();
    await route('0502');
    await until('it is routed', async () => (await out(5)) === 2);
    // A code is a code again.
    await takes('Macro');
    await match.getByText('Type a macro’s number or a code').waitFor();
    await page.close();
  });
});

describe('what presses from outside the panels', () => {
  it('a code on the numeric keypad presses a button, and holds it while Enter is held', async () => {
    await choose('deskCam');
    await shortcut({ kind: 'code', code: '82' }, { button: await LEFT() });
    const page = await openScripted('wide');
    await page.keyboard.press('Numpad8');
    await page
      .getByTestId('dial-pad')
      .getByText(/^Nothing yet · 1 longer code$/)
      .waitFor();
    await page.keyboard.press('Numpad2');
    await page.getByTestId('dial-match').getByText(/Left/).waitFor();
    await page.keyboard.down('NumpadEnter');
    await until('the head moves', async () => (await moving()) === true);
    await page.keyboard.up('NumpadEnter');
    await until('the head stands', async () => (await moving()) === false);
    await until('the as-run says by what', async () =>
      (await demo.asRun()).some(({ kind, shortcut: by }) => kind === 'press' && by !== undefined),
    );
  });

  it('Enter right behind the digits presses what they run, never what stood there before; late, it presses nothing and says so', async () => {
    const pressed = async (): Promise<unknown[]> =>
      (await demo.asRun())
        .filter(({ kind, phase }) => kind === 'press' && phase === 'down')
        .map(({ buttonId }) => buttonId);
    await shortcut({ kind: 'code', code: '31' }, { button: demoId('BTN', 6) });
    await shortcut({ kind: 'code', code: '314' }, { button: STAR_CHARTS });
    const page = await openScripted('wide');
    let delay = 300;
    await page.route(/api.dial/, async (route) => {
      await new Promise((next) => setTimeout(next, delay));
      await route.continue();
    });
    const before = (await pressed()).length;
    for (const stroke of ['Numpad3', 'Numpad1']) await page.keyboard.press(stroke);
    await page
      .getByTestId('dial-match')
      .getByText(/1 longer code/)
      .waitFor();
    // In one piece of work: no drawing lies between them.
    await page.evaluate(() => {
      for (const code of ['Numpad4', 'NumpadEnter'])
        for (const type of ['keydown', 'keyup'])
          document.body.dispatchEvent(new KeyboardEvent(type, { code, bubbles: true, cancelable: true }));
    });
    await until('it was pressed', async () => (await pressed()).length === before + 1);
    expect((await pressed()).at(-1)).toBe(STAR_CHARTS);
    delay = 1500;
    for (const stroke of ['Numpad3', 'Numpad1', 'NumpadEnter']) await page.keyboard.press(stroke);
    await page.getByTestId('dial-match').getByText('The engine did not answer: nothing was pressed').waitFor();
    expect(await pressed()).toHaveLength(before + 1);
  });

  it('a MIDI note is learned in three touches, presses once, and is let go once when its keyboard is pulled out', async () => {
    const bench = await openScripted('wide', '/bench');
    await bench.getByRole('button', { name: 'Edit Star charts' }).first().click();
    await bench.getByRole('button', { name: 'Add a shortcut' }).click();
    await bench.getByText('Press it now', { exact: true }).waitFor();
    await play(bench, 'midi', 'keys', [0x90, 60, 90]);
    await bench.getByRole('button', { name: 'Remove the shortcut MIDI note 60, channel 1' }).waitFor();
    // The page shows an edit before the engine has it.
    await until('the note', async () =>
      (await show()).shortcuts.some(
        ({ on }) => on.kind === 'midi' && on.message === 'note' && on.channel === 1 && on.number === 60,
      ),
    );
    await shortcut({ kind: 'midi', message: 'note', channel: 1, number: 61 }, { button: await LEFT() });
    const page = await openScripted('wide');
    const before = await previews();
    await play(page, 'midi', 'keys', [0x90, 60, 90]);
    await play(page, 'midi', 'keys', [0x90, 60, 90]);
    await play(page, 'midi', 'keys', [0x80, 60, 0]);
    await until('the switcher was told', async () => (await previews()) > before);
    await page.getByTestId('key-told').getByText('MIDI note 60, channel 1').waitFor();
    await play(page, 'midi', 'keys', [0x90, 61, 1]);
    await until('the head moves', async () => (await moving()) === true);
    await play(page, 'pull', 'keys');
    await until('the head stands', async () => (await moving()) === false);
    expect(await previews()).toBe(before + 1);
  });

  it('MIDI keys are lit as their caps are: on the device that presses, and nowhere else; a loop presses nothing', async () => {
    await shortcut({ kind: 'midi', message: 'note', channel: 1, number: 70 }, { button: STAR_CHARTS });
    await shortcut({ kind: 'midi', message: 'note', channel: 1, number: 71 }, { button: demoId('BTN', 6) });
    const page = await openScripted('wide');
    await play(page, 'plug', 'loop');
    const lit = (): Promise<Record<string, Record<string, number>>> =>
      page.evaluate(
        () => (window as unknown as { scripted: { lit: Record<string, Record<string, number>> } }).scripted.lit,
      );
    await play(page, 'midi', 'keys', [0x90, 71, 90]);
    await play(page, 'midi', 'keys', [0x80, 71, 0]);
    await until('the key is lit', async () => (await lit()).keys?.['144 71'] === 96);
    await page.waitForTimeout(150);
    await play(page, 'midi', 'loop', [0x90, 70, 90]);
    await play(page, 'midi', 'loop', [0x80, 70, 0]);
    const pressed = async (): Promise<number> =>
      (await demo.asRun()).filter(({ kind, phase }) => kind === 'press' && phase === 'down').length;
    await until('the other key is lit', async () => (await lit()).keys?.['144 70'] === 96);
    expect(await lit()).toMatchObject({ keys: { '144 71': 0, '144 70': 96 }, loop: { '144 70': 96 } });
    expect((await lit()).synth).toBeUndefined();
    const count = await pressed();
    await page.waitForTimeout(500);
    expect(await pressed()).toBe(count);
  });

  it('a pedal holds, and a babbling one presses no more than hands do', async () => {
    await choose('deskCam');
    await shortcut({ kind: 'midi', message: 'control', channel: 1, number: 64 }, { button: await LEFT() });
    await shortcut({ kind: 'midi', message: 'control', channel: 1, number: 67 }, { button: STAR_CHARTS });
    const page = await openScripted('wide');
    for (const value of [10, 70, 127, 90]) await play(page, 'midi', 'keys', [0xb0, 64, value]);
    await until('the head moves', async () => (await moving()) === true);
    await play(page, 'midi', 'keys', [0xb0, 64, 30]);
    await until('the head stands', async () => (await moving()) === false);
    const pressed = async (): Promise<number> =>
      (await demo.asRun()).filter(
        ({ kind, phase, buttonId }) => kind === 'press' && phase === 'down' && buttonId === STAR_CHARTS,
      ).length;
    const before = await pressed();
    await page.evaluate(() => {
      const { scripted } = window as unknown as { scripted: { midi(id: string, bytes: number[]): void } };
      for (let round = 0; round < 1000; round += 1)
        for (const value of [127, 0]) scripted.midi('keys', [0xb0, 67, value]);
    });
    // Thirty a second, less the pedal's own of the same second.
    await until('they arrive', async () => (await pressed()) >= before + 29);
    await page.waitForTimeout(500);
    expect(await pressed()).toBeLessThanOrEqual(before + 30);
  });

  it('a button of a stick presses and holds, chooses no camera then, and lets go when the stick is pulled out', async () => {
    await choose('deskCam');
    await shortcut({ kind: 'stick', button: 1 }, { button: await LEFT() });
    const page = await openScripted('wide');
    await play(page, 'stick', []);
    await page.evaluate(() => window.dispatchEvent(new Event('gamepadconnected')));
    await page.getByText('Joystick moves Desk cam').waitFor();
    await play(page, 'stick', [1]);
    await until('the head moves', async () => (await moving()) === true);
    await play(page, 'stick', null);
    await until('the head stands', async () => (await moving()) === false);
    expect((await (await fetch(`${demo.url}/api/devices/deskCam/points`)).json()) as object).toBeTruthy();
    await play(page, 'stick', [0]);
    await page.getByText('Joystick moves Desk cam').waitFor();
  });

  it('a controller and a lever turn a value once they have met it, and one that floods or is pulled out leaves it where it was', async () => {
    const id = ulid();
    const [panel] = (
      (await (await fetch(`${demo.url}/api/panels`)).json()) as { panels: { strips: { id: string }[] }[] }
    ).panels;
    const dial = { param: 'to', by: 0, min: 0, max: 508, step: 1, unit: '', reads: 'value.meteors' };
    const made = {
      ...PLAIN_BUTTON,
      id,
      stripId: panel?.strips[0]?.id ?? '',
      legend: 'Count of meteors',
      steps: [{ id: 'a', kind: 'set', onFail: 'stop', target: 'value.meteors', to: 0 }],
      dial,
      order: 'zz',
    };
    const edit = {
      editId: ulid(),
      label: 'Count',
      by: 'test',
      changes: [{ entity: 'buttons', id, field: '*', from: null, to: made }],
    };
    expect((await demo.post('/api/edits', edit)).status).toBe(200);
    const set = (to: number) =>
      demo.post('/api/steps/run', {
        name: 'Count',
        steps: [{ id: 'c', kind: 'set', target: 'value.meteors', to }],
        station: 'test',
      });
    await set(200);
    const knob: ShortcutOn = { kind: 'midi', message: 'control', channel: 2, number: 7 };
    await shortcut(knob, { button: id });
    const page = await openScripted('wide');
    const cap = page.getByTestId(`dial-${id}`);
    const shows = (words: string) => cap.getByText(words, { exact: true }).waitFor();
    await shows('200');
    // 200 of 508 stands at 50 of 127.
    await play(page, 'midi', 'keys', [0xb1, 7, 20]);
    await page.getByTestId('key-told').getByText('Count of meteors · turn it up, to 200').waitFor();
    for (const at of [40, 60, 75]) await play(page, 'midi', 'keys', [0xb1, 7, at]);
    await shows('300');
    // A flood: the last one counts, and the engine had twenty a second.
    const before = (await demo.asRun()).filter(({ kind }) => kind === 'run').length;
    await page.evaluate(() => {
      const { scripted } = window as unknown as { scripted: { midi(id: string, bytes: number[]): void } };
      for (let round = 0; round < 1000; round += 1) scripted.midi('keys', [0xb1, 7, round % 128]);
      scripted.midi('keys', [0xb1, 7, 25]);
    });
    await shows('100');
    await play(page, 'midi', 'keys', [0xb1, 7, 26]);
    await play(page, 'pull', 'keys');
    await shows('104');
    expect((await demo.asRun()).filter(({ kind }) => kind === 'run').length - before).toBeLessThan(12);
    await play(page, 'plug', 'keys');
    // Something else changed it meanwhile.
    await set(400);
    await shows('400');
    await play(page, 'midi', 'keys', [0xb1, 7, 27]);
    await page.getByTestId('key-told').getByText('Count of meteors · turn it up, to 400').waitFor();
    await shows('400');

    await shortcut({ kind: 'axis', axis: 3 }, { button: id });
    await play(page, 'lever', [0, 0, 0, 1]);
    await page.waitForTimeout(200);
    await play(page, 'lever', [0, 0, 0, 0.5]);
    await page.getByTestId('key-told').getByText('Stick axis 4').waitFor();
    await play(page, 'lever', [0, 0, 0, -1]);
    await shows('508');
    await play(page, 'stick', null);
    await set(200);
    await shows('200');
  });

  it('counts at its station before everywhere; the list says where, and which clash', async () => {
    const stations = (await (await fetch(`${demo.url}/api/stations`)).json()) as { id: string; name: string }[];
    const gate = stations.find(({ name }) => name === 'Gate room')?.id ?? '';
    const [mix, cut] = [demoId('BTN', 6), demoId('BTN', 7)];
    const on: ShortcutOn = { kind: 'code', code: '5' };
    await shortcut(on, { button: mix });
    await shortcut(on, { button: cut }, gate);
    const dial = async (station: string | null): Promise<unknown> =>
      (
        (await (await fetch(`${demo.url}/api/dial?code=5${station === null ? '' : `&station=${station}`}`)).json()) as {
          runs: unknown;
        }
      ).runs;
    expect(await dial(null)).toEqual({ button: mix });
    expect(await dial(gate)).toEqual({ button: cut });
    await shortcut(on, { button: STAR_CHARTS }, gate);
    const rows = (await (await fetch(`${demo.url}/api/shortcuts`)).json()) as {
      words: string;
      station?: string;
      clashes: string[];
    }[];
    const dialled = rows.filter(({ words }) => words === 'Dial 5');
    expect(dialled.map(({ station, clashes }) => [station ?? null, clashes.length]).sort()).toEqual(
      [
        [null, 0],
        [gate, 1],
        [gate, 1],
      ].sort(),
    );
    const bench = await openScripted('phone', '/bench?list=shortcuts');
    await bench
      .getByLabel('Search: Key or button')
      .or(bench.getByPlaceholder('Key or button'))
      .first()
      .fill('gate room');
    await bench
      .getByRole('button', { name: /^Shortcut Dial 5, .* at Gate room/ })
      .first()
      .click();
    await bench.getByRole('group', { name: 'Counts at' }).getByRole('button', { name: 'Phone' }).click();
    await until('it counts there', async () =>
      ((await (await fetch(`${demo.url}/api/shortcuts`)).json()) as { station?: string }[]).some(
        ({ station }) => station === stations.find(({ name }) => name === 'Phone')?.id,
      ),
    );
  });

  it('the same cap by touch, key, code, note, pedal, stick, HTTP, OSC and pad: each is done once, and the as-run tells them apart', async () => {
    for (const on of [
      { kind: 'key', code: 'KeyJ', shift: false, ctrl: false, alt: false, meta: false },
      { kind: 'code', code: '77' },
      { kind: 'midi', message: 'note', channel: 2, number: 10 },
      { kind: 'midi', message: 'control', channel: 2, number: 64 },
      { kind: 'stick', button: 5 },
    ] as const)
      await shortcut(on, { button: STAR_CHARTS });
    const tokenFor = async (kind: 'bearer' | 'osc'): Promise<string> =>
      String(
        (await demo.post('/api/tokens', { id: ulid(), name: `By ${kind}`, may: [{ button: STAR_CHARTS }], kind })).body
          .token,
      );
    const [bearer, secret] = [await tokenFor('bearer'), await tokenFor('osc')];
    const phone = (await show()).stations.find(({ name }) => name === 'Phone')?.id ?? '';
    expect((await demo.post('/api/pads/place', { serial: 'ways-1', station: phone })).status).toBe(200);
    const padUrl = `${demo.url.replace('http', 'ws')}/api/pad`;
    const pad = ExamplePad.start('--url', padUrl, '--serial', 'ways-1', '--name', 'Pad', '--grid', '8x4');
    const key = await pad.key('Star charts', 8, 4);
    const page = await openScripted('phone');
    await play(page, 'stick', []);
    await page.evaluate(() => window.dispatchEvent(new Event('gamepadconnected')));
    await page.getByText('Joystick moves Desk cam').waitFor();

    const ways: Readonly<Record<string, () => Promise<unknown>>> = {
      touch: () => page.getByTestId(`cap-${STAR_CHARTS}`).tap(),
      key: () => page.keyboard.press('KeyJ'),
      code: async () => {
        for (const stroke of ['Numpad7', 'Numpad7', 'NumpadEnter']) await page.keyboard.press(stroke);
      },
      note: async () => {
        await play(page, 'midi', 'keys', [0x91, 10, 90]);
        await play(page, 'midi', 'keys', [0x81, 10, 0]);
      },
      pedal: async () => {
        await play(page, 'midi', 'keys', [0xb1, 64, 127]);
        await play(page, 'midi', 'keys', [0xb1, 64, 0]);
      },
      stick: async () => {
        await play(page, 'stick', [5]);
        await page.waitForTimeout(150);
        await play(page, 'stick', []);
      },
      http: () =>
        fetch(`${demo.url}/api/run`, {
          method: 'POST',
          headers: { authorization: `Bearer ${bearer}` },
          body: JSON.stringify({ button: STAR_CHARTS }),
        }),
      osc: async () => {
        const { osc } = (await (await fetch(`${demo.url}/api/tokens`)).json()) as { osc: { port: number } };
        const socket = createSocket('udp4');
        const address = `/umbek/${secret}/button/${STAR_CHARTS}`;
        await new Promise((sent) => socket.send(encodeOsc([{ address, args: [] }]), osc.port, '127.0.0.1', sent));
        socket.close();
      },
      pad: () => Promise.resolve(pad.do(`press ${key}`)),
    };
    const first = await previews();
    const downs = async () =>
      (await demo.asRun()).filter(
        ({ kind, phase, buttonId }) => kind === 'press' && phase === 'down' && buttonId === STAR_CHARTS,
      );
    const before = (await downs()).length;
    for (const [at, [name, press]] of Object.entries(ways).entries()) {
      await press();
      await until(`${name} reaches the switcher`, async () => (await previews()) >= first + at + 1);
      // A second touch at once would be the same hand's.
      await page.waitForTimeout(150);
      expect([name, await previews()]).toEqual([name, first + at + 1]);
    }
    const presses = (await downs()).slice(before);
    expect(presses).toHaveLength(9);
    expect(presses.filter(({ shortcut: by }) => by !== undefined)).toHaveLength(5);
    expect(presses.slice(6).map(({ station }) => String(station).replace(/#\d+$/, ''))).toEqual([
      'By bearer',
      'By osc',
      'Pad',
    ]);
    await pad.kill();
  });
});
