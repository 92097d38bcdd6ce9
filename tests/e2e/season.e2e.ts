import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Page } from 'puppeteer-core';
import { axeClean, paste, press, says, stage, unexpected, type Stage } from './kit.ts';

/* The coming six weeks: seen at once, bettered beside the page, kept, moved by hand, planned round days away, carried into the round, and mended when life goes otherwise. */

let on: Stage;
let page: Page;
beforeAll(async () => {
  on = await stage();
  page = await on.open('/season');
});
afterAll(() => on.close());

const sought = async () => {
  await page.waitForFunction(() => document.querySelector('.this-plan') && !document.querySelector('.seeking'));
};
const kept = () => on.rows<{ aim: string }>('SELECT aim FROM season')[0];
const plans = () => on.rows<{ id: string; visits: string; pins: string }>('SELECT * FROM pot_plan');

describe('the season', () => {
  it('draws every lane and the tank, and says how good the plan is', async () => {
    await says(page, '.season header', /Wed 25 Nov to Tue 5 Jan · 42 pots/);
    await says(page, '.season-picture', /East sill.*closed until April.*Long shelf.*Cool porch.*New clay.*In the tank/);
    await sought();
    await says(page, '.this-plan', /Nobody late: that cannot be better.*(At least \d+ mixes|fewer than \d+ mixes)/);
    await axeClean(page);
  });
  it('tells the day that is pressed, and takes what matters most', async () => {
    await page.$eval('.season-picture .act.visit [aria-label*="Wed 25 Nov"]', (e) =>
      (e as unknown as HTMLElement).focus(),
    );
    await page.keyboard.press('Enter');
    await says(page, '.chosen-day', /Wed 25 Nov.*own day.*To mix:.*Takes .* leaves/);
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
    await press(page, 'Picture');
    await press(page, 'Nobody late');
  });
  it('is kept, and the round goes by it', async () => {
    await press(page, 'Keep this plan');
    await says(page, '.kept-card', /Kept on Wed 25 Nov: the round goes by it/);
    expect(kept()).toMatchObject({ aim: 'nobodyLate' });
    expect(plans()).toHaveLength(42);
    const today = plans().filter(({ visits }) => visits.includes('"on":"2026-11-25"')).length;
    await page.goto(`${on.server.url}/round`);
    await says(page, '.round header', new RegExp(`${today} pots? due`));
    await page.goto(`${on.server.url}/season`);
    await sought();
  });
  it('a soak taken with M and dropped two days on is the grower’s own; the rest is mended round it, and it can be undone', async () => {
    const act = '.season-picture .act.soak [role=button]';
    const from = await page.$eval(act, (e) => e.getAttribute('aria-label')!);
    await page.$eval(act, (e) => (e as unknown as HTMLElement).focus());
    for (const key of ['m', 'ArrowRight', 'ArrowRight', 'Enter'] as const) await page.keyboard.press(key);
    await says(page, '.chosen-day', /You put it on this day/);
    await page.waitForFunction(
      (was) => !document.querySelector('.act.soak [role=button]')?.getAttribute('aria-label')?.startsWith(was),
      {},
      from,
    );
    await says(page, '.kept-card', /Kept on Wed 25 Nov/);
    const pinned = plans().filter(({ pins }) => pins !== '[]');
    expect(pinned.length).toBeGreaterThan(0);
    expect(pinned.every(({ pins }) => pins.includes('"soak":"magnesium"'))).toBe(true);
    await press(page, 'Undo');
    await page.waitForFunction(
      (was) => document.querySelector('.act.soak [role=button]')?.getAttribute('aria-label') === was,
      {},
      from,
    );
    expect(plans().every(({ pins }) => pins === '[]')).toBe(true);
  });
  it('is planned round days away, with a sheet for whoever looks after the pots', async () => {
    await sought();
    await press(page, 'I am away …');
    await paste(page, 'First day away', '2026-12-05');
    await paste(page, 'Last day away', '2026-12-13');
    await press(page, 'Plan round them');
    await says(page, '.away-card', /Sat 5 Dec to Sun 13 Dec/);
    await sought();
    await says(page, '.kept-card', /Life went otherwise.*would go to/);
    await press(page, 'Keep it mended');
    await says(page, '.kept-card', /Kept on Wed 25 Nov: the round goes by it/);
    const days = plans().flatMap(({ visits }) => (JSON.parse(visits) as { on: string }[]).map((visit) => visit.on));
    expect(days.some((day) => day >= '2026-12-05' && day <= '2026-12-13')).toBe(false);
    await page.$eval('.away-card a', (e) => (e as HTMLElement).click());
    await says(page, '.sitter', /While I am away.*plain water only.*Please never.*Worried\? Please ring/);
    await axeClean(page);
    expect(await page.$$eval('.sitter-pot', (pots) => pots.length)).toBe(42);
  });
  it('goes into a calendar by an address', async () => {
    await page.goto(`${on.server.url}/season`);
    await press(page, 'In my calendar …');
    await press(page, 'Make an address to subscribe to');
    const address = await page.waitForSelector('::-p-aria([name="The address, shown this once"])');
    const url = await address!.evaluate((e) => (e as HTMLInputElement).value);
    const text = await (await fetch(url)).text();
    expect(text).toMatch(/^BEGIN:VCALENDAR/);
    expect(text.match(/SUMMARY:Water \d+ pots?/g)!.length).toBeGreaterThan(5);
    expect(text).toContain('SUMMARY:Away from the pots');
    await page.keyboard.press('Escape');
  });
  it('some of a watering’s pots are put on another day, and a morning has more still water', async () => {
    await page.goto(`${on.server.url}/season`);
    await sought();
    await page.$$eval('.season-picture .act.visit [role=button]', (acts) =>
      acts
        .find(
          (act) =>
            /: [2-9] pots/.test(act.getAttribute('aria-label')!) && !/25 Nov/.test(act.getAttribute('aria-label')!),
        )!
        .dispatchEvent(new MouseEvent('click', { bubbles: true })),
    );
    await press(page, 'Only some of them …', '.chosen-day');
    await page.$eval('.some-of-them input', (e) => (e as HTMLElement).click());
    await axeClean(page);
    await press(page, 'Pin', '.chosen-day');
    await says(page, '.kept-card', /Kept on Wed 25 Nov/);
    await page.waitForFunction(() => document.querySelector('.season-picture .act.visit .pin') !== null);
    expect(plans().filter(({ pins }) => pins !== '[]')).toHaveLength(1);
    await press(page, 'More or less …', '.chosen-day');
    await paste(page, 'Made or brought by that morning, L', '19');
    await press(page, 'Plan with it', '.chosen-day');
    await says(page, '.chosen-day', /Made or brought by that morning: 19.L/);
    expect(on.rows<{ litres: number }>('SELECT litres FROM made_day')).toEqual([{ litres: 19 }]);
  });
  it('five days later, with nothing done, it says what has become of it and is mended', async () => {
    for (const day of ['Thu 26', 'Fri 27', 'Sat 28', 'Sun 29', 'Mon 30']) {
      await press(page, 'Next day', '.rail');
      await says(page, '.season header', new RegExp(`${day} Nov to`));
    }
    await sought();
    await says(page, '.kept-card', /Life went otherwise.*Planned before today and not done/);
    await press(page, 'Keep it mended');
    await says(page, '.kept-card', /Kept on Mon 30 Nov/);
    await press(page, 'The last weeks');
    await says(page, '.season-back', /waterings were planned: .*not yet.*Too few days/);
    await axeClean(page);
    const phone = await on.open('/season', { width: 390, height: 844 });
    await says(phone, '.season-table', /Mon 30 Nov/);
    await axeClean(phone);
    expect(on.complaints.filter(unexpected)).toEqual([]);
  });
});
