import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Page } from 'puppeteer-core';
import {
  axeClean,
  fillsOf,
  logNext,
  logWithout,
  field,
  PATIENCE_MS,
  press,
  says,
  stage,
  type Stage,
  tap,
} from './kit.ts';

/* A round begun on the computer and finished on the phone; the server gone in the middle; clocks everywhere. */

const PHONE = { width: 390, height: 844 };
const PASSPHRASE = 'four plain garden words';
let on: Stage;
let computer: Page;
let phone: Page;
let lan: string;
beforeAll(async () => {
  on = await stage();
  computer = await on.open('/book/phone');
  lan = `http://127.0.0.2:${on.server.port}`;
});
afterAll(() => on.close());

const fills = () => fillsOf(on);

describe('letting the phone in', () => {
  it('the computer opens the home network with a passphrase, and shows a code', async () => {
    await field(computer, 'Passphrase', 'short');
    await press(computer, 'Open to the home network');
    await says(computer, '.field-error', /At least 10 characters/);
    await field(computer, 'Passphrase', PASSPHRASE);
    await press(computer, 'Open to the home network');
    await says(computer, '.pairing', /127\.0\.0\.2/);
    await press(computer, 'Show a code');
    await computer.waitForSelector('.pairing .qr');
    await axeClean(computer);
  });
  it('a device without the passphrase sees nothing but the way in', async () => {
    phone = await (await on.device()).newPage();
    phone.setDefaultTimeout(PATIENCE_MS);
    await phone.setViewport({ ...PHONE, isMobile: true, hasTouch: true });
    await phone.goto(`${lan}/round`);
    await says(phone, 'h1', /Let this device in/);
    await axeClean(phone);
    await field(phone, 'Passphrase', 'not the passphrase');
    await press(phone, 'Come in');
    await says(phone, '.field-error', /not the passphrase/);
    expect(await phone.evaluate(async () => (await fetch('/api/pots')).status)).toBe(401);
  });
  it('the code from the computer lets it in, once', async () => {
    const url = await computer.$eval('.pairing .code', (e) => e.getAttribute('data-url')!);
    await phone.goto(url);
    await says(phone, 'h1', /Wednesday’s round/);
    expect(phone.url()).toBe(`${lan}/round`);
    const stranger = await (await on.device()).newPage();
    stranger.setDefaultTimeout(PATIENCE_MS);
    await stranger.goto(url);
    await says(stranger, '.field-error', /used already/);
    await computer.reload();
    await says(computer, '[aria-label="Devices let in"]', /since 25 Nov/);
  });
});

describe('one round, two devices', () => {
  it('begun on the computer, seen at once on the phone, and gone on with there', async () => {
    await computer.goto(`${on.server.url}/round`);
    await computer.waitForSelector('.pot-card');
    const first = await logNext(computer);
    await says(phone, `[data-pot="${first}"] .tag`, /done/);
    await says(phone, 'header', /13 pots due/);
    const second = await logNext(phone);
    expect(second).not.toBe(first);
    await says(computer, `[data-pot="${second}"] .tag`, /done/);
    expect(fills()).toEqual([first, second]);
  });
  it('a clock started on one runs on both, through a reload, and is stopped on the other', async () => {
    // The pot in hand was logged on the phone: the next one due.
    await tap(computer, '.shelf-pot.due');
    await tap(computer, '.pot-card .drain');
    await says(computer, '.clock', /2:5\d.*Drain/);
    await says(phone, '.clock', /Drain/);
    await phone.reload();
    await says(phone, '.clock', /2:\d\d.*Drain/);
    await tap(phone, '.clock [aria-label^="Stop the clock"]');
    await computer.waitForFunction(() => document.querySelector('.clock') === null);
    expect(on.rows('SELECT count(*) AS n FROM clock WHERE stoppedAt IS NULL')).toEqual([{ n: 0 }]);
  });
  it('the server stops in the middle: the phone goes on, and all of it is there when it is back', async () => {
    const before = fills();
    await on.server.stop('SIGKILL');
    const offline = [await logNext(phone), await logNext(phone), await logNext(phone)];
    await says(phone, '.notice', /3 acts wait for the server/);
    // Even a closed page keeps them.
    await phone.evaluate(() => localStorage.length).then((n) => expect(n).toBeGreaterThanOrEqual(3));
    await on.restart();
    await phone.waitForFunction(() => document.querySelector('.notice') === null);
    expect(fills()).toEqual([...before, ...offline]);
    for (const code of offline) await says(computer, `[data-pot="${code}"] .tag`, /done/);
    expect(
      on.rows(
        `SELECT dueKey FROM care_event WHERE voidedBy IS NULL AND dueKey IS NOT NULL GROUP BY dueKey HAVING count(*) > 1`,
      ),
    ).toEqual([]);
  });
  it('finished on the phone: the computer says that nothing is left', async () => {
    for (let left = 14 - fills().length; left > 1; left--) await logNext(phone);
    await logWithout(phone);
    await says(computer, 'header', /Nothing left to do, 14 done/);
    expect(fills()).toHaveLength(14);
  });
  it('undo on one device is an undo on both', async () => {
    // By its time: the pinned clock began anew when the server was started again.
    const [{ code: last }] = on.rows<{ code: string }>(
      `SELECT p.code FROM care_event e JOIN pot p ON p.id = e.potId WHERE e.localDate = '2026-11-25' AND e.kind = 'potFilled' AND e.voidedBy IS NULL ORDER BY e.at DESC LIMIT 1`,
    ) as [{ code: string }];
    await computer.keyboard.press('u');
    await says(computer, '.toast', /Took a filling back/);
    await says(phone, `[data-pot="${last}"] .tag`, /due|late/);
  });
  it('a device that is shown out is out at once', async () => {
    await computer.goto(`${on.server.url}/book/phone`);
    await press(computer, 'Show out');
    await computer.waitForFunction(() => !document.querySelector('[aria-label="Devices let in"]'));
    await phone.reload();
    await says(phone, 'h1', /Let this device in/);
  });
});
