import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Page } from 'puppeteer-core';
import { axeClean, dipAndKeep, field, press, says, stage, unexpected, type Stage, tap } from './kit.ts';

/* The Clay room's main line: a new bag in the demo, four changes over simulated days, the gate, two plants potted up, the worst two pots leached. */

let on: Stage;
let page: Page;
beforeAll(async () => {
  on = await stage();
  page = await on.open('/clay');
});
afterAll(() => on.close());

const closed = () => page.waitForFunction(() => !document.querySelector('.modal'));
const nextDay = async () => {
  await page.waitForFunction(() => !document.querySelector<HTMLButtonElement>('.rail .demo button')!.disabled);
  const before = await page.$eval('.rail .demo button', (e) => e.title);
  await press(page, 'Next day', '.rail');
  await page.waitForFunction(
    (old) => document.querySelector<HTMLButtonElement>('.rail .demo button')?.title !== old,
    {},
    before,
  );
};
/** How wide the forecast of the last soak to come is, by the chart's own words. */
const readyWords = () => page.$eval('.leach-figure .head', (e) => (e.textContent ?? '').replaceAll('\u00a0', ' '));

describe('a new bag in the demo', () => {
  let changes = 0;
  it('is opened, rinsed and put in its first water', async () => {
    await says(page, '.batches', /Batch 6.*rinsed only.*Batch 5.*soaking.*Batch 4.*ready.*Batch 3.*in use in 5 pots/);
    await tap(page, '::-p-aria([name="More about clay"])');
    await press(page, 'Open a new bag', '.dropdown-menu');
    await page.waitForSelector('.modal');
    await field(page, 'Clay in it, L', '0');
    await press(page, 'Add', '.modal-footer');
    await says(page, '.modal .field-error', /cannot be leached: give its litres/);
    await field(page, 'Clay in it, L', '6');
    await press(page, 'Add', '.modal-footer');
    await closed();
    await says(page, '.clay-page .now', /Rinse it until.*do not breathe the dust/);
    await press(page, 'It runs clear');
    await says(page, '.clay-page .now', /Pour its first water on.*nine bags in ten/);
    expect(await readyWords()).toMatch(/Ready in \d changes,/);
    await axeClean(page);
    await press(page, 'It stands in water');
    await says(page, '.clay-page .now', /Soak 1 of about \d.*Let it stand/);
    const [batch] = on.rows<{ name: string; volumeL: number }>(
      `SELECT name, volumeL FROM clay_batch ORDER BY position DESC LIMIT 1`,
    );
    expect(batch).toEqual({ name: 'batch 7', volumeL: 6 });
  });
  it('refuses what cannot be, at the field, and loses nothing', async () => {
    await page.waitForSelector('.clay-page .read input');
    await field(page, 'pen reads, ppm', 'sixty');
    await page.keyboard.press('Enter');
    await says(page, '.clay-page .now .field-error', /Type the figure on the pen/);
    await field(page, 'pen reads, ppm', '4000');
    await page.keyboard.press('Enter');
    await says(page, '.clay-page .now .field-error', /far from the/);
    expect(await page.$eval('.clay-page .read input', (e) => e.value)).toBe('4000');
    await field(page, 'pen reads, ppm', '');
    await press(page, 'Changed:', '.clay-page .now');
    await says(page, '.clay-page .now .field-error', /less than a minute ago/);
  });
  it('is read with the simulated pen and changed over the days, and what it will read is foretold', async () => {
    let foretold = 0;
    for (;;) {
      await nextDay();
      await nextDay();
      await page.waitForSelector('.clay-page .now .read input');
      await dipAndKeep(page);
      const state = await says(page, '.clay-page .now .say', /Change the water now|Ready: drain it|Let it stand/);
      const [row] = on.rows<{ payload: string }>(
        `SELECT payload FROM care_event WHERE kind = 'clayRead' ORDER BY seq DESC LIMIT 1`,
      );
      expect(JSON.parse(row!.payload)).toMatchObject({ ppm: { kind: 'value' } });
      await press(page, 'Log', '.plot-head');
      const foreseen = await page.$$eval('.soak-log .foreseen .num', (cells) => cells.map((c) => c.textContent ?? ''));
      await press(page, 'Chart', '.plot-head');
      const range = /\((\d+) to (\d+)\)/.exec(foreseen[0] ?? '');
      if (range) {
        expect(Number(range[1])).toBeLessThan(Number(range[2]));
        foretold++;
      }
      if (/Ready/.test(state)) break;
      await press(page, 'Changed:', '.clay-page .now');
      changes++;
      await says(page, '.life', new RegExp(`${changes} done`));
      expect(changes).toBeLessThan(9);
    }
    expect(changes).toBeGreaterThanOrEqual(2);
    expect(foretold).toBeGreaterThanOrEqual(1);
  });
  it('shows the three ways side by side on batch 5; the one that is followed leads', async () => {
    await press(page, 'Batch 5', '.batches');
    // Batch 7 has its ways too: a press on one of them, as the page changes, would come down on what stands there then.
    await says(page, '.clay-page header', /Batch 5 · /);
    await says(page, '.ways', /Ways to reach 30.*Fewest litres.*Fewest days.*Yours so far/);
    await tap(page, '.ways tbody tr:nth-child(2) input');
    await page.waitForSelector('.ways tbody tr:nth-child(2).followed');
    const [five] = on.rows<{ way: string }>(`SELECT way FROM clay_batch WHERE name = 'batch 5'`);
    expect(five!.way).toBe('days');
    await press(page, 'Batch 7', '.batches');
    await says(page, '.clay-page .now .say', /Ready: drain it/);
  });
  it('is drained, ready', async () => {
    await press(page, 'Drained,', '.clay-page .now');
    await says(page, '.clay-page .now', /Ready to pot up/);
    await says(page, '.life', /Ready.*since/);
  });
});

describe('potting up from it', () => {
  it('a new plant, fed at once', async () => {
    await press(page, 'Pot up from it');
    await page.waitForSelector('.pot-up');
    await field(page, 'Code', 'R-21');
    await field(page, 'What grows in it', 'Maxillaria');
    await page.select('.guided li:nth-child(1) .fields > div:last-of-type select', 'creeping');
    await says(page, '.guided', /Hollow the clay under its creeping stem/);
    await press(page, 'It is potted up');
    await says(page, '.guided .field-error', /litres of clay that went in/);
    await field(page, 'Clay that goes in, L', '0.9');
    await field(page, 'Reservoir holds, mL', '200');
    await axeClean(page);
    await press(page, 'It is potted up');
    await says(page, 'main h1', /Maxillaria, east sill/);
    await says(page, '.pot-log', /R-21 Maxillaria potted up in 0\.9 L of batch 7/);
  });
  it('a bare-root rescue, with peroxide and a weak start that climbs', async () => {
    await page.goto(`${on.server.url}/clay/pot-up`, { waitUntil: 'load' });
    await page.waitForSelector('.pot-up');
    await field(page, 'Code', 'R-22');
    await field(page, 'What grows in it', 'Angraecum');
    await page.select('.guided li:nth-child(2) select', 'none');
    await says(page, '.guided', /With so little root it cannot drink yet/);
    await tap(page, '#peroxide');
    await says(page, '.guided', /gloves and eye protection/);
    await tap(page, '#bacteria');
    await field(page, 'Clay that goes in, L', '0.6');
    await field(page, 'Reservoir holds, mL', '160');
    await says(page, '.ramp', /45 over base from today.*68 over base.*90 over base/);
    await page.select(
      '.guided li:nth-child(3) .fields > div:nth-of-type(2) select',
      on.rows<{ id: string }>(`SELECT id FROM clay_batch WHERE name = 'batch 7'`)[0]!.id,
    );
    await press(page, 'It is potted up');
    await says(page, '.guided .field-error', /Peroxide kills the bacteria too/);
    await tap(page, '#bacteria');
    await press(page, 'It is potted up');
    await says(page, 'main h1', /Angraecum, east sill/);
    const [row] = on.rows<{ payload: string }>(
      `SELECT payload FROM care_event WHERE kind = 'potPotted' ORDER BY seq DESC LIMIT 1`,
    );
    expect(JSON.parse(row!.payload)).toMatchObject({
      roots: 'none',
      peroxide: true,
      bacteria: false,
      start: 'weak',
      weakDays: 10,
      clayL: 0.6,
    });
    await page.goto(`${on.server.url}/clay`, { waitUntil: 'load' });
    await press(page, 'Batch 7', '.batches');

    await says(page, '.clay-page', /4\.5.L of 6.L left.*In 2 pots/);
  });
});

describe('the worst two pots', () => {
  it('have their holds put on the round', async () => {
    for (const code of ['L-03', 'L-02']) {
      const card = await page.waitForSelector(
        `.never article[aria-label^="${code}"] ::-p-xpath(.//button[starts-with(., "Plan it")])`,
      );
      await card!.click();
      await says(page, '.modal', /tape|remedy that is not proven/);
      await press(page, 'Put on the round', '.modal-footer');
      await closed();
      await says(page, `.never article[aria-label^="${code}"]`, /on the round/);
    }
    await page.goto(`${on.server.url}/round`, { waitUntil: 'load' });
    await says(page, '.plan-list', /Hold 1 of 3: tape, 470.mL still water, 1 h, drain, L-03 Dendrochilum/);
    await says(page, '.plan-list', /L-02 Hoya/);
  });
  it('a hold is started from the round, read at the top and the hole, and teaches the forecast', async () => {
    const link = await page.waitForSelector('.plan-list li ::-p-xpath(.//a[normalize-space(.)="start it"])');
    await link!.click();
    await page.waitForSelector('.modal');
    await says(page, '.modal', /tape its holes: taped pots leak/);
    await press(page, 'It is full: start the clock', '.modal');
    await says(page, '.modal .say', /to go/);
    await says(page, '.clocks', /Hold: read at the top, drain/);
    await axeClean(page);
    await page.waitForSelector('.modal .read input');
    await page.focus('.modal .read input');
    await page.keyboard.press('p');
    await page.waitForFunction(
      () =>
        document.querySelector<HTMLInputElement>('.modal .read input')?.value &&
        !document.querySelector('.modal .dipping'),
    );
    await page.keyboard.press('Enter');
    await says(page, '.modal', /Top of the clay: \d+ ppm/);
    await field(page, 'at the hole, ppm', '30');
    await page.keyboard.press('Enter');
    await says(page, '.modal', /At the hole: 30 ppm/);
    await press(page, 'Drained', '.modal');
    await says(page, '.modal', /The top read \d+ ppm, the hole 30/);
    await press(page, 'Good', '.modal');
    await closed();
    expect(
      on.rows(`SELECT 1 FROM care_event WHERE kind = 'potHoldDrained' AND at > '2026-11-25T08:00:00Z'`),
    ).toHaveLength(1);
    await page.waitForFunction(() => !document.querySelector('.clocks'));
  });
  it('says why a flush would not do, and stays whole on a phone', async () => {
    await press(page, 'Why not just flush?');
    await says(page, '.why-not', /leaves with a flush.*leaves with an hour’s hold/);
    await page.setViewport({ width: 390, height: 844 });
    await page.waitForFunction(() => document.documentElement.scrollWidth <= 390);
    await axeClean(page);
    await page.setViewport({ width: 1280, height: 800 });
    expect(on.complaints.filter(unexpected)).toEqual([]);
  });
});
