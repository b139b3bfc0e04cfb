import { demoId } from '@umbek/demo';
import type { HistoryReply } from '@umbek/protocol';
import { ulid } from 'ulid';
import { freshDatabase } from './support/database';
import { Demo, freshFolder, until } from './support/demo';

jest.setTimeout(60_000);
afterAll(() => Demo.closeAll());

const INES = demoId('BTN', 7);

describe('the edit log', () => {
  let demo: Demo;
  beforeAll(async () => {
    demo = await Demo.start(await freshDatabase(), freshFolder());
  });

  const edit = (by: string, id: string, field: string, from: unknown, to: unknown) =>
    demo.post('/api/edits', {
      editId: ulid(),
      label: `${field} to ${String(to)}`.slice(0, 100),
      by,
      changes: [{ entity: 'buttons', id, field, from, to }],
    });
  const legend = async (): Promise<string | undefined> =>
    (
      (await (await fetch(`${demo.url}/api/show`)).json()) as { buttons: { id: string; legend: string }[] }
    ).buttons.find((button) => button.id === INES)?.legend;
  const history = async (by: string) => (await (await fetch(`${demo.url}/api/edits?by=${by}`)).json()) as HistoryReply;

  it('takes back and does again by the engineer, and tells what is next', async () => {
    expect((await edit('Ada', INES, 'legend', 'Ines close', 'One')).status).toBe(200);
    expect((await edit('Ada', INES, 'legend', 'One', 'Two')).status).toBe(200);
    expect((await edit('Bo', INES, 'note', 'arrive, cut, name', 'note of Bo')).status).toBe(200);
    expect((await demo.post('/api/undo', { by: 'Ada' })).body).toMatchObject({ label: 'legend to Two', kept: [] });
    expect(await legend()).toBe('One');
    await demo.post('/api/undo', { by: 'Ada' });
    expect(await legend()).toBe('Ines close');
    expect(await demo.post('/api/undo', { by: 'Ada' })).toMatchObject({
      status: 409,
      body: { code: 'nothing-to-undo' },
    });
    await demo.post('/api/redo', { by: 'Ada' });
    expect(await legend()).toBe('One');
    expect(await history('Ada')).toMatchObject({ undo: 'legend to One', redo: 'legend to Two' });
    // A new edit makes an end of what could be done again.
    await edit('Ada', INES, 'legend', 'One', 'Three');
    expect(await history('Ada')).toMatchObject({ undo: 'legend to Three', redo: null });
    expect(
      (await history('Ada')).entries.map((entry) => `${entry.by} ${entry.kind} ${entry.label}`).slice(0, 3),
    ).toEqual(['Ada edit legend to Three', 'Ada redo Again: legend to One', 'Ada undo Undo: legend to One']);
  });

  it('leaves alone what another engineer changed since, and says so', async () => {
    await edit('Bo', INES, 'legend', 'Three', 'Four');
    expect((await demo.post('/api/undo', { by: 'Ada' })).body).toMatchObject({
      kept: ['legend of Four was changed since.'],
    });
    expect(await legend()).toBe('Four');
  });

  it('refuses a field that was changed meanwhile, with the newer value', async () => {
    expect(await edit('Ada', INES, 'legend', 'Three', 'Five')).toMatchObject({
      status: 409,
      body: { code: 'conflict', newer: 'Four' },
    });
  });

  it('takes legends of right-to-left text and emoji, and refuses 500 characters with the mend', async () => {
    expect((await edit('Ada', INES, 'legend', 'Four', 'שלום 🌠 مرحبا')).status).toBe(200);
    expect(await edit('Ada', INES, 'legend', 'שלום 🌠 مرحبا', 'x'.repeat(500))).toMatchObject({
      status: 400,
      body: { path: 'changes.0.to.legend', mend: 'Give at most 120.' },
    });
    expect(await legend()).toBe('שלום 🌠 مرحبا');
  });

  it('is whole after a restart', async () => {
    process.kill(demo.supervisor.pid() ?? 0, 'SIGKILL');
    await until('back', async () => (await demo.health()).status === 'ok');
    expect(await legend()).toBe('שלום 🌠 مرحبا');
    expect((await history('Ada')).undo).toBe('legend to שלום 🌠 مرحبا');
  });
});

describe('commands without a button', () => {
  it('go to the device, are told in its messages, and are in the log under the person', async () => {
    const demo = await Demo.start(await freshDatabase(), freshFolder());
    const send = (device: string, command: string, params: Record<string, unknown>, phase = 'down') =>
      demo.post('/api/send', { pressId: ulid(), phase, device, command, params, station: 'rig', person: 'Ada' });
    expect((await send('lawnCam', 'whiteBalance', { mode: 'outdoor' })).status).toBe(202);
    await until(
      'white balance is read back',
      async () => (await demo.standins.lawnCam.report()).points.whiteBalance === 'outdoor',
    );
    expect((await send('lawnCam', 'focus', { focus: 30 })).status).toBe(202);
    await until('focus', async () => (await demo.standins.lawnCam.report()).points.focus === 30);
    expect((await demo.standins.lawnCam.report()).points).toMatchObject({ focusMode: 'manual', power: true });
    expect(await send('lawnCam', 'whiteBalance', { mode: 'purple' })).toMatchObject({
      status: 400,
      body: { path: 'params.mode' },
    });
    expect((await send('switcher', 'keyer', { keyer: 2, on: true })).status).toBe(202);
    await until('keyer', async () => (await demo.standins.switcher.report()).points.keyer2 === true);
    const { messages } = (await (await fetch(`${demo.url}/api/devices/lawnCam/messages`)).json()) as {
      messages: { words: string; direction: string; bytes: string }[];
    };
    expect(messages.find((message) => message.words.includes('whiteBalance'))).toMatchObject({
      direction: 'out',
      bytes: expect.stringMatching(/81 01 04 35 02 FF$/) as unknown,
    });
    const { entries } = (await (await fetch(`${demo.url}/api/log?person=Ada&kind=press`)).json()) as {
      entries: { buttonId: string; person: string }[];
    };
    expect(entries.map((entry) => entry.buttonId)).toEqual(['switcher.keyer', 'lawnCam.focus', 'lawnCam.whiteBalance']);
    const commands = (await (
      await fetch(`${demo.url}/api/log?device=switcher&kind=command,outcome&limit=2`)
    ).json()) as { entries: { kind: string }[] };
    expect(commands.entries.map((entry) => entry.kind)).toEqual(['outcome', 'command']);
    await demo.close();
  });
});

describe('a show file', () => {
  it('goes out, the show is wiped, and comes in again as it was; what does not fit is refused as a whole', async () => {
    const demo = await Demo.start(await freshDatabase(), freshFolder());
    const show = async () => (await (await fetch(`${demo.url}/api/show`)).json()) as Record<string, unknown>;
    const { revision: _before, ...document } = await show();
    const file = (await (await fetch(`${demo.url}/api/show/file`)).json()) as {
      document: { buttons: { steps: unknown[] }[]; devices: { port: number }[] };
    };
    expect((await demo.post('/api/show/reset', { to: 'empty' })).body).toMatchObject({ name: 'New show' });
    expect((await demo.health()).devices).toEqual([]);
    expect((await demo.post('/api/show', file)).body).toMatchObject({ name: 'The Long Night at Corvane Hill' });
    const { revision: _after, ...again } = await show();
    expect(again).toEqual(document);
    await until(
      'all reached',
      async () =>
        (await demo.health()).devices.length === file.document.devices.length && (await demo.health()).status === 'ok',
    );
    expect(
      (await demo.post('/api/press', { pressId: ulid(), buttonId: demoId('BTN', 20), phase: 'down', station: 'test' }))
        .status,
    ).toBe(202);

    const refused = async (body: unknown) => (await demo.post('/api/show', body)).body;
    expect(await refused({ ...file, version: 9 })).toMatchObject({ code: 'newer-file' });
    expect(await refused({ some: 'thing' })).toMatchObject({ code: 'not-a-show' });
    expect(
      await refused({
        ...file,
        document: { ...file.document, devices: file.document.devices.map((device) => ({ ...device, port: 99_999 })) },
      }),
    ).toMatchObject({ code: 'bad-field', path: 'document.devices.0.port' });
    const text = async (body: string) => {
      const response = await fetch(`${demo.url}/api/show`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body,
      });
      return [response.status, ((await response.json()) as { code: string }).code];
    };
    expect(await text('{"format":"umbek-show","version":1,')).toEqual([400, 'bad-json']);
    // Steps in steps, five thousand levels deep.
    const deep = `${'{"id":"x","kind":"together","steps":['.repeat(5000)}{"id":"x","kind":"pause","length":{"ms":1}}${']}'.repeat(5000)}`;
    const hostile = JSON.stringify({
      ...file,
      document: { ...file.document, buttons: [{ ...file.document.buttons[0], steps: ['DEEP'] }] },
    }).replace('"DEEP"', deep);
    expect(await text(hostile)).toEqual([400, 'too-deep']);
    expect(await text(JSON.stringify({ ...file, savedAt: 'x'.repeat(21_000_000) }))).toEqual([413, 'too-large']);
    const { revision: _end, ...untouched } = await show();
    expect(untouched).toEqual(document);
    expect((await demo.post('/api/show/bring-back', {})).body).toMatchObject({ name: 'New show' });

    // What only does not hold together is taken: the one button refuses its press, and the list tells why.
    const call = { id: 'a', onFail: 'stop', kind: 'command', device: 'nobody', command: 'cut', params: {} };
    const broken = { ...file.document, buttons: [{ ...file.document.buttons[0], steps: [call] }] };
    expect(await refused({ ...file, document: broken })).toMatchObject({ name: 'The Long Night at Corvane Hill' });
    const { faults } = (await (await fetch(`${demo.url}/api/show/faults`)).json()) as { faults: unknown[] };
    expect(faults).toContainEqual(
      expect.objectContaining({ code: 'dangling', path: 'buttons.0.steps.0.device', weight: 'press' }),
    );
    const { status } = await demo.post('/api/press', {
      pressId: ulid(),
      buttonId: demoId('BTN', 1),
      phase: 'down',
      station: 'test',
    });
    expect(status).toBe(400);
    await demo.close();
  });
});
