import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ElementHandle, Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { dipAndKeep, keep, says, stage, type Stage, tap } from './kit.ts';

let on: Stage;
beforeAll(async () => {
  on = await stage();
});
afterAll(() => on.close());

const replace = async (page: Page, selector: string, text: string) => {
  await tap(page, selector, { count: 3 });
  await page.keyboard.press('Backspace');
  if (text) await page.keyboard.type(text);
};
const fillsToday = () =>
  on.rows<{ n: number }>(
    `SELECT count(*) AS n FROM care_event WHERE localDate = '2026-11-25' AND kind = 'potFilled' AND voidedBy IS NULL`,
  )[0]!.n;

describe('bad input on the round', () => {
  let page: Page;
  beforeAll(async () => {
    page = await on.open('/round');
  });
  it.each([
    ['ppm', 'wet', /such as 104/],
    ['ppm', '40000', /past what a pen can show/],
    ['ppm', '-3', /never reads below 0/],
    ['ph', '19', /0 to 14/],
    ['left', '99999', /holds 280/],
    ['fill', '0', /more than zero/],
  ])('%s "%s" is answered at its field, keeps what was typed and logs nothing', async (field, text, message) => {
    await replace(page, `[name="${field}"]`, text);
    await tap(page, '.unmeasured');
    await page.waitForFunction(
      (name, source) => {
        const told = document.querySelector(`[name="${name}"]`)?.getAttribute('aria-describedby');
        return new RegExp(source).test(document.getElementById(told ?? '')?.textContent ?? '');
      },
      {},
      field,
      message.source,
    );
    expect(
      await page.$eval(`[name="${field}"]`, (e) => [
        (e as HTMLInputElement).value,
        e.getAttribute('aria-invalid'),
        e === document.activeElement,
      ]),
    ).toEqual([text, 'true', true]);
    expect(fillsToday()).toBe(0);
    await replace(page, `[name="${field}"]`, '');
  });
  it('what was typed for a pot is still there after looking at another room', async () => {
    await replace(page, '[name=ppm]', '140');
    await tap(page, '.rail a[href="/pots"]');
    await says(page, 'h1', /Pots/);
    await tap(page, '.rail a[href="/round"]');
    await page.waitForSelector('[name=ppm]');
    expect(await page.$eval('[name=ppm]', (e) => (e as HTMLInputElement).value)).toBe('140');
  });
});

describe('bad input at the bench', () => {
  let page: Page;
  beforeAll(async () => {
    page = await on.open('/bench/new');
  });
  it.each([
    ['litres', '0', /empty batch needs no mixing/],
    ['litres', 'some', /Give the litres/],
    ['litres', '6', /holds 5 L.*Take a larger vessel/],
    ['parts.0.amount', '0', /counted over the water/],
    ['parts.0.amount', '-90', /counted over the water/],
    ['parts.0.amount', '40000', /nothing here can live/],
    ['phLow', '19', /between 3 and 9/],
  ])('%s "%s" is answered at its field', async (field, text, message) => {
    const before = await page.$eval(`[name="${field}"]`, (e) => (e as HTMLInputElement).value);
    await page.select(
      '[name=vesselId]',
      await page.$eval(
        '[name=vesselId]',
        (e) => [...(e as HTMLSelectElement).options].find((o) => o.text.startsWith('Jug'))!.value,
      ),
    );
    await replace(page, `[name="${field}"]`, text);
    await tap(page, '.start-form button[type=submit]');
    await says(page, '.start-form [role=alert]', message);
    expect(on.rows(`SELECT 1 FROM batch WHERE status = 'open'`)).toEqual([]);
    await replace(page, `[name="${field}"]`, before);
  });
  it('with an uncounted dropper it works, says it guesses, and is counted on the spot', async () => {
    const tools = await page.$$eval('[name=toolIds]', (boxes) =>
      boxes.map((b) => ({ id: b.id, label: b.closest('.form-check')!.textContent ?? '' })),
    );
    // Spoons stay as they are: not ticked where something finer is at hand.
    for (const tool of tools.filter((t) => !/spoon/i.test(t.label))) await tap(page, `[id="${tool.id}"]`);
    await says(page, '.start-form', /20 drops to the mL is a guess/);
    await tap(page, '.start-form button[type=submit]');
    await dipAndKeep(page);
    await says(page, '.now .caution', /Nobody has counted the plastic dropper/);
    await page.type('#drops-per-ml', '300');
    await tap(page, '.now .caution button');
    await says(page, '.now .caution [role=alert]', /not a dropper we know/);
    await replace(page, '#drops-per-ml', '24');
    await tap(page, '.now .caution button');
    await says(page, '.now', /24 to the mL/);
    expect(on.rows(`SELECT dropsPerMl FROM tool WHERE name = 'Plastic dropper'`)).toEqual([{ dropsPerMl: 24 }]);
  });
  it('a reading below the water’s own, an odd one, text: answered, then kept when stood by', async () => {
    await keep(page, 'murky');
    await says(page, '.now [role=alert]', /such as 104/);
    await replace(page, '.now .read input', '2');
    await page.keyboard.press('Enter');
    await says(page, '.now [role=alert]', /below the water's own/);
    await replace(page, '.now .read input', '600');
    await page.keyboard.press('Enter');
    await says(page, '.now [role=alert]', /far above what was expected/);
    await page.keyboard.press('Enter');
    await says(page, '.now .say', /Pour off|Add .*L/);
    await says(page, '.now', /Past its limit: reads 600/);
  });
  it('the last one comes back with U, and the batch can be thrown out and taken back', async () => {
    await page.evaluate(() => (document.activeElement as HTMLElement).blur());
    await page.keyboard.press('u');
    await says(page, '.now .say', /Add \d+.drop/);
    await tap(page, '.table-sheet button');
    await says(page, '.now .say', /was thrown out/);
    await page.keyboard.press('u');
    await says(page, '.now .say', /Add \d+.drop/);
    expect(on.rows(`SELECT status FROM batch WHERE startedOn = '2026-11-25'`)).toEqual([{ status: 'open' }]);
  });
});

describe('the server goes in the middle of a round', () => {
  it('acts are kept, said to wait, sent by themselves when it is back, and logged once', async () => {
    const page = await on.open('/round');
    const code = await page.$eval('.shelf-pot[aria-pressed=true]', (e) => e.getAttribute('data-pot'));
    await on.server.stop('SIGKILL');
    await tap(page, '.unmeasured');
    await says(page, '.notice', /One act waits for the server: .* filled/);
    await says(page, `[data-pot="${code}"] .tag`, /waits/);
    const second = await page.$eval('.shelf-pot[aria-pressed=true]', (e) => e.getAttribute('data-pot'));
    expect(second).not.toBe(code);
    await tap(page, '.unmeasured');
    await says(page, '.notice', /2 acts wait/);
    // A reload in the meantime would lose nothing either: the outbox is in the browser.
    expect(
      await page.evaluate(() => Object.keys(localStorage).filter((key) => key.startsWith('frugal-sip-act:')).length),
    ).toBe(2);
    await on.restart();
    await page.waitForFunction(() => !document.querySelector('.notice'));
    await says(page, `[data-pot="${code}"] .tag`, /done/);
    await says(page, `[data-pot="${second}"] .tag`, /done/);
    expect(fillsToday()).toBe(2);
    expect(
      on.rows(
        `SELECT dueKey FROM care_event WHERE voidedBy IS NULL AND dueKey IS NOT NULL GROUP BY dueKey HAVING count(*) > 1`,
      ),
    ).toEqual([]);
    await page.close();
  });
  it('an act that had not left yet is taken back without a trace', async () => {
    const page = await on.open('/round');
    await on.server.stop('SIGKILL');
    await tap(page, '.unmeasured');
    await says(page, '.notice', /waits/);
    await page.keyboard.press('u');
    await page.waitForFunction(() => !document.querySelector('.notice'));
    await on.restart();
    expect(fillsToday()).toBe(2);
    await page.close();
  });
});

describe('a photo while the server is away', () => {
  it('is kept here as small as the server would keep it, and is with its pot when the server is back', async () => {
    const page = await on.open('/round');
    const file = join(mkdtempSync(join(tmpdir(), 'frugal-sip-photo-')), 'pot.png');
    await page.setViewport({ width: 1280, height: 800, deviceScaleFactor: 2 });
    await page.screenshot({ path: file });
    await on.server.stop('SIGKILL');
    await ((await page.waitForSelector('.quick input[type=file]')) as ElementHandle<HTMLInputElement>).uploadFile(file);
    await says(page, '.notice', /One act waits for the server: Photo of/);
    const kept = () =>
      page.evaluate(() => {
        const entries = Object.entries(localStorage) as [string, string][];
        return entries.find(([key]) => key.startsWith('frugal-sip-act:'))?.[1].length ?? 0;
      });
    expect(await kept()).toBeGreaterThan(10_000);
    expect(await kept()).toBeLessThan(700_000);
    await on.restart();
    await page.waitForFunction(() => !document.querySelector('.notice'));
    expect(on.rows(`SELECT kind FROM care_event WHERE kind = 'potPhotoKept' AND voidedBy IS NULL`)).toHaveLength(1);
    expect(on.rows<{ bytes: number }>('SELECT length(jpeg) AS bytes FROM photo')[0]!.bytes).toBeLessThan(500_000);
    await page.close();
  });
});

describe('two tabs on one round', () => {
  it('the second is told, and nothing is logged twice', async () => {
    const one = await on.open('/round');
    const two = await on.open('/round');
    const code = await one.$eval('.shelf-pot[aria-pressed=true]', (e) => e.getAttribute('data-pot'));
    expect(await two.$eval('.shelf-pot[aria-pressed=true]', (e) => e.getAttribute('data-pot'))).toBe(code);
    const before = fillsToday();
    // The second tab does not get to look again: it must log from what it still shows.
    await two.setRequestInterception(true);
    two.on(
      'request',
      (request) =>
        void (request.method() === 'GET' && request.url().endsWith('/api/round')
          ? request.abort()
          : request.continue()),
    );
    await one.bringToFront();
    await tap(one, '.unmeasured');
    await says(one, '.toast', new RegExp(`${code} filled`));
    await two.bringToFront();
    await tap(two, '.unmeasured');
    await says(two, '.pot-card, .notice', /already logged/);
    expect(fillsToday()).toBe(before + 1);
  });
});
