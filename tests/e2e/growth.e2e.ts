import sharp from 'sharp';
import { randomUUID } from 'node:crypto';
import type { Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { axeClean, field, press, says, stage, tap, type Stage } from './kit.ts';

let at: Stage;
let page: Page;
let pot: string;
beforeAll(async () => {
  at = await stage();
  pot = at.rows<{ id: string }>(`SELECT id FROM pot WHERE code = 'R-04'`)[0]!.id;
}, 120_000);
afterAll(() => at.close());

const measured = () =>
  at
    .rows<{ figures: string }>(
      `SELECT json_extract(payload, '$.figures') AS figures FROM care_event WHERE kind = 'potMeasured' AND potId = ? AND voidedBy IS NULL ORDER BY at`,
      pot,
    )
    .map(({ figures }) => JSON.parse(figures) as object);

describe('growth', () => {
  it('is measured on the pot’s page, stands there as a line, and is taken back', async () => {
    page = await at.open(`/pots/${pot}`);
    await says(page, '.growth', /nothing measured yet/);
    await press(page, 'Measure', '.growth');
    await field(page, 'Leaves', '7');
    await field(page, 'Longest leaf, cm', 'long');
    await press(page, 'Keep it');
    await says(page, '.modal .field-error', /Give the longest leaf in cm, such as 18.5/);
    await field(page, 'Longest leaf, cm', '18,5');
    await press(page, 'Keep it');
    await says(page, '.growth', /leaves.*7.*longest leaf.*18.5 cm/s);
    expect(measured()).toEqual([{ leaves: 7, leafCm: 18.5 }]);
    await press(page, 'Undo', '.toast:last-child');
    await says(page, '.growth', /nothing measured yet/);
  });
  it('of a whole place on a day for measuring: Enter goes on, and keeps the row at its end', async () => {
    await press(page, 'A day for measuring');
    await page.waitForSelector('.measure-table');
    await axeClean(page);
    await page.focus('[aria-label="R-04, leaves"]');
    for (const figure of ['8', '19.2', '1', '0']) {
      await page.keyboard.type(figure);
      await page.keyboard.press('Enter');
    }
    await says(page, '.measure-table tr:nth-child(4)', /kept/);
    expect(await page.evaluate(() => document.activeElement?.getAttribute('aria-label'))).toBe('R-05, leaves');
    expect(measured()).toEqual([{ leaves: 8, leafCm: 19.2, growths: 1, flowers: 0 }]);
  });
  it('in a photo: four points, by the keyboard alone, give the leaf’s length', async () => {
    const image = await sharp({ create: { width: 400, height: 200, channels: 3, background: '#dcebdf' } })
      .jpeg()
      .toBuffer();
    await page.goto(`${at.server.url}/pots/${pot}`);
    await page.evaluate(
      async (url, body) => {
        await fetch(url, { method: 'PUT', headers: { 'content-type': 'application/json' }, body });
      },
      `/api/pots/${pot}/photos/${randomUUID()}`,
      JSON.stringify({ image: image.toString('base64') }),
    );
    await page.reload({ waitUntil: 'load' });
    await tap(page, '.thumbs button');
    await press(page, 'Measure in it', '.modal');
    await press(page, 'Place the points for me', '.modal');
    await page.focus('[data-point="3"]');
    await page.keyboard.press('ArrowDown');
    await axeClean(page);
    // Known: 0.4 of the width, twice the height; the leaf: 0.51 of the height.
    await says(page, '.photo-measured', /6\.4 cm/);
    await press(page, 'Keep it as the longest leaf');
    await says(page, '.growth', /longest leaf.*6\.4 cm/s);
    expect(measured().at(-1)).toEqual({ leafCm: 6.4 });
  });
});
it('all of it goes along with the plant, on paper', async () => {
  await press(page, 'Report');
  await page.waitForSelector('.pot-report');
  await says(page, '.pot-report', /What it is used to.*every 7 days.*Growth.*longest leaf/s);
  await page.waitForSelector('.report-photos img');
  await axeClean(page);
  await page.emulateMediaType('print');
  expect(await page.$$eval('.rail, .no-print', (all) => all.map((e) => getComputedStyle(e).display))).toEqual([
    'none',
    'none',
  ]);
  await page.emulateMediaType('screen');
});
it('nothing went wrong on the way', () => expect(at.complaints).toEqual([]));
