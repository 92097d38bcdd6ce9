import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { ElementHandle, Page } from 'puppeteer-core';
import { axeClean, dipAndKeep, field, keep, press, says, stage, unexpected, type Stage, tap } from './kit.ts';

/* The bench in full, as a grower new to it would go through it with the simulated pens: soaks, several parts in one can, hard water, an overshoot. */

let on: Stage;
let page: Page;
beforeAll(async () => {
  on = await stage();
  page = await on.open('/bench/new');
});
afterAll(() => on.close());

/** Chooses by the words of an option. */
async function choose(selector: string, words: RegExp): Promise<void> {
  await page.waitForSelector(selector);
  const value = await page.$eval(
    selector,
    (e, source) => [...(e as HTMLSelectElement).options].find((o) => new RegExp(source).test(o.text))?.value,
    words.source,
  );
  if (value === undefined) throw new Error(`no option like ${words} in ${selector}`);
  await page.select(selector, value);
}
/** The control under a label. */
async function under(label: string): Promise<string> {
  const id = await page.$$eval(
    'label',
    (labels, text) => labels.find((l) => l.textContent === text)?.getAttribute('for'),
    label,
  );
  if (!id) throw new Error(`no field ${label}`);
  return `[id="${id}"]`;
}
async function fresh(): Promise<void> {
  await page.goto(`${on.server.url}/bench/new`);
  await page.waitForSelector('.start-form');
  await page.evaluate(() => sessionStorage.clear());
  await page.reload();
  await page.waitForSelector('.start-form');
}
async function begin(): Promise<void> {
  await tap(page, '.start-form button[type=submit]');
  await says(page, '.now .say', /Read the plain/);
  await dipAndKeep(page);
}
/** Portion after portion with the simulated pen until every part is in; how many it took. */
async function toStrength(): Promise<number> {
  let portions = 0;
  while (
    /Add|Pour off/.test(await says(page, '.now .say', /Add|Pour off|Read the pH|On target|All in/)) &&
    portions < 9
  ) {
    portions++;
    await dipAndKeep(page);
  }
  return portions;
}
const newest = <T>(columns: string) =>
  on.rows<T>(`SELECT ${columns} FROM batch ORDER BY startedAt DESC, rowid DESC LIMIT 1`)[0]!;
const parts = () =>
  on.rows<{
    name: string;
    method: string;
    mlPerUnit: number;
    netEcUsCm: number | null;
    lowEcUsCm: number;
    highEcUsCm: number;
  }>(
    `SELECT r.name, p.method, p.mlPerUnit, p.netEcUsCm, p.lowEcUsCm, p.highEcUsCm FROM batch_part p JOIN bottle o ON o.id = p.bottleId JOIN product r ON r.id = o.productId
     WHERE p.batchId = (SELECT id FROM batch ORDER BY startedAt DESC, rowid DESC LIMIT 1) ORDER BY p.position`,
  );

describe('an Epsom soak for the Long shelf, from rain water', () => {
  it('takes the soak’s band, pH and hold, says what to mind, and has the salt weighed into a stock', async () => {
    await choose(await under('Use'), /short soak/);
    await choose(await under('Product'), /Epsom/);
    await field(page, 'Aim over base, ppm', '80');
    await choose(await under('Water'), /Rain/);
    await field(page, 'How much, L', '5');
    await choose(await under('Mix it in'), /Bucket/);
    await choose(await under('For the pots of'), /Long shelf/);
    await says(page, '.before', /at rest|still rooting|basket/);
    await says(page, '.before', /Epsom salt, from a stock: 80 more/);
    await says(page, '.before', /hold 30 min/);
    await axeClean(page);
    await begin();
    await says(page, '.now', /First a stock: \d+ g of Epsom in \d+ mL of hot water, in something heat-proof/);
    expect(await toStrength()).toBeLessThanOrEqual(3);
    expect(newest('use, holdMinutes, phLow, phHigh, json_array_length(forPots) AS pots')).toMatchObject({
      use: 'soak',
      holdMinutes: 30,
      phLow: 6.5,
      phHigh: 7,
    });
    expect(parts()).toMatchObject([
      { name: 'Epsom salt', method: 'stock', netEcUsCm: 160, lowEcUsCm: 140, highEcUsCm: 220 },
    ]);
  });
  it('is poured, and its hold runs on a clock in every room', async () => {
    await keep(page, '6.5');
    await says(page, '.now .say', /reads \d+, pH 6\.[78]/);
    await says(page, '.now', /in a quarter of an hour and \d\.\d tomorrow/);
    await press(page, 'Ready to pour');
    await press(page, 'Clock: hold, 30 min');
    await says(page, '.toast', /Clock started: Soak: hold, then drain/);
    expect(on.rows(`SELECT subjectKind, origin FROM clock WHERE origin = 'bench'`)).toEqual([
      { subjectKind: 'batch', origin: 'bench' },
    ]);
    await page.goto(`${on.server.url}/round`);
    await says(page, '.clocks', /hold, then drain/);
  });
});

describe('a silicate soak with acid', () => {
  it('is measured by the label, read, and brought down from above nine with the acid thinned first', async () => {
    await fresh();
    await choose(await under('Use'), /short soak/);
    await choose(await under('Product'), /silicate/);
    await choose(await under('Aim by'), /element/);
    await choose('[aria-label="of"]', /silica/);
    await field(page, 'mg/L', '48');
    await choose(await under('Water'), /Rain/);
    await field(page, 'How much, L', '5');
    await choose(await under('Mix it in'), /Bucket/);
    await begin();
    await says(page, '.now', /by measure, all of it/);
    await says(page, '.now', /silicate poured in thick clouds/);
    await dipAndKeep(page);
    await says(page, '.now', /Expected pH 9\.\d/);
    await keep(page, '9.6');
    await says(page, '.now', /First thin it: 1 part into 19 of still water \(acid into water, never the reverse\)/);
    await axeClean(page);
    expect(parts()).toMatchObject([{ name: 'Liquid silicate', netEcUsCm: null }]);
  });
  it('warns of what a citric dose is worth only where it matters, and takes a kit’s range', async () => {
    await keep(page, '7.0-7.5');
    await says(page, '.now', /Correction 2 of 3/);
    expect(
      on.rows<{ ratio: number }>(
        `SELECT json_extract(payload, '$.ratio') AS ratio FROM care_event WHERE kind = 'batchCorrection' ORDER BY seq DESC LIMIT 1`,
      ),
    ).toEqual([{ ratio: 20 }]);
  });
  it('keeps a photo of the kit beside its reading, small, looked at and taken away', async () => {
    const file = join(mkdtempSync(join(tmpdir(), 'frugal-sip-photo-')), 'kit.png');
    await page.screenshot({ path: file });
    const input = await page.waitForSelector('.photos-beside input[type=file]');
    await (input as ElementHandle<HTMLInputElement>).uploadFile(file);
    await page.waitForFunction(
      () => document.querySelector<HTMLImageElement>('.photos-beside img')?.naturalWidth === 1000,
    );
    const [kept] = on.rows<{ bytes: number }>('SELECT length(jpeg) AS bytes FROM photo');
    expect(kept!.bytes).toBeLessThan(300_000);
    await tap(page, '.photos-beside button:has(img)');
    await says(page, '.modal', /The reading, \d\d:\d\d/);
    await page.waitForFunction(() => getComputedStyle(document.querySelector('.modal')!).opacity === '1');
    await axeClean(page);
    await press(page, 'Take the photo away');
    await page.waitForFunction(() => !document.querySelector('.photos-beside img'));
  });
});

describe('cal-mag, then feed, in one can', () => {
  it('goes in by the order that clouds least, each read by itself, and teaches both', async () => {
    await fresh();
    await press(page, 'Another product in the same can');
    await field(page, 'Aim over base, ppm, part 2', '50');
    await says(page, '.before', /Calcium–magnesium syrup: 50 more.*House feed: 90 more/);
    await field(page, 'How much, L', '4');
    await begin();
    await says(page, '.parts-strip', /1 · Plain from the bottle.*cal-mag, 50 over base.*2 · .*feed, 90 over base/);
    await axeClean(page);
    expect(await toStrength()).toBeLessThanOrEqual(6);
    await says(page, '.parts-strip', /in its band.*in its band|left/);
    expect(parts().map((p) => p.name)).toEqual(['Calcium–magnesium syrup', 'House feed']);
    await says(page, '.now', /Expected pH/);
  });
  it('is kept as a recipe, made again, and the recipe counts how it came out', async () => {
    await keep(page, '6.0');
    await press(page, 'Ready to pour');
    await press(page, 'Keep it as a recipe');
    await page.waitForSelector('.start-form');
    await field(page, 'Name', 'Can for the sill');
    await press(page, 'Keep the recipe');
    await says(page, '.recipe-cards', /Can for the sill.*Calcium–magnesium syrup, 50 over base.*not made yet/);
    await axeClean(page);
    await page.$$eval('.recipe-cards > li', (cards) =>
      cards
        .find((c) => c.textContent?.includes('Can for the sill'))
        ?.querySelector<HTMLElement>('.btn-clay')
        ?.click(),
    );
    await page.waitForSelector('.start-form');
    await says(page, '.before', /By recipe: not yet read right from this water and these bottles/);
    await begin();
    await toStrength();
    await keep(page, '6.0');
    await press(page, 'Ready to pour');
    await page.goto(`${on.server.url}/bench/recipes`);
    await says(page, '.recipe-cards', /Can for the sill[^¦]*made once, right 1 of the 1 read/);
  });
  it('what a use starts from is changed from now on, kept with what it was, and undone from the Book', async () => {
    await tap(page, '[aria-label="Change short soak"]');
    await page.waitForSelector('.modal');
    await field(page, 'Over base, ppm', '90');
    await press(page, 'Keep it from now on');
    await says(page, '.recipes', /short soak90.*1 before/);
    await page.goto(`${on.server.url}/book`);
    await page.waitForSelector('[aria-label^="Undo: Changed what a soak starts from"]');
    await tap(page, '[aria-label^="Undo: Changed what a soak starts from"]');
    await page.goto(`${on.server.url}/bench/recipes`);
    await says(page, '.recipes', /short soak100/);
  });
});

describe('a feed in hard tap, to 5.6, with citric', () => {
  it('measures the acid by the syringe, says it is gone in days, and lands', async () => {
    await fresh();
    await choose(await under('Water'), /Kitchen tap/);
    await field(page, 'How much, L', '4');
    await field(page, 'pH from', '5.4');
    await field(page, 'pH to', '5.8');
    await says(page, '.before', /chlorinated: let it stand open for 24 h/);
    await begin();
    await toStrength();
    await keep(page, '7.5');
    await choose('.now select[aria-label="of"]', /Citric/);
    await says(page, '.now .say', /Add \d+(\.\d+)?.mLof citric/);
    await says(page, '.now', /eaten by microbes in days/);
    await says(page, '.now .warn-line', /gone in days, and the pH climbs back/);
    await keep(page, '5.4');
    await says(page, '.now .say', /reads/);
    expect(
      on.rows<{ name: string; ml: number }>(
        `SELECT p.name, json_extract(e.payload, '$.dose.doseMl') AS ml FROM care_event e JOIN product p ON p.id = json_extract(e.payload, '$.productId')
         WHERE e.kind = 'batchCorrection' ORDER BY e.seq DESC LIMIT 1`,
      )[0],
    ).toMatchObject({ name: 'Citric, 5 % home-made', ml: expect.closeTo(20, -1.5) });
  });
  it('a third failed correction: no fourth, and the bucket waters the garden', async () => {
    await fresh();
    await begin();
    await toStrength();
    await keep(page, '7.4');
    let questioned = 0;
    for (const [i, ph] of ['7.2', '7.0', '6.8'].entries()) {
      await says(page, '.now', new RegExp(`Correction ${i + 1} of 3`));
      await keep(page, ph);
      // So little for so much acid is questioned with its likely causes, and stands when it is kept once more.
      if (/far from/.test(await says(page, '.now', new RegExp(`far from|Correction ${i + 2} of 3|No fourth`)))) {
        questioned++;
        await says(page, '.odd-causes', /thinned as was said/);
        await page.keyboard.press('Enter');
      }
    }
    expect(questioned).toBeGreaterThan(0);
    await says(page, '.now .say', /No fourth: start again/);
    await says(page, '.now', /garden plants/);
    await press(page, 'Throw it out');
    await says(page, '.now .say', /was thrown out/);
    expect(newest('status')).toEqual({ status: 'abandoned' });
  });
});

describe('an overshoot to 240 in a jug that cannot hold the water', () => {
  it('says how much to pour off, to whom, and how much to add', async () => {
    await fresh();
    await field(page, 'How much, L', '1.8');
    await choose(await under('Mix it in'), /, 2.L/);
    await says(page, '.before', /nearly full/);
    await begin();
    await page.waitForFunction(() => document.querySelector('.now .say')?.textContent?.includes('Add'));
    await keep(page, '240');
    await says(page, '.now [role=alert]', /far above/);
    await page.keyboard.press('Enter');
    await says(page, '.now .say', /Pour off \d\.?\d*.m?L,then add \d\.?\d*.m?L/);
    await axeClean(page);
    await choose('#poured-off-to', /soil plants/);
    await keep(page, '99');
    await says(page, '.now .say', /Read the pH/);
    expect(
      on.rows(
        `SELECT json_extract(payload, '$.to') AS "to" FROM care_event WHERE kind = 'batchThinned' ORDER BY seq DESC LIMIT 1`,
      ),
    ).toEqual([{ to: 'soil plants, thinned' }]);
  });
});

describe('a spray for the baskets, wet hands, the card', () => {
  it('a spray starts from its own strength, in a small batch with the product thinned first', async () => {
    await fresh();
    await choose(await under('Use'), /leaf spray/);
    await field(page, 'How much, L', '0.25');
    await begin();
    await says(page, '.now', /First thin it: 1 part feed and \d+ of the same water/);
    expect(newest('use')).toEqual({ use: 'spray' });
  });
  it('wet hands show one thing at a time; the card stands on paper', async () => {
    await page.evaluate(() => (document.activeElement as HTMLElement).blur());
    await page.keyboard.press('h');
    await page.waitForSelector('.bench.wet');
    expect(await page.$eval('.bench.wet .plot', (e) => getComputedStyle(e).display)).toBe('none');
    await axeClean(page);
    await page.keyboard.press('h');
    await page.waitForSelector('.bench:not(.wet)');
    await tap(page, 'a[href$="/card"]');
    await says(page, '.mixing-card', /House feed.*in portions, read after each/);
    await axeClean(page);
  });
});

describe('the practice bucket', () => {
  it('is reached, rescued and brought down without a line in the book', async () => {
    const before = on.rows('SELECT count(*) AS n FROM care_event');
    // A bucket of its own number: in some of the others a mix comes out a little over, where it may stay.
    await page.goto(`${on.server.url}/bench/practice?bucket=7`);
    await says(page, '.now .say', /Read the plain/);
    await dipAndKeep(page);
    let portions = 0;
    while (/Add|Pour off/.test(await says(page, '.now .say', /Add|Pour off|On target/)) && portions++ < 9)
      await dipAndKeep(page);
    await press(page, 'On to the pH');
    await says(page, '.now', /It landed.*\d portions?/);
    await axeClean(page);
    await press(page, 'The next one');
    await says(page, '.now .say', /Pour off.*then add/);
    await dipAndKeep(page);
    while (/Add|Pour off/.test(await says(page, '.now .say', /Add|Pour off|On target/)) && portions++ < 20)
      await dipAndKeep(page);
    await press(page, 'On to the pH');
    await says(page, '.now', /the least that brings it to the aim in this jug/);
    await press(page, 'The next one');
    await says(page, '.now .say', /Read the pH/);
    await dipAndKeep(page);
    for (
      let corrections = 0;
      corrections < 3 && /Add/.test(await says(page, '.now .say', /Add|●|○|No fourth/));
      corrections++
    )
      await dipAndKeep(page);
    await says(page, '.now', /correction|No fourth/);
    expect(on.rows('SELECT count(*) AS n FROM care_event')).toEqual(before);
  });
});

it('the browser’s console stayed clean', () => {
  expect(on.complaints.filter(unexpected)).toEqual([]);
});
