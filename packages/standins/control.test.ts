import { serveStandin } from './serve';

describe('the control port of a stand-in', () => {
  it('answers its own Umbek alone', async () => {
    const standin = await serveStandin({
      name: 'Switcher',
      kind: 'switcher',
      port: 0,
      controlPort: 0,
      token: 'secret',
    });
    const ask = async (headers: Record<string, string>) =>
      (await fetch(`http://127.0.0.1:${standin.controlPort}/report`, { headers })).status;
    expect([
      await ask({}),
      await ask({ 'x-umbek-control': 'guess' }),
      await ask({ 'x-umbek-control': 'secret' }),
    ]).toEqual([403, 403, 200]);
    await standin.close();
  });
});
