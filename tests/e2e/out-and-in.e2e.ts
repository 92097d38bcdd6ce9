import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ElementHandle, Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { axeClean, press, says, stage, unexpected, type Stage } from './kit.ts';

let demo: Stage;
let own: Stage;
let page: Page;
const folder = mkdtempSync(join(tmpdir(), 'frugal-sip-out-'));
beforeAll(async () => {
  demo = await stage();
  own = await stage({ demo: false });
  page = await own.open('/book/out');
});
afterAll(async () => {
  await demo.close();
  await own.close();
  rmSync(folder, { recursive: true, force: true });
});

/** What the demo's page saves, as a file. */
async function saved(path: string): Promise<string> {
  const from = await demo.open('/book/out');
  await from.waitForSelector(`a[href="${path}"]`);
  const base64 = await from.evaluate(async (at) => {
    const bytes = new Uint8Array(await (await fetch(at)).arrayBuffer());
    let text = '';
    for (let i = 0; i < bytes.length; i += 8192) text += String.fromCharCode(...bytes.subarray(i, i + 8192));
    return btoa(text);
  }, path);
  const file = join(folder, path.split('/').at(-1)!);
  writeFileSync(file, Buffer.from(base64, 'base64'));
  return file;
}
const choose = async (file: string) => {
  const input = (await page.waitForSelector(
    'input[aria-label="The file to bring in"]',
  )) as ElementHandle<HTMLInputElement>;
  await input.uploadFile(file);
};

describe('a whole collection, out of one and into another', () => {
  it('what is none is refused with why, and nothing is changed', async () => {
    const list = join(folder, 'list.csv');
    writeFileSync(list, 'day,pot\n2026-11-01,R-01\n');
    await choose(list);
    await says(page, '.brought', /list\.csv cannot be brought in. Nothing was changed.*no JSON/);
  });
  it('is read first and told; let be, nothing has come; brought in, its rooms are here', async () => {
    const file = await saved('/api/book/whole.zip');
    await choose(file);
    await says(page, '.brought', /Would come: 42 pots.*things on the Shelf.*lines of the log since/);
    await axeClean(page);
    expect(own.rows('SELECT 1 FROM pot')).toEqual([]);
    await press(page, 'Leave it', '.brought');
    await says(page, '.toast', /nothing was changed/);
    await choose(file);
    await says(page, '.brought', /Would come: 42 pots/);
    await press(page, 'Bring it in', '.brought');
    await says(page, '.brought', /whole\.zip is in.*kept as a backup/);
    expect(own.rows('SELECT count(*) AS n FROM pot')).toEqual([{ n: 42 }]);
    await page.goto(`${own.server.url}/pots?view=shelves`);
    await says(page, '.pots', /42 in \d places/);
    await page.goto(`${own.server.url}/book?words=crust`);
    await says(page, '.log', /saw.*crust/);
  });
  it('brought in once more nothing is doubled', async () => {
    await page.goto(`${own.server.url}/book/out`);
    await choose(await saved('/api/book/whole.json'));
    await says(page, '.brought', /Nothing in it is new here/);
    await press(page, 'Leave it', '.brought');
    await says(page, '.toast', /nothing was changed/);
    expect(own.complaints.filter(unexpected)).toEqual([]);
  });
});
