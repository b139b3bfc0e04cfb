// What the library of certificates injects with; it has to be there before that is.
import 'reflect-metadata';
import { createPrivateKey, X509Certificate as NodeCertificate, webcrypto } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { isIP } from 'node:net';
import { join } from 'node:path';
import * as x509 from '@peculiar/x509';

/** What a TLS server is made with. */
export interface Certificate {
  /** PEM: the certificate, and the authority behind it where it is ours. */
  readonly cert: string;
  readonly key: string;
  /** PEM of the authority that a phone has to trust; null: the certificate was given, and its authority is known to whoever gave it. */
  readonly authority: string | null;
  /** SHA-256 of the authority (or of the given certificate), in pairs of hexadecimal digits. */
  readonly fingerprint: string;
  /** Until when it holds. */
  readonly until: Date;
}

const DAY_MS = 86_400_000;
/** Phones take no certificate for longer than 398 days. */
const SERVER_DAYS = 397;
const AUTHORITY_DAYS = 3650;
/** It is made anew so long before its end. */
const RENEW_DAYS = 30;
/** Clocks of a room differ: it holds from the day before. */
const BEFORE_MS = DAY_MS;
const ALGORITHM = { name: 'ECDSA', namedCurve: 'P-256', hash: 'SHA-256' } as const;

/** Certificates are a secret of this machine's account. */
const SECRET = { mode: 0o600 };

/** A file that is there whole, or not at all. */
function write(file: string, text: string): void {
  writeFileSync(`${file}.new`, text, SECRET);
  renameSync(`${file}.new`, file);
}

const pem = (label: string, der: ArrayBuffer): string =>
  `-----BEGIN ${label}-----\n${(
    Buffer.from(der)
      .toString('base64')
      .match(/.{1,64}/g) ?? []
  ).join('\n')}\n-----END ${label}-----\n`;

const exported = async (key: webcrypto.CryptoKey): Promise<string> =>
  pem('PRIVATE KEY', await webcrypto.subtle.exportKey('pkcs8', key));

const imported = (text: string): Promise<webcrypto.CryptoKey> =>
  webcrypto.subtle.importKey(
    'pkcs8',
    Buffer.from(text.replace(/-----[^-]+-----|\s/g, ''), 'base64'),
    ALGORITHM,
    false,
    ['sign'],
  );

const newKeys = async (): Promise<webcrypto.CryptoKeyPair> =>
  (await webcrypto.subtle.generateKey(ALGORITHM, true, ['sign', 'verify'])) as webcrypto.CryptoKeyPair;

const hexSerial = (): string =>
  Buffer.from(webcrypto.getRandomValues(new Uint8Array(16)))
    .toString('hex')
    .replace(/^./, '4');

/** An authority of this installation, made at its first start in a room: phones that trust it trust every certificate that is made here. */
async function authority(folder: string, now: Date): Promise<{ cert: x509.X509Certificate; key: webcrypto.CryptoKey }> {
  const [certFile, keyFile] = [join(folder, 'authority.crt'), join(folder, 'authority.key')];
  if (existsSync(certFile) && existsSync(keyFile)) {
    const cert = new x509.X509Certificate(readFileSync(certFile, 'utf8'));
    if (cert.notAfter.getTime() - now.getTime() > SERVER_DAYS * DAY_MS)
      return { cert, key: await imported(readFileSync(keyFile, 'utf8')) };
  }
  const keys = await newKeys();
  // Told apart from that of another Umbek of the same house in a phone's list.
  const name = `CN=Umbek of ${now.toISOString().slice(0, 10)} ${hexSerial().slice(-4)}`;
  const cert = await x509.X509CertificateGenerator.createSelfSigned({
    serialNumber: hexSerial(),
    name,
    notBefore: new Date(now.getTime() - BEFORE_MS),
    notAfter: new Date(now.getTime() + AUTHORITY_DAYS * DAY_MS),
    signingAlgorithm: ALGORITHM,
    keys,
    extensions: [
      // It may sign servers, and no further authorities.
      new x509.BasicConstraintsExtension(true, 0, true),
      new x509.KeyUsagesExtension(x509.KeyUsageFlags.keyCertSign | x509.KeyUsageFlags.cRLSign, true),
      await x509.SubjectKeyIdentifierExtension.create(keys.publicKey),
    ],
  });
  write(keyFile, await exported(keys.privateKey));
  write(certFile, `${cert.toString('pem')}\n`);
  return { cert, key: keys.privateKey };
}

const fingerprintOf = (certificate: string): string => new NodeCertificate(certificate).fingerprint256;

/** Whether a kept certificate still does: it holds for a while, from this authority, for all of these addresses. */
function does(cert: string, key: string, ca: x509.X509Certificate, addresses: readonly string[], now: Date): boolean {
  try {
    const kept = new NodeCertificate(cert);
    const lasts = Date.parse(kept.validTo) - now.getTime() > RENEW_DAYS * DAY_MS;
    const holds = Date.parse(kept.validFrom) <= now.getTime();
    return (
      lasts &&
      holds &&
      kept.checkPrivateKey(createPrivateKey(key)) &&
      kept.verify(new NodeCertificate(ca.toString('pem')).publicKey) &&
      addresses.every(
        (address) => (isIP(address) === 0 ? kept.checkHost(address) : kept.checkIP(address)) !== undefined,
      )
    );
  } catch {
    return false;
  }
}

/**
 * The certificate with which Umbek listens in the room: for these addresses, from an authority of its own (RFC 5280; phones want a subject
 * alternative name, the use *server* and an end within 398 days). Kept in the folder; made anew when an address came or its end is near.
 */
export async function ownCertificate(folder: string, addresses: readonly string[], now: Date): Promise<Certificate> {
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  const ca = await authority(folder, now);
  const [certFile, keyFile] = [join(folder, 'server.crt'), join(folder, 'server.key')];
  const kept = existsSync(certFile) && existsSync(keyFile);
  if (!kept || !does(readFileSync(certFile, 'utf8'), readFileSync(keyFile, 'utf8'), ca.cert, addresses, now)) {
    const keys = await newKeys();
    const cert = await x509.X509CertificateGenerator.create({
      serialNumber: hexSerial(),
      subject: 'CN=Umbek',
      issuer: ca.cert.subject,
      notBefore: new Date(now.getTime() - BEFORE_MS),
      notAfter: new Date(now.getTime() + SERVER_DAYS * DAY_MS - BEFORE_MS),
      signingAlgorithm: ALGORITHM,
      publicKey: keys.publicKey,
      signingKey: ca.key,
      extensions: [
        new x509.BasicConstraintsExtension(false, undefined, true),
        new x509.KeyUsagesExtension(x509.KeyUsageFlags.digitalSignature, true),
        new x509.ExtendedKeyUsageExtension([x509.ExtendedKeyUsage.serverAuth]),
        new x509.SubjectAlternativeNameExtension(
          addresses.map((value) => ({ type: isIP(value) === 0 ? ('dns' as const) : ('ip' as const), value })),
        ),
        await x509.AuthorityKeyIdentifierExtension.create(ca.cert),
        await x509.SubjectKeyIdentifierExtension.create(keys.publicKey),
      ],
    });
    // Ended between the two, they do not fit each other, and are made anew at the next start.
    write(keyFile, await exported(keys.privateKey));
    write(certFile, `${cert.toString('pem')}\n`);
  }
  const cert = readFileSync(certFile, 'utf8');
  const authorityPem = `${ca.cert.toString('pem')}\n`;
  return {
    cert: cert + authorityPem,
    key: readFileSync(keyFile, 'utf8'),
    authority: authorityPem,
    fingerprint: fingerprintOf(authorityPem),
    until: new Date(new NodeCertificate(cert).validTo),
  };
}

/** A certificate that the house gives. @throws in words when the files are not there or do not fit each other */
export function givenCertificate(certFile: string, keyFile: string, now: Date): Certificate {
  const read = (file: string, what: string): string => {
    try {
      return readFileSync(file, 'utf8');
    } catch {
      throw new Error(`The ${what} ${file} cannot be read. Give its path in UMBEK_CERT and UMBEK_CERT_KEY.`);
    }
  };
  const [cert, key] = [read(certFile, 'certificate'), read(keyFile, 'key of the certificate')];
  let first: NodeCertificate;
  try {
    first = new NodeCertificate(cert);
  } catch {
    throw new Error(`${certFile} holds no certificate in PEM.`);
  }
  const until = new Date(first.validTo);
  if (until.getTime() <= now.getTime())
    throw new Error(
      `The certificate ${certFile} ran out on ${until.toISOString().slice(0, 10)}. Give a new one, or take UMBEK_CERT away and Umbek makes its own.`,
    );
  return { cert, key, authority: null, fingerprint: first.fingerprint256, until };
}
