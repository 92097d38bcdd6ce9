import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Page } from 'puppeteer-core';
import { axeClean, field, press, says, stage, unexpected, type Stage, tap } from './kit.ts';

/* The Shelf's chemistry as a grower meets it: waters, labels, droppers, pens and what they taint, the cards, the pH on the bench. */

let on: Stage;
let page: Page;
beforeAll(async () => {
  on = await stage();
  page = await on.open('/shelf');
});
afterAll(() => on.close());

/** Presses the thing of this name on the boards. */
async function choose(name: string): Promise<void> {
  const thing = await page.waitForSelector(
    `.shelf-thing ::-p-xpath(ancestor-or-self::*//b[text()="${name}"]/ancestor::button)`,
  );
  await thing!.evaluate((e) => e.scrollIntoView({ block: 'center' }));
  await thing!.click();
  await page.waitForSelector(`.shelf-sheet[aria-label="${name}"]`);
}
async function add(what: string): Promise<void> {
  await press(page, 'Add something');
  await press(page, what, '.dropdown-menu');
  await page.waitForSelector('.modal');
}
const closed = () => page.waitForFunction(() => !document.querySelector('.modal'));
const select = async (label: string, value: string) => {
  const box = await page.waitForSelector(`::-p-aria([name="${label}"][role="combobox"])`);
  await box!.select(value);
};

describe('a new user fills the Shelf', () => {
  it('enters a hard tap from a drop kit: what it holds, what it is good for, what it blends to', async () => {
    await add('A water');
    await select('Which water', 'tap');
    await field(page, 'What you call it', 'Garden tap');
    await select('Chlorine in it', 'chlorine');
    await tap(page, '#known-kit');
    await field(page, 'Alkalinity (KH)', '-8');
    await press(page, 'Add', '.modal-footer');
    await says(page, '.modal .field-error', /count the drops again/);
    await field(page, 'Alkalinity (KH)', '11');
    await press(page, 'Add', '.modal-footer');
    await closed();
    await says(page, '.shelf-sheet', /Garden tap.*Never read yet/);
    await press(page, 'Read it', '.shelf-sheet');
    await field(page, 'ppm', '290');
    await field(page, 'pH', '7.4-7.6');
    await press(page, 'Keep the reading');
    await closed();
    await says(page, '.shelf-sheet', /too much to feed with/);
    await says(page, '.shelf-sheet', /11\.0 ± 0\.6 °dKH/);
    await says(page, '.blend-card', /1\.\d.L of garden tap and 3\.\d.L of still water\. It reads 89/);
    const [row] = on.rows<{ known: string }>(`SELECT known FROM water WHERE name = 'Garden tap'`);
    expect(JSON.parse(row!.known)).toMatchObject({ method: 'kit', alkalinity: { value: 11, unit: '°dKH' } });
  });
  it('lets a can of it stand: its clock runs on the boards', async () => {
    await press(page, 'Let a can stand', '.shelf-sheet');
    await press(page, 'Start its clock');
    await closed();
    await says(page, '.clocks', /Standing, 24 hours open/);
    await says(page, '.shelf-boards', /2[34] h.*still to standGarden tap|still to stand/);
    await press(page, 'Stop', '.shelf-sheet');
    await page.waitForFunction(() => !document.querySelector('.clocks'));
  });
  it('enters a home-made 5 % citric bottle, with its caution, and learns what it does to that tap', async () => {
    await add('A bottle or jar');
    await select('What it is', 'acid');
    await field(page, 'What you call it', 'Citric from the kitchen');
    await says(page, '.modal', /never water into the acid/);
    await select('Percent means', 'w/v');
    await field(page, 'citric acid, percent', '5');
    await press(page, 'Add', '.modal-footer');
    await closed();
    await says(page, '.acid-card', /mLabout \d+ drops|mL about \d+ drops/);
    await says(page, '.acid-card', /eaten by microbes in days/);
    await axeClean(page);
  });
  it('copies a label from the kitchen cupboard: contradictions are said, nothing is lost, urea is flagged', async () => {
    await add('A bottle or jar');
    await field(page, 'What you call it', 'Cupboard feed');
    await field(page, 'nitrogen, all, percent', '7');
    await field(page, 'as urea, percent', '9');
    await field(page, 'P₂O₅, percent', '5');
    await field(page, 'K₂O, percent', '120');
    await says(page, '.label-fields', /120 % is more than the whole/);
    await press(page, 'Add', '.modal-footer');
    await says(page, '.modal .field-error', /more than the whole/);
    await field(page, 'K₂O, percent', '6');
    await says(page, '.label-fields', /needs the density/);
    await field(page, 'Density, g per mL', '1.15');
    await says(page, '.label-fields', /forms of nitrogen add up to 9 %/);
    await field(page, 'as urea, percent', '4');
    await says(page, '.label-fields', /The form of 3 % nitrogen is not said; taken as nitrate/);
    await press(page, 'Add', '.modal-footer');
    await closed();
    await says(
      page,
      '.shelf-sheet .remarks',
      /urea, 57 % of its nitrogen.*no word of hydroponics.*no calcium.*no magnesium/,
    );
    const [row] = on.rows<{ analysis: string; guessEcPerMlL: number }>(
      `SELECT analysis, guessEcPerMlL FROM product WHERE name = 'Cupboard feed'`,
    );
    expect(JSON.parse(row!.analysis)).toMatchObject({
      percent: { N: 7, 'urea-N': 4, P2O5: 5, K2O: 6 },
      densityGMl: 1.15,
    });
    expect(row!.guessEcPerMlL).toBeGreaterThan(50);
  });
  it('calibrates a dropper by counting', async () => {
    await choose('Plastic dropper');
    await says(page, '.shelf-sheet', /Its drops have no size yet/);
    await press(page, 'Count its drops', '.shelf-sheet');
    await field(page, 'Drops', '48');
    await field(page, 'made, mL', '2');
    await says(page, '.modal', /24\.0 drops to the mL/);
    await press(page, 'Use the count');
    await closed();
    await says(page, '.shelf-sheet', /24 drops make 1 mL/);
    expect(on.rows(`SELECT dropsPerMl FROM tool WHERE name = 'Plastic dropper'`)).toEqual([{ dropsPerMl: 24 }]);
  });
});

describe('a pen found off', () => {
  it('by 12 % since three weeks: the check says so, its batches and charts turn hollow, and it can all be undone', async () => {
    await choose('Blue pen');
    await press(page, 'Check it now', '.shelf-sheet');
    await field(page, 'It shows', '622');
    await says(page, '.modal', /It reads 12 % low/);
    await press(page, 'Keep it, and mark the pen');
    await says(page, '.modal', /Blue pen reads wrong/);
    await tap(page, '#since-day');
    await press(page, 'Draw its readings hollow');
    await closed();
    await says(
      page,
      '.shelf-sheet .taint',
      /\d+ readings since 4 Nov are drawn hollow and count less; they touch \d+ batches/,
    );
    const [mark] = on.rows<{ payload: string }>(
      `SELECT payload FROM care_event WHERE kind = 'meterMarkedOff' ORDER BY seq DESC LIMIT 1`,
    );
    expect(JSON.parse(mark!.payload)).toMatchObject({ offBy: -0.12 });
    await axeClean(page);
    // Which batches: the newest of them, with its readings marked.
    await tap(page, '.tainted-batches a');
    await says(page, '.portions', /hollow: read with a pen later found off/);
    // A pot's chart and table.
    const [visit] = on.rows<{ potId: string }>(
      `SELECT potId FROM care_event WHERE kind = 'potFilled' AND json_extract(payload, '$.oldReservoir.ppm.kind') = 'value' ORDER BY at DESC LIMIT 1`,
    );
    await page.goto(`${on.server.url}/pots/${visit!.potId}`);
    await says(page, '.visit-figure figcaption', /At \d+ visits a reading is hollow/);
    // What was learned of the feed is less sure.
    await page.goto(`${on.server.url}/shelf`);
    await says(page, '.strength-chart', /new bottle|batches/);
    await page.waitForSelector('.strength-chart[aria-label*="hollow"]');
    await choose('Blue pen');
    await press(page, 'Undo, draw them solid', '.shelf-sheet');
    await page.waitForFunction(() => !document.querySelector('.shelf-sheet .taint'));
    await page.goto(`${on.server.url}/shelf`);
    await page.waitForSelector('.strength-chart[aria-label*="ppm for 1 mL"]:not([aria-label*="hollow"])');
  });
});

describe('the cards, within two clicks', () => {
  it('what my pen’s 100 means stands on the page itself', async () => {
    await says(page, '.conversion-table', /Blue pen says 1001001400\.20/);
    await says(page, '.conversion-table', /22[0-4]2[12]\.\d/);
  });
  it('the element table is one click away, the acid card too', async () => {
    await choose('House feed');
    await says(page, '.element-bars', /Nnitrogen19\.\d/);
    await choose('Nitric pH-down, 10 %');
    await says(page, '.acid-card', /standing open/);
  });
  it('a mix of several, its order and its clouding; products side by side', async () => {
    await press(page, 'What is in a mix');
    await page.waitForSelector('.mix-page');
    await field(page, 'Liquid silicate, mL', '0.5');
    await field(page, 'Calcium–magnesium syrup, mL', '0.3');
    await says(page, '.order', /Liquid silicate.*Calcium–magnesium syrup.*House feed/);
    await axeClean(page);
    await page.goto(`${on.server.url}/shelf/compare`);
    await says(page, '.compare-table', /calcium, mg\/L.*N : P : K : Ca : Mg/);
    await axeClean(page);
    await page.goto(`${on.server.url}/shelf?view=list`);
    await says(page, '.shelf-lists', /House feed/);
  });
});

describe('pH on the bench', () => {
  it('is predicted before the pen is dipped, and after the acid with what it then reads', async () => {
    await page.goto(`${on.server.url}/bench/new`);
    await page.waitForSelector('.start-form');
    await page.select(
      '[name=waterId]',
      await page.$eval(
        '[name=waterId]',
        (e) => [...(e as HTMLSelectElement).options].find((o) => o.text.startsWith('Kitchen tap'))!.value,
      ),
    );
    await tap(page, '.start-form button[type=submit]');
    await page.waitForSelector('.now .read input');
    await page.keyboard.type('212');
    await page.keyboard.press('Enter');
    await says(page, '.now', /Portion 1|Add/);
    await page.waitForFunction(
      () =>
        document.querySelector('.now .read input') &&
        !(document.querySelector('.now .read input') as HTMLInputElement).value,
    );
    // By the pen's expected figure, portion after portion, until the strength is done.
    for (let i = 0; i < 6; i++) {
      const expected = await page.$eval('.now .read input', (e) => e.placeholder);
      if (!/expect \d{2,}$/.test(expected)) break;
      const before = await page.$eval('.now', (e) => e.textContent);
      await page.focus('.now .read input');
      await page.keyboard.type(expected.replace('expect ', ''));
      await page.keyboard.press('Enter');
      await page.waitForFunction((old) => document.querySelector('.now')?.textContent !== old, {}, before);
    }
    await says(page, '.now', /Expected pH 7\.\d, between \d\.\d and \d\.\d; standing open till tomorrow/);
    await page.focus('.now .read input');
    await page.keyboard.type('7.5');
    await page.keyboard.press('Enter');
    await says(page, '.now', /should read \d\.\d to \d\.\d on this pen, inside \d+ times in 100/);
    await says(
      page,
      '.now',
      /[78]\.\d by tomorrow standing open; reads about \d+ after it\. The whole way brings \d+ mg\/L nitrogen; it stays/,
    );
  });
});

it('the browser’s console stayed clean', () => {
  expect(on.complaints.filter(unexpected)).toEqual([]);
});
