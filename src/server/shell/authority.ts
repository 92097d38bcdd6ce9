import { generateKeyPair, randomBytes, X509Certificate } from 'node:crypto';
import { existsSync, readFileSync } from 'node:fs';
import { isIP } from 'node:net';
import { hostname } from 'node:os';
import { promisify } from 'node:util';
import forge from 'node-forge';
import { z } from 'zod';
import { writeWhole } from './write-whole.ts';

const makeKeys = promisify(generateKeyPair);
const kept = z.object({
  key: z.string().startsWith('-----BEGIN'),
  certificate: z.string().startsWith('-----BEGIN CERTIFICATE'),
});

const AUTHORITY_YEARS = 10;
/** Phones take no certificate of a door that is good for longer (CA/Browser Forum, 398 days). */
const DOOR_DAYS = 397;
const DAY_MS = 86_400_000;
/** Clocks of phones and small computers differ. */
const EARLIER_MS = DAY_MS;

/** Addresses of home networks (RFC 1918, 3927, 6598) and of this machine: the authority can vouch for nothing else, whoever gets hold of its key. */
const HOME_NETWORKS = [
  [10, 0, 0, 0, 255, 0, 0, 0],
  [172, 16, 0, 0, 255, 240, 0, 0],
  [192, 168, 0, 0, 255, 255, 0, 0],
  [169, 254, 0, 0, 255, 255, 0, 0],
  [100, 64, 0, 0, 255, 192, 0, 0],
  [127, 0, 0, 0, 255, 0, 0, 0],
];

export type DoorCertificate = { readonly key: string; readonly cert: string };

/**
 * The collection's own certificate authority: a phone trusts it once, by hand, and then knows this collection's doors. Its key lies beside the collection, readable by
 * its owner only, and is in no backup.
 */
export class Authority {
  readonly #file: string;
  #kept: Promise<z.infer<typeof kept>> | undefined;

  constructor(file: string) {
    this.#file = file;
  }

  /** Its certificate (PEM), made at the first asking. @param addresses of this machine now; one that is no home network's may be vouched for besides */
  async certificate(now: Date, addresses: readonly string[] = []): Promise<string> {
    return (await this.#own(now, addresses)).certificate;
  }

  /** SHA-256 of the certificate, as phones show it: to be compared by eye. */
  async fingerprint(now: Date): Promise<string> {
    return new X509Certificate(await this.certificate(now)).fingerprint256;
  }

  /** A certificate for the doors at these addresses, signed by the authority. */
  async certificateFor(addresses: readonly string[], now: Date): Promise<DoorCertificate> {
    const own = await this.#own(now, addresses);
    const keys = await newKeys();
    const cert = blank(keys.publicKey, now, DOOR_DAYS * DAY_MS);
    const authority = forge.pki.certificateFromPem(own.certificate);
    cert.setSubject([{ name: 'commonName', value: 'Frugal Sip' }]);
    cert.setIssuer(authority.subject.attributes);
    cert.setExtensions([
      { name: 'basicConstraints', cA: false, critical: true },
      { name: 'keyUsage', digitalSignature: true, keyEncipherment: true, critical: true },
      { name: 'extKeyUsage', serverAuth: true },
      {
        name: 'subjectAltName',
        altNames: [...addresses.map((ip) => ({ type: 7, ip })), ...ownNames().map((value) => ({ type: 2, value }))],
      },
    ]);
    cert.sign(forge.pki.privateKeyFromPem(own.key), forge.md.sha256.create());
    return { key: keys.privateKey, cert: `${forge.pki.certificateToPem(cert)}${own.certificate}` };
  }

  #own(now: Date, addresses: readonly string[]): Promise<z.infer<typeof kept>> {
    this.#kept ??= this.#readOrMake(now, addresses);
    this.#kept.catch(() => (this.#kept = undefined));
    return this.#kept;
  }

  async #readOrMake(now: Date, addresses: readonly string[]): Promise<z.infer<typeof kept>> {
    if (existsSync(this.#file)) {
      try {
        const found = kept.parse(JSON.parse(readFileSync(this.#file, 'utf8')));
        if (Date.parse(new X509Certificate(found.certificate).validTo) > now.getTime()) return found;
      } catch {
        // Unreadable: a new one is made, which phones must trust anew.
      }
    }
    const keys = await newKeys();
    const cert = blank(keys.publicKey, now, AUTHORITY_YEARS * 365 * DAY_MS);
    const who = [{ name: 'commonName', value: `Frugal Sip on ${hostname()}`.slice(0, 64) }];
    cert.setSubject(who);
    cert.setIssuer(who);
    cert.setExtensions([
      { name: 'basicConstraints', cA: true, pathLenConstraint: 0, critical: true },
      { name: 'keyUsage', keyCertSign: true, cRLSign: true, critical: true },
      { name: 'subjectKeyIdentifier' },
      { id: '2.5.29.30', critical: true, value: nameConstraints(addresses) },
    ]);
    cert.sign(forge.pki.privateKeyFromPem(keys.privateKey), forge.md.sha256.create());
    const made = { key: keys.privateKey, certificate: forge.pki.certificateToPem(cert) };
    writeWhole(this.#file, JSON.stringify(made));
    return made;
  }
}

export const authorityFileOf = (file: string) => file.replace(/\.sqlite$/, '.authority.json');

async function newKeys(): Promise<{ publicKey: string; privateKey: string }> {
  return makeKeys('rsa', {
    modulusLength: 2048,
    publicKeyEncoding: { type: 'spki', format: 'pem' },
    privateKeyEncoding: { type: 'pkcs1', format: 'pem' },
  });
}

function blank(publicKey: string, now: Date, lastsMs: number): forge.pki.Certificate {
  const cert = forge.pki.createCertificate();
  cert.publicKey = forge.pki.publicKeyFromPem(publicKey);
  // A positive number of twenty bytes at the most (RFC 5280).
  cert.serialNumber = `01${randomBytes(15).toString('hex')}`;
  cert.validity.notBefore = new Date(now.getTime() - EARLIER_MS);
  cert.validity.notAfter = new Date(now.getTime() + lastsMs - EARLIER_MS);
  return cert;
}

/** Names by which home networks know this machine. */
function ownNames(): string[] {
  const name = hostname().toLowerCase();
  return [name, `${name}.local`, 'localhost'].filter((n) => /^[a-z0-9.-]+$/.test(n));
}

/** RFC 5280, 4.2.1.10: only home networks, names ending in .local, and this machine's own. */
function nameConstraints(addresses: readonly string[]): string {
  const { asn1 } = forge;
  const tree = (tag: number, value: string) =>
    asn1.create(asn1.Class.UNIVERSAL, asn1.Type.SEQUENCE, true, [
      asn1.create(asn1.Class.CONTEXT_SPECIFIC, tag, false, value),
    ]);
  const bytes = (numbers: readonly number[]) => String.fromCharCode(...numbers);
  const own = addresses.filter((a) => isIP(a) === 4).map((a) => [...a.split('.').map(Number), 255, 255, 255, 255]);
  const permitted = [
    ...[...new Set(['local', ...ownNames()])].map((name) => tree(2, name)),
    ...[...HOME_NETWORKS, ...own].map((range) => tree(7, bytes(range))),
  ];
  return asn1
    .toDer(
      asn1.create(asn1.Class.UNIVERSAL, asn1.Type.SEQUENCE, true, [
        asn1.create(asn1.Class.CONTEXT_SPECIFIC, 0, true, permitted),
      ]),
    )
    .getBytes();
}
