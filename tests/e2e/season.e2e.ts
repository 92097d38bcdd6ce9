import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Page } from 'puppeteer-core';
import { axeClean, press, says, stage, unexpected, type Stage } from './kit.ts';

/* The coming six weeks: seen at once, bettered beside the page, the three plans side by side, a day told, the same as a table. */

let on: Stage;
let page: Page;
beforeAll(async () => {
  on = await stage();
  page = await on.open('/season');
});
afterAll(() => on.close());

describe('the season', () => {
  it('draws every lane and the tank, and says when the search is done', async () => {
    await says(page, '.season header', /Wed 25 Nov to Tue 5 Jan · 42 pots/);
    await says(page, '.season-picture', /East sill.*closed now.*Long shelf.*Cool porch.*In the tank/);
    await page.waitForFunction(() => document.querySelector('.season') && !document.querySelector('.seeking'));
    await says(page, '.this-plan', /Nobody late: that cannot be better/);
    await axeClean(page);
  });
  it('tells the day that is pressed, and takes what matters most', async () => {
    await page.$eval('.season-picture .act.visit[aria-label*="Wed 25 Nov"]', (e) => (e as SVGElement).focus());
    await page.keyboard.press('Enter');
    await says(page, '.chosen-day', /Wed 25 Nov.*To mix:.*Takes .* leaves/);
    await press(page, 'Fewest mixes');
    expect(await page.$eval('.this-plan button.on', (e) => e.textContent)).toBe('Fewest mixes');
    const [fewest, late, water] = await page.$$eval('.this-plan tbody tr', (rows) =>
      Array.from(rows.find((row) => row.textContent?.startsWith('Mixes'))!.querySelectorAll('td'), (cell) =>
        Number(cell.textContent),
      ),
    );
    expect(fewest).toBeLessThanOrEqual(Math.min(late!, water!));
    await press(page, 'Table');
    await says(page, '.season-table', /Wed 25 Nov/);
    await axeClean(page);
    expect(on.complaints.filter(unexpected)).toEqual([]);
  });
});
