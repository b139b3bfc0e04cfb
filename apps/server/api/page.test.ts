import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import { type AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { brotliCompressSync, gzipSync } from 'node:zlib';
import express from 'express';
import { servePage } from './page';

describe('the built page', () => {
  let server: Server;
  let url = '';
  beforeAll(async () => {
    const folder = mkdtempSync(join(tmpdir(), 'umbek-page-'));
    mkdirSync(join(folder, '_expo'));
    writeFileSync(join(folder, 'index.html'), '<p>Umbek</p>');
    const script = 'let a = 1;'.repeat(50);
    writeFileSync(join(folder, '_expo', 'entry.js'), script);
    writeFileSync(join(folder, '_expo', 'entry.js.br'), brotliCompressSync(script));
    writeFileSync(join(folder, '_expo', 'entry.js.gz'), gzipSync(script));
    const app = express();
    servePage(app, folder);
    server = createServer(app);
    await new Promise<void>((open) => server.listen(0, '127.0.0.1', () => open()));
    url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  });
  afterAll(() => server.close());
  const get = (path: string, encoding: string) => fetch(`${url}${path}`, { headers: { 'accept-encoding': encoding } });

  it.each([
    ['br, gzip', 'br'],
    ['gzip', 'gzip'],
    ['identity', null],
  ])('gives the copy that a browser takes: %s', async (accepts, gets) => {
    const response = await get('/_expo/entry.js', accepts);
    expect([response.status, response.headers.get('content-encoding')]).toEqual([200, gets]);
    expect(response.headers.get('content-type')).toMatch(/javascript/);
    expect(await response.text()).toBe('let a = 1;'.repeat(50));
  });

  it('is kept for a year where its name says what is in it, and is otherwise asked for anew', async () => {
    expect((await get('/_expo/entry.js', 'br')).headers.get('cache-control')).toBe(
      'public, max-age=31536000, immutable',
    );
    expect((await get('/bench', 'br')).headers.get('cache-control')).toBe('no-cache');
  });

  it('answers every place with the page, nothing outside of its folder, and leaves the API alone', async () => {
    expect(await (await get('/rig/lawnCam', 'br')).text()).toBe('<p>Umbek</p>');
    expect((await get('/api/nothing', 'br')).status).toBe(404);
    for (const path of ['/..%2f..%2fetc%2fpasswd', '/%00', '/%E0%A4%A']) {
      const response = await get(path, 'br');
      expect(await response.text()).not.toContain('root:');
      expect(response.status).toBeLessThan(500);
    }
  });
});
