import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { axeClean, dipAndKeep, keep, says, stage, type Stage, tap } from './kit.ts';

const SIZES = [
  { width: 1280, height: 800 },
  { width: 390, height: 844 },
];
let on: Stage;
beforeAll(async () => {
  on = await stage();
});
afterAll(() => on.close());

describe('axe finds nothing', () => {
  for (const size of SIZES) {
    for (const [path, ready] of [
      ['/round', '.pot-card'],
      ['/bench', '.batch-table'],
      ['/bench/new', '.start-form'],
      ['/pots', '.how-they-stand'],
      ['/pots?view=shelves', '.shelves'],
      ['/pots?view=table', '.pot-table'],
      ['/pots/list', '.pasted-in'],
      ['/pots/places', '.shelf-list'],
      ['/pots/regimens/new', '.regimen-form'],
      ['/pots/advice', '.advice-grid'],
      ['/pots/rules', '.rules-page table'],
      ['/pots/labels', '.label'],
      ['/shelf', '.shelf-boards'],
      ['/shelf?view=list', '.shelf-list'],
      ['/shelf/mix', '.mix-page .element-bars'],
      ['/shelf/compare', '.compare-table'],
      ['/book', '.log-row'],
      ['/book/settings', '.settings'],
      ['/book/phone', '.settings'],
      ['/book/out', '.table-out'],
      ['/book/backups', '.backups'],
      ['/drawings', '.ph-gauge'],
    ] as const) {
      it(`${path} at ${size.width}`, async () => {
        const page = await on.open(path, size);
        await page.waitForSelector(ready);
        // A phone has colours of its own on the round and at the bench only.
        await axeClean(page, { contrast: size.width === 1280 || /round|bench/.test(path) });
        expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(size.width);
        await page.close();
      });
    }
    it(`a pot’s page, its table, skipping and the keys at ${size.width}`, async () => {
      const page = await on.open('/pots?view=table', size);
      await page.waitForSelector('.pot-table');
      await tap(page, '.pot-table a');
      await page.waitForSelector('.visit-figure');
      await axeClean(page);
      await tap(page, '.visits .btn-outline-secondary');
      await page.waitForSelector('.visit-table');
      await axeClean(page);
      await page.goto(`${on.server.url}/round`);
      await page.waitForSelector('.pot-card');
      await page.keyboard.press('s');
      await page.waitForSelector('.skip-form');
      await axeClean(page);
      await page.keyboard.press('Escape');
      await page.keyboard.type('?');
      await page.waitForSelector('.modal');
      await axeClean(page);
      await page.close();
    });
    it(`the bench from water to pouring at ${size.width}`, async () => {
      const page = await on.open('/bench/new', size);
      await page.waitForSelector('.start-form');
      await tap(page, '.start-form button[type=submit]');
      await says(page, '.now .say', /Read the plain/);
      await axeClean(page);
      await dipAndKeep(page);
      await says(page, '.now .say', /Add/);
      await axeClean(page);
      while (/Add/.test(await says(page, '.now .say', /Add|Read the pH/))) await dipAndKeep(page);
      await axeClean(page);
      // Typed: what the demo's pen shows, off by design, lies now inside the window, now outside.
      await keep(page, '7.0');
      await says(page, '.now', /Correction 1 of 3/);
      await axeClean(page);
      await tap(page, '.stepper li:last-child button:not(:disabled), .entry-keys button');
      await axeClean(page);
      expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(size.width);
      await page.close();
    });
  }
});

describe('round and bench fit 1280 by 800 without scrolling', () => {
  it('the round', async () => {
    const page = await on.open('/round');
    await page.waitForSelector('.pot-card');
    expect(await page.$eval('main', (e) => e.scrollHeight - e.clientHeight)).toBe(0);
  });
});

describe('the keyboard reaches everything', () => {
  it('walks the shelves with arrows and opens rooms with Alt and a digit', async () => {
    const page = await on.open('/round');
    await page.waitForSelector('.pot-card');
    const chosen = () => page.$eval('.shelf-pot[aria-pressed=true]', (e) => e.getAttribute('data-pot'));
    const first = await chosen();
    await page.keyboard.press('ArrowRight');
    await page.waitForFunction(
      (c) => document.querySelector('.shelf-pot[aria-pressed=true]')?.getAttribute('data-pot') !== c,
      {},
      first,
    );
    await page.keyboard.press('ArrowDown');
    await page.waitForFunction(() =>
      document.querySelector('.shelf-pot[aria-pressed=true]')?.getAttribute('data-pot')?.startsWith('L-'),
    );
    await page.keyboard.down('Alt');
    await page.keyboard.press('3');
    await page.keyboard.up('Alt');
    await says(page, 'h1', /Pots/);
    await page.keyboard.press('/');
    await page.keyboard.type('masdevallia porch');
    await says(page, 'header', /3 found/);
    expect(page.url()).toMatch(/q=masdevallia/);
  });
});

describe('an own, empty collection', () => {
  it('welcomes, and leads to the demo in a file of its own', async () => {
    const own = await stage({ demo: false });
    try {
      const page = await own.open('/round');
      await says(page, 'h1', /Welcome to Frugal Sip/);
      await axeClean(page);
      await Promise.all([
        page.waitForNavigation({ timeout: 60_000 }),
        tap(page, '.empty ::-p-text(Look round the demo)'),
      ]);
      await says(page, 'h1', /Wednesday’s round/);
      await says(page, '.rail .demo', /invented plants/);
      expect(new URL(page.url()).origin).not.toBe(own.server.url);
      expect(own.rows('SELECT id FROM pot')).toEqual([]);
      expect(own.complaints).toEqual([]);
    } finally {
      await own.close();
    }
  });
});
