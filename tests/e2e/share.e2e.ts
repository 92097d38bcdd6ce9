import { randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { axeClean, field, press, says, stage, type Stage } from './kit.ts';

let at: Stage;
let page: Page;
const folder = mkdtempSync(join(tmpdir(), 'frugal-sip-share-'));
beforeAll(async () => {
  at = await stage();
  page = await at.open('/book/out');
  await page.waitForSelector('[aria-label="What is shared"]');
  // What the browser would save is kept where the test can read it.
  await page.evaluate(() => {
    const make = URL.createObjectURL.bind(URL);
    URL.createObjectURL = (blob: Blob) => {
      Object.assign(globalThis, { saved: blob });
      return make(blob);
    };
  });
}, 120_000);
afterAll(async () => {
  await at.close();
  rmSync(folder, { recursive: true, force: true });
});

/** Saves what is called so, and gives the file as it would be sent on. */
async function shared(name: string): Promise<Record<string, unknown>> {
  const value = await page.$eval(
    '[aria-label="What is shared"]',
    (select, wanted) => [...(select as HTMLSelectElement).options].find((o) => o.textContent === wanted)!.value,
    name,
  );
  await page.select('[aria-label="What is shared"]', value);
  await press(page, 'Save the file');
  const text = await page.evaluate(() => (globalThis as unknown as { saved: Blob }).saved.text());
  return JSON.parse(text) as Record<string, unknown>;
}
async function bring(file: unknown): Promise<void> {
  const path = join(folder, 'shared.json');
  writeFileSync(path, typeof file === 'string' ? file : JSON.stringify(file));
  const input = (await page.$('input[aria-label="The file another grower shared"]'))!;
  await input.uploadFile(path);
}

describe('a part of it, shared', () => {
  it('a regimen goes out and comes in on another pen’s scale, under a name of one’s own, and is taken back', async () => {
    const file = await shared('Dilute 90, weekly');
    expect(file).toMatchObject({ format: 'Frugal Sip share', version: 1, kind: 'regimen', scale: 0.5 });
    // As from a grower with a 0.7 pen, who would have written 126.
    const values = file['values'] as { feeds: { netPpm: number }[] };
    await bring({
      ...file,
      scale: 0.7,
      values: { ...values, feeds: values.feeds.map((f) => ({ ...f, netPpm: f.netPpm * 1.4 })) },
    });
    await says(
      page,
      '.bring-in',
      /A regimen: Dilute 90, weekly.*changed from a 0\.7 pen to yours, 0\.5.*90.ppm over base/s,
    );
    await axeClean(page);
    await field(page, 'Call it', 'From a friend');
    await press(page, 'Make it mine');
    await says(page, '.toast', /From a friend is yours/);
    expect(at.rows(`SELECT name FROM regimen WHERE name = 'From a friend' AND retiredOn IS NULL`)).toHaveLength(1);
    await press(page, 'Undo', '.toast:last-child');
    await says(page, '.toast:last-child', /back/);
    expect(at.rows(`SELECT name FROM regimen WHERE name = 'From a friend' AND retiredOn IS NULL`)).toHaveLength(0);
  });
  it('a recipe asks which of one’s products its parts are, and puts a label that is missing on the Shelf', async () => {
    const file = await shared('Calcium–magnesium, then feed');
    const [first, second] = file['products'] as { name: string }[];
    await bring({ ...file, products: [{ ...first!, name: 'Their calcium' }, second] });
    await says(page, '.bring-in', /Say first which products its parts are/);
    await press(page, 'Put its label on my Shelf');
    await says(page, '.toast', /Their calcium is on the Shelf/);
    await field(page, 'Call it', 'Their can');
    await press(page, 'Make it mine');
    await says(page, '.toast', /Their can is yours/);
    const [recipe] = at.rows<{ parts: string }>(`SELECT parts FROM recipe WHERE name = 'Their can'`);
    const [added] = at.rows<{ id: string; kind: string }>(`SELECT id, kind FROM product WHERE name = 'Their calcium'`);
    expect(added!.kind).toBe('calmag');
    expect((JSON.parse(recipe!.parts) as { productId: string }[])[0]!.productId).toBe(added!.id);
  });
  it('what is none is refused with why, and nothing of one’s own is in what goes out', async () => {
    await bring('{"format":"Frugal Sip collection"}');
    await says(page, '.bring-in .field-error', /whole collection is brought in above/);
    const label = await shared('House feed');
    expect(Object.keys(label['values'] as object)).not.toContain('recipe');
    expect(JSON.stringify(label)).not.toMatch(/toolId|meterId|price/);
  });
  it('what a bag of clay was found to do: one’s own of that clay begins from it, told apart, and lets it go', async () => {
    const name = await page.$eval(
      '[aria-label="What is shared"] optgroup[label="What a bag of clay was found to do"] option',
      (option) => option.textContent,
    );
    const file = await shared(name);
    expect(file).toMatchObject({ kind: 'clay', model: 1 });
    expect(Object.keys(file['values'] as object)).toEqual(['name', 'grainLowMm', 'grainHighMm', 'volumeL']);
    // One's own file is no news; a friend's has another bag in it.
    const theirs = { ...(file['found'] as object), bagId: randomUUID() };
    await bring({ ...file, found: theirs, values: { ...(file['values'] as object), name: 'A friend’s bag' } });
    await says(page, '.bring-in', /What a bag of clay was found to do: A friend’s bag.*\d readings.*outweigh it/s);
    await axeClean(page);
    const mine = await page.$eval('.brought select option:nth-child(2)', (o) => o.value);
    await page.select('.brought select', mine);
    await press(page, 'Begin from it');
    await says(page, '.toast', /A friend’s bag counts for it/);
    const told = () => at.rows<{ told: string | null }>(`SELECT told FROM clay_batch WHERE id = ?`, mine);
    expect(JSON.parse(told()[0]!.told!)).toMatchObject([{ name: 'A friend’s bag' }]);
    await page.goto(`${at.server.url}/clay?batch=${mine}`, { waitUntil: 'load' });
    await says(page, '.told-note', /begins a little from another grower’s bag: A friend’s bag \(\d+ readings\)/);
    await axeClean(page);
    await press(page, 'Let it go', '.told-note');
    await page.waitForFunction(() => !document.querySelector('.told-note'));
    expect(told()).toEqual([{ told: null }]);
  });
});
it('nothing went wrong on the way', () => expect(at.complaints).toEqual([]));
