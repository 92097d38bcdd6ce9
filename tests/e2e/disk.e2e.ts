import { spawnSync } from 'node:child_process';
import { openSync, closeSync, readdirSync, statSync, writeSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { axeClean, fillsOf, logNext, press, says, stage, type Stage } from './kit.ts';

/* A disk that refuses in the middle of a round, and a file that is damaged: what the grower sees, and what is there in the end. */

let on: Stage;
beforeAll(async () => {
  on = await stage();
});
afterAll(() => on.close());

const fills = () => fillsOf(on);
/** Files of the server can grow no further: its writes fail, as on a disk that is full or dying. */
const limitFiles = (bytes: number | 'unlimited') =>
  expect(spawnSync('prlimit', [`--pid=${on.server.pid}`, `--fsize=${bytes}:unlimited`]).status).toBe(0);

describe('a disk that refuses in the middle of a round', () => {
  it('the round goes on, says why acts wait, and all of them are there once when the disk takes them again', async () => {
    const page = await on.open('/round');
    const before = [await logNext(page)];
    limitFiles(statSync(join(on.server.folder, 'demo.sqlite-wal')).size + 100);
    const kept = [await logNext(page), await logNext(page), await logNext(page)];
    await says(
      page,
      'main',
      /3 acts wait for the server\. .*cannot be written, so nothing was logged.*kept on your device/s,
    );
    await page.reload();
    await says(page, 'main', /3 acts wait for the server/);
    expect(fills()).toEqual(before);
    limitFiles('unlimited');
    await page.waitForFunction(() => document.querySelector('.notice') === null);
    expect(fills()).toEqual([...before, ...kept]);
  });
});

describe('a file that is damaged', () => {
  it('is said in every room; only the backups are open, and one of them put back makes it whole', async () => {
    const page = await on.open('/book/backups');
    await press(page, 'Back up now');
    await says(page, '.backups', /asked/);
    await on.server.stop();
    const handle = openSync(join(on.server.folder, 'demo.sqlite'), 'r+');
    for (let at = 3; at < 200; at++) writeSync(handle, Buffer.alloc(3000, at), 0, 3000, at * 4096);
    closeSync(handle);
    // The demo itself is made anew; a grower's own collection is served with its backups.
    const { renameSync, readdirSync: list } = await import('node:fs');
    const home = on.server.folder;
    renameSync(join(home, 'demo.sqlite'), join(home, 'collection.sqlite'));
    for (const name of list(join(home, 'backups')))
      renameSync(join(home, 'backups', name), join(home, 'backups', name.replace('demo.', 'collection.')));
    const { startServer } = await import('./server.ts');
    const own = await startServer({ folder: home, demo: false });
    try {
      await page.goto(`${own.url}/round`);
      await says(page, 'h1', /The collection cannot be opened/);
      await says(page, '.notice', /damaged, so nothing more is written/);
      await axeClean(page);
      await press(page, 'To the backups');
      await says(page, '.backups', /asked/);
      await press(page, 'Put back');
      await press(page, 'Put it back now');
      await says(page, '.toast', /Put back\. What was here before is kept/);
      expect(readdirSync(join(home, 'backups')).some((name) => name.includes('.damaged.'))).toBe(true);
      await page.goto(`${own.url}/round`);
      await page.waitForSelector('.pot-card');
      expect(await page.$('.notice')).toBeNull();
    } finally {
      await own.stop();
      renameSync(join(home, 'collection.sqlite'), join(home, 'demo.sqlite'));
    }
  });
});
