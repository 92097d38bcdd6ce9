import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { axeClean, press, says, stage, tap, type Stage } from './kit.ts';

let at: Stage;
let page: Page;
const folder = mkdtempSync(join(tmpdir(), 'frugal-sip-table-'));
beforeAll(async () => {
  at = await stage();
}, 120_000);
afterAll(async () => {
  await at.close();
  rmSync(folder, { recursive: true, force: true });
});

/** Two years in a form of a grower's own: other words, commas, millisiemens, one pot by another name, one line that says "a lot". */
function table(): string {
  const lines: string[] = [];
  for (let n = 0; n < 70; n++) {
    const day = new Date(Date.parse('2025-10-16') - n * 10 * 86_400_000);
    const written = `${day.getUTCDate()}.${day.getUTCMonth() + 1}.${day.getUTCFullYear()}`;
    for (const code of ['R-02', 'L-01', ...(n < 8 ? ['the old one'] : [])])
      lines.push(
        `${written};${code};0,${28 + (n % 8)};6,${2 + (n % 5)};0,21;5,8;${n === 5 && code === 'R-02' ? 'a lot' : '160'}`,
      );
  }
  return ['Datum;Topf;EC raus (mS/cm);pH raus;EC rein;pH rein;ml', ...lines].join('\r\n');
}
const fillings = () =>
  at.rows<{ n: number }>(`SELECT count(*) AS n FROM care_event WHERE kind = 'potFilled' AND voidedBy IS NULL`)[0]!.n;
const choose = async (column: number, role: string) => {
  const selects = await page.$$('.sheet-columns select');
  await selects[column]!.select(role);
};

describe('two years out of a spreadsheet', () => {
  it('are found under Out and in; columns are guessed where they tell, and chosen where they do not', async () => {
    const file = join(folder, 'old notes.csv');
    writeFileSync(file, table());
    page = await at.open('/book/out');
    await press(page, 'Bring in old records');
    await page.waitForSelector('.sheet-choose');
    await axeClean(page);
    const input = (await page.$('input[type=file]'))!;
    await input.uploadFile(file);
    await page.waitForSelector('.sheet-columns');
    expect(await page.$$eval('.sheet-columns select', (all) => all.map((s) => s.value))).toEqual([
      'day',
      'pot',
      'outStrength',
      'outPh',
      'skip',
      'skip',
      'poured',
    ]);
    await axeClean(page);
    await choose(4, 'inStrength');
    await choose(5, 'inPh');
  });
  it('are looked through: what would come, the pot that is called otherwise, the line that cannot be read', async () => {
    const before = fillings();
    await press(page, 'Look through it');
    await says(page, '.sheet-told', /139 waterings of 2 pots, 26 Nov 2023 to 16 Oct 2025/);
    await says(page, '.sheet-told', /8 lines of 1 pot that is not known by that name/);
    await says(page, '.wrong-lines', /"a lot" is no figure with a comma for decimals/);
    await axeClean(page);
    expect(fillings()).toBe(before);
    const id = at.rows<{ id: string }>(`SELECT id FROM pot WHERE code = 'P-01'`)[0]!.id;
    await page.select('.strangers select', id);
    const wrong = (await page.$('.wrong-lines input.is-invalid'))!;
    await wrong.click({ count: 3 });
    await wrong.type('170');
    await press(page, 'Look through it with that');
    await says(page, '.sheet-told', /148 waterings of 3 pots/);
  });
  it('come in as one act; Drift and the pot’s page stand on them; one press takes all of it back', async () => {
    const before = fillings();
    await press(page, 'Bring it in');
    await says(page, '.sheet', /old notes\.csv is in, as one act/);
    expect(fillings()).toBe(before + 148);
    await tap(page, '.sheet a[href="/drift"]');
    await says(page, 'main', /R-02/);
    await page.goto(`${at.server.url}/book`);
    await says(page, '.log-body', /Brought in 148 waterings/);
    await says(page, 'main header', /since 26 Nov 2023/);
    await tap(
      page,
      '::-p-xpath(//*[contains(@class, "log-row")][contains(., "Brought in 148")]//button[normalize-space(.)="Undo"])',
    );
    await says(page, '.toast', /Took records brought in back/);
    expect(fillings()).toBe(before);
  });
});
it('nothing went wrong on the way', () => expect(at.complaints).toEqual([]));
