import { X509Certificate } from 'node:crypto';
import { mkdtempSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:https';
import { request } from 'node:https';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { givenCertificate, ownCertificate } from './certificate';

const NOW = new Date('2026-08-12T20:00:00Z');
const DAY_MS = 86_400_000;
const after = (days: number): Date => new Date(NOW.getTime() + days * DAY_MS);
const folder = (): string => mkdtempSync(join(tmpdir(), 'umbek-cert-'));
const ADDRESSES = ['127.0.0.1', 'localhost'];

describe('the certificate for the room', () => {
  it('is taken by whoever trusts the authority, for its addresses, and by nobody else', async () => {
    const now = new Date();
    const { cert, key, authority } = await ownCertificate(folder(), ADDRESSES, now);
    const server = createServer({ cert, key }, (_request, response) => response.end('in'));
    await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
    const { port } = server.address() as AddressInfo;
    const get = (ca: string | undefined): Promise<string> =>
      new Promise((report) => {
        const asked = request({ host: '127.0.0.1', port, agent: false, ...(ca === undefined ? {} : { ca }) }, (reply) =>
          reply.on('data', (data) => report(String(data))),
        );
        asked.once('error', (error: NodeJS.ErrnoException) => report(error.code ?? ''));
        asked.end();
      });
    expect(await get(authority ?? '')).toBe('in');
    expect(await get(undefined)).toMatch(/SELF_SIGNED|UNABLE_TO/);
    server.closeAllConnections();
    server.close();
  });

  it('is what phones want: named addresses, 398 days at most, a server; the authority may sign servers alone', async () => {
    const { cert, authority, fingerprint } = await ownCertificate(folder(), ADDRESSES, NOW);
    const server = new X509Certificate(cert);
    const ca = new X509Certificate(authority ?? '');
    expect(server.checkIP('127.0.0.1')).toBe('127.0.0.1');
    expect(server.checkHost('localhost')).toBe('localhost');
    expect((Date.parse(server.validTo) - Date.parse(server.validFrom)) / DAY_MS).toBeLessThanOrEqual(398);
    expect(server.keyUsage).toEqual(['1.3.6.1.5.5.7.3.1']);
    expect(server.ca).toBe(false);
    expect(ca.ca).toBe(true);
    expect(server.verify(ca.publicKey)).toBe(true);
    expect(fingerprint).toBe(ca.fingerprint256);
  });

  it('stays from start to start, is made anew for a new address or near its end, and the authority stays', async () => {
    const at = folder();
    const first = await ownCertificate(at, ADDRESSES, NOW);
    expect((await ownCertificate(at, ADDRESSES, after(300))).cert).toBe(first.cert);
    const moved = await ownCertificate(at, [...ADDRESSES, '10.0.0.5'], after(1));
    expect(moved.cert).not.toBe(first.cert);
    expect(moved.authority).toBe(first.authority);
    const renewed = await ownCertificate(at, ADDRESSES, after(370));
    expect(renewed.cert).not.toBe(moved.cert);
    expect(renewed.until.getTime()).toBeGreaterThan(after(700).getTime());
    // A clock that was years ahead when it was made.
    expect((await ownCertificate(at, ADDRESSES, after(-10))).cert).not.toBe(renewed.cert);
  });

  it('whose files were spoilt is made anew, and the keys are for this account alone', async () => {
    const at = folder();
    const first = await ownCertificate(at, ADDRESSES, NOW);
    writeFileSync(join(at, 'server.crt'), 'spoilt');
    expect((await ownCertificate(at, ADDRESSES, NOW)).cert).not.toBe(first.cert);
    const other = await ownCertificate(folder(), ADDRESSES, NOW);
    writeFileSync(join(at, 'server.key'), other.key);
    const mended = await ownCertificate(at, ADDRESSES, NOW);
    expect(mended.key).not.toBe(other.key);
    for (const file of ['authority.key', 'server.key']) expect(statSync(join(at, file)).mode & 0o077).toBe(0);
  });

  it('of the house is taken as it is; one that is missing, spoilt or ran out is told in words', async () => {
    const at = folder();
    const { cert, key } = await ownCertificate(at, ADDRESSES, NOW);
    const [certFile, keyFile] = [join(at, 'house.crt'), join(at, 'house.key')];
    writeFileSync(certFile, cert);
    writeFileSync(keyFile, key);
    expect(givenCertificate(certFile, keyFile, NOW)).toMatchObject({ authority: null, key });
    expect(() => givenCertificate(certFile, keyFile, after(400))).toThrow(/ran out on 2027-09-/);
    expect(() => givenCertificate(join(at, 'none'), keyFile, NOW)).toThrow(/cannot be read\. Give its path/);
    writeFileSync(certFile, readFileSync(keyFile));
    expect(() => givenCertificate(certFile, keyFile, NOW)).toThrow(/holds no certificate/);
  });
});
