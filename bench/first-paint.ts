/**
 * Round's first paint: a real browser opens the demo's round, seven times, with an empty cache. Prints the median first contentful paint,
 * the median time until the first pot's card stands, and their ratio to the allowance of one second.
 */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import puppeteer from 'puppeteer-core';
import { median } from 'simple-statistics';
import { startServer } from '../tests/e2e/server.ts';

const ALLOWED_MS = 1000;
const folder = mkdtempSync(join(tmpdir(), 'frugal-sip-bench-'));
const server = await startServer({ folder, demo: true });
const browser = await puppeteer.launch({
  executablePath: process.env['FRUGAL_SIP_CHROMIUM'] ?? '/usr/bin/chromium',
  args: ['--headless', '--no-sandbox', '--disable-gpu', '--no-first-run', '--disable-background-networking', '--disable-component-update', '--disable-sync'],
});
const paints: number[] = [];
const cards: number[] = [];
for (let i = 0; i < 7; i++) {
  const context = await browser.createBrowserContext();
  const page = await context.newPage();
  await page.setViewport({ width: 1280, height: 800 });
  const from = performance.now();
  await page.goto(`${server.url}/round`, { waitUntil: 'load' });
  await page.waitForSelector('.pot-card');
  cards.push(performance.now() - from);
  paints.push(await page.evaluate(() => performance.getEntriesByName('first-contentful-paint')[0]?.startTime ?? Number.NaN));
  await context.close();
}
await browser.close();
await server.stop();
rmSync(folder, { recursive: true, force: true });
const show = (name: string, ms: number[]) =>
  console.log(`${name}: median ${median(ms).toFixed(0)} ms of ${ms.length}, ${(median(ms) / ALLOWED_MS).toFixed(2)} of the allowance`);
show('first contentful paint', paints);
show('first pot’s card', cards);
