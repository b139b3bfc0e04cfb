import { createSocket } from 'node:dgram';
import { demoId } from '@umbek/demo';
import { ulid } from 'ulid';
import { ROUTES } from '../apps/server/api/table';
import { WebSocket } from 'ws';
import { freshDatabase } from './support/database';
import { Demo, freshFolder, until } from './support/demo';

jest.setTimeout(60_000);
afterAll(() => Demo.closeAll());

let demo: Demo;
beforeAll(async () => {
  demo = await Demo.start(await freshDatabase(), freshFolder());
});

const raw = async (
  method: string,
  path: string,
  body?: string,
): Promise<{ status: number; body: Record<string, unknown> }> => {
  const response = await fetch(`${demo.url}${path}`, {
    method,
    headers: { 'content-type': 'application/json' },
    ...(body === undefined ? {} : { body }),
  });
  return { status: response.status, body: (await response.json()) as Record<string, unknown> };
};
const good = () => ({ pressId: ulid(), buttonId: demoId('BTN', 20), phase: 'down', station: 'test' });

describe('every route', () => {
  it.each<[string, string, string | undefined, number, string, string | undefined]>([
    ['POST', '/api/press', '{"pressId":', 400, 'bad-json', ''],
    ['POST', '/api/press', '[]', 400, 'bad-field', ''],
    ['POST', '/api/press', JSON.stringify({ ...good(), person: 'a\0b' }), 400, 'bad-field', ''],
    ['POST', '/api/press', JSON.stringify({ ...good(), buttonId: '\\u0000' }), 404, 'unknown-button', 'buttonId'],
    ['POST', '/api/press', JSON.stringify({ ...good(), phase: 'sideways' }), 400, 'bad-field', 'phase'],
    ['POST', '/api/press', JSON.stringify({ ...good(), pressId: 'short' }), 400, 'bad-field', 'pressId'],
    ['POST', '/api/press', JSON.stringify({ ...good(), station: 'x'.repeat(121) }), 400, 'bad-field', 'station'],
    ['POST', '/api/press', JSON.stringify({ ...good(), extra: 1 }), 400, 'bad-field', ''],
    ['POST', '/api/press', JSON.stringify({ ...good(), buttonId: 'nobody' }), 404, 'unknown-button', 'buttonId'],
    ['POST', '/api/press', JSON.stringify({ ...good(), at: Date.now() - 60_000 }), 409, 'too-old', 'at'],
    ['POST', '/api/press', JSON.stringify({ ...good(), station: 'x'.repeat(1_100_000) }), 413, 'too-large', ''],
    ['POST', '/api/rehearse', '{}', 400, 'bad-field', ''],
    ['POST', '/api/rehearse', JSON.stringify({ macroId: 'nobody' }), 404, 'unknown-macro', 'macroId'],
    ['POST', '/api/rehearse', JSON.stringify({ buttonId: 'nobody' }), 404, 'unknown-button', 'buttonId'],
    ['POST', '/api/stop-all', '{}', 400, 'bad-field', 'station'],
    ['POST', '/api/edits', '{"editId":3}', 400, 'bad-field', 'editId'],
    ['GET', '/api/as-run?after=-1', undefined, 400, 'bad-field', 'after'],
    ['GET', '/api/as-run?limit=many', undefined, 400, 'bad-field', 'limit'],
    ['GET', '/api/runs/nobody', undefined, 404, 'unknown-run', 'runId'],
    ['GET', '/api/log?limit=many', undefined, 400, 'bad-field', 'limit'],
    ['GET', '/api/devices/nobody/messages', undefined, 404, 'unknown-device', 'key'],
    [
      'POST',
      '/api/send',
      '{"pressId":"01J0C0RVANEH1PRESS00009001","phase":"down","device":"nobody","command":"cut","station":"test"}',
      409,
      'device-silent',
      undefined,
    ],
    [
      'POST',
      '/api/send',
      '{"pressId":"01J0C0RVANEH1PRESS00009002","phase":"down","device":"switcher","command":"mix","params":{"frames":0},"station":"test"}',
      400,
      'bad-field',
      'params.frames',
    ],
    [
      'POST',
      '/api/try',
      '{"pressId":"01J0C0RVANEH1PRESS00009003","buttonId":"nobody","stepId":"a","station":"test"}',
      404,
      'unknown-button',
      'buttonId',
    ],
    ['POST', '/api/undo', '{"by":7}', 400, 'bad-field', 'by'],
    ['POST', '/api/show/reset', '{"to":"nowhere"}', 400, 'bad-field', 'to'],
    ['POST', '/api/versions', '{"id":"1","name":"x"}', 400, 'bad-field', 'id'],
    ['POST', '/api/versions', '{"id":"01J0C0RVANEH1PRESS00009004","name":"  "}', 400, 'bad-field', 'name'],
    ['GET', '/api/versions/nobody', undefined, 404, 'unknown-version', 'id'],
    ['GET', '/api/versions/nobody/file', undefined, 404, 'unknown-version', 'id'],
    ['DELETE', '/api/versions/nobody', undefined, 404, 'unknown-version', 'id'],
    ['POST', '/api/runs/nobody/stop', '{"station":"test"}', 404, 'unknown-run', 'runId'],
    [
      'POST',
      '/api/profiles/check',
      '{"format":"umbek-profile","version":1,"name":"X","transport":{"kind":"pigeon"}}',
      400,
      'bad-field',
      'transport.kind',
    ],
    [
      'POST',
      '/api/profiles/check',
      '{"format":"umbek-profile","version":1,"name":"X","transport":{"kind":"tcp"},"points":[{"key":"a","words":"A","from":{"as":"text","pattern":"("}}]}',
      400,
      'bad-pattern',
      'points.0.from.pattern',
    ],
    ['GET', '/api/profiles/nobody/file', undefined, 404, 'unknown-profile', 'key'],
    ['GET', '/api/devices/switcher/travel', undefined, 404, 'unknown-device', 'key'],
    ['POST', '/api/steps/run', '{"name":"x","station":"test","steps":[]}', 400, 'bad-field', 'steps'],
    [
      'POST',
      '/api/steps/run',
      '{"name":"x","station":"test","steps":[{"id":"a","kind":"command","device":"nobody","command":"cut"}]}',
      400,
      'broken-steps',
      'steps.0.device',
    ],
    ['POST', '/api/standins/switcher/faults', '{"dropIn":2}', 400, 'bad-field', 'dropIn'],
    ['GET', '/api/devices/nobody/files/x', undefined, 404, 'unknown-device', 'key'],
    ['GET', '/api/nothing', undefined, 404, 'not-found', undefined],
  ])('%s %s refuses bad input number %# with the path and a mend', async (method, path, body, status, code, at) => {
    const answer = await raw(method, path, body);
    expect([answer.status, answer.body.code]).toEqual([status, code]);
    expect(answer.body.mend).toEqual(expect.any(String));
    if (at !== undefined) expect(answer.body.path).toBe(at);
  });

  it('has sent and stored nothing of all that', async () => {
    expect((await demo.standins.switcher.report()).effects).toEqual([]);
    expect((await demo.asRun()).filter((entry) => entry.kind === 'runStart')).toEqual([]);
  });

  it('is described by an OpenAPI 3.1 document derived from the same schemas', async () => {
    const document = (await raw('GET', '/api/openapi.json')).body as {
      openapi: string;
      paths: Record<string, unknown>;
      components: { schemas: Record<string, { required?: string[] }> };
    };
    expect(document.openapi).toBe('3.1.0');
    // Both come from one table: what is served is what is described.
    expect(Object.keys(document.paths).sort()).toEqual(
      [...new Set(Object.keys(ROUTES).map((key) => key.split(' ')[1]))].sort(),
    );
    expect(Object.keys(document.paths)).toHaveLength(90);
    expect(document.components.schemas.Press?.required).toEqual(['pressId', 'buttonId', 'phase', 'station']);
  });
});

describe('an edit', () => {
  const macroId = demoId('MAC', 1);
  const AT_FIRST = [
    { id: 'out', onFail: 'stop', kind: 'command', device: 'captions', command: 'nameOut', params: { ms: 300 } },
  ];
  const change = (steps: unknown, from: unknown = AT_FIRST) => ({
    editId: ulid(),
    label: 'Steps',
    changes: [
      {
        entity: 'macros',
        id: macroId,
        field: 'stopSteps',
        from,
        to: steps,
      },
    ],
  });

  const faults = async (): Promise<Record<string, unknown>[]> =>
    (await raw('GET', '/api/show/faults')).body.faults as Record<string, unknown>[];

  it('that makes a macro call itself is taken, and listed with what refuses its press', async () => {
    const answer = await demo.post('/api/edits', change([{ id: 'again', kind: 'run', macro: macroId }]));
    expect([answer.status, answer.body.revision]).toEqual([200, 2]);
    expect(await faults()).toContainEqual(expect.objectContaining({ code: 'macro-circle', weight: 'press' }));
  });

  it('with an unknown name in a condition is taken, and the list tells where', async () => {
    const answer = await demo.post(
      '/api/edits',
      change(
        [{ id: 'w', kind: 'wait', until: 'deskCam.arived == "x"', timeoutMs: 100 }],
        [{ id: 'again', onFail: 'stop', kind: 'run', macro: macroId, params: {} }],
      ),
    );
    expect(answer.body).toMatchObject({ revision: 3 });
    expect(await faults()).toEqual([
      expect.objectContaining({
        code: 'unknown-name',
        weight: 'press',
        path: 'macros.0.stopSteps.0.until',
        message: expect.stringContaining('Desk cam has no point arived'),
      }),
    ]);
  });

  it('is taken once, however often it is sent, and conflicts are told with the newer value', async () => {
    const rename = (from: string, to: string) => ({
      editId: ulid(),
      label: 'Rename',
      changes: [{ entity: 'panels', id: demoId('PAN', 1), field: 'name', from, to }],
    });
    const first = rename('Main', 'First');
    expect((await demo.post('/api/edits', first)).body).toMatchObject({ revision: 4 });
    expect((await demo.post('/api/edits', first)).body).toMatchObject({ revision: 4 });
    const conflict = await demo.post('/api/edits', rename('Main', 'Other'));
    expect([conflict.status, conflict.body.code, conflict.body.newer]).toEqual([409, 'conflict', 'First']);
  });
});

describe('the live socket', () => {
  const dial = (headers: Record<string, string> = {}) =>
    new WebSocket(`${demo.url.replace('http', 'ws')}/api/live`, { headers });

  it('is closed to pages of another origin, as the API is', async () => {
    const refused = await new Promise((resolve) => dial({ origin: 'http://elsewhere.example' }).once('error', resolve));
    expect(String(refused)).toContain('403');
    const response = await fetch(`${demo.url}/api/stop-all`, {
      method: 'POST',
      headers: { origin: 'http://elsewhere.example', 'content-type': 'application/json' },
      body: '{"station":"x"}',
    });
    expect(response.status).toBe(403);
  });

  it.each([
    ['not json', 'bad-json'],
    ['{"type":"shout"}', 'bad-field'],
    ['{"type":"press"}', 'bad-field'],
    [
      JSON.stringify({ type: 'press', pressId: '01J0C0RVANEH1PRESS00000001', buttonId: 'x', phase: 'down' }),
      'no-hello',
    ],
  ])('answers %s with words', async (text, code) => {
    const socket = dial();
    await new Promise((open) => socket.once('open', open));
    socket.send(text);
    const answer = await new Promise<string>((resolve) => socket.once('message', (data) => resolve(String(data))));
    expect(JSON.parse(answer)).toMatchObject({ type: 'error', error: { code, mend: expect.any(String) } });
    socket.close();
  });

  it('tells a client that comes back how things are now', async () => {
    const hello = { type: 'hello', station: 'reader' };
    const first = dial();
    await new Promise((open) => first.once('open', open));
    first.send(JSON.stringify(hello));
    const snapshot = JSON.parse(
      await new Promise<string>((resolve) => first.once('message', (data) => resolve(String(data)))),
    ) as { type: string; epoch: number; n: number };
    expect(snapshot.type).toBe('snapshot');
    first.close();
    await demo.post('/api/press', { ...good(), buttonId: demoId('BTN', 2) });
    await until('the switcher has it', async () => (await demo.standins.switcher.report()).points.preview === 2);
    await new Promise((next) => setTimeout(next, 100));
    const second = dial();
    await new Promise((open) => second.once('open', open));
    const messages: { type: string; n: number; points: Record<string, unknown> }[] = [];
    second.on('message', (data) => messages.push(JSON.parse(String(data)) as (typeof messages)[number]));
    second.send(JSON.stringify({ ...hello, resume: { epoch: snapshot.epoch, n: snapshot.n } }));
    await until('what was missed', async () => messages.length > 0);
    expect(messages[0]).toMatchObject({ type: 'snapshot', points: { 'switcher.preview': 2 } });
    second.close();
  });
});

describe('noise on the wire', () => {
  it('is counted and visible at drivers and stand-ins, and brings nothing down', async () => {
    const health = await demo.health();
    const port = (key: string): number =>
      Number(health.devices.find((device) => device.key === key)?.address.split(':')[1]);
    const socket = createSocket('udp4');
    let seed = 7;
    const noise = (): Buffer =>
      Buffer.from(
        Array.from(
          { length: (seed = (seed * 48_271) % 2_147_483_647) % 60 },
          () => (seed = (seed * 48_271) % 2_147_483_647) % 256,
        ),
      );
    for (let round = 0; round < 300; round += 1)
      for (const key of ['deskCam', 'switcher', 'captions']) socket.send(noise(), port(key), '127.0.0.1');
    await until(
      'counted at the stand-ins',
      async () =>
        (await demo.standins.deskCam.report()).malformed > 200 &&
        (await demo.standins.switcher.report()).malformed > 200,
    );
    // A driver's socket is connected to its device and takes nothing from others; what it does with noise from there is a test of its own.
    const after = await demo.health();
    expect(after.devices.filter((device) => device.state !== 'reached')).toEqual([]);
    socket.close();
  });
});
