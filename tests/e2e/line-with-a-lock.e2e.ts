import { createHash, X509Certificate } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Page } from 'puppeteer-core';
import { axeClean, fillsOf, logNext, field, PATIENCE_MS, press, says, stage, type Stage } from './kit.ts';

/* A phone that trusts the collection's own authority: the line has a lock, and the page opens with no connection. */

const PHONE = { width: 390, height: 844 };
let on: Stage;
let computer: Page;
let phone: Page;
beforeAll(async () => {
  on = await stage();
  computer = await on.open('/book/phone');
});
afterAll(() => on.close());

const fills = () => fillsOf(on);

describe('a lock on the line', () => {
  it('is offered beside the plain door, with what each protects from, and the steps for the phone', async () => {
    await field(computer, 'Passphrase', 'four plain garden words');
    await press(computer, 'Open to the home network');
    await says(computer, '.settings', /can be read and changed by whoever is on the same network/);
    await press(computer, 'Open a door with a lock');
    await says(computer, '[aria-label="A lock on the line"]', /nobody on the network can read or change.*fingerprint/s);
    await axeClean(computer);
    const plain = await (await on.device()).newPage();
    plain.setDefaultTimeout(PATIENCE_MS);
    await plain.setViewport({ ...PHONE, isMobile: true, hasTouch: true });
    await plain.goto(`http://127.0.0.2:${on.server.port}/trust`);
    await says(plain, '.trust-steps', /Fetch the certificate.*Go on with the lock/s);
    const shown = await computer.$eval('.fingerprint', (e) => e.textContent);
    expect(await plain.$eval('.fingerprint', (e) => e.textContent)).toBe(shown);
    await axeClean(plain);
    const pem = await plain.evaluate(async () => (await fetch('/api/shell/lock/authority.crt')).text());
    const authority = new X509Certificate(pem);
    expect(authority.fingerprint256).toBe(shown);
    // The phone with the authority installed: this browser is told of its key.
    const key = createHash('sha256')
      .update(authority.publicKey.export({ type: 'spki', format: 'der' }))
      .digest('base64');
    phone = await (await on.device(`--ignore-certificate-errors-spki-list=${key}`)).newPage();
    phone.setDefaultTimeout(PATIENCE_MS);
    await phone.setViewport({ ...PHONE, isMobile: true, hasTouch: true });
    await press(computer, 'A code for the door with the lock');
    await computer.waitForFunction(() =>
      document.querySelector('[aria-label="Bring the phone in"] .code')?.getAttribute('data-url')?.startsWith('https:'),
    );
    await phone.goto(
      await computer.$eval('[aria-label="Bring the phone in"] .code', (e) => e.getAttribute('data-url')!),
    );
    await says(phone, 'h1', /Wednesday’s round/);
    expect(new URL(phone.url()).protocol).toBe('https:');
    expect(await phone.evaluate(() => window.isSecureContext)).toBe(true);
  });
  it('the page is kept on the phone: with no connection it opens, shows the last known round, and keeps acts through a reload', async () => {
    await phone.evaluate(() => navigator.serviceWorker.ready.then(() => undefined));
    // Once through the worker, so that what it shows is kept.
    await phone.reload();
    await says(phone, 'h1', /Wednesday’s round/);
    await phone.waitForFunction(
      async () =>
        navigator.serviceWorker.controller !== null &&
        (await (await caches.open('last-known')).keys()).some((k) => k.url.endsWith('/api/round')),
    );
    const before = [await logNext(phone)];
    // What is kept follows what was done.
    await phone.waitForFunction(
      async (code) => {
        const kept = (await (await caches.match('/api/round'))?.json()) as
          { places: { pots: { code: string; done: unknown }[] }[] } | undefined;
        return kept?.places.some((place) => place.pots.some((pot) => pot.code === code && pot.done !== null));
      },
      {},
      before[0],
    );
    await on.server.stop('SIGKILL');
    await phone.reload();
    await says(phone, 'h1', /Wednesday’s round/);
    await says(phone, '.notice', /out of reach. This is as last known, \d+ \w+ 2026/);
    const offline = [await logNext(phone), await logNext(phone)];
    await says(phone, 'main', /2 acts wait for the server/);
    await phone.reload();
    await says(phone, 'main', /2 acts wait for the server/);
    await axeClean(phone);
    await on.restart();
    await phone.waitForFunction(() => document.querySelector('.notice') === null);
    expect(fills()).toEqual([...before, ...offline]);
  });
  it('shown out, the phone keeps nothing of the collection', async () => {
    await computer.reload();
    await press(computer, 'Show out');
    await computer.waitForFunction(() => !document.querySelector('[aria-label="Devices let in"]'));
    await phone.reload();
    await says(phone, 'h1', /Let this device in/);
    await phone.waitForFunction(async () => !(await caches.has('last-known')));
  });
});
