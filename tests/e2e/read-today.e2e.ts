import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Page } from 'puppeteer-core';
import { axeClean, logWithout, press, says, stage, tap, unexpected, type Stage } from './kit.ts';

/* A round read by what is asked: fewer dips, what is odd still found, a budget, a pot that is never asked, and the sheet. */

let on: Stage;
let page: Page;
beforeAll(async () => {
  on = await stage();
  page = await on.open('/round');
});
afterAll(() => on.close());

const strip = () => says(page, '.read-strip h2', /^Read/);
const dipsIn = (words: string) => Number(/(\d+) dips?/.exec(words)![1]);
const chosen = () =>
  on
    .rows<{ value: string }>(`SELECT value FROM setting WHERE key = 'reading'`)
    .map((row) => JSON.parse(row.value) as object);
const lastFill = () =>
  on.rows<{ code: string; payload: string }>(
    `SELECT p.code, e.payload FROM care_event e JOIN pot p ON p.id = e.potId WHERE e.kind = 'potFilled' AND e.voidedBy IS NULL ORDER BY e.seq DESC LIMIT 1`,
  )[0]!;
const tagged = (words: RegExp) =>
  page.$$eval(
    '.shelf-pot',
    (pots, source) =>
      pots
        .filter((pot) => new RegExp(source).test(pot.getAttribute('aria-label') ?? ''))
        .map((pot) => pot.getAttribute('data-pot')!),
    words.source,
  );

describe('a round read by what is asked', () => {
  it('takes half the dips or fewer, with the reason for each and the turn of what is left', async () => {
    const all = dipsIn(await says(page, '.how-much', /Everything\s*\d+ dips/));
    await tap(page, 'label[for=how-much-asked]');
    expect(dipsIn(await strip())).toBeLessThanOrEqual(all / 2);
    await says(page, '.asked-lists', /Asked, and why.*May be left.*foreseen; its turn is \d+/);
    expect(chosen()).toEqual([{ how: 'asked' }]);
    expect((await tagged(/read (pH|ppm|both)/)).length).toBeGreaterThan(2);
    expect((await tagged(/leave it unread/)).length).toBeGreaterThan(0);
    await axeClean(page);
  });
  it('a pot that gathers salts is asked for, read and logged with why it was asked', async () => {
    expect(await tagged(/read (ppm|both)/)).toContain('R-07');
    await tap(page, '[data-pot="R-07"]');
    await says(page, '.pot-card', /R-07.*Read its ppm/);
    await logWithout(page);
    await says(page, '.pot-card', /is asked\. Read it, or leave it unread/);
    await page.type('.pot-card [name=ppm]', '248');
    if (await page.$('.field.asked [name=ph]')) await page.type('.pot-card [name=ph]', '7.1');
    await logWithout(page);
    await page.waitForSelector('[data-pot="R-07"] .badge-mark.done');
    const { code, payload } = lastFill();
    expect(code).toBe('R-07');
    expect(JSON.parse(payload)).toMatchObject({ askedFor: { ppm: 'near' }, oldReservoir: { ppm: { value: 248 } } });
  });
  it('what comes out far from what was foreseen asks for the rest; left unread, that is kept too', async () => {
    const [code] = await tagged(/mix [ABC], read pH/);
    await tap(page, `[data-pot="${code}"]`);
    await page.waitForSelector('.field.asked [name=ph]');
    await page.type('.pot-card [name=ph]', '4.3');
    await says(page, '.read-why', /Its pH is other than foreseen\. Read this too/);
    await page.waitForSelector('.field.asked [name=ppm]');
    await press(page, 'or so, and leave it unread');
    await page.waitForSelector(`[data-pot="${code}"] .badge-mark.done`);
    const { payload } = lastFill();
    expect(JSON.parse(payload)).toMatchObject({
      askedFor: { ppm: 'odd' },
      oldReservoir: { ppm: { kind: 'notMeasured' }, ph: { value: 4.3 } },
    });
  });
  it('only little and a budget are one tap; what is missed for it is said', async () => {
    await tap(page, 'label[for=how-much-little]');
    await says(page, '.read-strip', /of \d+ asked (is|are) left out/);
    await axeClean(page);
    const made = dipsIn(await strip());
    // The whole round’s, with those that were made.
    const whole = Number(await page.$eval('.budget b', (b) => b.textContent));
    expect(whole).toBe(made + 3);
    await tap(page, '.budget [aria-label=Fewer]');
    await says(page, '.read-strip h2', new RegExp(`${made - 1} dips?`));
    expect(chosen()).toEqual([{ how: 'atMost', most: whole - 1, of: 'dips' }]);
  });
  it('the sheet has boxes only where a reading is asked', async () => {
    await page.goto(`${on.server.url}/round/print`);
    await says(page, '.paper-foot', /Read where there is a box: \d+ dips?/);
    const boxes = await page.$$eval('.paper-pots .box', (all) => all.length);
    const left = await page.$$eval('.paper-pots td', (all) => all.filter((td) => td.textContent === 'leave').length);
    expect(boxes).toBeGreaterThan(0);
    expect(left).toBeGreaterThan(boxes);
  });
  it('on a phone one pot at a time; a pot is taken out of all asking, and back', async () => {
    await page.setViewport({ width: 390, height: 844 });
    await page.goto(`${on.server.url}/round`);
    await tap(page, 'label[for=how-much-asked]');
    await says(page, '.round header', /Read \d+ pots?, \d+ dips?/);
    const [code] = await tagged(/read (pH|ppm|both)/);
    await page.$eval(`[data-pot="${code}"]`, (e) => (e as HTMLElement).click());
    await says(page, '.pot-card', new RegExp(`${code}.*Read its`));
    await axeClean(page);
    await press(page, 'Never ask it');
    await says(page, '.read-left', /Never asked: you said so/);
    await says(page, '.read-strip', new RegExp(`Never asked: ${code}`));
    await press(page, 'Ask it again');
    await says(page, '.pot-card', /Read its/);
    expect(on.complaints.filter(unexpected)).toEqual([]);
  });
});
