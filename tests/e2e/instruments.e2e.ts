import { execFile } from 'node:child_process';
import { promisify } from 'node:util';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Page } from 'puppeteer-core';
import { axeClean, field, press, says, stage, unexpected, type Stage, tap } from './kit.ts';

let on: Stage;
let page: Page;
let key = '';
beforeAll(async () => {
  on = await stage();
  page = await on.open('/book/instruments');
});
afterAll(() => on.close());

const run = promisify(execFile);
/** The instrument that ships, as its own program. */
const instrument = async (shown: number) =>
  (await run('node', ['scripts/instrument.mjs', '--key', key, '--to', on.server.url, '--shown', String(shown)])).stdout;

/** A real pen like the demo's simulated one, at hand. */
const addPen = () =>
  page.evaluate(async () => {
    const put = (body: object) =>
      fetch(`/api/shelf/acts/${crypto.randomUUID()}`, {
        method: 'PUT',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify(body),
      }).then((answer) => answer.status);
    const room = (await (await fetch('/api/shelf/room')).json()) as { meters: { values: { name: string } }[] };
    const like = room.meters.find(({ values }) => values.name === 'Blue pen')!;
    const id = crypto.randomUUID();
    return [
      await put({ kind: 'put', what: 'meter', id, values: { ...like.values, name: 'Door pen' } }),
      await put({ kind: 'main', meterId: id }),
    ];
  });

describe('a pen that sends', () => {
  it('is let in by a key that is shown once', async () => {
    expect(await addPen()).toEqual([200, 200]);
    await page.reload();
    await says(page, '.tray', /Nothing waits for a place/);
    await field(page, 'Name', 'bench logger');
    const options = await page.$$eval('.instrument-keys select option', (all) =>
      all.map((o) => [o.textContent, o.value] as const),
    );
    await page.select('.instrument-keys select', options.find(([words]) => words.startsWith('Door pen'))![1]);
    await press(page, 'Make a key');
    await says(page, '.new-key', /The key of bench logger.*shown this once/s);
    key = await page.$eval('.new-key code', (code) => code.textContent);
    expect(key).toMatch(/^[\w-]{43}$/);
    await axeClean(page);
  });
  it('sends what nobody waits for into the tray, where it is placed at a pot', async () => {
    expect(await instrument(142)).toMatch(/in the tray/);
    await page.reload();
    await says(page, '.tray', /142 ppm.*bench logger/s);
    await field(page, 'Pot of 142 ppm', 'r-02');
    await press(page, 'Place it');
    await says(page, '.toast', /R-02 read where it stands/);
    expect(
      on.rows(
        `SELECT p.code, json_extract(e.payload, '$.ppm.value') AS ppm FROM care_event e JOIN pot p ON p.id = e.potId WHERE e.kind = 'potReread' ORDER BY e.seq DESC LIMIT 1`,
      ),
    ).toEqual([{ code: 'R-02', ppm: 142 }]);
  });
  it('fills the field of the Round that waits for it', async () => {
    await page.goto(`${on.server.url}/round`);
    await tap(page, '[aria-label="Dip the Door pen (sends by itself)"]');
    expect(await instrument(127)).toMatch(/taken by the field that waited/);
    await page.waitForFunction(
      () => document.querySelector<HTMLInputElement>('[aria-label="Old reservoir, ppm"]')?.value === '127',
    );
  });
  it('sends no more once its key is withdrawn, and sends again once that is undone', async () => {
    await page.goto(`${on.server.url}/book/instruments`);
    await tap(page, '[aria-label="Withdraw the key of bench logger"]');
    await says(page, '.instrument-keys', /withdrawn/);
    await expect(instrument(1)).rejects.toThrow(/not known, or was withdrawn/);
    await press(page, 'Undo', '.toast:last-child');
    await page.waitForSelector('[aria-label="Withdraw the key of bench logger"]');
    expect(await instrument(130)).toMatch(/in the tray/);
  });
});

it('nothing went wrong on the way', () => {
  expect(on.complaints.filter(unexpected)).toEqual([]);
});
