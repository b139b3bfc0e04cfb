import { createSocket } from 'node:dgram';
import { demoId } from '@umbek/demo';
import type { ShowDocument } from '@umbek/core/show';
import { decodeOsc, encodeOsc } from '@umbek/wire/osc';
import { ulid } from 'ulid';
import { freshDemo, openAt, sizes, useBrowser } from './support/browser';
import { type Demo, until } from './support/demo';

jest.setTimeout(120_000);
useBrowser();

let demo: Demo;
beforeAll(async () => (demo = await freshDemo()));

interface Answer {
  readonly status: number;
  readonly body: Record<string, unknown>;
  readonly headers: Headers;
}
const run = async (token: string | null, body: unknown, more: Record<string, string> = {}): Promise<Answer> => {
  const response = await fetch(`${demo.url}/api/run`, {
    method: 'POST',
    headers: { ...(token === null ? {} : { authorization: `Bearer ${token}` }), ...more },
    body: typeof body === 'string' ? body : JSON.stringify(body),
  });
  return {
    status: response.status,
    body: (await response.json()) as Record<string, unknown>,
    headers: response.headers,
  };
};
const tokenFor = async (name: string, may: object[] | null): Promise<string> => {
  const { status, body } = await demo.post('/api/tokens', { id: ulid(), name, may });
  expect(status).toBe(201);
  return String(body.token);
};
const show = async (): Promise<ShowDocument> => (await (await fetch(`${demo.url}/api/show`)).json()) as ShowDocument;
const effects = async (command: string): Promise<number> =>
  (await demo.standins.switcher.report()).effects.filter((effect) => effect.command === command).length;
const CHARTS = demoId('BTN', 5);

describe.each(sizes)('a token (%s)', (size) => {
  const name = size === 'phone' ? 'Sound desk' : 'Light desk';

  it('is made for what it may run, told once, runs that and nothing else, and is revoked', async () => {
    const [macro] = (await show()).macros;
    if (macro === undefined) throw new Error('The demo has no macro.');
    const page = await openAt(demo.url, size, '/bench?list=shortcuts');
    await page.getByRole('button', { name: 'Other gear' }).click();
    if (size === 'phone') await page.getByText('No token yet: no other gear runs anything here.').waitFor();
    await page.getByRole('button', { name: 'New token' }).click();
    await page.getByLabel('Name of the gear, such as Sound desk').fill(name);
    await page.getByRole('button', { name: 'Make the token' }).click();
    await page.getByText('Choose first what it may run.').waitFor();
    await page.getByRole('button', { name: 'A button, macro or trigger' }).click();
    await page.getByPlaceholder('Search').fill('Star charts');
    await page.getByRole('button', { name: 'Sources · Star charts', exact: true }).first().click();
    await page
      .getByRole('button', { name: /^(Done|Close)$/ })
      .first()
      .click();
    await page.getByRole('button', { name: 'Leave out Main · Sources · Star charts' }).waitFor();
    await page.getByRole('button', { name: 'Make the token' }).click();
    const token = await page.getByTestId('token').innerText();
    expect(token).toMatch(/^umbek_[A-Za-z0-9_-]{43}$/);
    await page.getByRole('button', { name: 'I have it' }).click();
    await page.getByText('Runs Main · Sources · Star charts.').waitFor();
    expect(await page.getByText(token).count()).toBe(0);

    const before = await effects('preview');
    const accepted = await run(token, { button: CHARTS });
    expect([accepted.status, accepted.body.accepted, typeof accepted.body.runId]).toEqual([202, true, 'string']);
    await until('it is on preview', async () => (await effects('preview')) === before + 1);
    // The as-run says whose press it was.
    await until('it stands in the log', async () => {
      const { entries } = (await (await fetch(`${demo.url}/api/log?kind=press`)).json()) as {
        entries: { station?: string; buttonId?: string }[];
      };
      return entries[0]?.station === name && entries[0].buttonId === CHARTS;
    });
    expect(await run(token, { macro: macro.number })).toMatchObject({ status: 403, body: { code: 'not-given' } });
    await page
      .getByText(/last used/)
      .first()
      .waitFor({ timeout: 10_000 });

    await page.getByRole('button', { name: `Revoke the token of ${name}` }).click();
    await page.getByRole('button', { name: 'Revoke it' }).click();
    await page.getByText(`The token of ${name} is revoked.`, { exact: false }).waitFor();
    expect(await run(token, { button: CHARTS })).toMatchObject({ status: 401, body: { code: 'unknown-token' } });
    expect(await effects('preview')).toBe(before + 1);
  });
});

describe('a run from other gear', () => {
  it('wants a token before anything is read, from whichever page it comes', async () => {
    const none = await run(null, '{ this is no JSON');
    expect([none.status, none.body.code, none.headers.get('www-authenticate')]).toEqual([
      401,
      'unknown-token',
      'Bearer',
    ]);
    expect((await run('umbek_guess', { button: CHARTS })).status).toBe(401);
    const token = await tokenFor('Own page', null);
    expect(
      await run(token, { button: CHARTS }, { origin: 'http://elsewhere.example', 'sec-fetch-site': 'cross-site' }),
    ).toMatchObject({ status: 403, body: { code: 'foreign-origin' } });
  });

  it('with the same run key is the same run, also after the engine died', async () => {
    const token = await tokenFor('Automation', null);
    const before = await effects('preview');
    const body = { button: CHARTS, runKey: 'take 7' };
    const answers = await Promise.all([run(token, body), run(token, body), run(token, body)]);
    expect(answers.map(({ status }) => status)).toEqual([202, 202, 202]);
    expect(new Set(answers.map(({ body: { runId } }) => runId)).size).toBe(1);
    await until('done once', async () => (await effects('preview')) === before + 1);
    process.kill(demo.supervisor.pid() ?? 0, 'SIGKILL');
    await until('it is back', async () => (await demo.health()).devices.every(({ state }) => state === 'reached'));
    // The token is known to the new engine as well.
    const again = await until('it answers', async () => {
      const answer = await run(token, body);
      return answer.status === 503 ? null : answer;
    });
    expect(again).toMatchObject({ status: 202, body: { runId: answers[0]?.body.runId } });
    await new Promise((next) => setTimeout(next, 300));
    expect(await effects('preview')).toBe(before + 1);
    expect((await run(token, { ...body, runKey: 'take 8' })).status).toBe(202);
    await until('another one', async () => (await effects('preview')) === before + 2);
  });

  it('gives a macro its parameters, and is refused in words where it does not fit', async () => {
    const id = ulid();
    const steps = [
      {
        id: 'a',
        onFail: 'stop',
        kind: 'command',
        device: 'switcher',
        command: 'preview',
        params: { source: { cel: 'param.source' } },
      },
    ];
    const macro = {
      id,
      number: 77,
      name: 'To preview',
      folder: '',
      params: [{ key: 'source', start: 'deskCam' }],
      steps,
      stopSteps: [],
      atStop: 'steps',
      again: 'startOver',
      owns: [],
    };
    const made = await demo.post('/api/edits', {
      editId: ulid(),
      label: 'Macro 77',
      by: 'Ada',
      changes: [{ entity: 'macros', id, field: '*', from: null, to: macro }],
    });
    expect(made.status).toBe(200);
    const token = await tokenFor('Newsroom', null);
    const preview = async () => (await demo.standins.switcher.report()).points.preview;
    const inputOf = async (key: string) => (await show()).sources.find((source) => source.key === key)?.input;
    expect((await run(token, { macro: 77, params: { source: 'lawnCam' } })).status).toBe(202);
    const lawn = await inputOf('lawnCam');
    await until('given', async () => (await preview()) === lawn);
    expect((await run(token, { macro: id })).status).toBe(202);
    const desk = await inputOf('deskCam');
    await until('as it begins', async () => (await preview()) === desk);
    const hold = (await show()).buttons.find((button) => button.mode === 'hold');
    for (const [body, status, code, words] of [
      [{ macro: 77, params: { colour: 'red' } }, 400, 'bad-field', 'Macro 77 has no parameter colour.'],
      [{ macro: 99_998 }, 404, 'unknown-macro', 'There is no macro 99998.'],
      [{ button: '01J0C0RVANEH1BVTT0N0000099' }, 404, 'unknown-button', /^There is no button/],
      [{ button: hold?.id }, 409, 'not-held', /is held or turned by a hand, and a request has none\.$/],
      [{}, 400, 'bad-field', /./],
      [{ macro: 77, button: CHARTS }, 400, 'bad-field', /./],
      [{ macro: 77, params: { source: { cel: 'true' } } }, 400, 'bad-field', /./],
    ] as const)
      expect([body, await run(token, body)]).toMatchObject([
        body,
        {
          status,
          body: { code, message: typeof words === 'string' ? words : (expect.stringMatching(words) as string) },
        },
      ]);
  });

  it('that comes in a storm is slowed down; hands are not', async () => {
    const token = await tokenFor('Babbler', null);
    // As many as it takes: a busy machine sends fewer a second.
    const refused = await until('too many', async () => {
      const answers = await Promise.all(Array.from({ length: 200 }, () => run(token, { macro: 77 })));
      return answers.find(({ status }) => status !== 202);
    });
    expect(refused).toMatchObject({ status: 429, body: { code: 'slow-down' } });
    const press = await demo.post('/api/press', {
      pressId: ulid(),
      buttonId: demoId('BTN', 6),
      phase: 'down',
      station: 'hand',
    });
    expect(press.status).toBe(202);
  });
});

describe('a link for gear that only opens an address', () => {
  const linkFor = async (may: object[] | null): Promise<{ status: number; body: Record<string, unknown> }> =>
    demo.post('/api/tokens', { id: ulid(), name: 'Wall panel', may, kind: 'link' });
  const open = (link: string, init: RequestInit = {}): Promise<Response> => fetch(`${demo.url}/api/run/${link}`, init);

  it('runs its one thing, never from another origin, ahead of a person or by a look at it, and is revoked', async () => {
    const id = ulid();
    const made = await demo.post('/api/tokens', { id, name: 'Wall panel', may: [{ button: CHARTS }], kind: 'link' });
    const link = String(made.body.token);
    const before = await effects('preview');
    for (const headers of [
      { origin: 'http://elsewhere.example' },
      { 'sec-fetch-site': 'cross-site' },
      { 'sec-purpose': 'prefetch;prerender' },
    ] as Record<string, string>[])
      expect((await open(link, { headers })).ok).toBe(false);
    expect((await open(link, { method: 'HEAD' })).ok).toBe(false);
    expect((await open(link, { method: 'POST', body: '{}' })).ok).toBe(false);
    expect((await run(link, { button: CHARTS })).status).toBe(401);
    const opened = await open(link);
    expect([opened.status, opened.headers.get('cache-control')]).toEqual([202, 'no-store']);
    await until('it was run once', async () => (await effects('preview')) === before + 1);
    await fetch(`${demo.url}/api/tokens/${id}`, { method: 'DELETE' });
    expect(await open(link).then(async (reply) => [reply.status, await reply.json()])).toMatchObject([
      401,
      { message: 'This link is not known here, or was revoked.' },
    ]);
    expect(await effects('preview')).toBe(before + 1);
  });

  it('is for one thing alone', async () => {
    for (const may of [[{ button: CHARTS }, { macro: ulid() }], null])
      expect(await linkFor(may)).toMatchObject({
        status: 400,
        body: { message: 'may: A link runs one button, macro or trigger. Choose one.' },
      });
    const bearer = await tokenFor('Light desk', [{ button: CHARTS }]);
    expect((await open(bearer)).status).toBe(401);
  });

  it('is made at the Bench, shown once with its whole address', async () => {
    const page = await openAt(demo.url, 'phone', '/bench?list=shortcuts&v=gear');
    await page.getByRole('button', { name: 'New token' }).click();
    await page.getByLabel('Name of the gear, such as Sound desk').fill('Door panel');
    await page.getByText('A link that runs one thing', { exact: true }).click();
    await page.getByRole('button', { name: 'A button, macro or trigger' }).click();
    await page.getByPlaceholder('Search').fill('Star charts');
    await page.getByRole('button', { name: 'Sources · Star charts', exact: true }).first().click();
    await page.getByRole('button', { name: 'Leave out Main · Sources · Star charts' }).waitFor();
    await page.getByRole('button', { name: 'Make the token' }).click();
    const link = (await page.getByTestId('token').textContent()) ?? '';
    expect(link.startsWith(`${demo.url}/api/run/umbek_`)).toBe(true);
    const before = await effects('preview');
    expect((await fetch(link)).status).toBe(202);
    await until('it was run', async () => (await effects('preview')) > before);
    await page.getByText('A link that runs Main · Sources · Star charts.').waitFor();
  });
});

describe.each(sizes)('OSC of other gear (%s)', (size) => {
  it('is let in by the Bench, runs what it may, holds and lets go, and is told what was not done', async () => {
    const left = (await show()).buttons.find(({ legend, mode }) => mode === 'hold' && legend === 'Left')?.id ?? '';
    await demo.post('/api/steps/run', {
      name: 'Choose',
      steps: [{ id: 'c', kind: 'set', target: 'chosen.camera', to: 'deskCam' }],
      station: 'test',
    });
    const name = `Light desk ${size}`;
    const page = await openAt(demo.url, size, '/bench?list=shortcuts');
    await page.getByRole('button', { name: 'Other gear' }).click();
    await page.getByRole('button', { name: 'New token' }).click();
    await page.getByLabel('Name of the gear, such as Sound desk').fill(name);
    await page.getByRole('radio', { name: 'OSC messages' }).click();
    await page.getByRole('button', { name: 'A button, macro or trigger' }).click();
    await page.getByPlaceholder('Search').fill('Star charts');
    await page.getByRole('button', { name: 'Sources · Star charts', exact: true }).first().click();
    await page.getByPlaceholder('Search').fill('Left');
    await page
      .getByRole('button', { name: /· Left$/ })
      .first()
      .click();
    await page
      .getByRole('button', { name: /^(Done|Close)$/ })
      .first()
      .click();
    await page.getByRole('button', { name: 'Make the token' }).click();
    const addresses = (await page.getByTestId('token').innerText()).split('\n');
    expect(addresses).toEqual([
      expect.stringMatching(new RegExp(`^/umbek/[A-Za-z0-9_-]{22}/button/${CHARTS}$`)),
      expect.stringMatching(new RegExp(`/button/${left}$`)),
    ]);
    const { osc } = (await (await fetch(`${demo.url}/api/tokens`)).json()) as { osc: { port: number } };
    await page.getByText(`Send to UDP port ${osc.port} of 127.0.0.1:`).waitFor();
    await page.getByRole('button', { name: 'I have it' }).click();

    const socket = createSocket('udp4');
    const heard: string[] = [];
    socket.on('message', (bytes) => {
      const found = decodeOsc(bytes);
      if (found.ok) heard.push(...found.value.map(({ address, values }) => `${address} ${values.join(' ')}`));
    });
    const send = (address: string, ...values: number[]): void =>
      socket.send(
        encodeOsc([{ address, args: values.map((value) => ({ type: 'i' as const, value })) }]),
        osc.port,
        '127.0.0.1',
      );
    const [charts = '', nudge = ''] = addresses;
    const before = await effects('preview');
    send(charts, 1);
    await until('it is on preview', async () => (await effects('preview')) === before + 1);
    await until('its sender is told', async () => heard.some((candidate) => candidate.startsWith('/umbek/accepted ')));

    const moving = async () => (await demo.standins.deskCam.report()).points.travelling === true;
    const holding = setInterval(() => send(nudge, 1), 100);
    await until('the head moves', moving);
    await new Promise((next) => setTimeout(next, 800));
    expect(await moving()).toBe(true);
    clearInterval(holding);
    // No message tells that it lifts: its lease ends it.
    await until('the head stands', async () => !(await moving()));

    send(charts.replace(CHARTS, demoId('BTN', 6)), 1);
    await page.getByText(`${name}: The token ${name} may not run this.`, { exact: false }).waitFor();
    await page.getByRole('button', { name: `Revoke the token of ${name}` }).click();
    await page.getByRole('button', { name: 'Revoke it' }).click();
    await page.getByText(`The token of ${name} is revoked.`, { exact: false }).waitFor();
    send(charts, 1);
    await new Promise((next) => setTimeout(next, 200));
    expect(await effects('preview')).toBe(before + 1);
    const after = (await (await fetch(`${demo.url}/api/tokens`)).json()) as { osc: { port: number | null } };
    expect(after.osc.port).toBeNull();
    socket.close();
  });
});
